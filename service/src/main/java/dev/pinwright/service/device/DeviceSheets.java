package dev.pinwright.service.device;

import dev.pinwright.core.change.Rehearsal;
import dev.pinwright.core.organisation.Attribute;
import dev.pinwright.core.organisation.AttributeType;
import dev.pinwright.core.organisation.TagList;
import dev.pinwright.core.query.DeviceQuery.Field;
import dev.pinwright.service.change.Changes;
import dev.pinwright.service.sheet.Sheet;
import dev.pinwright.service.usecase.Noun;
import dev.pinwright.service.usecase.UseCases;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Problem;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.device.DeviceSheetStore;
import dev.pinwright.storage.device.DeviceSheetStore.Own;
import dev.pinwright.storage.device.TagStore;
import dev.pinwright.storage.organisation.AttributeStore;
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

  private final UseCases useCases;
  private final Changes changes;

  public DeviceSheets(UseCases useCases, Changes changes) {
    this.useCases = useCases;
    this.changes = changes;
  }

  /** The sheet of the devices of a list, by name. */
  public String write(Caller caller, DeviceFilter filter) {
    return useCases.read(
        tx -> {
          List<Attribute> attributes = new AttributeStore(tx).of(Attribute.Kind.DEVICE);
          return Sheet.write(
              Stream.concat(COLUMNS.stream(), attributes.stream().map(Attribute::name)).toList(),
              new DeviceSheetStore(tx)
                      .matching(filter.query(tx), MOST_WRITTEN).stream()
                          .map(own -> cells(own, attributes))
                  ::iterator);
        });
  }

  private static List<String> cells(Own own, List<Attribute> attributes) {
    List<String> cells = new ArrayList<>();
    cells.add(Sheet.inert(own.identifier()));
    cells.add(Sheet.inert(own.name()));
    cells.add(Sheet.inert(String.join(";", own.tags())));
    Map<String, String> values = own.values();
    for (Attribute a : attributes) {
      String value = values.getOrDefault(a.id(), "");
      cells.add(a.type() == AttributeType.NUMBER ? value : Sheet.inert(value));
    }
    return cells;
  }

  /**
   * Takes a sheet in, or says what that would do. With one faulty row nothing is kept.
   *
   * @throws Problem 400 when it is no sheet or has columns that are not known; 409 when other
   *     settings reach so many devices that their number is asked for
   */
  public Sheet.Report read(Caller caller, Sheet.Draft draft) {
    boolean save = Boolean.TRUE.equals(draft.save());
    return Sheet.keep(
        useCases,
        caller,
        save,
        act -> {
          Sheet.Report r = take(act.tx(), caller, draft, save);
          act.done(
              Noun.DEVICE,
              "sheet",
              "sheet",
              "Sheet of devices taken in: " + r.changed() + " changed");
          act.touch(Noun.TAG, Noun.ATTRIBUTE, Noun.CHANGE);
          return r;
        });
  }

  private Sheet.Report take(Tx tx, Caller caller, Sheet.Draft draft, boolean save) {
    List<Attribute> attributes = new AttributeStore(tx).of(Attribute.Kind.DEVICE);
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
          if (!wanted.equals(new TreeSet<>(own.tags()))) {
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
    new AttributeStore(tx).put(values);
    Optional<Rehearsal> rehearsal =
        tags.isEmpty()
            ? Optional.empty()
            : putTags(tx, caller, tags, draft, save && faults.isEmpty());
    return new Sheet.Report(true, rows.size(), 0, changed.size(), faults, rehearsal);
  }

  private static Map<String, Own> known(Tx tx, List<Sheet.Row> rows) {
    List<String> asked =
        rows.stream().map(r -> r.cell("identifier")).flatMap(i -> Stream.of(i, plain(i))).toList();
    Map<String, Own> known = new HashMap<>();
    DeviceSheetStore store = new DeviceSheetStore(tx);
    // an asset number may look like another device's serial number: the latter wins
    for (Field by : List.of(Field.ASSET, Field.IMEI, Field.SERIAL)) {
      store.identified(by, asked).forEach(own -> known.put(plain(own.identifier()), own));
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
    Map<String, String> there = own.values();
    Map<Attribute, String> other = row.values(attributes);
    other.entrySet().removeIf(v -> v.getValue().equals(there.getOrDefault(v.getKey().id(), "")));
    return other;
  }

  private Optional<Rehearsal> putTags(
      Tx tx, Caller caller, Map<String, TreeSet<String>> tags, Sheet.Draft draft, boolean save) {
    new TagStore(tx).set(tags);
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
