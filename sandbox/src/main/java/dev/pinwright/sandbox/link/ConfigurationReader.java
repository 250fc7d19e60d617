package dev.pinwright.sandbox.link;

import com.google.zxing.BinaryBitmap;
import com.google.zxing.NotFoundException;
import com.google.zxing.RGBLuminanceSource;
import com.google.zxing.ReaderException;
import com.google.zxing.common.HybridBinarizer;
import com.google.zxing.qrcode.QRCodeReader;
import dev.pinwright.protocol.pack.PackageRefused;
import dev.pinwright.protocol.pack.PrintedConfiguration;
import java.awt.image.BufferedImage;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.net.URI;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.util.Map;
import java.util.concurrent.TimeUnit;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import javax.imageio.ImageIO;

/**
 * What an app does on a phone nobody manages: it scans a printed code and reads what it is told.
 */
public final class ConfigurationReader {
  private static final int PATIENCE_SECONDS = 10;
  private static final Pattern DETAIL = Pattern.compile("\"detail\":\"([^\"]*)\"");

  private final Network network;

  public ConfigurationReader(Network network) {
    this.network = network;
  }

  /**
   * The text of a QR code in a picture.
   *
   * @throws IllegalArgumentException when there is none that can be read
   */
  public static String scan(byte[] picture) {
    try {
      BufferedImage image = ImageIO.read(new ByteArrayInputStream(picture));
      if (image == null) {
        throw new IllegalArgumentException("This is no picture.");
      }
      int[] pixels =
          image.getRGB(0, 0, image.getWidth(), image.getHeight(), null, 0, image.getWidth());
      return new QRCodeReader()
          .decode(
              new BinaryBitmap(
                  new HybridBinarizer(
                      new RGBLuminanceSource(image.getWidth(), image.getHeight(), pixels))))
          .getText();
    } catch (NotFoundException e) {
      throw new IllegalArgumentException("There is no code in this picture.", e);
    } catch (ReaderException | IOException e) {
      throw new IllegalArgumentException("The code in this picture cannot be read.", e);
    }
  }

  /**
   * Fetches and checks what a code points at.
   *
   * @param link as it was scanned or typed
   * @throws IllegalArgumentException saying why it is not to be believed, or not there
   */
  public PrintedConfiguration read(String link) {
    PrintedConfiguration.Link to = PrintedConfiguration.Link.parse(link);
    URI uri = URI.create(to.address());
    try (HttpLine line = new HttpLine(network, network.anonymous(to.fingerprint()), uri)) {
      HttpLine.Reply reply =
          line.send("GET", uri.getRawPath(), Map.of(), new byte[0])
              .get(PATIENCE_SECONDS, TimeUnit.SECONDS);
      String body = new String(reply.body(), StandardCharsets.UTF_8);
      if (reply.status() != 200) {
        Matcher detail = DETAIL.matcher(body);
        throw new IllegalArgumentException(
            detail.find() ? detail.group(1) : "The server answered " + reply.status() + ".");
      }
      return PrintedConfiguration.read(body, to.fingerprint(), Instant.now());
    } catch (PackageRefused e) {
      throw new IllegalArgumentException(e.getMessage(), e);
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
      throw new IllegalArgumentException("The server did not answer.", e);
    } catch (java.util.concurrent.ExecutionException | java.util.concurrent.TimeoutException e) {
      throw new IllegalArgumentException(
          "The server the code names cannot be reached, or is another.", e);
    }
  }
}
