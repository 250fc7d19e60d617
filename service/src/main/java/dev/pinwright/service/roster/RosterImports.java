package dev.pinwright.service.roster;

import com.fasterxml.jackson.core.type.TypeReference;
import dev.pinwright.core.Words;
import dev.pinwright.core.roster.Column;
import dev.pinwright.core.roster.RosterLine;
import dev.pinwright.service.usecase.Noun;
import dev.pinwright.service.usecase.UseCases;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Json;
import dev.pinwright.service.work.Known;
import dev.pinwright.service.work.ManyLines;
import dev.pinwright.service.work.Page;
import dev.pinwright.service.work.Problem;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.roster.RosterStore;
import dev.pinwright.storage.roster.SheetStore;
import dev.pinwright.storage.row.EnrollmentProfileRow;
import java.io.IOException;
import java.io.StringReader;
import java.time.Instant;
import java.util.EnumMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.function.Consumer;
import org.apache.commons.csv.CSVFormat;
import org.apache.commons.csv.CSVParser;
import org.apache.commons.csv.CSVRecord;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * Sheets read into the roster. A sheet is checked row by row first and waits, so that whoever
 * brought it can read what is wrong before anything is saved; then its sound rows are taken over by
 * one statement. Checking goes by portions, whose progress can be seen.
 */
public final class RosterImports implements AutoCloseable {
  private static final Logger LOG = LoggerFactory.getLogger(RosterImports.class);

  /** The most rows of one sheet. */
  public static final int MAX_ROWS = 200_000;

  private static final int PORTION = 5_000;
  private final UseCases useCases;
  private final ExecutorService checking =
      Executors.newSingleThreadExecutor(r -> new Thread(r, "roster-imports"));

  public RosterImports(UseCases useCases) {
    this.useCases = useCases;
  }

  /**
   * A sheet to read.
   *
   * @param csv text with a heading line; commas, semicolons or tabs between cells
   * @param columns heading to column, over what is matched by itself; an empty column leaves a
   *     heading out. Remembered for the next sheet.
   * @param profileId enrollment profile of rows that name none
   * @param sheet what the sheet is called
   */
  public record Draft(
      @ManyLines @Nullable String csv,
      @Nullable Map<String, String> columns,
      @Nullable String profileId,
      @Nullable String sheet) {}

  /**
   * A sheet and how far it is.
   *
   * @param state checking, checked, saved or failed
   * @param columns heading to column as they were matched; empty for headings that are left out
   * @param sound rows that can be taken over
   * @param repaired sound rows in which something was put right
   * @param faulty rows that cannot
   */
  public record Import(
      String id,
      String sheet,
      String state,
      String reason,
      Map<String, String> columns,
      int total,
      int done,
      long sound,
      long repaired,
      long faulty,
      Instant createdAt,
      String createdBy) {}

  /**
   * Begins to check a sheet; saves nothing on the roster. The check goes on after this returns;
   * {@link #get} tells how far it is.
   *
   * @throws Problem 400 when it is no sheet, is too long, or no column names a device
   */
  public Import check(Caller caller, Draft draft) {
    List<CSVRecord> records = parse(draft.csv() == null ? "" : draft.csv());
    List<String> headings = List.of(records.get(0).values());
    Map<String, Column> matched = columns(headings, draft.columns());
    String id = useCases.newId();
    useCases.run(caller, act -> begin(act, id, draft, headings, matched, records.size() - 1));
    checking.execute(() -> check(id, headings, matched, records.subList(1, records.size())));
    return get(caller, id);
  }

  private void check(
      String id, List<String> headings, Map<String, Column> matched, List<CSVRecord> rows) {
    try {
      for (int from = 0; from < rows.size(); from += PORTION) {
        List<CSVRecord> portion = rows.subList(from, Math.min(rows.size(), from + PORTION));
        List<RosterLine> lines = portion.stream().map(r -> line(headings, matched, r)).toList();
        List<Integer> numbers = portion.stream().map(r -> (int) r.getRecordNumber()).toList();
        useCases.run(
            Caller.SERVICE,
            act -> {
              new SheetStore(act.tx()).stage(id, numbers, lines);
              act.touch(Noun.ROSTER_IMPORT);
            });
      }
      ends(id, store -> store.judge(id), "checked", "");
    } catch (RuntimeException e) {
      LOG.error("checking sheet {} failed", id, e);
      ends(id, store -> {}, "failed", "the service could not check it; try again");
    }
  }

  private static RosterLine line(
      List<String> headings, Map<String, Column> matched, CSVRecord record) {
    Map<Column, String> cells = new EnumMap<>(Column.class);
    for (int i = 0; i < Math.min(headings.size(), record.size()); i++) {
      Column c = matched.get(headings.get(i));
      if (c != null) {
        cells.put(c, record.get(i));
      }
    }
    return RosterLine.read(cells);
  }

  private void ends(String id, Consumer<SheetStore> before, String state, String reason) {
    useCases.run(
        Caller.SERVICE,
        act -> {
          SheetStore store = new SheetStore(act.tx());
          before.accept(store);
          store.ends(id, state, reason);
          act.touch(Noun.ROSTER_IMPORT);
        });
  }

