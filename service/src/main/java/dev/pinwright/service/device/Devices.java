package dev.pinwright.service.device;

import com.fasterxml.jackson.databind.JsonNode;
import dev.pinwright.core.catalog.Catalog;
import dev.pinwright.core.device.DeviceState;
import dev.pinwright.core.device.DeviceSummary;
import dev.pinwright.core.policy.Effective;
import dev.pinwright.service.change.Changes;
import dev.pinwright.service.journal.Journal;
import dev.pinwright.service.live.Events;
import dev.pinwright.service.shape.ProfileContent;
import dev.pinwright.service.shape.Shapes;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Json;
import dev.pinwright.service.work.Known;
import dev.pinwright.service.work.Page;
import dev.pinwright.service.work.Problem;
import dev.pinwright.service.work.Role;
import dev.pinwright.storage.Database;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.device.DeviceLists;
import dev.pinwright.storage.device.DeviceStates;
import dev.pinwright.storage.row.DeviceRow;
import dev.pinwright.storage.row.PersonRow;
import dev.pinwright.storage.row.SiteRow;
import dev.pinwright.storage.row.UnitRow;
import dev.pinwright.storage.shape.ShapeStore;
import java.time.Clock;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/** The devices on file. */
public final class Devices {
  private final Database database;
  private final Catalog catalog;
  private final Shapes shapes;
  private final Changes changes;
  private final Journal journal;
  private final Events events;
  private final Clock clock;

  public Devices(
      Database database,
      Catalog catalog,
      Shapes shapes,
      Changes changes,
      Journal journal,
      Events events,
      Clock clock) {
    this.database = database;
    this.catalog = catalog;
    this.shapes = shapes;
    this.changes = changes;
    this.journal = journal;
    this.events = events;
    this.clock = clock;
  }

  /** A device on its card. */
  public record Detail(
      DeviceSummary device,
      Optional<String> asset,
      Optional<String> enrollmentProfile,
      Optional<String> enrollmentProfileId,
      Optional<String> unitId,
      Optional<String> siteId,
      Optional<String> personId,
      List<NamedGroup> groups,
      List<Fact> facts,
      Optional<Instant> factsAt,
      boolean upToDate,
      List<Refused> refused,
      Optional<Instant> retiredAt) {}

  /** A group by id and name. */
  public record NamedGroup(String id, String name) {}

  /** One thing the device says of itself. */
  public record Fact(String key, String title, String unit, String value) {}

  /** A setting the device refused. */
  public record Refused(String setting, String title, int code, String reason, Instant at) {}

  /** A setting in effect and why. */
  public record InEffect(
      String setting,
      String title,
      String section,
      JsonNode value,
      List<Source> from,
      List<Overruled> overruled,
      Optional<String> refused) {}

  /** Where a value comes from. */
  public record Source(String profileId, String profile, int version) {}

  /** A value that did not win and why. */
  public record Overruled(Source from, JsonNode value, String reason) {}

  /** A setting some profile has for the device but the device cannot take. */
  public record Unavailable(String setting, String title, Source from, String reason) {}

  /** All settings of one device. */
  public record SettingsOf(List<InEffect> inEffect, List<Unavailable> unavailable) {}

  /** One device whole. */
  public Detail get(Caller caller, String id) {
    caller.needs(Role.READER);
    return database.call(tx -> detail(tx, id));
  }

