package dev.pinwright.service.intake;

import com.github.f4b6a3.ulid.UlidCreator;
import dev.pinwright.catalog.Catalogue;
import dev.pinwright.core.Words;
import dev.pinwright.core.intake.EnrollmentProfile;
import dev.pinwright.core.intake.Identifier;
import dev.pinwright.core.intake.JoinAttempt;
import dev.pinwright.core.tree.Tree;
import dev.pinwright.service.identity.DeviceCertificates;
import dev.pinwright.service.rules.Shapes;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.row.DeviceRow;
import dev.pinwright.storage.row.EnrollmentProfileRow;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;

/** Puts a device that is let in on file: its record, its place, its shape. */
final class Admittance {
  private final Catalogue catalogue;
  private final Shapes shapes;

  Admittance(Catalogue catalogue, Shapes shapes) {
    this.catalogue = catalogue;
    this.shapes = shapes;
  }

  /** Records that have one of the identifiers already; at most three. */
  static List<DeviceRow> onFile(Tx tx, JoinAttempt attempt) {
    return tx.list(
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

  private static @Nullable String orNull(String value) {
    return value.isEmpty() ? null : value;
  }

  DeviceRow admit(
      Tx tx,
      EnrollmentProfileRow row,
      EnrollmentProfile profile,
      JoinAttempt attempt,
      List<DeviceRow> known,
      Instant now) {
    DeviceRow d = known.isEmpty() ? new DeviceRow() : known.get(0);
    boolean fresh = known.isEmpty();
    if (fresh) {
      d.id = UlidCreator.getMonotonicUlid().toString();
      String name = profile.namePattern().name(attempt);
      d.name = name.isEmpty() ? attempt.model() : name;
      d.platform = attempt.platform();
      d.kind = Words.of(attempt.kind());
      d.maker = attempt.maker();
      d.model = attempt.model();
      d.desiredDigest = Tree.EMPTY.digest();
    }
    d.osVersion = attempt.osVersion().toString();
    d.osLevel = catalogue.catalog().osLevel(attempt.platform(), attempt.osVersion()).toString();
    d.ownership = row.ownership;
    d.mode = row.mode;
    d.enrollmentProfileId = row.id;
    d.serial = d.serial == null ? orNull(value(attempt, Identifier.Kind.SERIAL)) : d.serial;
    d.imei = d.imei == null ? orNull(value(attempt, Identifier.Kind.IMEI)) : d.imei;
    d.asset = d.asset == null ? orNull(value(attempt, Identifier.Kind.ASSET)) : d.asset;
    d.standing = "catching-up";
    d.standingReason = "it has just joined";
    d.reportedDigest = null;
    d.agreedDigest = null;
    d.refused = "";
    d.facts = "{}";
    d.factsAt = null;
    d.enrolledAt = now;
    d.retiredAt = null;
    if (fresh) {
      tx.insert(d);
    }
    tx.flush();
    if (!fresh) {
      DeviceCertificates.withdraw(tx, d.id);
      tx.execute("delete from refusal where device_id = :d", Map.of("d", d.id));
      tx.execute("delete from dm_session where device_id = :d", Map.of("d", d.id));
    }
    tx.execute(
        "insert into device_tag select :d, t from unnest(cast(:t as text[])) t"
            + " on conflict do nothing",
        Map.of("d", d.id, "t", row.tags));
    tx.execute(
        "insert into group_member select g.id, :d from device_group g"
            + " where g.id = any(cast(:g as text[])) on conflict do nothing",
        Map.of("d", d.id, "g", row.groups));
    shapes.place(tx, List.of(d.id), null);
    tx.session().refresh(d);
    return d;
  }
}
