package dev.pinwright.service.roster;

import dev.pinwright.core.intake.Identifier;
import dev.pinwright.core.roster.Column;
import dev.pinwright.core.roster.RosterLine;
import dev.pinwright.storage.Tx;
import java.util.ArrayList;
import java.util.EnumMap;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.function.Function;
import org.apache.commons.csv.CSVRecord;

/**
 * Checks the rows of a roster sheet: each by itself as it is staged, then all of them against each
 * other and against what is on file, by a handful of statements however many there are.
 */
final class SheetCheck {
  private SheetCheck() {}

  /** Reads some rows as far as each can be read by itself. */
  static void stage(
      Tx tx,
      String id,
      List<String> headings,
      Map<String, Column> matched,
      List<CSVRecord> records) {
    List<RosterLine> lines = new ArrayList<>();
    for (CSVRecord r : records) {
      Map<Column, String> cells = new EnumMap<>(Column.class);
      for (int i = 0; i < Math.min(headings.size(), r.size()); i++) {
        Column c = matched.get(headings.get(i));
        if (c != null) {
          cells.put(c, r.get(i));
        }
      }
      lines.add(RosterLine.read(cells));
    }
    Map<String, Object> p = new HashMap<>();
    p.put("id", id);
    p.put("lines", records.stream().map(r -> (int) r.getRecordNumber()).toArray(Integer[]::new));
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
        Map.of("id", id, "n", records.size()));
  }

  private static String[] texts(List<RosterLine> lines, Function<RosterLine, String> of) {
    return lines.stream().map(of).toArray(String[]::new);
  }

  /** Holds all rows against each other and against what is on file. */
  static void judge(Tx tx, String id) {
    Map<String, Object> p = Map.of("i", id);
    tx.execute("analyze roster_import_row", Map.of());
    for (String column : List.of("serial", "imei", "asset")) {
      String called = column.equals("imei") ? "IMEI" : column + " number";
      tx.execute(
          """
          update roster_import_row r
             set faults = array_append(r.faults, '%s ' || r.%s || ' is also in line ' || d.first)
            from (select %s as value, min(line) as first from roster_import_row
                   where import_id = :i and %s is not null group by 1 having count(*) > 1) d
           where r.import_id = :i and r.%s = d.value and r.line <> d.first
          """
              .formatted(called, column, column, column, column),
          p);
      tx.execute(
          """
          update roster_import_row r
             set faults = array_append(r.faults, '%s ' || r.%s || ' is on the roster already')
            from roster_entry e
           where r.import_id = :i and e.%s = r.%s and e.state <> 'withdrawn'
          """
              .formatted(called, column, column, column),
          p);
      tx.execute(
          """
          update roster_import_row r
             set notes = array_append(r.notes, 'it is managed already, as ' || d.name)
            from device d
           where r.import_id = :i and d.%s = r.%s and d.retired_at is null
          """
              .formatted(column, column),
          p);
    }
    find(tx, id, "unit", "unit", "u.code = upper(r.unit) or lower(u.name) = lower(r.unit)", "u");
    find(tx, id, "site", "site", "lower(s.name) = lower(r.site)", "s");
    find(
        tx,
        id,
        "person",
        "person",
        "p.login = lower(r.person) or lower(p.mail) = lower(r.person)"
            + " or lower(p.name) = lower(r.person)",
        "p");
    find(tx, id, "profile", "enrollment_profile", "lower(e.name) = lower(r.profile)", "e");
  }

  private static void find(Tx tx, String id, String column, String table, String on, String alias) {
    tx.execute(
        "update roster_import_row r set "
            + column
            + "_id = (select "
            + alias
            + ".id from "
            + table
            + " "
            + alias
            + " where "
            + on
            + " order by 1 limit 1) where import_id = :i and "
            + column
            + " <> ''",
        Map.of("i", id));
    tx.execute(
        "update roster_import_row r set faults = array_append(faults, 'there is no "
            + column.replace("profile", "enrollment profile")
            + " ''' || "
            + column
            + " || '''') where import_id = :i and "
            + column
            + " <> '' and "
            + column
            + "_id is null",
        Map.of("i", id));
  }
}
