package dev.pinwright.protocol.qr;

import com.google.zxing.BarcodeFormat;
import com.google.zxing.EncodeHintType;
import com.google.zxing.WriterException;
import com.google.zxing.common.BitMatrix;
import com.google.zxing.qrcode.QRCodeWriter;
import com.google.zxing.qrcode.decoder.ErrorCorrectionLevel;
import java.awt.image.BufferedImage;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.util.Map;
import javax.imageio.ImageIO;

/** A QR code (ISO/IEC 18004) of a text, error correction M, quiet zone of four modules. */
public final class QrCode {
  private final BitMatrix modules;

  public QrCode(String text) {
    try {
      modules =
          new QRCodeWriter()
              .encode(
                  text,
                  BarcodeFormat.QR_CODE,
                  0,
                  0,
                  Map.of(
                      EncodeHintType.ERROR_CORRECTION,
                      ErrorCorrectionLevel.M,
                      EncodeHintType.MARGIN,
                      4));
    } catch (WriterException e) {
      throw new IllegalArgumentException("the text does not fit into a QR code", e);
    }
  }

  /** Modules a side, the quiet zone included. */
  public int size() {
    return modules.getWidth();
  }

  /** Whether a module is dark; {@code x} and {@code y} from the upper left. */
  public boolean dark(int x, int y) {
    return modules.get(x, y);
  }

  /** As SVG, one unit per module. */
  public String svg() {
    int size = modules.getWidth();
    StringBuilder path = new StringBuilder();
    for (int y = 0; y < size; y++) {
      for (int x = 0; x < size; x++) {
        if (modules.get(x, y)) {
          path.append('M').append(x).append(' ').append(y).append("h1v1h-1z");
        }
      }
    }
    return "<svg xmlns=\"http://www.w3.org/2000/svg\" viewBox=\"0 0 "
        + size
        + " "
        + size
        + "\" shape-rendering=\"crispEdges\"><rect width=\"100%\" height=\"100%\" fill=\"#fff\"/>"
        + "<path fill=\"#000\" d=\""
        + path
        + "\"/></svg>";
  }

  /** As PNG, {@code scale} pixels per module. */
  public byte[] png(int scale) {
    int size = modules.getWidth();
    BufferedImage image =
        new BufferedImage(size * scale, size * scale, BufferedImage.TYPE_BYTE_BINARY);
    for (int y = 0; y < size * scale; y++) {
      for (int x = 0; x < size * scale; x++) {
        image.setRGB(x, y, modules.get(x / scale, y / scale) ? 0xff000000 : 0xffffffff);
      }
    }
    ByteArrayOutputStream out = new ByteArrayOutputStream();
    try {
      ImageIO.write(image, "png", out);
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
    return out.toByteArray();
  }
}
