package dev.pinwright.storage.roster;

import dev.pinwright.core.device.Identifier;
import dev.pinwright.core.roster.Column;
import dev.pinwright.core.roster.RosterLine;
import dev.pinwright.storage.Tx;
import java.time.Instant;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;

/**
 * Sheets read into the roster. Their rows are staged, held against each other and against what is
 * on file, and taken over, each by a handful of statements however many there are.
 */
public final class SheetStore {
  private final Tx tx;

  public SheetStore(Tx tx) {
    this.tx = tx;
  }

  /**
   * A sheet.
   *
   * @param state checking, checked, saved or failed
   * @param columns heading to column, as JSON
   */
  public record Sheet(
      String sheet,
      String state,
      String reason,
      String columns,
      int total,
      int done,
      Instant createdAt,
      String createdBy) {}

  /** One sheet. */
  public Optional<Sheet> find(String id) {
    return tx
        .select(
            Sheet.class,
            "select sheet, state, reason, cast(columns as text) as columns, total, done,"
                + " created_at, created_by from roster_import where id = :i",
            Map.of("i", id))
        .stream()
        .findFirst();
  }

  /** {@link #find}, held against other writers until the transaction ends. */
  public Optional<Sheet> lock(String id) {
    tx.column(
        String.class, "select id from roster_import where id = :i for update", Map.of("i", id));
    return find(id);
  }

  /** Begins a sheet. */
  public void begin(String id, String columns, @Nullable String profileId, Sheet sheet) {
    Map<String, Object> p = new HashMap<>();
    p.put("id", id);
    p.put("state", sheet.state());
    p.put("columns", columns);
    p.put("profile", profileId);
    p.put("total", sheet.total());
    p.put("sheet", sheet.sheet());
    p.put("now", sheet.createdAt());
    p.put("by", sheet.createdBy());
    tx.execute(
        "insert into roster_import (id, state, columns, profile_id, total, sheet, created_at,"
            + " created_by) values (:id, :state, cast(:columns as json),"
            + " cast(:profile as text), :total, :sheet, :now, :by)",
        p);
  }

  /** Ends the checking or the saving of a sheet. */
  public void ends(String id, String state, String reason) {
    tx.execute(
        "update roster_import set state = :s, reason = :r where id = :i",
        Map.of("i", id, "s", state, "r", reason));
  }

  private record Remembered(String heading, String field) {}

  /** Which column a heading stood for the last time. */
  public Map<String, String> remembered() {
    return tx
        .select(Remembered.class, "select heading, field from roster_column limit 1000", Map.of())
        .stream()
        .collect(Collectors.toMap(Remembered::heading, Remembered::field));
  }

  /** Remembers what a heading stands for; an empty column forgets it. */
  public void remember(String heading, String column) {
    if (column.isEmpty()) {
      tx.execute("delete from roster_column where heading = :h", Map.of("h", heading));
    } else {
      tx.execute(
          "insert into roster_column values (:h, :f)"
              + " on conflict (heading) do update set field = excluded.field",
          Map.of("h", heading, "f", column));
    }
  }

  /** Keeps some rows, as far as each could be read by itself, with the lines they are on. */
  public void stage(String id, List<Integer> numbers, List<RosterLine> lines) {
    Map<String, Object> p = new HashMap<>();
    p.put("id", id);
    p.put("lines", numbers.toArray(Integer[]::new));
    p.put("serials", texts(lines, l -> l.identifier(Identifier.Kind.SERIAL).orElse("")));
    p.put("imeis", texts(lines, l -> l.identifier(Identifier.Kind.IMEI).orElse("")));
    p.put("assets", texts(lines, l -> l.identifier(Identifier.Kind.ASSET).orElse("")));
    p.put("names", texts(lines, l -> l.text(Column.NAME)));
    p.put("people", texts(lines, l -> l.text(Column.PERSON)));
    p.put("units", texts(lines, l -> l.text(Column.UNIT)));
    p.put("sites", texts(lines, l -> l.text(Column.SITE)));
    p.put("profiles", texts(lines, l -> l.text(Column.PROFILE)));
    p.put("tags", texts(lines, l -> String.join("\n", l.tags())));
    p.put("notes", texts(lines, l -> String.join("\n", l.notes())));
    p.put("faults", texts(lines, l -> String.join("\n", l.faults())));
    tx.execute(
        """
        insert into roster_import_row (import_id, line, serial, imei, asset, name, person, unit,
                                       site, profile, tags, notes, faults)
        select :id, line, nullif(serial, ''), nullif(imei, ''), nullif(asset, ''), name, person,
               unit, site, profile, array_remove(string_to_array(tags, chr(10)), ''),
               array_remove(string_to_array(notes, chr(10)), ''),
               array_remove(string_to_array(faults, chr(10)), '')
          from unnest(cast(:lines as int[]), cast(:serials as text[]), cast(:imeis as text[]),
                      cast(:assets as text[]), cast(:names as text[]), cast(:people as text[]),
                      cast(:units as text[]), cast(:sites as text[]), cast(:profiles as text[]),
                      cast(:tags as text[]), cast(:notes as text[]), cast(:faults as text[]))
            as r(line, serial, imei, asset, name, person, unit, site, profile, tags, notes, faults)
        """,
        p);
    tx.execute(
        "update roster_import set done = done + :n where id = :id",
        Map.of("id", id, "n", lines.size()));
  }

