package dev.pinwright.service.device;

import dev.pinwright.core.change.Rehearsal;
import dev.pinwright.core.organisation.TagList;
import dev.pinwright.service.change.Changes;
import dev.pinwright.service.journal.Journal;
import dev.pinwright.service.live.Events;
import dev.pinwright.service.organisation.Attributes;
import dev.pinwright.service.organisation.Attributes.Attribute;
import dev.pinwright.service.sheet.Sheet;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Problem;
import dev.pinwright.service.work.Role;
import dev.pinwright.storage.Database;
import dev.pinwright.storage.Tx;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.TreeSet;
import java.util.stream.Stream;

/**
 * Devices with their tags and attributes as a sheet: written out, worked on in any spreadsheet
 * program, and taken in again. However many rows it has, it takes the same few statements.
 *
 * <p>Its columns are {@code identifier} (serial number, IMEI or asset number), {@code name} (a
 * check only: a row with another name than the device has is faulty), {@code tags} (separated by
 * semicolons or commas) and one for each attribute of devices. A column that is left out leaves
 * things as they are; an empty cell takes away what was there.
 */
public final class DeviceSheets {
  private static final List<String> COLUMNS = List.of("identifier", "name", "tags");
  private static final int MOST_WRITTEN = 200_000;

  private final Database database;
  private final Changes changes;
  private final Journal journal;
  private final Events events;

  public DeviceSheets(Database database, Changes changes, Journal journal, Events events) {
    this.database = database;
    this.changes = changes;
    this.journal = journal;
    this.events = events;
  }

  /** What a device has of its own. Attributes are by name, those without a value left out. */
  private record Own(String id, String name, TreeSet<String> tags, Map<String, String> values) {}

  private static final String OWN =
      """
      select %s, d.id, d.name,
             coalesce((select string_agg(t.tag, chr(10)) from device_tag t
                        where t.device_id = d.id), ''),
             coalesce((select string_agg(a.name || chr(10) || v.value, chr(31))
                         from attribute_value v join attribute a on a.id = v.attribute_id
                        where v.subject_id = d.id), '')
        from device d where d.retired_at is null
      """;

  private static Own own(Object[] r) {
    TreeSet<String> tags = new TreeSet<>();
    Stream.of(((String) r[3]).split("\n")).filter(t -> !t.isEmpty()).forEach(tags::add);
    Map<String, String> values = new HashMap<>();
    Stream.of(((String) r[4]).split("\u001f"))
        .filter(v -> !v.isEmpty())
        .map(v -> v.split("\n", 2))
        .forEach(v -> values.put(v[0], v[1]));
    return new Own((String) r[1], (String) r[2], tags, values);
  }

  /** The sheet of all managed devices, by name. */
  public String write(Caller caller) {
    caller.needs(Role.READER);
    return database.call(
        tx -> {
          List<Attribute> attributes = Attributes.of(tx, "device");
          List<List<String>> rows = new ArrayList<>();
          for (Object[] r :
              tx.rows(
                  OWN.formatted("coalesce(d.serial, d.imei, d.asset, '')")
                      + " order by lower(d.name), d.id limit "
                      + MOST_WRITTEN,
                  Map.of())) {
            Own own = own(r);
            List<String> cells = new ArrayList<>();
            cells.add(Sheet.inert((String) r[0]));
            cells.add(Sheet.inert(own.name()));
            cells.add(Sheet.inert(String.join(";", own.tags())));
            for (Attribute a : attributes) {
              String value = own.values().getOrDefault(a.name(), "");
              cells.add(a.type().equals("number") ? value : Sheet.inert(value));
            }
            rows.add(cells);
          }
          return Sheet.write(
              Stream.concat(COLUMNS.stream(), attributes.stream().map(Attribute::name)).toList(),
              rows);
        });
  }

  /**
   * Takes a sheet in, or says what that would do. With one faulty row nothing is kept.
   *
   * @throws Problem 400 when it is no sheet or has columns that are not known; 409 when other
   *     settings reach so many devices that their number is asked for
   */
  public Sheet.Report read(Caller caller, Sheet.Draft draft) {
    caller.needs(Role.OPERATOR);
    boolean save = Boolean.TRUE.equals(draft.save());
    Sheet.Report report =
        Sheet.keep(
            database,
            save,
            tx -> take(tx, caller, draft, save),
            (tx, r) ->
                journal.write(
                    tx,
                    caller,
                    "device.sheet",
                    "sheet",
                    "Sheet of devices taken in: " + r.changed() + " changed"));
    if (report.saved()) {
      events.touch("devices");
      events.touch("tags");
      events.touch("attributes");
      events.touch("changes");
    }
    return report;
  }

