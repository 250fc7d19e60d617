package dev.pinwright.service.sheet;

import dev.pinwright.core.change.Rehearsal;
import dev.pinwright.core.sheet.Row;
import dev.pinwright.service.usecase.UseCases;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.ManyLines;
import dev.pinwright.service.work.Problem;
import java.io.IOException;
import java.io.StringReader;
import java.io.StringWriter;
import java.io.UncheckedIOException;
import java.util.ArrayList;
import java.util.Collection;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;
import org.apache.commons.csv.CSVFormat;
import org.apache.commons.csv.CSVParser;
import org.apache.commons.csv.CSVPrinter;
import org.apache.commons.csv.CSVRecord;
import org.jspecify.annotations.Nullable;

/**
 * Rows under a heading, separated by commas or semicolons (RFC 4180). A sheet is checked whole
 * before anything of it is kept.
 */
public final class Sheet {
  /** The most rows one sheet may have. */
  public static final int MOST_ROWS = 10_000;

  private final List<CSVRecord> records;

  private Sheet(List<CSVRecord> records) {
    this.records = records;
  }

  /**
   * A sheet to take in.
   *
   * @param save whether it is kept when every row is sound
   * @param confirmDevices how many devices change, where the report asked for it
   */
  public record Draft(
      @ManyLines @Nullable String csv, @Nullable Boolean save, Optional<Long> confirmDevices) {}

  /**
   * What a sheet would do, or did.
   *
   * @param rehearsal what becomes of devices, where other settings reach them
   */
  public record Report(
      boolean saved,
      int rows,
      int added,
      int changed,
      List<Row.Fault> faults,
      Optional<Rehearsal> rehearsal) {
    private Report unsaved() {
      return new Report(false, rows, added, changed, faults, rehearsal);
    }
  }

  /**
   * Reads a sheet.
   *
   * @param columns the columns it may have; the first is needed
   * @param attributes names of attributes it may have columns of
   * @throws Problem 400 when it is no sheet, has other columns, no rows or too many
   */
  public static Sheet read(
      @Nullable String text, List<String> columns, Collection<String> attributes) {
    String csv = text == null ? "" : text;
    CSVFormat format =
        CSVFormat.RFC4180
            .builder()
            .setHeader()
            .setSkipHeaderRecord(true)
            .setIgnoreHeaderCase(true)
            .setTrim(true)
            .setIgnoreEmptyLines(true)
            .setDelimiter(csv.lines().findFirst().orElse("").contains(";") ? ";" : ",")
            .get();
    List<CSVRecord> records;
    try (CSVParser parser = CSVParser.parse(new StringReader(csv), format)) {
      heading(parser.getHeaderNames(), columns, attributes);
      records = parser.getRecords();
    } catch (IOException | IllegalArgumentException | UncheckedIOException e) {
      throw Problem.malformed("/csv", "This is not a sheet of comma-separated values.");
    }
    if (records.isEmpty() || records.size() > MOST_ROWS) {
      throw Problem.malformed("/csv", "A sheet has 1 to " + MOST_ROWS + " rows below its heading.");
    }
    return new Sheet(records);
  }

  private static void heading(
      List<String> names, List<String> columns, Collection<String> attributes) {
    for (String name : names) {
      if (!columns.contains(name.toLowerCase(Locale.ROOT))
          && attributes.stream().noneMatch(name::equalsIgnoreCase)) {
        throw Problem.malformed(
            "/csv",
            "The column '"
                + name
                + "' is not known; known are "
                + String.join(", ", columns)
                + (attributes.isEmpty()
                    ? ""
                    : " and the attributes " + String.join(", ", attributes))
                + ".");
      }
    }
    if (names.stream().noneMatch(columns.get(0)::equalsIgnoreCase)) {
      throw Problem.malformed(
          "/csv", "The first line has to name the columns; " + columns.get(0) + " is needed.");
    }
  }

  /** The rows in their order. */
  public List<Row> rows() {
    List<Row> rows = new ArrayList<>(records.size());
    records.forEach(r -> rows.add(new Row((int) r.getRecordNumber() + 1, cells(r))));
    return rows;
  }

  private static Map<String, String> cells(CSVRecord record) {
    Map<String, String> cells = new HashMap<>();
    for (String column : record.getParser().getHeaderNames()) {
      cells.put(column, record.isSet(column) ? record.get(column) : "");
    }
    return cells;
  }

  /**
   * Takes a sheet in, and leaves nothing behind when it is not to be saved or a row is faulty.
   *
   * @param take does all the work
   * @return what {@code take} said, saved or not
   */
  public static Report keep(
      UseCases useCases, Caller caller, boolean save, Function<UseCases.Act, Report> take) {
    try {
      return useCases.act(
          caller,
          act -> {
            Report report = take.apply(act);
            if (!save || !report.faults().isEmpty()) {
              throw new Undone(report.unsaved());
            }
            return report;
          });
    } catch (Undone u) {
      return u.report;
    }
  }

  /** Thrown to leave nothing of a trial behind. */
  private static final class Undone extends RuntimeException {
    private final transient Report report;

    private Undone(Report report) {
      super(null, null, false, false);
      this.report = report;
    }
  }

  /** Writes a sheet: a heading, and rows of as many cells. */
  public static String write(List<String> heading, Iterable<List<String>> rows) {
    StringWriter out = new StringWriter();
    try (CSVPrinter sheet =
        new CSVPrinter(
            out, CSVFormat.RFC4180.builder().setHeader(heading.toArray(String[]::new)).get())) {
      for (List<String> row : rows) {
        sheet.printRecord(row);
      }
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
    return out.toString();
  }
}
