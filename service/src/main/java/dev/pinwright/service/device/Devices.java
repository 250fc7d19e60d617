package dev.pinwright.service.device;

import com.fasterxml.jackson.databind.JsonNode;
import dev.pinwright.core.Versioned;
import dev.pinwright.core.catalog.Catalog;
import dev.pinwright.core.catalog.Quantity;
import dev.pinwright.core.device.ActivityLine;
import dev.pinwright.core.device.DeviceState;
import dev.pinwright.core.device.DeviceSummary;
import dev.pinwright.core.group.DeviceGroup;
import dev.pinwright.core.naming.NamePattern;
import dev.pinwright.core.policy.Effective;
import dev.pinwright.service.change.Changes;
import dev.pinwright.service.shape.ProfileContent;
import dev.pinwright.service.shape.Shapes;
import dev.pinwright.service.usecase.Noun;
import dev.pinwright.service.usecase.UseCases;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Json;
import dev.pinwright.service.work.Known;
import dev.pinwright.service.work.Page;
import dev.pinwright.service.work.Problem;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.change.Moves;
import dev.pinwright.storage.device.ActivityStore;
import dev.pinwright.storage.device.DeviceLists;
import dev.pinwright.storage.device.DeviceStates;
import dev.pinwright.storage.device.DeviceStore;
import dev.pinwright.storage.device.RefusalStore;
import dev.pinwright.storage.device.TagStore;
import dev.pinwright.storage.group.GroupStore;
import dev.pinwright.storage.row.DeviceRow;
import dev.pinwright.storage.row.EnrollmentProfileRow;
import dev.pinwright.storage.row.PersonRow;
import dev.pinwright.storage.row.SiteRow;
import dev.pinwright.storage.row.UnitRow;
import dev.pinwright.storage.shape.ShapeStore;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/** The devices on file. */
public final class Devices {
  private final UseCases useCases;
  private final Catalog catalog;
  private final Shapes shapes;
  private final Changes changes;

  public Devices(UseCases useCases, Catalog catalog, Shapes shapes, Changes changes) {
    this.useCases = useCases;
    this.catalog = catalog;
    this.shapes = shapes;
    this.changes = changes;
  }

  /**
   * A device on its card.
   *
   * @param standingSince since when it stands as it does
   * @param version another one for another name, place, holder or tags: what people write of it
   */
  public record Detail(
      DeviceSummary device,
      Instant standingSince,
      Optional<String> asset,
      Optional<String> enrollmentProfile,
      Optional<String> enrollmentProfileId,
      Optional<String> unitId,
      Optional<String> siteId,
      Optional<String> personId,
      List<DeviceGroup.Inner> groups,
      List<Fact> facts,
      Optional<Instant> factsAt,
      boolean upToDate,
      List<Refused> refused,
      int version)
      implements Versioned {}

  /** One thing the device says of itself. */
  public record Fact(String key, String title, String unit, String value, String words) {}

  /** A setting the device refused. */
  public record Refused(String setting, String title, int code, String reason, Instant at) {}

  /** A setting in effect and why. */
  public record InEffect(
      String setting,
      String title,
      String section,
      JsonNode value,
      String words,
      List<Source> from,
      List<Overruled> overruled,
      Optional<String> refused) {}

  /** Where a value comes from. */
  public record Source(String profileId, String profile, int version) {}

  /** A value that did not win and why. */
  public record Overruled(Source from, JsonNode value, String words, String reason) {}

  /** A setting some profile has for the device but the device cannot take. */
  public record Unavailable(String setting, String title, Source from, String reason) {}

  /** All settings of one device. */
  public record SettingsOf(List<InEffect> inEffect, List<Unavailable> unavailable) {}

  /** One device whole. */
  public Detail get(Caller caller, String id) {
    return useCases.read(tx -> detail(tx, id));
  }