  private Sheet.Report take(Tx tx, Caller caller, Sheet.Draft draft, boolean save) {
    List<Attribute> attributes = Attributes.of(tx, "device");
    Sheet sheet =
        Sheet.read(draft.csv(), COLUMNS, attributes.stream().map(Attribute::name).toList());
    List<Sheet.Row> rows = sheet.rows();
    Map<String, Own> known = known(tx, rows);
    Map<String, Integer> seen = new HashMap<>();
    Map<String, TreeSet<String>> tags = new LinkedHashMap<>();
    Map<String, Map<Attribute, String>> values = new LinkedHashMap<>();
    TreeSet<String> changed = new TreeSet<>();
    List<Sheet.Fault> faults = new ArrayList<>();
    for (Sheet.Row row : rows) {
      try {
        Own own = device(row, known);
        Integer before = seen.putIfAbsent(own.id(), row.line());
        if (before != null) {
          throw new IllegalArgumentException("the same device is on line " + before);
        }
        if (row.has("tags")) {
          TreeSet<String> wanted = tags(row);
          if (!wanted.equals(own.tags())) {
            tags.put(own.id(), wanted);
            changed.add(own.id());
          }
        }
        Map<Attribute, String> other = values(row, attributes, own);
        if (!other.isEmpty()) {
          values.put(own.id(), other);
          changed.add(own.id());
        }
      } catch (IllegalArgumentException e) {
        faults.add(new Sheet.Fault(row.line(), String.valueOf(e.getMessage())));
      }
    }
    putValues(tx, values);
    Optional<Rehearsal> rehearsal =
        tags.isEmpty()
            ? Optional.empty()
            : putTags(tx, caller, tags, draft, save && faults.isEmpty());
    return new Sheet.Report(true, rows.size(), 0, changed.size(), faults, rehearsal);
  }

  private static Map<String, Own> known(Tx tx, List<Sheet.Row> rows) {
    String[] asked =
        rows.stream()
            .map(r -> r.cell("identifier"))
            .flatMap(i -> Stream.of(i, plain(i)))
            .toArray(String[]::new);
    Map<String, Own> known = new HashMap<>();
    // an asset number may look like another device's serial number: the latter wins
    for (String column : List.of("asset", "imei", "serial")) {
      tx.rows(
              OWN.formatted("d." + column) + " and d." + column + " = any(cast(:asked as text[]))",
              Map.of("asked", asked))
          .forEach(r -> known.put(plain((String) r[0]), own(r)));
    }
    return known;
  }

  private static String plain(String identifier) {
    return identifier.replace(" ", "").toUpperCase(Locale.ROOT);
  }

  private static Own device(Sheet.Row row, Map<String, Own> known) {
    String identifier = row.cell("identifier");
    if (identifier.isEmpty()) {
      throw new IllegalArgumentException("a serial number, IMEI or asset number is needed");
    }
    Own own = known.get(plain(identifier));
    if (own == null) {
      throw new IllegalArgumentException("no managed device has '" + identifier + "'");
    }
    String name = row.cell("name");
    if (!name.isEmpty() && !name.equals(own.name())) {
      throw new IllegalArgumentException(
          identifier + " is " + own.name() + "; a sheet gives devices no other names");
    }
    return own;
  }

  private static TreeSet<String> tags(Sheet.Row row) {
    return new TreeSet<>(TagList.ofCell(row.cell("tags")));
  }

  private static Map<Attribute, String> values(Sheet.Row row, List<Attribute> attributes, Own own) {
    Map<Attribute, String> other = new LinkedHashMap<>();
    for (Attribute a : attributes) {
      if (row.has(a.name())) {
        String typed = row.cell(a.name());
        String value = typed.isEmpty() ? "" : a.read(typed);
        if (!value.equals(own.values().getOrDefault(a.name(), ""))) {
          other.put(a, value);
        }
      }
    }
    return other;
  }

  private static void putValues(Tx tx, Map<String, Map<Attribute, String>> values) {
    List<String> attributes = new ArrayList<>();
    List<String> devices = new ArrayList<>();
    List<String> texts = new ArrayList<>();
    values.forEach(
        (device, other) ->
            other.forEach(
                (a, value) -> {
                  attributes.add(a.id());
                  devices.add(device);
                  texts.add(value);
                }));
    if (devices.isEmpty()) {
      return;
    }
    Map<String, Object> p =
        Map.of(
            "a", attributes.toArray(String[]::new),
            "d", devices.toArray(String[]::new),
            "v", texts.toArray(String[]::new));
    String given =
        " unnest(cast(:a as text[]), cast(:d as text[]), cast(:v as text[]))"
            + " g(attribute_id, subject_id, value)";
    tx.execute(
        "delete from attribute_value v using"
            + given
            + " where v.attribute_id = g.attribute_id and v.subject_id = g.subject_id",
        p);
    tx.execute("insert into attribute_value select g.* from" + given + " where g.value <> ''", p);
  }

  private Optional<Rehearsal> putTags(
      Tx tx, Caller caller, Map<String, TreeSet<String>> tags, Sheet.Draft draft, boolean save) {
    List<String> devices = new ArrayList<>();
    List<String> each = new ArrayList<>();
    tags.forEach(
        (device, wanted) ->
            wanted.forEach(
                t -> {
                  devices.add(device);
                  each.add(t);
                }));
    tx.execute(
        "delete from device_tag where device_id = any(cast(:d as text[]))",
        Map.of("d", tags.keySet().toArray(String[]::new)));
    tx.execute(
        "insert into device_tag select * from unnest(cast(:d as text[]), cast(:t as text[]))",
        Map.of("d", devices.toArray(String[]::new), "t", each.toArray(String[]::new)));
    Changes.Proposal proposal = changes.ofDevices(tx, tags.keySet());
    Rehearsal rehearsal = proposal.rehearsal();
    if (save) {
      proposal
          .confirmed(draft.confirmDevices(), "take the sheet in")
          .applyIfAny(caller, "Tags from a sheet");
    }
    return rehearsal.changing() == 0 ? Optional.empty() : Optional.of(rehearsal);
  }
}
