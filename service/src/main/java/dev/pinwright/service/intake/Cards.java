package dev.pinwright.service.intake;

import dev.pinwright.protocol.qr.QrCode;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.util.List;
import org.apache.pdfbox.pdmodel.PDDocument;
import org.apache.pdfbox.pdmodel.PDPage;
import org.apache.pdfbox.pdmodel.PDPageContentStream;
import org.apache.pdfbox.pdmodel.common.PDRectangle;
import org.apache.pdfbox.pdmodel.font.PDFont;
import org.apache.pdfbox.pdmodel.font.PDType1Font;
import org.apache.pdfbox.pdmodel.font.Standard14Fonts;

/** Sheets of A4 (ISO 216) with cards that carry a QR code, to be printed and cut. */
public final class Cards {
  private static final float MARGIN = 28;
  private static final float PAD = 12;
  private static final PDFont BOLD = new PDType1Font(Standard14Fonts.FontName.HELVETICA_BOLD);
  private static final PDFont PLAIN = new PDType1Font(Standard14Fonts.FontName.HELVETICA);
  private static final PDFont CODE = new PDType1Font(Standard14Fonts.FontName.COURIER_BOLD);

  private Cards() {}

  /**
   * One card.
   *
   * @param code in large letters of even width; empty for none
   */
  public record Card(String qr, String title, String code, List<String> lines) {}

  /**
   * A PDF.
   *
   * @param columns cards side by side
   * @param rows cards one below the other
   */
  public static byte[] pdf(List<Card> cards, int columns, int rows) {
    float width = (PDRectangle.A4.getWidth() - 2 * MARGIN) / columns;
    float height = (PDRectangle.A4.getHeight() - 2 * MARGIN) / rows;
    try (PDDocument document = new PDDocument()) {
      int each = columns * rows;
      for (int first = 0; first < Math.max(1, cards.size()); first += each) {
        PDPage page = new PDPage(PDRectangle.A4);
        document.addPage(page);
        try (PDPageContentStream out = new PDPageContentStream(document, page)) {
          for (int i = first; i < Math.min(cards.size(), first + each); i++) {
            int at = i - first;
            float x = MARGIN + at % columns * width;
            float y = PDRectangle.A4.getHeight() - MARGIN - (at / columns + 1) * height;
            draw(out, cards.get(i), x, y, width, height);
          }
        }
      }
      ByteArrayOutputStream bytes = new ByteArrayOutputStream();
      document.save(bytes);
      return bytes.toByteArray();
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }

  private static void draw(
      PDPageContentStream out, Card card, float x, float y, float width, float height)
      throws IOException {
    out.setLineWidth(0.4f);
    out.setStrokingColor(0.75f);
    out.addRect(x, y, width, height);
    out.stroke();
    QrCode qr = new QrCode(card.qr());
    float side = Math.min(height - 2 * PAD, width * 0.45f);
    float module = side / qr.size();
    float top = y + height - (height - side) / 2;
    for (int row = 0; row < qr.size(); row++) {
      for (int column = 0; column < qr.size(); column++) {
        if (qr.dark(column, row)) {
          out.addRect(x + PAD + column * module, top - (row + 1) * module, module, module);
        }
      }
    }
    out.fill();
    float left = x + PAD + side + 8;
    float room = x + width - PAD - left;
    float line = y + height - PAD - 10;
    line = write(out, BOLD, 10, card.title(), left, line, room);
    if (!card.code().isEmpty()) {
      line = write(out, CODE, 11, card.code(), left, line - 4, room) - 4;
    }
    for (String text : card.lines()) {
      if (line < y + 6) {
        break;
      }
      line = write(out, PLAIN, 8, text, left, line, room);
    }
  }

  /** Writes a text in as many lines as it takes; the height the next one begins at. */
  private static float write(
      PDPageContentStream out, PDFont font, float size, String text, float x, float y, float room)
      throws IOException {
    float at = y;
    StringBuilder line = new StringBuilder();
    for (String word : printable(text).split(" ")) {
      String longer = line.isEmpty() ? word : line + " " + word;
      if (!line.isEmpty() && wide(font, size, longer) > room) {
        at = put(out, font, size, line.toString(), x, at);
        line = new StringBuilder(word);
      } else {
        line = new StringBuilder(longer);
      }
      while (wide(font, size, line.toString()) > room && line.length() > 1) {
        int fits = line.length() - 1;
        while (fits > 1 && wide(font, size, line.substring(0, fits)) > room) {
          fits--;
        }
        at = put(out, font, size, line.substring(0, fits), x, at);
        line = new StringBuilder(line.substring(fits));
      }
    }
    return line.isEmpty() ? at : put(out, font, size, line.toString(), x, at);
  }

  private static float put(
      PDPageContentStream out, PDFont font, float size, String text, float x, float y)
      throws IOException {
    out.beginText();
    out.setFont(font, size);
    out.newLineAtOffset(x, y);
    out.showText(text);
    out.endText();
    return y - size * 1.25f;
  }

  private static float wide(PDFont font, float size, String text) throws IOException {
    return font.getStringWidth(text) / 1000 * size;
  }

  /**
   * The built-in fonts have the letters of western Europe; any other is shown as a question mark.
   */
  private static String printable(String text) {
    StringBuilder out = new StringBuilder();
    text.codePoints()
        .forEach(c -> out.appendCodePoint(c >= 32 && c < 127 || c >= 160 && c < 256 ? c : '?'));
    return out.toString();
  }
}