  private Detail detail(Tx tx, String id) {
    DeviceRow row = row(tx, id);
    DeviceSummary s = new DeviceLists(tx).one(id).orElseThrow();
    DeviceState state = new DeviceStates(tx).find(id).orElseThrow();
    JsonNode told = Json.tree(row.facts);
    List<Fact> facts = new ArrayList<>();
    catalog
        .facts()
        .forEach(
            f -> {
              if (told.hasNonNull(f.key())) {
                String value = told.get(f.key()).asText();
                facts.add(
                    new Fact(f.key(), f.title(), f.unit(), value, Quantity.words(value, f.unit())));
              }
            });
    List<Refused> refused =
        new RefusalStore(tx)
            .of(id).stream()
                .map(
                    r -> {
                      var setting = catalog.settingAt(r.path());
                      return new Refused(
                          setting.map(x -> x.key()).orElse(r.path()),
                          setting.map(x -> x.title()).orElse(r.path()),
                          r.code(),
                          r.reason(),
                          r.at());
                    })
                .toList();
    Optional<String> profile =
        Optional.ofNullable(row.enrollmentProfileId)
            .flatMap(p -> tx.find(EnrollmentProfileRow.class, p))
            .map(p -> p.name);
    return new Detail(
        s,
        new ActivityStore(tx).standsSince(id),
        Optional.ofNullable(row.asset),
        profile,
        Optional.ofNullable(row.enrollmentProfileId),
        Optional.ofNullable(row.unitId),
        Optional.ofNullable(row.siteId),
        Optional.ofNullable(row.personId),
        new GroupStore(tx).of(id),
        facts,
        state.factsAt(),
        state.agreed(),
        refused,
        version(tx, row));
  }

  private static DeviceRow row(Tx tx, String id) {
    return tx.find(DeviceRow.class, id).orElseThrow(() -> Problem.notFound("device", id));
  }

  /** A device's row, held against other writers. */
  private static DeviceRow held(Tx tx, String id) {
    return tx.lock(DeviceRow.class, id).orElseThrow(() -> Problem.notFound("device", id));
  }

  private static DeviceRow held(Tx tx, String id, int seen) {
    DeviceRow row = held(tx, id);
    Known.unchanged("device", seen, version(tx, row));
    return row;
  }

  /** Made from what it is the version of: a device's row is written by what the device says too. */
  private static int version(Tx tx, DeviceRow row) {
    List<String> tags = new TagStore(tx).of(row.id);
    return Versioned.of(row.name, row.unitId, row.siteId, row.personId, tags);
  }

  /** Settings in effect, each with where it comes from and what it overruled. */
  public SettingsOf settings(Caller caller, String id) {
    return useCases.read(tx -> settings(tx, id));
  }

  /**
   * {@link #settings}, as they would be if a device were in some groups besides. Nothing is stored.
   *
   * @throws Problem 404 for a device or a group there is not
   */
  public SettingsOf settingsIn(Caller caller, String id, List<String> groupIds) {
    return useCases.rehearse(
        caller,
        act -> {
          Tx tx = act.tx();
          row(tx, id);
          Moves.besideRules(tx);
          GroupStore groups = new GroupStore(tx);
          for (String group : groupIds) {
            groups.find(group).orElseThrow(() -> Problem.notFound("group", group));
            groups.pick(group, List.of(id));
          }
          shapes.place(tx, List.of(id));
          return settings(tx, id);
        });
  }

  private SettingsOf settings(Tx tx, String id) {
    row(tx, id);
    Optional<ShapeStore.Kept> shape =
        new DeviceStates(tx)
            .find(id)
            .flatMap(DeviceState::shapeKey)
            .flatMap(key -> new ShapeStore(tx).find(key));
    if (shape.isEmpty()) {
      return new SettingsOf(List.of(), List.of());
    }
    Effective e = shapes.explain(tx, shape.get().shape());
    Map<String, String> refused = new HashMap<>();
    new RefusalStore(tx).of(id).forEach(r -> refused.put(r.path(), r.reason()));
    List<InEffect> inEffect =
        e.settings().stream()
            .map(
                r ->
                    new InEffect(
                        r.setting().key(),
                        r.setting().title(),
                        r.setting().section(),
                        masked(r, r.value()),
                        words(r, r.value()),
                        r.winners().stream().map(w -> source(w.source())).toList(),
                        r.losers().stream()
                            .map(
                                l ->
                                    new Overruled(
                                        source(l.contribution().source()),
                                        masked(r, l.contribution().value()),
                                        words(r, l.contribution().value()),
                                        l.reason()))
                            .toList(),
                        Optional.ofNullable(refused.get(r.setting().path()))))
            .toList();
    List<Unavailable> unavailable =
        e.unsupported().stream()
            .map(
                u ->
                    new Unavailable(
                        u.setting().key(), u.setting().title(), source(u.source()), u.reason()))
            .toList();
    return new SettingsOf(inEffect, unavailable);
  }

  private static Source source(dev.pinwright.core.policy.Layer.Source s) {
    return new Source(s.profileId(), s.profileName(), s.version());
  }