  private static List<CSVRecord> parse(String csv) {
    String text = csv.startsWith("\ufeff") ? csv.substring(1) : csv;
    String head = text.lines().findFirst().orElse("");
    char delimiter = head.indexOf('\t') >= 0 ? '\t' : head.indexOf(';') >= 0 ? ';' : ',';
    CSVFormat format =
        CSVFormat.DEFAULT.builder().setDelimiter(delimiter).setIgnoreEmptyLines(true).get();
    try (CSVParser parser = CSVParser.parse(new StringReader(text), format)) {
      List<CSVRecord> records = parser.getRecords();
      if (records.size() < 2) {
        throw Problem.malformed(
            "/csv", "A sheet has a heading line and at least one row below it.");
      }
      if (records.size() - 1 > MAX_ROWS) {
        throw Problem.malformed("/csv", "A sheet has at most " + MAX_ROWS + " rows.");
      }
      return records;
    } catch (IOException | IllegalStateException | java.io.UncheckedIOException e) {
      throw Problem.malformed("/csv", "This is not a sheet: " + e.getMessage() + ".");
    }
  }

  private Map<String, Column> columns(List<String> headings, @Nullable Map<String, String> chosen) {
    Map<String, String> remembered = useCases.read(tx -> new SheetStore(tx).remembered());
    Map<String, Column> matched = new LinkedHashMap<>(Column.match(headings, remembered));
    (chosen == null ? Map.<String, String>of() : chosen)
        .forEach(
            (heading, word) -> {
              matched.remove(heading);
              if (!word.isEmpty()) {
                Column column = Problem.reading("/columns", () -> Words.parse(Column.class, word));
                matched.values().remove(column);
                matched.put(heading, column);
              }
            });
    if (matched.values().stream()
        .noneMatch(c -> c == Column.SERIAL || c == Column.IMEI || c == Column.ASSET)) {
      throw Problem.malformed(
              "/columns",
              "No column holds a serial number, IMEI or asset number; say which does. Headings: "
                  + String.join(", ", headings)
                  + ".")
          .with("headings", headings);
    }
    return matched;
  }

  private static void begin(
      UseCases.Act act,
      String id,
      Draft draft,
      List<String> headings,
      Map<String, Column> matched,
      int total) {
    Map<String, String> columns = new LinkedHashMap<>();
    headings.forEach(h -> columns.put(h, matched.containsKey(h) ? Words.of(matched.get(h)) : ""));
    SheetStore store = new SheetStore(act.tx());
    store.begin(
        id,
        Json.write(columns),
        Known.id(act.tx(), EnrollmentProfileRow.class, "profile", draft.profileId()),
        new SheetStore.Sheet(
            draft.sheet() == null ? "" : draft.sheet().strip(),
            "checking",
            "",
            "",
            total,
            0,
            act.now(),
            act.caller().login()));
    if (draft.columns() != null) {
      draft.columns().forEach(store::remember);
    }
    act.touch(Noun.ROSTER_IMPORT);
  }

  /** One sheet with its progress. */
  public Import get(Caller caller, String id) {
    return useCases.read(
        tx ->
            view(
                tx,
                id,
                new SheetStore(tx).find(id).orElseThrow(() -> Problem.notFound("import", id))));
  }

  private static Import view(Tx tx, String id, SheetStore.Sheet s) {
    SheetStore.Counts n = new SheetStore(tx).counts(id);
    return new Import(
        id,
        s.sheet(),
        s.state(),
        s.reason(),
        Json.read(s.columns(), new TypeReference<LinkedHashMap<String, String>>() {}),
        s.total(),
        s.done(),
        n.sound(),
        n.repaired(),
        n.faulty(),
        s.createdAt(),
        s.createdBy());
  }

  /**
   * Rows of a sheet in its order.
   *
   * @param only {@code faulty}, {@code repaired}, {@code sound}, or empty for all
   */
  public Page<SheetStore.Row> rows(Caller caller, String id, String only, Page.Request page) {
    String[] c = page.parts(Page.Part.WHOLE);
    Optional<SheetStore.Only> which =
        only.isEmpty()
            ? Optional.empty()
            : Optional.of(Problem.reading("/only", () -> Words.parse(SheetStore.Only.class, only)));
    return useCases.read(
        tx ->
            Page.of(
                new SheetStore(tx)
                    .rows(id, which, c.length == 0 ? 0 : Integer.parseInt(c[0]), page.limit() + 1),
                page.limit(),
                r -> Page.cursor(String.valueOf(r.line()))));
  }

  /**
   * Takes the sound rows of a checked sheet over into the roster.
   *
   * @param leaveOut whether faulty rows may be left out
   * @throws Problem 409 when it is taken over already, has faulty rows that may not be left out, or
   *     the roster changed meanwhile
   */
  public Import takeOver(Caller caller, String id, boolean leaveOut) {
    return useCases.act(
        caller,
        act -> {
          SheetStore store = new SheetStore(act.tx());
          Import before =
              view(act.tx(), id, store.lock(id).orElseThrow(() -> Problem.notFound("import", id)));
          if (!before.state().equals("checked")) {
            throw Problem.conflict("not-checked", "This sheet is " + before.state() + ".");
          }
          if (before.faulty() > 0 && !leaveOut) {
            throw Problem.conflict(
                "faulty-rows",
                before.faulty()
                    + " rows are faulty; mend the sheet, or take the other "
                    + before.sound()
                    + " over without them.");
          }
          int n = store.save(id, act.now());
          if (n != before.sound()) {
            throw Problem.conflict(
                "roster-changed",
                "The roster was changed since the sheet was checked; check it again.");
          }
          new RosterStore(act.tx()).meet(act.now());
          store.ends(id, "saved", "");
          act.done(
              Noun.ROSTER,
              "imported",
              Noun.ROSTER_IMPORT,
              id,
              n
                  + " rows taken over"
                  + (before.sheet().isEmpty() ? "" : " from " + before.sheet())
                  + (before.faulty() == 0 ? "" : "; " + before.faulty() + " left out"));
          return view(act.tx(), id, store.find(id).orElseThrow());
        });
  }

  @Override
  public void close() {
    checking.shutdownNow();
  }
}
