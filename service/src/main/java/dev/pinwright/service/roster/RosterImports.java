package dev.pinwright.service.roster;

import com.fasterxml.jackson.core.type.TypeReference;
import com.github.f4b6a3.ulid.UlidCreator;
import dev.pinwright.core.Words;
import dev.pinwright.core.roster.Column;
import dev.pinwright.service.journal.Journal;
import dev.pinwright.service.live.Events;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Json;
import dev.pinwright.service.work.Known;
import dev.pinwright.service.work.ManyLines;
import dev.pinwright.service.work.Page;
import dev.pinwright.service.work.Problem;
import dev.pinwright.service.work.Role;
import dev.pinwright.storage.Database;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.row.EnrollmentProfileRow;
import java.io.IOException;
import java.io.StringReader;
import java.time.Clock;
import java.time.Instant;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
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
  private final Database database;
  private final Journal journal;
  private final Events events;
  private final Clock clock;
  private final ExecutorService checking =
      Executors.newSingleThreadExecutor(r -> new Thread(r, "roster-imports"));

  public RosterImports(Database database, Journal journal, Events events, Clock clock) {
    this.database = database;
    this.journal = journal;
    this.events = events;
    this.clock = clock;
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

  /** What became of one row. {@code line} counts from 1, the heading line. */
  public record Row(
      int line, String identifiers, String name, List<String> notes, List<String> faults) {}

  /**
   * Begins to check a sheet; saves nothing on the roster. The check goes on after this returns;
   * {@link #get} tells how far it is.
   *
   * @throws Problem 400 when it is no sheet, is too long, or no column names a device
   */
  public Import check(Caller caller, Draft draft) {
    caller.needs(Role.OPERATOR);
    List<CSVRecord> records = parse(draft.csv() == null ? "" : draft.csv());
    List<String> headings = List.of(records.get(0).values());
    Map<String, Column> matched = columns(headings, draft.columns());
    String id = UlidCreator.getMonotonicUlid().toString();
    database.run(tx -> begin(tx, caller, id, draft, headings, matched, records.size() - 1));
    events.touch("roster-imports");
    checking.execute(() -> check(id, headings, matched, records.subList(1, records.size())));
    return get(caller, id);
  }

  private void check(
      String id, List<String> headings, Map<String, Column> matched, List<CSVRecord> rows) {
    try {
      for (int from = 0; from < rows.size(); from += PORTION) {
        List<CSVRecord> portion = rows.subList(from, Math.min(rows.size(), from + PORTION));
        database.run(tx -> SheetCheck.stage(tx, id, headings, matched, portion));
        events.touch("roster-imports");
      }
      database.run(
          tx -> {
            SheetCheck.judge(tx, id);
            ends(tx, id, "checked", "");
          });
    } catch (RuntimeException e) {
      LOG.error("checking sheet {} failed", id, e);
      database.run(tx -> ends(tx, id, "failed", "the service could not check it; try again"));
    }
    events.touch("roster-imports");
  }

  private static void ends(Tx tx, String id, String state, String reason) {
    tx.execute(
        "update roster_import set state = :s, reason = :r where id = :i",
        Map.of("i", id, "s", state, "r", reason));
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
    Map<String, String> remembered = new HashMap<>();
    database
        .call(tx -> tx.rows("select heading, field from roster_column limit 1000", Map.of()))
        .forEach(r -> remembered.put((String) r[0], (String) r[1]));
    Map<String, Column> matched = new LinkedHashMap<>(Column.match(headings, remembered));
    (chosen == null ? Map.<String, String>of() : chosen)
        .forEach(
            (heading, word) -> {
              matched.remove(heading);
              if (!word.isEmpty()) {
                try {
                  Column column = Words.parse(Column.class, word);
                  matched.values().remove(column);
                  matched.put(heading, column);
                } catch (IllegalArgumentException e) {
                  throw Problem.malformed("/columns", e);
                }
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

  private void begin(
      Tx tx,
      Caller caller,
      String id,
      Draft draft,
      List<String> headings,
      Map<String, Column> matched,
      int total) {
    Map<String, String> columns = new LinkedHashMap<>();
    headings.forEach(h -> columns.put(h, matched.containsKey(h) ? Words.of(matched.get(h)) : ""));
    Map<String, Object> p = new HashMap<>();
    p.put("id", id);
    p.put("columns", Json.write(columns));
    p.put(
        "profile",
        Known.id(tx, EnrollmentProfileRow.class, "profile", draft.profileId()) == null
            ? ""
            : draft.profileId());
    p.put("total", total);
    p.put("sheet", draft.sheet() == null ? "" : draft.sheet().strip());
    p.put("now", clock.instant());
    p.put("by", caller.login());
    tx.execute(
        "insert into roster_import (id, state, columns, profile_id, total, sheet, created_at,"
            + " created_by) values (:id, 'checking', cast(:columns as json),"
            + " nullif(:profile, ''), :total, :sheet, :now, :by)",
        p);
    (draft.columns() == null ? Map.<String, String>of() : draft.columns())
        .forEach(
            (heading, field) ->
                tx.execute(
                    field.isEmpty()
                        ? "delete from roster_column where heading = :h and :f = ''"
                        : "insert into roster_column values (:h, :f)"
                            + " on conflict (heading) do update set field = excluded.field",
                    Map.of("h", heading, "f", field)));
  }

  /** One sheet with its progress. */
  public Import get(Caller caller, String id) {
    caller.needs(Role.READER);
    return database.call(tx -> view(tx, id));
  }

  private static Import view(Tx tx, String id) {
    Object[] r =
        tx
            .rows(
                "select sheet, state, reason, cast(columns as text), total, done, created_at,"
                    + " created_by from roster_import where id = :i",
                Map.of("i", id))
            .stream()
            .findFirst()
            .orElseThrow(() -> Problem.notFound("import", id));
    Object[] n =
        tx.rows(
                "select count(*) filter (where faults = '{}'),"
                    + " count(*) filter (where faults = '{}' and notes <> '{}'),"
                    + " count(*) filter (where faults <> '{}')"
                    + " from roster_import_row where import_id = :i",
                Map.of("i", id))
            .get(0);
    return new Import(
        id,
        (String) r[0],
        (String) r[1],
        (String) r[2],
        Json.read((String) r[3], new TypeReference<LinkedHashMap<String, String>>() {}),
        (Integer) r[4],
        (Integer) r[5],
        ((Number) n[0]).longValue(),
        ((Number) n[1]).longValue(),
        ((Number) n[2]).longValue(),
        (Instant) r[6],
        (String) r[7]);
  }

  /**
   * Rows of a sheet in its order.
   *
   * @param only {@code faulty}, {@code repaired}, {@code sound}, or empty for all
   */
  public Page<Row> rows(Caller caller, String id, String only, Page.Request page) {
    caller.needs(Role.READER);
    String[] c = page.parts(Page.Part.WHOLE);
    String which =
        switch (only) {
          case "" -> "true";
          case "faulty" -> "faults <> '{}'";
          case "repaired" -> "faults = '{}' and notes <> '{}'";
          case "sound" -> "faults = '{}'";
          default ->
              throw Problem.malformed("/only", "only has to be one of faulty, repaired, sound.");
        };
    List<Object[]> rows =
        database.call(
            tx ->
                tx.rows(
                    "select line, concat_ws(', ', serial, imei, asset), name,"
                        + " array_to_string(notes, chr(10)), array_to_string(faults, chr(10))"
                        + " from roster_import_row where import_id = :i and line > :line and "
                        + which
                        + " order by line limit :limit",
                    Map.of(
                        "i",
                        id,
                        "line",
                        c.length == 0 ? 0 : Integer.parseInt(c[0]),
                        "limit",
                        page.limit() + 1)));
    return Page.of(
        rows,
        page.limit(),
        r ->
            new Row(
                (Integer) r[0],
                (String) r[1],
                (String) r[2],
                ((String) r[3]).lines().toList(),
                ((String) r[4]).lines().toList()),
        r -> Page.cursor(String.valueOf(r[0])));
  }

  /**
   * Takes the sound rows of a checked sheet over into the roster.
   *
   * @param leaveOut whether faulty rows may be left out
   * @throws Problem 409 when it is taken over already, has faulty rows that may not be left out, or
   *     the roster changed meanwhile
   */
  public Import takeOver(Caller caller, String id, boolean leaveOut) {
    caller.needs(Role.OPERATOR);
    Import taken =
        database.call(
            tx -> {
              tx.rows("select 1, 1 from roster_import where id = :i for update", Map.of("i", id));
              Import before = view(tx, id);
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
              int n = save(tx, id);
              if (n != before.sound()) {
                throw Problem.conflict(
                    "roster-changed",
                    "The roster was changed since the sheet was checked; check it again.");
              }
              Roster.meet(tx, clock.instant());
              ends(tx, id, "saved", "");
              journal.write(
                  tx,
                  caller,
                  "roster.imported",
                  "roster-import:" + id,
                  n
                      + " rows taken over"
                      + (before.sheet().isEmpty() ? "" : " from " + before.sheet())
                      + (before.faulty() == 0 ? "" : "; " + before.faulty() + " left out"));
              return view(tx, id);
            });
    events.touch("roster");
    events.touch("roster-imports");
    return taken;
  }

  private int save(Tx tx, String id) {
    return tx.execute(
        """
        insert into roster_entry (id, version, serial, imei, asset, name, person_id, unit_id,
                                  site_id, tags, profile_id, source, state, created_at, changed_at)
        select :i || '-' || lpad(cast(999999 - r.line as text), 6, '0'), 0, r.serial, r.imei,
               r.asset, r.name, r.person_id, r.unit_id, r.site_id, r.tags,
               coalesce(r.profile_id, i.profile_id),
               case when i.sheet = '' then 'sheet' else i.sheet end, 'expected', :now, :now
          from roster_import_row r join roster_import i on i.id = r.import_id
         where r.import_id = :i and r.faults = '{}'
        on conflict do nothing
        """,
        Map.of("i", id, "now", clock.instant()));
  }

  @Override
  public void close() {
    checking.shutdownNow();
  }
}