  private JsonNode masked(Effective.Resolved r, dev.pinwright.core.catalog.SettingValue value) {
    return new ProfileContent(
            Map.of(r.setting().key(), value),
            List.of(),
            dev.pinwright.core.target.Assignment.NOBODY)
        .shown(catalog)
        .get(r.setting().key());
  }

  private static String words(Effective.Resolved r, dev.pinwright.core.catalog.SettingValue value) {
    return r.setting().sensitive() ? ProfileContent.MASK : r.setting().type().words(value);
  }

  /** What happened to a device, newest first. */
  public Page<ActivityLine> activity(Caller caller, String id, Page.Request page) {
    String[] c = page.parts(Page.Part.LONG);
    return useCases.read(
        tx -> {
          row(tx, id);
          return Page.of(
              new ActivityStore(tx)
                  .page(
                      id, c.length == 0 ? Long.MAX_VALUE : Long.parseLong(c[0]), page.limit() + 1),
              page.limit(),
              l -> Page.cursor(String.valueOf(l.id())));
        });
  }

  /** Renames a device; a name another one has gets a number in brackets, as it does on joining. */
  public Detail rename(Caller caller, String id, int version, String wanted) {
    String typed = Known.name(wanted);
    return useCases.act(
        caller,
        act -> {
          DeviceRow row = held(act.tx(), id, version);
          String before = row.name;
          DeviceStore devices = new DeviceStore(act.tx());
          devices.holdName(typed);
          String name = NamePattern.free(typed, other -> devices.nameTaken(other, id));
          row.name = name;
          new ActivityStore(act.tx()).add(id, act.now(), "renamed", before + " is now " + name);
          changes.ofDevices(act.tx(), List.of(id)).applyIfAny(caller, "Rename " + before);
          act.done(Noun.DEVICE, "renamed", id, before + " renamed to " + name);
          return detail(act.tx(), id);
        });
  }

  /** Where a device belongs and who holds it, by id; what is absent is nowhere and nobody. */
  public record Placement(
      @Nullable String unitId, @Nullable String siteId, @Nullable String personId) {}

  /** Puts a device where it belongs; profiles of its unit and person follow at once. */
  public Detail place(Caller caller, String id, int version, Placement placement) {
    return useCases.act(
        caller,
        act -> {
          Tx tx = act.tx();
          DeviceRow row = held(tx, id, version);
          row.unitId = Known.id(tx, UnitRow.class, "unit", placement.unitId());
          row.siteId = Known.id(tx, SiteRow.class, "site", placement.siteId());
          row.personId = Known.id(tx, PersonRow.class, "person", placement.personId());
          changes.ofDevices(tx, List.of(id)).applyIfAny(caller, "Place " + row.name);
          Detail now = detail(tx, id);
          String words =
              "unit "
                  + now.device().unit().orElse("none")
                  + ", site "
                  + now.device().site().orElse("none")
                  + ", held by "
                  + now.device().person().orElse("nobody");
          new ActivityStore(tx).add(id, act.now(), "placed", "Placed: " + words);
          act.done(Noun.DEVICE, "placed", id, row.name + " placed: " + words);
          act.touch(Noun.CHANGE);
          return now;
        });
  }

  /** Gives a device exactly these tags; profiles assigned by tag follow at once. */
  public Detail tag(Caller caller, String id, int version, List<String> wanted) {
    List<String> tags = Known.tags(wanted);
    return useCases.act(
        caller,
        act -> {
          DeviceRow row = held(act.tx(), id, version);
          new TagStore(act.tx()).set(Map.of(id, tags));
          changes.ofDevices(act.tx(), List.of(id)).applyIfAny(caller, "Tags of " + row.name);
          act.done(
              Noun.DEVICE,
              "tagged",
              id,
              row.name + " tagged: " + (tags.isEmpty() ? "none" : String.join(", ", tags)));
          act.touch(Noun.CHANGE, Noun.TAG);
          return detail(act.tx(), id);
        });
  }

  /** Stops managing a device: its certificates stop working; the record stays on file. */
  public void retire(Caller caller, String id, String reason) {
    if (reason.isBlank()) {
      throw Problem.malformed("/reason", "Say why the device is retired.");
    }
    useCases.run(
        caller,
        act -> {
          DeviceRow row = held(act.tx(), id);
          if (row.retiredAt != null) {
            throw Problem.conflict("retired-already", row.name + " is retired already.");
          }
          Retirement.retire(act, List.of(id), reason.strip());
          act.done(Noun.DEVICE, "retired", id, row.name + " retired: " + reason);
        });
  }
}
