package dev.pinwright.storage.roster;

import dev.pinwright.core.roster.Column;
import dev.pinwright.storage.Tx;
import java.util.Collection;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * Holds the rows of a sheet against each other and against what is on file, and says of each what
 * would become of it: some twenty statements, however many rows there are.
 */
public final class SheetJudge {
  private final Tx tx;

  public SheetJudge(Tx tx) {
    this.tx = tx;
  }

  /**
   * Holds all rows against each other and against what is on file.
   *
   * @param columns those the sheet has; what it has no column of stays as it is in rows that are on
   *     the roster already
   */
  public void judge(String id, Collection<Column> columns) {
    Map<String, Object> p = Map.of("i", id);
    tx.column(Object.class, "select cast(analyze_roster_sheet() as text)", Map.of());
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
    Map<String, Object> p = Map.of("i", id, "columns", SheetStore.words(columns));
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
}
