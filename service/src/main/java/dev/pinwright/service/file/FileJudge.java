package dev.pinwright.service.file;

import dev.pinwright.core.Words;
import dev.pinwright.core.file.FileKind;
import dev.pinwright.service.work.Problem;
import java.io.BufferedReader;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.InputStreamReader;
import java.io.UncheckedIOException;
import java.nio.charset.CharacterCodingException;
import java.nio.charset.CodingErrorAction;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.Iterator;
import java.util.Optional;
import java.util.regex.Pattern;
import java.util.zip.ZipEntry;
import java.util.zip.ZipFile;
import javax.imageio.ImageIO;
import javax.imageio.ImageReadParam;
import javax.imageio.ImageReader;
import javax.imageio.event.IIOReadWarningListener;
import javax.imageio.stream.ImageInputStream;
import org.apache.fontbox.ttf.OTFParser;
import org.apache.fontbox.ttf.TTFParser;
import org.apache.fontbox.ttf.TrueTypeFont;
import org.apache.pdfbox.Loader;
import org.apache.pdfbox.io.IOUtils;
import org.apache.pdfbox.io.RandomAccessReadBufferedFile;
import org.apache.pdfbox.pdmodel.PDDocument;
import org.apache.pdfbox.pdmodel.encryption.InvalidPasswordException;

/** Finds out what a file is by what is in it, and refuses what no device could use. */
public final class FileJudge {
  private static final int BEGINNING = 64;
  private static final int MOST_PIXELS_A_SIDE = 10_000;
  private static final int DECODED_A_SIDE = 512;
  private static final Pattern ENDS_EARLY = Pattern.compile("(?i)truncated|premature");
  private static final String EPUB = "application/epub+zip";

  private FileJudge() {}

