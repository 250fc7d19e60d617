package dev.pinwright.service.arrival;

import com.github.f4b6a3.ulid.UlidCreator;
import dev.pinwright.catalog.Catalogue;
import dev.pinwright.core.Words;
import dev.pinwright.core.device.DeviceState;
import dev.pinwright.core.intake.EnrollmentProfile;
import dev.pinwright.core.intake.Identifier;
import dev.pinwright.core.intake.JoinAttempt;
import dev.pinwright.core.intake.NamePattern;
import dev.pinwright.core.organisation.Place;
import dev.pinwright.core.tree.Tree;
import dev.pinwright.service.bench.BenchOrder;
import dev.pinwright.service.identity.DeviceCertificates;
import dev.pinwright.service.naming.Sequences;
import dev.pinwright.service.shape.Shapes;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.change.Moves;
import dev.pinwright.storage.device.DeviceStates;
import dev.pinwright.storage.row.DeviceRow;
import dev.pinwright.storage.row.EnrollmentProfileRow;
import dev.pinwright.storage.row.PersonRow;
import dev.pinwright.storage.row.RosterRow;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;

/** Puts a device that is let in on file: its record, its place, its shape. */
final class Admittance {
  private final Catalogue catalogue;
  private final Shapes shapes;

  Admittance(Catalogue catalogue, Shapes shapes) {
    this.catalogue = catalogue;
    this.shapes = shapes;
  }

  /** Records that have one of the identifiers already, held from now on; at most three. */
  static List<DeviceRow> onFile(Tx tx, JoinAttempt attempt) {
    Moves.besideRules(tx);
    return tx.listLocked(
        DeviceRow.class,
        "from DeviceRow where serial = :s or imei = :i or asset = :a",
        Map.of(
            "s", value(attempt, Identifier.Kind.SERIAL),
            "i", value(attempt, Identifier.Kind.IMEI),
            "a", value(attempt, Identifier.Kind.ASSET)),
        3);
  }

  private static String value(JoinAttempt attempt, Identifier.Kind kind) {
    return attempt.identifiers().stream()
        .filter(i -> i.kind() == kind)
        .map(Identifier::value)
        .findFirst()
        .orElse("");
  }

  /** Rows of the roster that have one of the identifiers and are not withdrawn, oldest first. */
  static List<RosterRow> onRoster(Tx tx, JoinAttempt attempt) {
    return tx.list(
        RosterRow.class,
        "from RosterRow where (serial = :s or imei = :i or asset = :a) and state <> 'withdrawn'"
            + " order by id",
        Map.of(
            "s", value(attempt, Identifier.Kind.SERIAL),
            "i", value(attempt, Identifier.Kind.IMEI),
            "a", value(attempt, Identifier.Kind.ASSET)),
        3);
  }

  /** Whether one of the identifiers, by kind, is on the roster. */
  static boolean listed(Tx tx, Map<String, String> identifiers) {
    return !tx.list(
            RosterRow.class,
            "from RosterRow where (serial = :s or imei = :i or asset = :a)"
                + " and state <> 'withdrawn'",
            Map.of(
                "s", identifiers.getOrDefault("serial", ""),
                "i", identifiers.getOrDefault("imei", ""),
                "a", identifiers.getOrDefault("asset", "")),
            1)
        .isEmpty();
  }

  /** A device that is let in, and all that is known of it. */
  record Arriving(
      EnrollmentProfileRow row,
      EnrollmentProfile profile,
      JoinAttempt attempt,
      List<DeviceRow> known,
      Optional<RosterRow> roster,
      Optional<String> holder,
      Optional<BenchOrder> bench) {}

  /** Puts it on file and in its place, or gives it its old record back. */
  DeviceRow admit(Tx tx, Arriving a, Instant now) {
    boolean fresh = a.known().isEmpty();
    DeviceRow d = fresh ? new DeviceRow() : a.known().get(0);
    if (fresh) {
      d.id = UlidCreator.getMonotonicUlid().toString();
      d.name = a.attempt().model();
      d.platform = a.attempt().platform();
      d.kind = Words.of(a.attempt().kind());
      d.maker = a.attempt().maker();
      d.model = a.attempt().model();
    }
    begin(d, a, now);
    if (fresh) {
      place(tx, d, a);
      tx.insert(d);
    }
    tx.flush();
    DeviceStates states = new DeviceStates(tx);
    String wanted = states.lock(d.id).map(DeviceState::desired).orElse(Tree.EMPTY.digest());
    states.put(DeviceState.joined(d.id, wanted));
    if (!fresh) {
      DeviceCertificates.withdraw(tx, d.id);
      tx.execute("delete from refusal where device_id = :d", Map.of("d", d.id));
      tx.execute("delete from dm_session where device_id = :d", Map.of("d", d.id));
      Sequences.takeBack(tx, d.id);
    }
    gather(tx, d, a);
    a.roster().ifPresent(r -> arrived(r, d, now));
    shapes.place(tx, List.of(d.id));
    // last, since everybody who wants a number of the same sequence waits for this one
    d.name = fresh ? named(tx, d, a, now) : free(tx, d.id, d.name);
    return d;
  }

