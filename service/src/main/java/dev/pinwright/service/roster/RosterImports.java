package dev.pinwright.service.roster;

import com.fasterxml.jackson.core.type.TypeReference;
import dev.pinwright.core.Words;
import dev.pinwright.core.roster.Column;
import dev.pinwright.core.roster.RosterLine;
import dev.pinwright.core.roster.SheetState;
import dev.pinwright.service.sheet.SheetText;
import dev.pinwright.service.usecase.Noun;
import dev.pinwright.service.usecase.UseCases;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Json;
import dev.pinwright.service.work.Known;
import dev.pinwright.service.work.Outage;
import dev.pinwright.service.work.Page;
import dev.pinwright.service.work.Problem;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.roster.RosterStore;
import dev.pinwright.storage.roster.SheetJudge;
import dev.pinwright.storage.roster.SheetStore;
import dev.pinwright.storage.row.EnrollmentProfileRow;
import java.time.Instant;
import java.util.ArrayList;
import java.util.EnumMap;
import java.util.Iterator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * Sheets read into the roster. A sheet is kept as it is brought and checked row by row, so that
 * whoever brought it can read what is wrong, and what would become of each row, before anything is
 * on the roster; then its sound rows are taken over by two statements. What is brought belongs to
 * the database: it is checked by portions, whose progress can be seen, by the node it came to, and
 * by another one when that stops.
 */
public final class RosterImports implements AutoCloseable {
  private static final Logger LOG = LoggerFactory.getLogger(RosterImports.class);

  /** The most rows of one sheet. */
  public static final int MAX_ROWS = 200_000;

  private static final int PORTION = 5_000;
  private static final String NO_IDENTIFIER =
      "No column holds a serial number, IMEI or asset number; say which does.";
  private final UseCases useCases;
  private final ExecutorService checking =
      Executors.newSingleThreadExecutor(r -> new Thread(r, "roster-imports"));

  public RosterImports(UseCases useCases) {
    this.useCases = useCases;
  }

  /**
   * A sheet to read.
   *
   * @param profileId enrollment profile of rows that are new and name none
   * @param name what the sheet is called
   */
  public record Draft(SheetText sheet, Optional<String> profileId, String name) {}

  /** Columns chosen by hand: heading to column, empty for a heading that is left out. */
  public record Columns(@Nullable Map<String, String> columns) {}

  /**
   * A sheet and how far it is.
   *
   * @param columns heading to column as they were matched; empty for headings that are left out
   * @param sound rows that can be taken over; this and what follows are counted when it is checked
   * @param repaired sound rows of which there is something to know
   * @param faulty rows that cannot
   * @param added sound rows that are new to the roster
   * @param changed sound rows that change a row of the roster
   */
  public record Import(
      String id,
      String sheet,
      SheetState state,
      String reason,
      Map<String, String> columns,
      int total,
      int done,
      long sound,
      long repaired,
      long faulty,
      long added,
      long changed,
      Instant createdAt,
      String createdBy) {}

  /**
   * Takes a sheet in and begins to check it; nothing is on the roster yet. The check goes on after
   * this returns; {@link #get} tells how far it is.
   *
   * @return the sheet; {@code unmatched} when {@link #match} has to say what its columns hold
   * @throws Problem 400 when it is no sheet or has too many rows, 413
   */
  public Import bring(Caller caller, Draft draft) {
    Iterator<List<String>> records = draft.sheet().iterator();
    List<String> headings = records.hasNext() ? records.next() : List.of();
    if (!records.hasNext()) {
      throw Problem.malformed("", "A sheet has a heading line and at least one row below it.");
    }
    String id = useCases.newId();
    useCases.run(
        caller,
        act ->
            new SheetStore(act.tx())
                .begin(
                    id,
                    headings,
                    Known.id(
                        act.tx(),
                        EnrollmentProfileRow.class,
                        "profile",
                        draft.profileId().orElse(null)),
                    draft.name().strip(),
                    caller.login(),
                    act.now()));
    try {
      keep(id, draft.sheet(), records);
    } catch (RuntimeException e) {
      useCases.run(Caller.SERVICE, act -> new SheetStore(act.tx()).forget(id));
      throw e;
    }
    return match(caller, id, new Columns(Map.of()));
  }

