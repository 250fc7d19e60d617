package dev.pinwright.service.sheet;

import dev.pinwright.core.change.Rehearsal;
import dev.pinwright.core.organisation.Attribute;
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
import java.util.LinkedHashMap;
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

  /** A row that cannot be taken. Lines are counted from 1, the heading included. */
  public record Fault(int line, String fault) {}

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
      List<Fault> faults,
      Optional<Rehearsal> rehearsal) {
    private Report unsaved() {
      return new Report(false, rows, added, changed, faults, rehearsal);
    }
  }

  /** One row with the line it is on. */
  public record Row(int line, CSVRecord record) {
    /** Whether the sheet has this column. */
    public boolean has(String column) {
      return record.isMapped(column);
    }

    /** A cell without the blanks around it; empty where the row or the sheet ends before. */
    public String cell(String column) {
      String text = has(column) && record.isSet(column) ? record.get(column).strip() : "";
      return text.startsWith("'") && formula(text.substring(1)) ? text.substring(1) : text;
    }

    /**
     * The values of the attributes the sheet has columns of, as they are kept; empty for an empty
     * cell.
     *
     * @throws IllegalArgumentException when an attribute cannot have what a cell says
     */
    public Map<Attribute, String> values(Collection<Attribute> attributes) {
      Map<Attribute, String> values = new LinkedHashMap<>();
      for (Attribute a : attributes) {
        if (has(a.name())) {
          String typed = cell(a.name());
          values.put(a, typed.isEmpty() ? "" : a.read(typed));
        }
      }
      return values;
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
    records.forEach(r -> rows.add(new Row((int) r.getRecordNumber() + 1, r)));
    return rows;
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

  /** Text a spreadsheet program takes for a formula, kept from being one by an apostrophe. */
  public static String inert(String text) {
    return formula(text) ? "'" + text : text;
  }

  private static boolean formula(String text) {
    return !text.isEmpty() && "=+@-\t".indexOf(text.charAt(0)) >= 0;
  }
}