  private Detail detail(Tx tx, String id) {
    DeviceRow row = row(tx, id);
    DeviceSummary s = new DeviceLists(tx).one(id).orElseThrow();
    DeviceState state = new DeviceStates(tx).find(id).orElseThrow();
    List<NamedGroup> groups =
        tx
            .rows(
                "select g.id, g.name from group_member m join device_group g on g.id = m.group_id"
                    + " where m.device_id = :id order by lower(g.name)",
                Map.of("id", id))
            .stream()
            .map(r -> new NamedGroup((String) r[0], (String) r[1]))
            .toList();
    JsonNode told = Json.tree(row.facts);
    List<Fact> facts = new ArrayList<>();
    catalog
        .facts()
        .forEach(
            f -> {
              if (told.hasNonNull(f.key())) {
                facts.add(new Fact(f.key(), f.title(), f.unit(), told.get(f.key()).asText()));
              }
            });
    List<Refused> refused =
        tx
            .rows(
                "select path, code, reason, at from refusal where device_id = :id order by path",
                Map.of("id", id))
            .stream()
            .map(
                r -> {
                  var setting = catalog.settingAt((String) r[0]);
                  return new Refused(
                      setting.map(x -> x.key()).orElse((String) r[0]),
                      setting.map(x -> x.title()).orElse((String) r[0]),
                      ((Number) r[1]).intValue(),
                      (String) r[2],
                      (Instant) r[3]);
                })
            .toList();
    Optional<String> profile =
        tx
            .rows(
                "select name, 1 from enrollment_profile where id = :p",
                Map.of("p", row.enrollmentProfileId == null ? "" : row.enrollmentProfileId))
            .stream()
            .map(r -> (String) r[0])
            .findFirst();
    return new Detail(
        s,
        Optional.ofNullable(row.asset),
        profile,
        Optional.ofNullable(row.enrollmentProfileId),
        Optional.ofNullable(row.unitId),
        Optional.ofNullable(row.siteId),
        Optional.ofNullable(row.personId),
        groups,
        facts,
        state.factsAt(),
        state.agreed(),
        refused,
        Optional.ofNullable(row.retiredAt));
  }

  private static DeviceRow row(Tx tx, String id) {
    return tx.find(DeviceRow.class, id).orElseThrow(() -> Problem.notFound("device", id));
  }

  /** A device's row, held against other writers. */
  private static DeviceRow held(Tx tx, String id) {
    return tx.lock(DeviceRow.class, id).orElseThrow(() -> Problem.notFound("device", id));
  }

  /** Settings in effect, each with where it comes from and what it overruled. */
  public SettingsOf settings(Caller caller, String id) {
    caller.needs(Role.READER);
    return database.call(
        tx -> {
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
          tx.rows("select path, reason from refusal where device_id = :d", Map.of("d", id))
              .forEach(r -> refused.put((String) r[0], (String) r[1]));
          List<InEffect> inEffect =
              e.settings().stream()
                  .map(
                      r ->
                          new InEffect(
                              r.setting().key(),
                              r.setting().title(),
                              r.setting().section(),
                              masked(r, r.value()),
                              r.winners().stream().map(w -> source(w.source())).toList(),
                              r.losers().stream()
                                  .map(
                                      l ->
                                          new Overruled(
                                              source(l.contribution().source()),
                                              masked(r, l.contribution().value()),
                                              l.reason()))
                                  .toList(),
                              Optional.ofNullable(refused.get(r.setting().path()))))
                  .toList();
          List<Unavailable> unavailable =
              e.unsupported().stream()
                  .map(
                      u ->
                          new Unavailable(
                              u.setting().key(),
                              u.setting().title(),
                              source(u.source()),
                              u.reason()))
                  .toList();
          return new SettingsOf(inEffect, unavailable);
        });
  }

  private static Source source(dev.pinwright.core.policy.Layer.Source s) {
    return new Source(s.profileId(), s.profileName(), s.version());
  }

  private JsonNode masked(Effective.Resolved r, dev.pinwright.core.catalog.SettingValue value) {
    return new ProfileContent(
            Map.of(r.setting().key(), value), dev.pinwright.core.target.Assignment.NOBODY)
        .shown(catalog)
        .get(r.setting().key());
  }

  /** What happened to a device, newest first. */
  public Page<Activity.Line> activity(Caller caller, String id, Page.Request page) {
    caller.needs(Role.READER);
    String[] c = page.parts(Page.Part.LONG);
    List<Object[]> rows =
        database.call(
            tx -> {
              row(tx, id);
              return tx.rows(
                  "select id, at, kind, text from activity where device_id = :d and id < :b"
                      + " order by id desc limit :limit",
                  Map.of(
                      "d",
                      id,
                      "b",
                      c.length == 0 ? Long.MAX_VALUE : Long.parseLong(c[0]),
                      "limit",
                      page.limit() + 1));
            });
    return Page.of(
        rows,
        page.limit(),
        r ->
            new Activity.Line(
                ((Number) r[0]).longValue(), (Instant) r[1], (String) r[2], (String) r[3]),
        r -> Page.cursor(String.valueOf(r[0])));
  }

