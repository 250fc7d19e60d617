package dev.pinwright.service.print;

import java.io.IOException;
import java.io.InputStream;
import org.apache.pdfbox.pdmodel.PDDocument;
import org.apache.pdfbox.pdmodel.PDPageContentStream;
import org.apache.pdfbox.pdmodel.font.PDFont;
import org.apache.pdfbox.pdmodel.font.PDType0Font;
import org.apache.pdfbox.pdmodel.graphics.state.RenderingMode;

/** Writes texts on pages: in as many lines as they take, in letters of more than one script. */
final class Pen {
  // the one font PDFBox brings that knows more than the letters of western Europe
  private static final String LETTERS =
      "/org/apache/pdfbox/resources/ttf/LiberationSans-Regular.ttf";

  private final PDFont plain;

  Pen(PDDocument document) throws IOException {
    try (InputStream letters = PDDocument.class.getResourceAsStream(LETTERS)) {
      plain = PDType0Font.load(document, letters);
    }
  }

  PDFont plain() {
    return plain;
  }

  /** How letters look. */
  record Style(PDFont font, float size, boolean bold) {}

  /** Writes a text in as many lines as it takes; the height the next one begins at. */
  float write(PDPageContentStream out, Style style, String text, float x, float y, float room)
      throws IOException {
    PDFont font = style.font();
    float size = style.size();
    float at = y;
    StringBuilder line = new StringBuilder();
    for (String word : printable(font, text).split(" ")) {
      String longer = line.isEmpty() ? word : line + " " + word;
      if (!line.isEmpty() && wide(font, size, longer) > room) {
        at = put(out, style, line.toString(), x, at);
        line = new StringBuilder(word);
      } else {
        line = new StringBuilder(longer);
      }
      while (wide(font, size, line.toString()) > room && line.length() > 1) {
        int fits = line.length() - 1;
        while (fits > 1 && wide(font, size, line.substring(0, fits)) > room) {
          fits--;
        }
        at = put(out, style, line.substring(0, fits), x, at);
        line = new StringBuilder(line.substring(fits));
      }
    }
    return line.isEmpty() ? at : put(out, style, line.toString(), x, at);
  }

  private static float put(PDPageContentStream out, Style style, String text, float x, float y)
      throws IOException {
    float points = style.size();
    out.beginText();
    out.setFont(style.font(), points);
    // there is no bold one of these letters: their outline makes them so
    out.setRenderingMode(style.bold() ? RenderingMode.FILL_STROKE : RenderingMode.FILL);
    out.setLineWidth(points / 45);
    out.setStrokingColor(0f);
    out.newLineAtOffset(x, y);
    out.showText(text);
    out.endText();
    return y - points * 1.35f;
  }

  private static float wide(PDFont font, float size, String text) throws IOException {
    return font.getStringWidth(text) / 1000 * size;
  }

  /** A letter the font does not have is shown as a question mark. */
  private static String printable(PDFont font, String text) {
    StringBuilder out = new StringBuilder();
    text.codePoints()
        .forEach(
            c -> {
              String letter = Character.toString(c < 32 ? ' ' : c);
              try {
                font.encode(letter);
                out.append(letter);
              } catch (IOException | IllegalArgumentException e) {
                out.append('?');
              }
            });
    return out.toString();
  }
}
