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

  /**
   * Holds all rows against each other and against what is on file.
   *
   * @param columns those the sheet has; what it has no column of stays as it is in rows that are on
   *     the roster already
   */
  public void judge(String id, Collection<Column> columns) {
    Map<String, Object> p = Map.of("i", id);
    tx.execute("analyze roster_import_row", Map.of());
    for (String column : IDENTIFIERS) {
      tx.execute(
          """
          update roster_import_row r
             set faults = array_append(r.faults, '%1$s ' || r.%2$s || ' is also in line ' || d.first)
            from (select %2$s as value, min(line) as first from roster_import_row
                   where import_id = :i and %2$s is not null and state <> 'withdrawn'
                   group by 1 having count(*) > 1) d
           where r.import_id = :i and r.%2$s = d.value and r.line <> d.first
             and r.state <> 'withdrawn'
          """
              .formatted(column.equals("imei") ? "IMEI" : column + " number", column),
          p);
      tx.execute(
          """
          update roster_import_row r
             set notes = array_append(r.notes, 'it is managed already, as ' || d.name)
            from device d
           where r.import_id = :i and d.%1$s = r.%1$s and d.retired_at is null
             and not exists (select 1 from roster_entry e
                              where e.device_id = d.id and e.state = 'arrived')
          """
              .formatted(column),
          p);
    }
    refer(
        id,
        "unit",
        "unit",
        "select lower(code) as word, id from unit",
        Optional.of("select id, name from unit"));
    refer(id, "site", "site", "select lower(name) as word, id from site", Optional.empty());
    refer(
        id,
        "person",
        "person",
        "select lower(login) as word, id from person where login is not null union"
            + " select lower(mail), id from person where mail is not null",
        Optional.of("select id, name from person where removed_at is null"));
    refer(
        id,
        "profile",
        "enrollment profile",
        "select lower(name) as word, id from enrollment_profile where removed_at is null",
        Optional.empty());
    meet(id);
    compare(id, columns);
  }

  private static final List<String> IDENTIFIERS = List.of("serial", "imei", "asset");

  /**
   * Finds what the cells of a column name: by what tells things of the kind apart, and otherwise by
   * a name only one of them has.
   *
   * @param keys statement of words in small letters and ids
   * @param named statement of ids and names that need not be their own
   */
  private void refer(String id, String column, String called, String keys, Optional<String> named) {
    Map<String, Object> p = Map.of("i", id);
    tx.execute(
        """
        update roster_import_row r set %1$s_id = k.id
          from (select word, min(id) as id from (%2$s) w group by word) k
         where r.import_id = :i and r.%1$s <> '' and k.word = lower(r.%1$s)
        """
            .formatted(column, keys),
        p);
    named.ifPresent(
        those ->
            tx.execute(
                """
                update roster_import_row r
                   set %1$s_id = case when k.n = 1 then k.id end,
                       faults = case when k.n = 1 then r.faults else array_append(r.faults,
                         'there is more than one %1$s called ''' || r.%1$s || '''; give the %3$s')
                         end
                  from (select lower(name) as word, min(id) as id, count(*) as n
                          from (%2$s) t group by 1) k
                 where r.import_id = :i and r.%1$s <> '' and r.%1$s_id is null
                   and k.word = lower(r.%1$s)
                """
                    .formatted(column, those, column.equals("unit") ? "code" : "login"),
                p));
    tx.execute(
        """
        update roster_import_row r
           set faults = array_append(faults, 'there is no %2$s ''' || %1$s || '''')
         where import_id = :i and %1$s <> '' and %1$s_id is null
           and not exists (select 1 from unnest(r.faults) f
                            where f like 'there is more than one %1$s %%')
        """
            .formatted(column, called),
        p);
  }

  /** Finds the row of the roster each row is about. One that is withdrawn in the sheet may be. */
  private void meet(String id) {
    Map<String, Object> p = Map.of("i", id);
    tx.execute(
        """
        with met as (
          select r.line, e.id, e.changed_at, e.state
            from roster_import_row r join roster_entry e on e.serial = r.serial
           where r.import_id = :i and e.state <> 'withdrawn'
          union
          select r.line, e.id, e.changed_at, e.state
            from roster_import_row r join roster_entry e on e.imei = r.imei
           where r.import_id = :i and e.state <> 'withdrawn'
          union
          select r.line, e.id, e.changed_at, e.state
            from roster_import_row r join roster_entry e on e.asset = r.asset
           where r.import_id = :i and e.state <> 'withdrawn'),
        per as (select line, min(id) as id, max(changed_at) as at, min(state) as state,
                       count(*) as n from met group by line)
        update roster_import_row r
           set entry_id = per.id, entry_at = per.at,
               faults = r.faults
                 || case when per.n > 1 then
                      array['its identifiers stand in different rows of the roster'] else '{}' end
                 || case when per.state = 'barred' and r.state = '' then
                      array['it is barred; lift the bar first, or say so in a column “state”']
                      else '{}' end
          from per
         where r.import_id = :i and r.line = per.line
           and not (r.state = 'withdrawn' and exists (
                 select 1 from roster_import_row o
                  where o.import_id = :i and o.state <> 'withdrawn'
                    and (o.serial = r.serial or o.imei = r.imei or o.asset = r.asset)))
        """,
        p);
    tx.execute(
        """
        update roster_import_row r
           set faults = array_append(r.faults,
                 'it is about the same row of the roster as line ' || d.first)
          from (select entry_id, min(line) as first from roster_import_row
                 where import_id = :i and entry_id is not null
                 group by 1 having count(*) > 1) d
         where r.import_id = :i and r.entry_id = d.entry_id and r.line <> d.first
           and r.faults = '{}'
        """,
        p);
  }

  /** Says of each sound row what becomes of it, and of one that is on the roster what changes. */
  private void compare(String id, Collection<Column> columns) {
    Map<String, Object> p = Map.of("i", id, "columns", words(columns));
    tx.execute(
        """
        update roster_import_row set becomes =
               case when state = 'withdrawn' then 'same' else 'added' end
         where import_id = :i and entry_id is null
        """,
        Map.of("i", id));
    tx.execute(
        """
        update roster_import_row r
           set becomes = case when c.changes = '{}' then 'same' else 'changed' end,
               notes = r.notes || c.changes
          from (select x.line, array_remove(array[
                  %s,
                  case when 'tags' = any(cast(:columns as text[]))
                        and not (x.tags @> e.tags and x.tags <@ e.tags)
                       then 'tags become ' || coalesce(nullif(array_to_string(x.tags, ', '), ''),
                            'none') end,
                  case when x.state = 'withdrawn' then 'it is withdrawn'
                       when x.state = 'barred' and e.state <> 'barred' then 'it is barred'
                       when x.state in ('expected', 'arrived') and e.state = 'barred'
                       then 'the bar is lifted' end], null) as changes
                  from roster_import_row x join roster_entry e on e.id = x.entry_id
                 where x.import_id = :i) c
         where r.import_id = :i and r.line = c.line
        """
            .formatted(
                String.join(
                    ",\n",
                    identifier("serial", "serial number"),
                    identifier("imei", "IMEI"),
                    identifier("asset", "asset number"),
                    cell("name", "x.name", "e.name"),
                    cell("person", "x.person_id", "e.person_id"),
                    cell("unit", "x.unit_id", "e.unit_id"),
                    cell("site", "x.site_id", "e.site_id"),
                    cell("profile", "x.profile_id", "e.profile_id"))),
        p);
  }

  /** An identifier is changed, and never taken away: it may be what the row is known by. */
  private static String identifier(String column, String called) {
    return "case when x.%1$s is distinct from e.%1$s and x.%1$s is not null then '%2$s becomes ' || x.%1$s end"
        .formatted(column, called);
  }

  private static String cell(String column, String now, String before) {
    return """
        case when '%1$s' = any(cast(:columns as text[]))
              and coalesce(%2$s, '') <> coalesce(%3$s, '')
             then case when x.%1$s = '' then '%1$s is taken away'
                       else '%1$s becomes ' || x.%1$s end end"""
        .formatted(column, now, before);
  }

  private static String[] words(Collection<Column> columns) {
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
