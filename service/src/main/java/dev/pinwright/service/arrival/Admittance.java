package dev.pinwright.service.arrival;

import com.github.f4b6a3.ulid.UlidCreator;
import dev.pinwright.catalog.Catalogue;
import dev.pinwright.core.Words;
import dev.pinwright.core.device.DeviceState;
import dev.pinwright.core.enrollment.Admission;
import dev.pinwright.core.enrollment.EnrollmentProfile;
import dev.pinwright.core.enrollment.Identifiers;
import dev.pinwright.core.enrollment.JoinAttempt;
import dev.pinwright.core.naming.NamePattern;
import dev.pinwright.core.organisation.Place;
import dev.pinwright.core.tree.Tree;
import dev.pinwright.service.naming.Sequences;
import dev.pinwright.service.shape.Shapes;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.app.DeviceAppStore;
import dev.pinwright.storage.bench.BenchStore;
import dev.pinwright.storage.compliance.OrderStore;
import dev.pinwright.storage.device.ActivityStore;
import dev.pinwright.storage.device.DeviceStates;
import dev.pinwright.storage.device.DeviceStore;
import dev.pinwright.storage.device.TagStore;
import dev.pinwright.storage.naming.SequenceStore;
import dev.pinwright.storage.row.DeviceRow;
import dev.pinwright.storage.row.EnrollmentProfileRow;
import dev.pinwright.storage.row.PersonRow;
import dev.pinwright.storage.row.RosterRow;
import dev.pinwright.storage.row.SiteRow;
import dev.pinwright.storage.row.UnitRow;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.function.Function;
import org.jspecify.annotations.Nullable;

/**
 * Puts a device that is let in on file: what {@link Admission} decides is written down, and its
 * shape worked out.
 */
final class Admittance {
  private final Catalogue catalogue;
  private final Shapes shapes;

  Admittance(Catalogue catalogue, Shapes shapes) {
    this.catalogue = catalogue;
    this.shapes = shapes;
  }

  /** A device that is let in, and all that is known of it. */
  record Arriving(
      EnrollmentProfileRow row,
      EnrollmentProfile profile,
      JoinAttempt attempt,
      List<DeviceRow> known,
      Optional<RosterRow> roster,
      Optional<String> holder,
      Optional<String> invitation,
      Optional<Admission.Bench> bench) {}

  /** Puts it on file and in its place, or gives it its old record back. */
  DeviceRow admit(Tx tx, Arriving a, Instant now) {
    boolean fresh = a.known().isEmpty();
    DeviceRow d = fresh ? new DeviceRow() : a.known().get(0);
    Admission admission =
        Admission.of(
            a.profile(),
            a.attempt(),
            fresh ? Optional.empty() : Optional.of(onFile(d)),
            a.roster().map(Admittance::expected),
            a.holder(),
            a.bench(),
            person -> placeOf(tx, person));
    write(d, a, admission, now);
    if (fresh) {
      d.id = UlidCreator.getMonotonicUlid().toString();
      d.name = a.attempt().model();
      d.platform = a.attempt().platform();
      d.kind = Words.of(a.attempt().kind());
      d.maker = a.attempt().maker();
      d.model = a.attempt().model();
      tx.insert(d);
    }
    tx.flush();
    DeviceStates states = new DeviceStates(tx);
    DeviceStore devices = new DeviceStore(tx);
    String wanted = states.lock(d.id).map(DeviceState::desired).orElse(Tree.EMPTY.digest());
    states.put(DeviceState.joined(d.id, wanted));
    if (!fresh) {
      new OrderStore(tx).forget(d.id);
      new DeviceAppStore(tx).forget(d.id);
      devices.beginAnew(d.id);
      new SequenceStore(tx).takeBack(d.id);
      List<String> gone = devices.returnToGroups(d.id);
      if (!gone.isEmpty()) {
        new ActivityStore(tx)
            .add(
                d.id,
                now,
                "groups",
                "No longer in groups that are gone: " + String.join(", ", gone));
      }
    }
    new TagStore(tx).add(List.of(d.id), admission.tags());
    devices.join(d.id, admission.groups());
    a.roster()
        .ifPresent(
            r -> {
              r.state = "arrived";
              r.deviceId = d.id;
              r.changedAt = now;
            });
    shapes.place(tx, List.of(d.id));
    // last, since everybody who wants a number of the same sequence waits for this one
    d.name = free(tx, d.id, named(tx, d, a, admission, now));
    shapes.follow(tx, List.of(d.id));
    return d;
  }