  /** Renames a device. */
  public Detail rename(Caller caller, String id, String wanted) {
    caller.needs(Role.OPERATOR);
    String name = wanted.strip();
    if (name.isEmpty() || name.length() > 80) {
      throw Problem.malformed("/name", "A name has 1 to 80 characters.");
    }
    Detail d =
        database.call(
            tx -> {
              DeviceRow row = held(tx, id);
              String before = row.name;
              row.name = name;
              tx.flush();
              Activity.add(tx, id, clock.instant(), "renamed", before + " is now " + name);
              journal.write(
                  tx, caller, "device.renamed", "device:" + id, before + " renamed to " + name);
              return detail(tx, id);
            });
    events.touch("devices");
    return d;
  }

  /** Where a device belongs and who holds it, by id; what is absent is nowhere and nobody. */
  public record Placement(
      @Nullable String unitId, @Nullable String siteId, @Nullable String personId) {}

  /** Puts a device where it belongs; profiles of its unit and person follow at once. */
  public Detail place(Caller caller, String id, Placement placement) {
    caller.needs(Role.OPERATOR);
    Detail d =
        database.call(
            tx -> {
              DeviceRow row = held(tx, id);
              row.unitId = Known.id(tx, UnitRow.class, "unit", placement.unitId());
              row.siteId = Known.id(tx, SiteRow.class, "site", placement.siteId());
              row.personId = Known.id(tx, PersonRow.class, "person", placement.personId());
              tx.flush();
              changes.ofDevices(tx, List.of(id)).applyIfAny(caller, "Place " + row.name);
              Detail now = detail(tx, id);
              String words =
                  "unit "
                      + now.device().unit().orElse("none")
                      + ", site "
                      + now.device().site().orElse("none")
                      + ", held by "
                      + now.device().person().orElse("nobody");
              Activity.add(tx, id, clock.instant(), "placed", "Placed: " + words);
              journal.write(
                  tx, caller, "device.placed", "device:" + id, row.name + " placed: " + words);
              return now;
            });
    changes.touch();
    return d;
  }

  /** Gives a device exactly these tags; profiles assigned by tag follow at once. */
  public Detail tag(Caller caller, String id, List<String> wanted) {
    caller.needs(Role.OPERATOR);
    String[] tags = Known.tags(wanted);
    Detail d =
        database.call(
            tx -> {
              DeviceRow row = held(tx, id);
              tx.execute("delete from device_tag where device_id = :d", Map.of("d", id));
              tx.execute(
                  "insert into device_tag select :d, t from unnest(cast(:tags as text[])) t",
                  Map.of("d", id, "tags", tags));
              changes.ofDevices(tx, List.of(id)).applyIfAny(caller, "Tags of " + row.name);
              journal.write(
                  tx,
                  caller,
                  "device.tagged",
                  "device:" + id,
                  row.name + " tagged: " + (tags.length == 0 ? "none" : String.join(", ", tags)));
              return detail(tx, id);
            });
    changes.touch();
    return d;
  }

  /** Stops managing a device: its certificates stop working; the record stays on file. */
  public void retire(Caller caller, String id, String reason) {
    caller.needs(Role.OPERATOR);
    if (reason.isBlank()) {
      throw Problem.malformed("/reason", "Say why the device is retired.");
    }
    database.run(
        tx -> {
          DeviceRow row = held(tx, id);
          if (row.retiredAt != null) {
            throw Problem.conflict("retired-already", row.name + " is retired already.");
          }
          Retirement.retire(tx, row, reason.strip(), clock.instant());
          journal.write(
              tx, caller, "device.retired", "device:" + id, row.name + " retired: " + reason);
        });
    events.touch("devices");
  }
}