  /** Keeps all rows, by portions: a sheet comes as slowly as the line it comes over. */
  private void keep(String id, SheetText sheet, Iterator<List<String>> records) {
    int total = 0;
    while (records.hasNext()) {
      List<Integer> lines = new ArrayList<>();
      List<String> cells = new ArrayList<>();
      while (records.hasNext() && lines.size() < PORTION) {
        cells.add(Json.write(records.next()));
        lines.add(sheet.number());
      }
      total += lines.size();
      if (total > MAX_ROWS) {
        throw Problem.malformed("", "A sheet has at most " + MAX_ROWS + " rows.");
      }
      useCases.run(Caller.SERVICE, act -> new SheetStore(act.tx()).keep(id, lines, cells));
    }
  }

  /**
   * Says what the columns of a sheet hold, over what is matched by itself, and checks it (again).
   * What is said is remembered for the next sheet.
   *
   * @throws Problem 400 for a column there is not, 409 when the sheet is taken over already
   */
  public Import match(Caller caller, String id, Columns chosen) {
    Map<String, String> said = chosen.columns() == null ? Map.of() : chosen.columns();
    Import begun =
        useCases.act(
            caller,
            act -> {
              SheetStore store = new SheetStore(act.tx());
              SheetStore.Sheet sheet =
                  store.lock(id).orElseThrow(() -> Problem.notFound("import", id));
              if (sheet.state() == SheetState.SAVED) {
                throw Problem.conflict("saved", "This sheet is taken over already.");
              }
              Map<String, Column> columns = columns(sheet.headings(), store.remembered(), said);
              said.forEach(store::remember);
              boolean known =
                  columns.values().stream()
                      .anyMatch(c -> Set.of(Column.SERIAL, Column.IMEI, Column.ASSET).contains(c));
              store.match(
                  id,
                  fields(sheet.headings(), columns),
                  known ? SheetState.CHECKING : SheetState.UNMATCHED,
                  known ? "" : NO_IDENTIFIER);
              act.touch(Noun.ROSTER_IMPORT);
              return view(act.tx(), id, store.find(id).orElseThrow());
            });
    if (begun.state() == SheetState.CHECKING && !checking.isShutdown()) {
      checking.execute(() -> check(id));
    }
    return begun;
  }

  private static Map<String, Column> columns(
      List<String> headings, Map<String, String> remembered, Map<String, String> said) {
    Map<String, Column> matched = new LinkedHashMap<>(Column.match(headings, remembered));
    said.forEach(
        (heading, word) -> {
          if (!headings.contains(heading)) {
            throw Problem.malformed(
                "/columns",
                "The sheet has no column '"
                    + heading
                    + "'; it has "
                    + String.join(", ", headings)
                    + ".");
          }
          matched.remove(heading);
          if (!word.isEmpty()) {
            Column column = Problem.reading("/columns", () -> Words.parse(Column.class, word));
            matched.values().remove(column);
            matched.put(heading, column);
          }
        });
    return matched;
  }

  /** The column each heading stands for; of two headings of one name the first. */
  private static List<String> fields(List<String> headings, Map<String, Column> columns) {
    Map<String, Column> left = new LinkedHashMap<>(columns);
    return headings.stream()
        .map(h -> Optional.ofNullable(left.remove(h)).map(Words::of).orElse(""))
        .toList();
  }

  /** The columns a sheet has, with the place of each. */
  private static Map<Column, Integer> matched(SheetStore.Sheet sheet) {
    Map<Column, Integer> at = new EnumMap<>(Column.class);
    for (int i = 0; i < sheet.fields().size(); i++) {
      if (!sheet.fields().get(i).isEmpty()) {
        at.put(Words.parse(Column.class, sheet.fields().get(i)), i);
      }
    }
    return at;
  }

  /** Goes on with sheets that nobody is at: their node has stopped. */
  public void checkOpen() {
    useCases.read(tx -> new SheetStore(tx).open()).forEach(this::check);
  }

