package dev.pinwright.service.sheet;

import dev.pinwright.core.change.Confirmation;
import dev.pinwright.core.change.Rehearsal;
import dev.pinwright.core.sheet.Row;
import dev.pinwright.service.usecase.UseCases;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Problem;
import java.io.IOException;
import java.io.StringWriter;
import java.io.UncheckedIOException;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.Collection;
import java.util.HashMap;
import java.util.Iterator;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.function.BiFunction;
import java.util.function.Function;
import java.util.function.UnaryOperator;
import java.util.stream.Stream;
import java.util.stream.StreamSupport;
import org.apache.commons.csv.CSVFormat;
import org.apache.commons.csv.CSVPrinter;

/**
 * Rows under a heading, separated by commas or semicolons (RFC 4180). A sheet is checked whole
 * before anything of it is kept.
 */
public final class Sheet {
  private static final int PORTION = 1_000;

  /** The most rows one sheet may have. */
  public static final int MOST_ROWS = 50_000;

  private final List<String> heading;
  private final List<Row> rows;

  private Sheet(List<String> heading, List<Row> rows) {
    this.heading = heading;
    this.rows = rows;
  }

  /**
   * A sheet to take in.
   *
   * @param save whether it is kept when every row is sound
   * @param given what the report asked for before devices change
   */
  public record Draft(Sheet sheet, boolean save, Confirmation given) {}

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
   * Reads a sheet to its end.
   *
   * @throws Problem 400 when it is no sheet, or has no rows or too many; 413
   */
  public static Sheet read(SheetText text) {
    Iterator<List<String>> records = text.iterator();
    if (!records.hasNext()) {
      throw Problem.malformed("", "The sheet is empty; its first line has to name the columns.");
    }
    List<String> heading = records.next().stream().map(String::strip).toList();
    List<Row> rows = new ArrayList<>();
    while (records.hasNext()) {
      List<String> cells = records.next();
      Map<String, String> named = new HashMap<>();
      for (int i = 0; i < heading.size(); i++) {
        named.put(heading.get(i), i < cells.size() ? cells.get(i) : "");
      }
      rows.add(new Row(text.number(), named));
      if (rows.size() > MOST_ROWS) {
        break;
      }
    }
    if (rows.isEmpty() || rows.size() > MOST_ROWS) {
      throw Problem.malformed("", "A sheet has 1 to " + MOST_ROWS + " rows below its heading.");
    }
    return new Sheet(heading, rows);
  }

  /**
   * Its rows in their order.
   *
   * @param columns the columns it may have; the first is needed
   * @param attributes names of attributes it may have columns of
   * @throws Problem 400 when it has others, or one of them twice
   */
  public List<Row> rows(List<String> columns, Collection<String> attributes) {
    for (String name : heading) {
      if (!columns.contains(name.toLowerCase(Locale.ROOT))
          && attributes.stream().noneMatch(name::equalsIgnoreCase)) {
        throw Problem.malformed(
            "",
            "The column '"
                + name
                + "' is not known; known are "
                + String.join(", ", columns)
                + (attributes.isEmpty()
                    ? ""
                    : " and the attributes " + String.join(", ", attributes))
                + ".");
      }
      if (heading.stream().filter(name::equalsIgnoreCase).count() > 1) {
        throw Problem.malformed("", "The column '" + name + "' is there twice.");
      }
    }
    if (heading.stream().noneMatch(columns.get(0)::equalsIgnoreCase)) {
      throw Problem.malformed(
          "", "The first line has to name the columns; " + columns.get(0) + " is needed.");
    }
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

  /**
   * A list that is read in portions, as rows of a sheet. Of the list one portion is held at a time;
   * {@link #write} holds the text of the sheet whole.
   *
   * @param portion what comes after an item, or the beginning, at most so many
   */
  public static <T> Iterable<List<String>> rows(
      BiFunction<Optional<T>, Integer, List<T>> portion, Function<T, List<String>> cells) {
    UnaryOperator<List<T>> next =
        last ->
            last.size() < PORTION
                ? List.of()
                : portion.apply(Optional.of(last.get(last.size() - 1)), PORTION);
    return Stream.iterate(portion.apply(Optional.empty(), PORTION), p -> !p.isEmpty(), next)
            .flatMap(List::stream)
            .map(cells)
        ::iterator;
  }

  /** {@link #rows(BiFunction, Function)}, no more than so many. */
  public static <T> Iterable<List<String>> rows(
      int most,
      BiFunction<Optional<T>, Integer, List<T>> portion,
      Function<T, List<String>> cells) {
    Iterable<List<String>> all = rows(portion, cells);
    return StreamSupport.stream(all.spliterator(), false).limit(most)::iterator;
  }

  /** Things as cells: what is absent is empty, times are to the second, no text is a formula. */
  public static List<String> cells(Object... things) {
    return Stream.of(things)
        .map(t -> t instanceof Optional<?> o ? o.orElse(null) : t)
        .map(t -> t instanceof Instant i ? i.truncatedTo(ChronoUnit.SECONDS) : t)
        .map(t -> t == null ? "" : t.toString())
        .map(Row::inert)
        .toList();
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
