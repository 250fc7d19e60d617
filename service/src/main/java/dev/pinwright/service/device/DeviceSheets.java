package dev.pinwright.service.device;

import dev.pinwright.core.change.Rehearsal;
import dev.pinwright.core.organisation.Attribute;
import dev.pinwright.core.query.DeviceQuery.Field;
import dev.pinwright.core.sheet.DeviceSheet;
import dev.pinwright.core.sheet.DeviceSheet.Own;
import dev.pinwright.core.sheet.Row;
import dev.pinwright.service.change.Changes;
import dev.pinwright.service.sheet.Sheet;
import dev.pinwright.service.usecase.Noun;
import dev.pinwright.service.usecase.UseCases;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Problem;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.device.DeviceSheetStore;
import dev.pinwright.storage.device.TagStore;
import dev.pinwright.storage.organisation.AttributeStore;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
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
              Stream.concat(DeviceSheet.COLUMNS.stream(), attributes.stream().map(Attribute::name))
                  .toList(),
              new DeviceSheetStore(tx)
                      .matching(filter.query(tx, useCases.now()), MOST_WRITTEN).stream()
                          .map(own -> own.cells(attributes))
                  ::iterator);
        });
  }

  /**
   * Takes a sheet in, or says what that would do. With one faulty row nothing is kept.
   *
   * @throws Problem 400 when it is no sheet or has columns that are not known; 409 when other
   *     settings reach so many devices that their number is asked for
   */
  public Sheet.Report read(Caller caller, Sheet.Draft draft) {
    boolean save = draft.save();
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
    List<Row> rows =
        draft.sheet().rows(DeviceSheet.COLUMNS, attributes.stream().map(Attribute::name).toList());
    DeviceSheet would = DeviceSheet.of(rows, known(tx, rows), attributes);
    new AttributeStore(tx).put(would.values());
    Optional<Rehearsal> rehearsal =
        would.changed() == 0
            ? Optional.empty()
            : follow(tx, caller, would, draft, save && would.faults().isEmpty());
    return new Sheet.Report(true, rows.size(), 0, would.changed(), would.faults(), rehearsal);
  }

  private static Map<String, Own> known(Tx tx, List<Row> rows) {
    List<String> asked = DeviceSheet.identifiers(rows);
    Map<String, Own> known = new HashMap<>();
    DeviceSheetStore store = new DeviceSheetStore(tx);
    // an asset number may look like another device's serial number: the latter wins
    for (Field by : List.of(Field.ASSET, Field.IMEI, Field.SERIAL)) {
      store
          .identified(by, asked)
          .forEach(own -> known.put(DeviceSheet.plain(own.identifier()), own));
    }
    return known;
  }

  private Optional<Rehearsal> follow(
      Tx tx, Caller caller, DeviceSheet would, Sheet.Draft draft, boolean save) {
    new TagStore(tx).set(would.tags());
    Set<String> devices = new TreeSet<>(would.tags().keySet());
    devices.addAll(would.values().keySet());
    Changes.Proposal proposal = changes.ofDevices(tx, devices);
    Rehearsal rehearsal = proposal.rehearsal();
    if (save) {
      proposal.confirmed(draft.given(), "take the sheet in").applyIfAny(caller, "Sheet of devices");
    }
    return rehearsal.changing() == 0 ? Optional.empty() : Optional.of(rehearsal);
  }
}
