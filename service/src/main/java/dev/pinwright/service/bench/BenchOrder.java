package dev.pinwright.service.bench;

import dev.pinwright.core.intake.NamePattern;
import dev.pinwright.core.organisation.Place;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.row.DeviceRow;
import java.time.Instant;
import java.util.HashMap;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalLong;

/**
 * What a bench session asks for each device that joins by it.
 *
 * @param groupId group devices land in; empty for none but the profile's
 * @param place where they land, as far as the session says; before what the profile says
 * @param assetPrefix what asset numbers begin with; empty to give none
 */
public record BenchOrder(
    String sessionId,
    NamePattern namePattern,
    long firstNumber,
    String groupId,
    Place place,
    String assetPrefix) {

  /** The order of the session an invitation belongs to, as long as it is open. */
  public static Optional<BenchOrder> of(Tx tx, String invitationId) {
    return tx
        .rows(
            "select id, name_pattern, first_number, coalesce(group_id, ''), unit_id, site_id,"
                + " asset_prefix from bench_session where invitation_id = :i",
            Map.of("i", invitationId))
        .stream()
        .findFirst()
        .map(
            r ->
                new BenchOrder(
                    (String) r[0],
                    new NamePattern((String) r[1]),
                    ((Number) r[2]).longValue(),
                    (String) r[3],
                    new Place(
                        Optional.ofNullable((String) r[4]), Optional.ofNullable((String) r[5])),
                    (String) r[6]));
  }

  public Place over(Place profile) {
    return new Place(place.unit().or(profile::unit), place.site().or(profile::site));
  }

  /** Gives a device its asset number, when it has none and nobody else has it. */
  public void label(Tx tx, DeviceRow d, OptionalLong number) {
    if (assetPrefix.isEmpty() || number.isEmpty() || d.asset != null) {
      return;
    }
    String asset = assetPrefix + String.format("%04d", number.getAsLong());
    boolean taken =
        !tx.rows("select id, 1 from device where asset = :a", Map.of("a", asset)).isEmpty();
    if (!taken) {
      d.asset = asset;
    }
  }

  /** Puts on file how a device of the session fared. */
  public static void fared(
      Tx tx,
      String invitationId,
      String serial,
      String stage,
      String reason,
      String deviceId,
      Instant now) {
    Map<String, Object> p = new HashMap<>();
    p.put("i", invitationId);
    p.put("serial", serial);
    p.put("stage", stage);
    p.put("reason", reason);
    p.put("d", deviceId.isEmpty() ? null : deviceId);
    p.put("now", now);
    tx.execute(
        """
        update bench_device set stage = :stage, reason = :reason, device_id = cast(:d as text),
               changed_at = :now
         where serial = :serial
           and session_id = (select id from bench_session where invitation_id = :i)
        """,
        p);
  }
}
