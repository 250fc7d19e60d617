package dev.pinwright.storage.roster;

import dev.pinwright.core.Words;
import dev.pinwright.core.device.Identifier;
import dev.pinwright.core.roster.Column;
import dev.pinwright.core.roster.RosterLine;
import dev.pinwright.core.roster.SheetState;
import dev.pinwright.storage.Tx;
import java.time.Instant;
import java.util.Collection;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;

/**
 * Sheets read into the roster. Their rows are kept as they were brought, read by portions, held
 * against each other and against what is on file, and taken over, each by a handful of statements
 * however many there are.
 */
public final class SheetStore {
  private final Tx tx;

  public SheetStore(Tx tx) {
    this.tx = tx;
  }

  /**
   * A sheet.
   *
   * @param headings as they stand in it
   * @param fields the column each heading stands for; empty for one that is left out
   * @param total rows below the heading
   * @param done rows that were read
   * @param reached the line up to which they were
   */
  public record Sheet(
      String sheet,
      SheetState state,
      String reason,
      List<String> headings,
      List<String> fields,
      int total,
      int done,
      int reached,
      Instant createdAt,
      String createdBy) {}

  /** One sheet. */
  public Optional<Sheet> find(String id) {
    return tx
        .select(
            Sheet.class,
            "select sheet, state, reason, headings, fields, total, done, reached, created_at,"
                + " created_by from roster_import where id = :i",
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

  /** A sheet that is being checked and that nobody else is at, held; empty when there is none. */
  public Optional<Sheet> claim(String id) {
    return tx
        .column(
            String.class,
            "select id from roster_import where id = :i and state = 'checking'"
                + " for update skip locked",
            Map.of("i", id))
        .stream()
        .findFirst()
        .flatMap(this::find);
  }

  /** Sheets that are to be checked, oldest first; at most a hundred. */
  public List<String> open() {
    return tx.column(
        String.class,
        "select id from roster_import where state = 'checking' order by created_at limit 100",
        Map.of());
  }

  /** Begins a sheet, whose rows are to come. */
  public void begin(
      String id,
      List<String> headings,
      @Nullable String profileId,
      String sheet,
      String by,
      Instant now) {
    Map<String, Object> p = new HashMap<>();
    p.put("id", id);
    p.put("headings", headings.toArray(String[]::new));
    p.put("profile", profileId);
    p.put("sheet", sheet);
    p.put("now", now);
    p.put("by", by);
    tx.execute(
        "insert into roster_import (id, state, headings, fields, profile_id, sheet, created_at,"
            + " created_by) values (:id, 'receiving', cast(:headings as text[]), '{}',"
            + " cast(:profile as text), :sheet, :now, :by)",
        p);
  }

  /** Rows as they were brought: the line each is on, and its cells as JSON. */
  public void keep(String id, List<Integer> lines, List<String> cells) {
    tx.execute(
        """
        insert into roster_import_row (import_id, line, cells)
        select :id, line, cells
          from unnest(cast(:lines as int[]), cast(:cells as text[])) as r(line, cells)
        """,
        Map.of(
            "id", id,
            "lines", lines.toArray(Integer[]::new),
            "cells", cells.toArray(String[]::new)));
    tx.execute(
        "update roster_import set total = total + :n where id = :id",
        Map.of("id", id, "n", lines.size()));
  }

  /** Leaves nothing of a sheet. */
  public void forget(String id) {
    tx.execute("delete from roster_import where id = :i", Map.of("i", id));
  }

  /** Lets a sheet be checked from its first row on, with these columns. */
  public void match(String id, List<String> fields, SheetState state, String reason) {
    Map<String, Object> p = new HashMap<>();
    p.put("i", id);
    p.put("fields", fields.toArray(String[]::new));
    p.put("state", Words.of(state));
    p.put("reason", reason);
    tx.execute(
        "update roster_import set fields = cast(:fields as text[]), state = :state,"
            + " reason = :reason, done = 0, reached = 0 where id = :i",
        p);
  }

  /** Ends the checking or the saving of a sheet. */
  public void ends(String id, SheetState state, String reason) {
    tx.execute(
        "update roster_import set state = :s, reason = :r where id = :i",
        Map.of("i", id, "s", Words.of(state), "r", reason));
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

  /** A row as it was brought. */
  public record Brought(int line, String cells) {}

  /** Rows after a line, in their order. */
  public List<Brought> brought(String id, int after, int limit) {
    return tx.select(
        Brought.class,
        "select line, cells from roster_import_row where import_id = :i and line > :after"
            + " order by line limit :limit",
        Map.of("i", id, "after", after, "limit", limit));
  }

  /** Keeps what was read in some rows, each as well as it could be by itself. */
  public void read(String id, List<Integer> lines, List<RosterLine> read) {
    Map<String, Object> p = new HashMap<>();
    p.put("id", id);
    p.put("lines", lines.toArray(Integer[]::new));
    p.put("serials", texts(read, l -> l.identifier(Identifier.Kind.SERIAL).orElse("")));
    p.put("imeis", texts(read, l -> l.identifier(Identifier.Kind.IMEI).orElse("")));
    p.put("assets", texts(read, l -> l.identifier(Identifier.Kind.ASSET).orElse("")));
    p.put("names", texts(read, l -> l.text(Column.NAME)));
    p.put("people", texts(read, l -> l.text(Column.PERSON)));
    p.put("units", texts(read, l -> l.text(Column.UNIT)));
    p.put("sites", texts(read, l -> l.text(Column.SITE)));
    p.put("profiles", texts(read, l -> l.text(Column.PROFILE)));
    p.put("states", texts(read, l -> l.text(Column.STATE)));
    p.put("tags", texts(read, l -> String.join("\n", l.tags())));
    p.put("notes", texts(read, l -> String.join("\n", l.notes())));
    p.put("faults", texts(read, l -> String.join("\n", l.faults())));
    tx.execute(
        """
        update roster_import_row o
           set serial = nullif(r.serial, ''), imei = nullif(r.imei, ''),
               asset = nullif(r.asset, ''), name = r.name, person = r.person, unit = r.unit,
               site = r.site, profile = r.profile, state = r.state,
               person_id = null, unit_id = null, site_id = null, profile_id = null,
               entry_id = null, entry_at = null, becomes = null,
               tags = array_remove(string_to_array(r.tags, chr(10)), ''),
               notes = array_remove(string_to_array(r.notes, chr(10)), ''),
               faults = array_remove(string_to_array(r.faults, chr(10)), '')
          from unnest(cast(:lines as int[]), cast(:serials as text[]), cast(:imeis as text[]),
                      cast(:assets as text[]), cast(:names as text[]), cast(:people as text[]),
                      cast(:units as text[]), cast(:sites as text[]), cast(:profiles as text[]),
                      cast(:states as text[]), cast(:tags as text[]), cast(:notes as text[]),
                      cast(:faults as text[]))
            as r(line, serial, imei, asset, name, person, unit, site, profile, state, tags, notes,
                 faults)
         where o.import_id = :id and o.line = r.line
        """,
        p);
    tx.execute(
        "update roster_import set done = done + :n, reached = :reached where id = :id",
        Map.of("id", id, "n", read.size(), "reached", lines.get(lines.size() - 1)));
  }

  private static String[] texts(List<RosterLine> lines, Function<RosterLine, String> of) {
    return lines.stream().map(of).toArray(String[]::new);
  }

  static String[] words(Collection<Column> columns) {
    return columns.stream().map(Words::of).toArray(String[]::new);
  }

  /**
   * How the rows of a sheet are.
   *
   * @param sound rows that can be taken over
   * @param repaired sound rows of which there is something to know
   * @param faulty rows that cannot
   * @param added sound rows that are new to the roster
   * @param changed sound rows that change a row of the roster
   */
  public record Counts(long sound, long repaired, long faulty, long added, long changed) {}

  /** How the rows of a sheet are. */
  public Counts counts(String id) {
    return tx.select(
            Counts.class,
            """
            select count(*) filter (where faults = '{}') as sound,
                   count(*) filter (where faults = '{}' and notes <> '{}') as repaired,
                   count(*) filter (where faults <> '{}') as faulty,
                   count(*) filter (where faults = '{}' and becomes = 'added') as added,
                   count(*) filter (where faults = '{}' and becomes = 'changed') as changed
              from roster_import_row where import_id = :i
            """,
            Map.of("i", id))
        .get(0);
  }

  /** Which rows of a sheet. */
  public enum Only {
    FAULTY("faults <> '{}'"),
    REPAIRED("faults = '{}' and notes <> '{}'"),
    SOUND("faults = '{}'"),
    ADDED("faults = '{}' and becomes = 'added'"),
    CHANGED("faults = '{}' and becomes = 'changed'");

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

  /**
   * Takes the sound rows of a sheet over into the roster; says how many were added or changed. A
   * row of the roster that somebody changed since is left alone.
   */
  public int save(String id, Collection<Column> columns, Instant now) {
    int changed =
        tx.execute(
            """
            update roster_entry e
               set serial = coalesce(r.serial, e.serial), imei = coalesce(r.imei, e.imei),
                   asset = coalesce(r.asset, e.asset),
                   name = case when 'name' = any(c.columns) then r.name else e.name end,
                   person_id = case when 'person' = any(c.columns) then r.person_id
                                    else e.person_id end,
                   unit_id = case when 'unit' = any(c.columns) then r.unit_id else e.unit_id end,
                   site_id = case when 'site' = any(c.columns) then r.site_id else e.site_id end,
                   profile_id = case when 'profile' = any(c.columns) then r.profile_id
                                     else e.profile_id end,
                   tags = case when 'tags' = any(c.columns) then r.tags else e.tags end,
                   state = case when r.state in ('barred', 'withdrawn') then r.state
                                when r.state <> '' and e.state = 'barred' then 'expected'
                                else e.state end,
                   version = e.version + 1, changed_at = :now
              from roster_import_row r, (select cast(:columns as text[]) as columns) c
             where r.import_id = :i and r.entry_id = e.id and r.faults = '{}'
               and r.becomes = 'changed' and e.changed_at = r.entry_at
            """,
            Map.of("i", id, "now", now, "columns", words(columns)));
    return changed
        + tx.execute(
            """
            insert into roster_entry (id, version, serial, imei, asset, name, person_id, unit_id,
                                      site_id, tags, profile_id, source, state, created_at,
                                      changed_at)
            select :i || '-' || lpad(cast(999999 - r.line as text), 6, '0'), 0, r.serial, r.imei,
                   r.asset, r.name, r.person_id, r.unit_id, r.site_id, r.tags,
                   coalesce(r.profile_id, i.profile_id),
                   case when i.sheet = '' then 'sheet' else i.sheet end,
                   case when r.state = 'barred' then 'barred' else 'expected' end, :now, :now
              from roster_import_row r join roster_import i on i.id = r.import_id
             where r.import_id = :i and r.faults = '{}' and r.becomes = 'added'
            on conflict do nothing
            """,
            Map.of("i", id, "now", now));
  }

  /** Forgets sheets a month old, and those whose rows stopped coming. */
  public void tidy(Instant now) {
    tx.execute(
        """
        delete from roster_import
         where created_at < cast(:now as timestamptz)
                 - case when state = 'receiving' then interval '1 hour' else interval '30 days' end
        """,
        Map.of("now", now));
  }
}