  /**
   * Judges a file.
   *
   * @param password that opens it, for a PKCS#12
   * @throws Problem 400 saying what is wrong with it and what would be right
   */
  static Judged judge(Path file, Optional<String> password) {
    try {
      byte[] begins = beginning(file);
      if (begins.length == 0) {
        throw refused("The file is empty.");
      }
      if (starts(begins, 0x89, 'P', 'N', 'G')) {
        return picture(file.toFile(), "png");
      }
      if (starts(begins, 0xff, 0xd8, 0xff)) {
        return picture(file.toFile(), "jpeg");
      }
      if (starts(begins, '%', 'P', 'D', 'F', '-')) {
        return pdf(file);
      }
      if (starts(begins, 'P', 'K', 3, 4)) {
        return book(file);
      }
      if (starts(begins, 0, 1, 0, 0) || starts(begins, 't', 'r', 'u', 'e')) {
        return font(file, new TTFParser(), "font/ttf");
      }
      if (starts(begins, 'O', 'T', 'T', 'O')) {
        return font(file, new OTFParser(), "font/otf");
      }
      if (starts(begins, 0x30) && begins.length > 1 && (begins[1] & 0xc0) == 0x80) {
        // a sequence of more than 127 bytes (ITU-T X.690, 8.1.3); no text begins so
        return CertificateJudge.der(whole(file, FileKind.CERTIFICATE), password);
      }
      return written(file);
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }

  static Problem refused(String why) {
    return Problem.malformed("/content", why);
  }

  private static byte[] beginning(Path file) throws IOException {
    try (InputStream in = Files.newInputStream(file)) {
      return in.readNBytes(BEGINNING);
    }
  }

  private static boolean starts(byte[] bytes, int... with) {
    return bytes.length >= with.length
        && Arrays.equals(
            Arrays.stream(with).map(b -> (byte) b).toArray(),
            java.util.stream.IntStream.range(0, with.length).map(i -> bytes[i]).toArray());
  }

  /** All of a file that may not be large. */
  private static byte[] whole(Path file, FileKind kind) throws IOException {
    if (Files.size(file) > kind.most()) {
      throw tooLarge(kind);
    }
    return Files.readAllBytes(file);
  }

  static Problem tooLarge(FileKind kind) {
    String words = kind.words().substring(0, 1).toUpperCase() + kind.words().substring(1);
    long kib = kind.most() >> 10;
    return refused(
        words + " has at most " + (kib < 1024 ? kib + " KiB" : (kib >> 10) + " MiB") + ".");
  }

  // ---- pictures --------------------------------------------------------------------------------

  /**
   * Looks through a picture that is held in memory.
   *
   * @return its media type
   * @throws Problem 400 when it is no PNG or JPEG, or broken
   */
  public static String picture(byte[] bytes) {
    boolean png = starts(bytes, 0x89, 'P', 'N', 'G');
    if (!png && !starts(bytes, 0xff, 0xd8, 0xff)) {
      throw refused("A picture is a PNG or a JPEG.");
    }
    try {
      return picture(new ByteArrayInputStream(bytes), png ? "png" : "jpeg").mediaType();
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }

  /** A picture in a file, or in a stream of bytes. */
  private static Judged picture(Object source, String format) throws IOException {
    String wrong = "The picture cannot be read: ";
    try (ImageInputStream in = ImageIO.createImageInputStream(source)) {
      Iterator<ImageReader> readers = ImageIO.getImageReadersByFormatName(format);
      ImageReader reader = readers.next();
      try {
        String[] warned = new String[1];
        reader.addIIOReadWarningListener((IIOReadWarningListener) (r, w) -> warned[0] = w);
        reader.setInput(in, true, true);
        int width = reader.getWidth(0);
        int height = reader.getHeight(0);
        if (width > MOST_PIXELS_A_SIDE || height > MOST_PIXELS_A_SIDE) {
          throw refused(
              "The picture is %d × %d pixels; a side has at most %d."
                  .formatted(width, height, MOST_PIXELS_A_SIDE));
        }
        // every line of it is read, though not every point is kept
        ImageReadParam few = reader.getDefaultReadParam();
        few.setSourceSubsampling(
            Math.max(1, width / DECODED_A_SIDE), Math.max(1, height / DECODED_A_SIDE), 0, 0);
        reader.read(0, few);
        if (warned[0] != null && ENDS_EARLY.matcher(warned[0]).find()) {
          throw refused(wrong + "it ends too early.");
        }
        return new Judged(
            FileKind.PICTURE,
            "image/" + format,
            "%s, %d × %d pixels".formatted(format.equals("png") ? "PNG" : "JPEG", width, height));
      } catch (IOException | RuntimeException e) {
        if (e instanceof Problem p) {
          throw p;
        }
        throw refused(wrong + "it is broken or ends too early.");
      } finally {
        reader.dispose();
      }
    }
  }

  // ---- documents -------------------------------------------------------------------------------

  private static Judged pdf(Path file) {
    try (PDDocument document =
        Loader.loadPDF(file.toFile(), IOUtils.createTempFileOnlyStreamCache())) {
      int pages = document.getNumberOfPages();
      return new Judged(
          FileKind.DOCUMENT, "application/pdf", "PDF, " + Words.counted(pages, "page"));
    } catch (InvalidPasswordException e) {
      throw refused("The PDF opens with a password alone; bring one that anybody can read.");
    } catch (IOException | RuntimeException e) {
      throw refused("The PDF cannot be read: it is broken or ends too early.");
    }
  }

  /** EPUB Open Container Format 3.3, 4.2.2: the first entry says what it is. */
  private static Judged book(Path file) {
    try (ZipFile zip = new ZipFile(file.toFile())) {
      ZipEntry type = zip.getEntry("mimetype");
      if (type != null && zip.getEntry("META-INF/container.xml") != null) {
        try (InputStream in = zip.getInputStream(type)) {
          String said = new String(in.readNBytes(BEGINNING), StandardCharsets.US_ASCII).strip();
          if (said.equals(EPUB)) {
            return new Judged(FileKind.DOCUMENT, EPUB, "EPUB, a book");
          }
        }
      }
      if (zip.getEntry("manifest.json") != null) {
        throw refused("This is a package of an app; bring it under Apps.");
      }
      throw unknown("an archive");
    } catch (IOException e) {
      throw refused("The archive cannot be read: it is broken or ends too early.");
    }
  }

  private static Judged font(Path file, TTFParser parser, String mediaType) {
    try (TrueTypeFont font = parser.parse(new RandomAccessReadBufferedFile(file.toFile()))) {
      String family = font.getNaming().getFontFamily();
      String style = font.getNaming().getFontSubFamily();
      if (family == null || font.getNumberOfGlyphs() == 0) {
        throw refused("The font has no name or no glyphs.");
      }
      return new Judged(FileKind.FONT, mediaType, family + (style == null ? "" : " " + style));
    } catch (IOException | RuntimeException e) {
      if (e instanceof Problem p) {
        throw p;
      }
      throw refused("The font cannot be read: it is broken or ends too early.");
    }
  }

  // ---- what is written -------------------------------------------------------------------------

  private static Judged written(Path file) throws IOException {
    String first;
    long lines = 0;
    boolean returns = false;
    boolean certificate = false;
    boolean key = false;
    try (BufferedReader in =
        new BufferedReader(
            new InputStreamReader(
                Files.newInputStream(file),
                StandardCharsets.UTF_8
                    .newDecoder()
                    .onMalformedInput(CodingErrorAction.REPORT)
                    .onUnmappableCharacter(CodingErrorAction.REPORT)))) {
      StringBuilder line = new StringBuilder();
      first = "";
      for (int c = in.read(); c >= 0; c = in.read()) {
        if (c == 0) {
          throw unknown("neither text nor a format Pinwright knows");
        }
        returns |= c == '\r' && lines == 0;
        if (c != '\n') {
          // no line that is looked at is longer
          if (line.length() < 1_000) {
            line.append((char) c);
          }
          continue;
        }
        first = lines == 0 ? line.toString() : first;
        certificate |= line.indexOf("-----BEGIN CERTIFICATE-----") == 0;
        key |= line.indexOf("PRIVATE KEY-----") > 0;
        line.setLength(0);
        lines++;
      }
      if (line.length() > 0) {
        first = lines == 0 ? line.toString() : first;
        lines++;
      }
    } catch (CharacterCodingException e) {
      throw unknown("neither UTF-8 text nor a format Pinwright knows");
    }
    if (key) {
      throw refused(
          "The file holds a private key that anybody can read. Put key and certificate into a"
              + " PKCS#12 with a password.");
    }
    if (certificate) {
      return CertificateJudge.pem(whole(file, FileKind.CERTIFICATE));
    }
    if (first.startsWith("#!")) {
      if (returns) {
        throw refused(
            "The lines of the script end in CR LF, so that its first names no program there is;"
                + " save it with LF alone.");
      }
      return new Judged(
          FileKind.SCRIPT, "text/plain; charset=utf-8", "for " + first.substring(2).strip());
    }
    return new Judged(
        FileKind.DOCUMENT, "text/plain; charset=utf-8", "text, " + Words.counted(lines, "line"));
  }

  private static Problem unknown(String found) {
    return refused(
        "Devices are handed pictures (PNG, JPEG), certificates (PEM, DER, PKCS#12), fonts (TrueType,"
            + " OpenType), documents (PDF, EPUB, text) and scripts that begin with #!; this is "
            + found
            + ".");
  }
}
