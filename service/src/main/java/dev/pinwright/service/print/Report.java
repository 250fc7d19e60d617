package dev.pinwright.service.print;

import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.util.List;
import org.apache.pdfbox.pdmodel.PDDocument;
import org.apache.pdfbox.pdmodel.PDPage;
import org.apache.pdfbox.pdmodel.PDPageContentStream;
import org.apache.pdfbox.pdmodel.common.PDRectangle;

/** A paper of A4 (ISO 216): a title, and sections of lines with what stands beside them. */
public final class Report implements AutoCloseable {
  private static final float MARGIN = 56;
  private static final float NAMES = 130;

  private final PDDocument document = new PDDocument();
  private final Pen pen;
  private PDPageContentStream out;
  private float at;

  private Report() throws IOException {
    pen = new Pen(document);
    out = page();
  }

  /** A line: what stands before it, and the text. */
  public record Line(String name, String text) {}

  /** Lines under a heading. */
  public record Section(String heading, List<Line> lines) {}

  /** A PDF (ISO 32000) of as many pages as it takes. */
  public static byte[] pdf(String title, String under, List<Section> sections) {
    try (Report r = new Report()) {
      r.text(17, true, title, MARGIN, width());
      r.text(10, false, under, MARGIN, width());
      for (Section s : sections) {
        r.section(s);
      }
      r.out.close();
      ByteArrayOutputStream bytes = new ByteArrayOutputStream();
      r.document.save(bytes);
      return bytes.toByteArray();
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }

  private static float width() {
    return PDRectangle.A4.getWidth() - 2 * MARGIN;
  }

  private PDPageContentStream page() throws IOException {
    PDPage page = new PDPage(PDRectangle.A4);
    document.addPage(page);
    at = PDRectangle.A4.getHeight() - MARGIN;
    return new PDPageContentStream(document, page);
  }

  private void room(float wanted) throws IOException {
    if (at < MARGIN + wanted) {
      out.close();
      out = page();
    }
  }

  private void text(float size, boolean bold, String text, float x, float room) throws IOException {
    at = pen.write(out, new Pen.Style(pen.plain(), size, bold), text, x, at - size, room);
  }

  private void section(Section s) throws IOException {
    room(60);
    at -= 14;
    text(11, true, s.heading(), MARGIN, width());
    out.setLineWidth(0.4f);
    out.setStrokingColor(0.6f);
    out.moveTo(MARGIN, at + 3);
    out.lineTo(MARGIN + width(), at + 3);
    out.stroke();
    for (Line l : s.lines()) {
      for (String part : l.text().split("\\R")) {
        room(24);
        float line = at;
        if (part.equals(l.text().split("\\R")[0])) {
          text(9, false, l.name(), MARGIN, NAMES - 8);
        }
        float left = at;
        at = line;
        text(9.5f, false, part, MARGIN + NAMES, width() - NAMES);
        at = Math.min(at, left) - 2;
      }
    }
  }

  @Override
  public void close() throws IOException {
    document.close();
  }
}