  private static String[] texts(List<RosterLine> lines, Function<RosterLine, String> of) {
    return lines.stream().map(of).toArray(String[]::new);
  }

  /** Holds all rows against each other and against what is on file. */
  public void judge(String id) {
    Map<String, Object> p = Map.of("i", id);
    tx.execute("analyze roster_import_row", Map.of());
    for (String column : List.of("serial", "imei", "asset")) {
      String called = column.equals("imei") ? "IMEI" : column + " number";
      tx.execute(
          """
          update roster_import_row r
             set faults = array_append(r.faults, '%1$s ' || r.%2$s || ' is also in line ' || d.first)
            from (select %2$s as value, min(line) as first from roster_import_row
                   where import_id = :i and %2$s is not null group by 1 having count(*) > 1) d
           where r.import_id = :i and r.%2$s = d.value and r.line <> d.first
          """
              .formatted(called, column),
          p);
      tx.execute(
          """
          update roster_import_row r
             set faults = array_append(r.faults, '%1$s ' || r.%2$s || ' is on the roster already')
            from roster_entry e
           where r.import_id = :i and e.%2$s = r.%2$s and e.state <> 'withdrawn'
          """
              .formatted(called, column),
          p);
      tx.execute(
          """
          update roster_import_row r
             set notes = array_append(r.notes, 'it is managed already, as ' || d.name)
            from device d
           where r.import_id = :i and d.%1$s = r.%1$s and d.retired_at is null
          """
              .formatted(column),
          p);
    }
    refer(id, "unit", "unit x where x.code = upper(r.unit) or lower(x.name) = lower(r.unit)");
    refer(id, "site", "site x where lower(x.name) = lower(r.site)");
    refer(
        id,
        "person",
        "person x where x.login = lower(r.person) or lower(x.mail) = lower(r.person)"
            + " or lower(x.name) = lower(r.person)");
    refer(id, "profile", "enrollment_profile x where lower(x.name) = lower(r.profile)");
  }

  /** Finds what the cells of a column name. */
  private void refer(String id, String column, String rows) {
    Map<String, Object> p = Map.of("i", id);
    tx.execute(
        """
        update roster_import_row r set %1$s_id = (select x.id from %2$s order by 1 limit 1)
         where import_id = :i and %1$s <> ''
        """
            .formatted(column, rows),
        p);
    tx.execute(
        """
        update roster_import_row r
           set faults = array_append(faults, 'there is no %2$s ''' || %1$s || '''')
         where import_id = :i and %1$s <> '' and %1$s_id is null
        """
            .formatted(column, column.replace("profile", "enrollment profile")),
        p);
  }

  /**
   * How the rows of a sheet are.
   *
   * @param sound rows that can be taken over
   * @param repaired sound rows in which something was put right
   * @param faulty rows that cannot
   */
  public record Counts(long sound, long repaired, long faulty) {}

  /** How the rows of a sheet are. */
  public Counts counts(String id) {
    return tx.select(
            Counts.class,
            """
            select count(*) filter (where faults = '{}') as sound,
                   count(*) filter (where faults = '{}' and notes <> '{}') as repaired,
                   count(*) filter (where faults <> '{}') as faulty
              from roster_import_row where import_id = :i
            """,
            Map.of("i", id))
        .get(0);
  }

  /** Which rows of a sheet. */
  public enum Only {
    FAULTY("faults <> '{}'"),
    REPAIRED("faults = '{}' and notes <> '{}'"),
    SOUND("faults = '{}'");

    private final String condition;

    Only(String condition) {
      this.condition = condition;
    }
  }

  /** What became of one row. {@code line} counts from 1, the heading line. */
  public record Row(
      int line, String identifiers, String name, List<String> notes, List<String> faults) {}

  /** Rows after a line, in the order of the sheet. */
  public List<Row> rows(String id, Optional<Only> only, int after, int limit) {
    return tx.select(
        Row.class,
        "select line, concat_ws(', ', serial, imei, asset) as identifiers, name, notes, faults"
            + " from roster_import_row where import_id = :i and line > :line and "
            + only.map(o -> o.condition).orElse("true")
            + " order by line limit :limit",
        Map.of("i", id, "line", after, "limit", limit));
  }

  /** Takes the sound rows of a sheet over into the roster; says how many. */
  public int save(String id, Instant now) {
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
        Map.of("i", id, "now", now));
  }

  /** Gives up sheets whose check was cut short, and forgets those a month old. */
  public void tidy(Instant now) {
    Map<String, Object> p = Map.of("now", now);
    tx.execute(
        """
        update roster_import set state = 'failed',
               reason = 'the service stopped while it was checked; bring the sheet again'
         where state = 'checking' and created_at < cast(:now as timestamptz) - interval '10 minutes'
        """,
        p);
    tx.execute(
        "delete from roster_import"
            + " where created_at < cast(:now as timestamptz) - interval '30 days'",
        p);
  }
}