  private static Admission.OnFile onFile(DeviceRow d) {
    return new Admission.OnFile(
        identifiers(d.serial, d.imei, d.asset),
        Optional.ofNullable(d.personId),
        place(d.unitId, d.siteId),
        d.name);
  }

  private static Admission.Expected expected(RosterRow r) {
    return new Admission.Expected(
        identifiers(r.serial, r.imei, r.asset),
        r.name,
        Optional.ofNullable(r.personId),
        place(r.unitId, r.siteId),
        List.of(r.tags));
  }

  private static Identifiers identifiers(
      @Nullable String serial, @Nullable String imei, @Nullable String asset) {
    return new Identifiers(
        Optional.ofNullable(serial), Optional.ofNullable(imei), Optional.ofNullable(asset));
  }

  private static Place placeOf(Tx tx, String personId) {
    return tx.find(PersonRow.class, personId)
        .map(p -> place(p.unitId, p.siteId))
        .orElse(Place.NOWHERE);
  }

  private static Place place(@Nullable String unit, @Nullable String site) {
    return new Place(Optional.ofNullable(unit), Optional.ofNullable(site));
  }

  private void write(DeviceRow d, Arriving a, Admission admission, Instant now) {
    JoinAttempt attempt = a.attempt();
    d.osVersion = attempt.osVersion().toString();
    d.osLevel = catalogue.catalog().osLevel(attempt.platform(), attempt.osVersion()).toString();
    d.ownership = a.row().ownership;
    d.mode = a.row().mode;
    d.enrollmentProfileId = a.row().id;
    d.enrollmentVersion = a.row().version + 1;
    d.readyGate = a.profile().readyGate().holds(attempt.platform()) ? a.row().readyGate : null;
    d.gateTold = null;
    d.serial = admission.identifiers().serial().orElse(null);
    d.imei = admission.identifiers().imei().orElse(null);
    d.asset = admission.identifiers().asset().orElse(null);
    d.personId = admission.holder().orElse(null);
    d.unitId = admission.place().unit().orElse(null);
    d.siteId = admission.place().site().orElse(null);
    d.facts = "{}";
    d.enrolledAt = now;
    d.retiredAt = null;
    d.retiredBy = null;
    d.letGoAt = null;
  }

  private static String named(Tx tx, DeviceRow d, Arriving a, Admission admission, Instant now) {
    if (admission.naming() instanceof Admission.Fixed fixed) {
      return fixed.name();
    }
    Admission.ByPattern by = (Admission.ByPattern) admission.naming();
    NamePattern.Facts facts =
        new NamePattern.Facts(
            admission.identifiers().list(),
            d.model,
            d.platform,
            word(tx, PersonRow.class, d.personId, p -> p.name),
            word(tx, UnitRow.class, d.unitId, u -> u.code),
            word(tx, SiteRow.class, d.siteId, s -> s.name),
            a.roster().map(r -> r.name).orElse(""));
    OptionalLong number = OptionalLong.empty();
    if (by.pattern().counts()) {
      String key = by.pattern().sequence(facts);
      long n =
          Sequences.reserve(
              tx, key, d.id, by.first(), a.row().fillGaps, last -> kept(tx, a, key, last), now);
      number = OptionalLong.of(n);
      a.bench()
          .flatMap(b -> b.asset(admission.identifiers(), n))
          .filter(asset -> !new DeviceStore(tx).assetTaken(asset))
          .ifPresent(asset -> d.asset = asset);
    }
    return by.pattern().name(facts, number);
  }

  /** The number kept for its slot; whatever is plugged in beside it gets one kept as well. */
  private static Optional<Long> kept(Tx tx, Arriving a, String key, long last) {
    Optional<String> serial = Identifiers.of(a.attempt().identifiers()).serial();
    if (a.invitation().isEmpty() || a.bench().isEmpty() || serial.isEmpty()) {
      return Optional.empty();
    }
    BenchStore bench = new BenchStore(tx);
    Optional<Long> own = bench.number(a.invitation().get(), serial.get(), key, last);
    new SequenceStore(tx).keep(key, bench.highestKept(a.invitation().get(), key));
    return own;
  }

  private static <R> String word(
      Tx tx, Class<R> type, @Nullable String id, Function<R, String> word) {
    return Optional.ofNullable(id).flatMap(i -> tx.find(type, i)).map(word).orElse("");
  }

  /** The name, or where another device has it the same with a number in brackets. */
  private static String free(Tx tx, String deviceId, String name) {
    DeviceStore devices = new DeviceStore(tx);
    devices.holdName(name);
    return NamePattern.free(name, wanted -> devices.nameTaken(wanted, deviceId));
  }
}