  private void check(String id) {
    try {
      boolean more = true;
      while (more) {
        more = useCases.act(Caller.SERVICE, act -> portion(act, id));
      }
    } catch (RuntimeException e) {
      if (Outage.problem(e).isPresent()) {
        LOG.warn("checking sheet {} goes on later", id);
        return;
      }
      LOG.error("checking sheet {} failed", id, e);
      useCases.run(
          Caller.SERVICE,
          act -> {
            new SheetStore(act.tx())
                .ends(id, SheetState.FAILED, "the service could not check it; bring it again");
            act.touch(Noun.ROSTER_IMPORT);
          });
    }
  }

  /** Reads a portion, and at the end judges all; says whether there is more to do. */
  private static boolean portion(UseCases.Act act, String id) {
    SheetStore store = new SheetStore(act.tx());
    Optional<SheetStore.Sheet> claimed = store.claim(id);
    if (claimed.isEmpty()) {
      return false;
    }
    Map<Column, Integer> columns = matched(claimed.get());
    List<SheetStore.Brought> rows = store.brought(id, claimed.get().reached(), PORTION);
    if (rows.isEmpty()) {
      new SheetJudge(act.tx()).judge(id, columns.keySet());
      store.ends(id, SheetState.CHECKED, "");
    } else {
      store.read(
          id,
          rows.stream().map(SheetStore.Brought::line).toList(),
          rows.stream().map(r -> line(columns, r.cells())).toList());
    }
    act.touch(Noun.ROSTER_IMPORT);
    return !rows.isEmpty();
  }

  private static RosterLine line(Map<Column, Integer> columns, String brought) {
    List<String> row = Json.read(brought, new TypeReference<List<String>>() {});
    Map<Column, String> cells = new EnumMap<>(Column.class);
    columns.forEach((c, at) -> cells.put(c, at < row.size() ? row.get(at) : ""));
    return RosterLine.read(cells);
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
    boolean judged = s.state() == SheetState.CHECKED || s.state() == SheetState.SAVED;
    SheetStore.Counts n =
        judged ? new SheetStore(tx).counts(id) : new SheetStore.Counts(0, 0, 0, 0, 0);
    Map<String, String> columns = new LinkedHashMap<>();
    for (int i = 0; i < s.headings().size(); i++) {
      columns.putIfAbsent(s.headings().get(i), i < s.fields().size() ? s.fields().get(i) : "");
    }
    return new Import(
        id,
        s.sheet(),
        s.state(),
        s.reason(),
        columns,
        s.total(),
        s.done(),
        n.sound(),
        n.repaired(),
        n.faulty(),
        n.added(),
        n.changed(),
        s.createdAt(),
        s.createdBy());
  }

  /**
   * Rows of a sheet in its order.
   *
   * @param only {@code faulty}, {@code repaired}, {@code sound}, {@code added}, {@code changed}, or
   *     empty for all
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
          SheetStore.Sheet sheet = store.lock(id).orElseThrow(() -> Problem.notFound("import", id));
          Import before = view(act.tx(), id, sheet);
          if (before.state() != SheetState.CHECKED) {
            throw Problem.conflict(
                "not-checked", "This sheet is " + Words.of(before.state()) + ".");
          }
          if (before.faulty() > 0 && !leaveOut) {
            throw Problem.conflict(
                "faulty-rows",
                Words.counted(before.faulty(), "row is", "rows are")
                    + " faulty; mend the sheet, or take the other "
                    + before.sound()
                    + " over without them.");
          }
          int n = store.save(id, matched(sheet).keySet(), act.now());
          if (n != before.added() + before.changed()) {
            throw Problem.conflict(
                "roster-changed",
                "The roster was changed since the sheet was checked; check it again.");
          }
          new RosterStore(act.tx()).meet(act.now());
          store.ends(id, SheetState.SAVED, "");
          act.done(
              Noun.ROSTER,
              "imported",
              Noun.ROSTER_IMPORT,
              id,
              Words.counted(before.added(), "row")
                  + " added and "
                  + before.changed()
                  + " changed"
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
