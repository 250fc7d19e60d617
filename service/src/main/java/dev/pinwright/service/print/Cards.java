package dev.pinwright.service.print;

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
  private static final float PAD = 14;
  private static final PDFont CODE = new PDType1Font(Standard14Fonts.FontName.COURIER_BOLD);

  private final PDDocument document;
  private final Pen pen;
  private final Size size;

  private Cards(PDDocument document, Size size) throws IOException {
    this.document = document;
    this.size = size;
    pen = new Pen(document);
  }

  /**
   * One card.
   *
   * @param code in letters of even width; empty for none
   */
  public record Card(String qr, String title, String code, List<String> lines) {}

  /** How many cards are on a page, and how large their letters are in points. */
  public enum Size {
    /** Eight on a page, to be handed to people. */
    CARD(2, 4, 13, 13, 9),
    /** Twenty-four on a page, to be stuck on devices. */
    LABEL(3, 8, 9, 9, 7);

    private final int columns;
    private final int rows;
    private final float title;
    private final float code;
    private final float line;

    Size(int columns, int rows, float title, float code, float line) {
      this.columns = columns;
      this.rows = rows;
      this.title = title;
      this.code = code;
      this.line = line;
    }

    private float width() {
      return (PDRectangle.A4.getWidth() - 2 * MARGIN) / columns;
    }

    private float height() {
      return (PDRectangle.A4.getHeight() - 2 * MARGIN) / rows;
    }
  }

  /** A PDF (ISO 32000) of as many pages as the cards need, and of one without any. */
  public static byte[] pdf(List<Card> cards, Size size) {
    try (PDDocument document = new PDDocument()) {
      Cards sheet = new Cards(document, size);
      int each = size.columns * size.rows;
      for (int first = 0; first < Math.max(1, cards.size()); first += each) {
        sheet.page(cards.subList(first, Math.min(cards.size(), first + each)));
      }
      ByteArrayOutputStream bytes = new ByteArrayOutputStream();
      document.save(bytes);
      return bytes.toByteArray();
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }

  private void page(List<Card> cards) throws IOException {
    PDPage page = new PDPage(PDRectangle.A4);
    document.addPage(page);
    try (PDPageContentStream out = new PDPageContentStream(document, page)) {
      for (int i = 0; i < cards.size(); i++) {
        float x = MARGIN + i % size.columns * size.width();
        float top = PDRectangle.A4.getHeight() - MARGIN - i / size.columns * size.height();
        draw(out, cards.get(i), x, top);
      }
    }
  }

  private void draw(PDPageContentStream out, Card card, float x, float top) throws IOException {
    out.setLineWidth(0.4f);
    out.setStrokingColor(0.75f);
    out.addRect(x, top - size.height(), size.width(), size.height());
    out.stroke();
    float side = Math.min(size.height() - 2 * PAD, size.width() * 0.42f);
    square(out, new QrCode(card.qr()), x + PAD, top - PAD, side);
    float left = x + PAD + side + PAD;
    float room = x + size.width() - PAD - left;
    float line =
        pen.write(
            out,
            new Pen.Style(pen.plain(), size.title, true),
            card.title(),
            left,
            top - PAD - size.title,
            room);
    if (!card.code().isEmpty()) {
      line =
          pen.write(out, new Pen.Style(CODE, size.code, false), card.code(), left, line - 3, room)
              - 5;
    }
    for (String text : card.lines()) {
      if (line < top - size.height() + 4) {
        break;
      }
      line = pen.write(out, new Pen.Style(pen.plain(), size.line, false), text, left, line, room);
    }
  }

  private static void square(PDPageContentStream out, QrCode qr, float left, float top, float side)
      throws IOException {
    float module = side / qr.size();
    for (int row = 0; row < qr.size(); row++) {
      for (int column = 0; column < qr.size(); column++) {
        if (qr.dark(column, row)) {
          out.addRect(left + column * module, top - (row + 1) * module, module, module);
        }
      }
    }
    out.fill();
  }
}
