package dev.pinwright.service.sheet;

import dev.pinwright.service.work.Problem;
import java.io.BufferedReader;
import java.io.FilterReader;
import java.io.IOException;
import java.io.InputStream;
import java.io.InputStreamReader;
import java.io.Reader;
import java.io.StringReader;
import java.io.UncheckedIOException;
import java.nio.charset.CharacterCodingException;
import java.nio.charset.Charset;
import java.nio.charset.StandardCharsets;
import java.util.Iterator;
import java.util.List;
import java.util.NoSuchElementException;
import org.apache.commons.csv.CSVFormat;
import org.apache.commons.csv.CSVParser;
import org.apache.commons.csv.CSVRecord;
import org.apache.commons.io.ByteOrderMark;
import org.apache.commons.io.input.BOMInputStream;
import org.apache.commons.io.input.BoundedInputStream;

/**
 * The records of a sheet as it was brought, read one after the other: comma-separated values (RFC
 * 4180), or values between semicolons or tabs, as the heading has them, in UTF-8, or in UTF-16 with
 * a byte order mark. Can be read once.
 */
public final class SheetText implements Iterable<List<String>>, AutoCloseable {
  /** Bytes of the longest sheet. */
  public static final long MAX_BYTES = 32L * 1024 * 1024;

  private static final int LONGEST_HEADING = 64 * 1024;
  private static final int MOST_COLUMNS = 200;

  private final CSVParser parser;
  private final Iterator<CSVRecord> records;

  private SheetText(CSVParser parser) {
    this.parser = parser;
    this.records = parser.iterator();
  }

  /** Of bytes as they come in; read while they do. */
  public static SheetText of(InputStream bytes) {
    try {
      InputStream bounded =
          BoundedInputStream.builder()
              .setInputStream(bytes)
              .setMaxCount(MAX_BYTES + 1)
              .setPropagateClose(false)
              .setOnMaxCount(
                  (most, count) -> {
                    throw tooLarge();
                  })
              .get();
      BOMInputStream marked =
          BOMInputStream.builder()
              .setInputStream(bounded)
              .setByteOrderMarks(
                  ByteOrderMark.UTF_8, ByteOrderMark.UTF_16LE, ByteOrderMark.UTF_16BE)
              .get();
      String name = marked.getBOMCharsetName();
      Charset charset = name == null ? StandardCharsets.UTF_8 : Charset.forName(name);
      // a decoder, unlike the name of a charset, fails where something is not right
      return of(new InputStreamReader(marked, charset.newDecoder()));
    } catch (IOException e) {
      throw unreadable(e);
    }
  }

  /** Of a text. */
  public static SheetText of(String text) {
    return of(new StringReader(text.startsWith("\ufeff") ? text.substring(1) : text));
  }

  private static SheetText of(Reader text) {
    BufferedReader reader = new BufferedReader(new Inert(text), LONGEST_HEADING);
    try {
      reader.mark(LONGEST_HEADING);
      String head = "";
      char[] first = new char[LONGEST_HEADING / 2];
      int n = reader.read(first);
      if (n > 0) {
        head = new String(first, 0, n).lines().findFirst().orElse("");
      }
      reader.reset();
      char delimiter = head.indexOf('\t') >= 0 ? '\t' : head.indexOf(';') >= 0 ? ';' : ',';
      return new SheetText(
          CSVFormat.DEFAULT
              .builder()
              .setDelimiter(delimiter)
              .setIgnoreEmptyLines(true)
              .get()
              .parse(reader));
    } catch (IOException e) {
      throw unreadable(e);
    }
  }

  private static Problem tooLarge() {
    return new Problem(
        413,
        "too-large",
        "Too large",
        "A sheet has at most " + MAX_BYTES / 1024 / 1024 + " MiB; take it in in parts.");
  }

  private static Problem unreadable(Throwable why) {
    return Problem.malformed(
        "",
        why instanceof CharacterCodingException
            ? "This is not text in UTF-8; save the sheet as CSV in UTF-8."
            : "This is not a sheet: " + why.getMessage() + ".");
  }

  /** Where the record that was read last ends, counted in lines from 1. */
  public int line() {
    return (int) parser.getCurrentLineNumber();
  }

  /** How many records were read. */
  public int number() {
    return (int) parser.getRecordNumber();
  }

  /**
   * The records in their order.
   *
   * @throws Problem while it is read, 400 where it is no sheet, 413 where it is too long
   */
  @Override
  public Iterator<List<String>> iterator() {
    return new Iterator<>() {
      @Override
      public boolean hasNext() {
        return reading(records::hasNext);
      }

      @Override
      public List<String> next() {
        if (!hasNext()) {
          throw new NoSuchElementException();
        }
        CSVRecord record = reading(records::next);
        if (record.size() > MOST_COLUMNS) {
          throw Problem.malformed("", "A sheet has at most " + MOST_COLUMNS + " columns.");
        }
        return record.toList();
      }
    };
  }

  private static <T> T reading(java.util.function.Supplier<T> step) {
    try {
      return step.get();
    } catch (UncheckedIOException e) {
      throw unreadable(e.getCause());
    } catch (IllegalStateException e) {
      throw unreadable(e.getCause() == null ? e : e.getCause());
    }
  }

  @Override
  public void close() {
    try {
      parser.close();
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }

  /** Takes control characters, which nobody types, for blanks. */
  private static final class Inert extends FilterReader {
    private Inert(Reader in) {
      super(in);
    }

    @Override
    public int read() throws IOException {
      int c = super.read();
      return c < 0 ? c : plain((char) c);
    }

    @Override
    public int read(char[] into, int from, int length) throws IOException {
      int n = super.read(into, from, length);
      for (int i = from; i < from + n; i++) {
        into[i] = plain(into[i]);
      }
      return n;
    }

    private static char plain(char c) {
      return c < ' ' && c != '\t' && c != '\n' && c != '\r' ? ' ' : c;
    }
  }
}