  private void begin(DeviceRow d, Arriving a, Instant now) {
    JoinAttempt attempt = a.attempt();
    d.osVersion = attempt.osVersion().toString();
    d.osLevel = catalogue.catalog().osLevel(attempt.platform(), attempt.osVersion()).toString();
    d.ownership = a.row().ownership;
    d.mode = a.row().mode;
    d.enrollmentProfileId = a.row().id;
    d.enrollmentVersion = a.row().version + 1;
    d.readyGate = a.profile().readyGate().holds(d.platform) ? a.row().readyGate : null;
    d.gateTold = null;
    Optional<RosterRow> r = a.roster();
    d.serial = first(d.serial, value(attempt, Identifier.Kind.SERIAL), r.map(x -> x.serial));
    d.imei = first(d.imei, value(attempt, Identifier.Kind.IMEI), r.map(x -> x.imei));
    d.asset = first(d.asset, value(attempt, Identifier.Kind.ASSET), r.map(x -> x.asset));
    d.facts = "{}";
    d.enrolledAt = now;
    d.retiredAt = null;
  }

  private static @Nullable String first(
      @Nullable String kept, String told, Optional<String> listed) {
    if (kept != null) {
      return kept;
    }
    return told.isEmpty() ? listed.orElse(null) : told;
  }

  /** Its person and place: see {@link Place#of}. */
  private static void place(Tx tx, DeviceRow d, Arriving a) {
    d.personId = a.roster().map(r -> r.personId).or(a::holder).orElse(null);
    Place person =
        Optional.ofNullable(d.personId)
            .flatMap(id -> tx.find(PersonRow.class, id))
            .map(p -> at(p.unitId, p.siteId))
            .orElse(Place.NOWHERE);
    Place roster = a.roster().map(r -> at(r.unitId, r.siteId)).orElse(Place.NOWHERE);
    Place place =
        Place.of(
            roster,
            person,
            a.bench().map(b -> b.over(a.profile().place())).orElse(a.profile().place()));
    d.unitId = place.unit().orElse(null);
    d.siteId = place.site().orElse(null);
  }

  private static Place at(@Nullable String unit, @Nullable String site) {
    return new Place(Optional.ofNullable(unit), Optional.ofNullable(site));
  }

  private static void gather(Tx tx, DeviceRow d, Arriving a) {
    a.bench()
        .map(BenchOrder::groupId)
        .filter(g -> !g.isEmpty())
        .ifPresent(
            g ->
                tx.execute(
                    "insert into group_member select id, :d from device_group where id = :g"
                        + " on conflict do nothing",
                    Map.of("d", d.id, "g", g)));
    List<String> tags = new ArrayList<>(List.of(a.row().tags));
    a.roster().ifPresent(r -> tags.addAll(List.of(r.tags)));
    tx.execute(
        "insert into device_tag select :d, t from unnest(cast(:t as text[])) t"
            + " on conflict do nothing",
        Map.of("d", d.id, "t", tags.toArray(String[]::new)));
    tx.execute(
        "insert into group_member select g.id, :d from device_group g"
            + " where g.id = any(cast(:g as text[])) on conflict do nothing",
        Map.of("d", d.id, "g", a.row().groups));
  }

  private static void arrived(RosterRow r, DeviceRow d, Instant now) {
    r.state = "arrived";
    r.deviceId = d.id;
    r.changedAt = now;
  }

  /**
   * Its name. The name its roster row has is its name, unless the pattern says where that name
   * stands; otherwise the pattern makes one. A name another device has gets a number in brackets.
   */
  private static String named(Tx tx, DeviceRow d, Arriving a, Instant now) {
    NamePattern pattern = a.bench().map(BenchOrder::namePattern).orElse(a.profile().namePattern());
    String sheet = a.roster().map(r -> r.name).orElse("");
    if (!sheet.isEmpty() && !pattern.text().contains("{sheet}")) {
      return free(tx, d.id, sheet);
    }
    Object[] words =
        tx.rows(
                "select coalesce((select name from person where id = :p), ''),"
                    + " coalesce((select code from unit where id = :u), ''),"
                    + " coalesce((select name from site where id = :s), '')",
                Map.of(
                    "p", String.valueOf(d.personId),
                    "u", String.valueOf(d.unitId),
                    "s", String.valueOf(d.siteId)))
            .get(0);
    NamePattern.Facts facts =
        new NamePattern.Facts(
            identifiers(d),
            d.model,
            d.platform,
            (String) words[0],
            (String) words[1],
            (String) words[2],
            sheet);
    OptionalLong number =
        pattern.counts()
            ? OptionalLong.of(
                Sequences.reserve(
                    tx,
                    pattern.sequence(facts),
                    d.id,
                    a.bench().map(BenchOrder::firstNumber).orElse(1L),
                    a.row().fillGaps,
                    now))
            : OptionalLong.empty();
    a.bench().ifPresent(b -> b.label(tx, d, number));
    return free(tx, d.id, pattern.name(facts, number));
  }

  private static List<Identifier> identifiers(DeviceRow d) {
    List<Identifier> out = new ArrayList<>();
    Stream.of(
            new String[] {"SERIAL", d.serial},
            new String[] {"IMEI", d.imei},
            new String[] {"ASSET", d.asset})
        .filter(p -> p[1] != null)
        .forEach(p -> out.add(new Identifier(Identifier.Kind.valueOf(p[0]), p[1])));
    return out;
  }

  private static String free(Tx tx, String deviceId, String name) {
    tx.rows(
        "select 1, cast(pg_advisory_xact_lock(hashtextextended(:k, 2)) as text)",
        Map.of("k", "device name " + name.toLowerCase(Locale.ROOT)));
    return NamePattern.free(
        name,
        wanted ->
            !tx.rows(
                    "select 1, 1 from device where lower(name) = lower(:n) and id <> :id"
                        + " and retired_at is null limit 1",
                    Map.of("n", wanted, "id", deviceId))
                .isEmpty());
  }
}
