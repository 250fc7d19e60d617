package dev.pinwright.storage.identity;

import dev.pinwright.core.device.Standing;
import dev.pinwright.storage.Look;
import dev.pinwright.storage.Tx;
import java.sql.SQLException;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;

/** Certificates of devices and the passwords they are got with. */
public final class CertificateStore {
  private final Tx tx;

  public CertificateStore(Tx tx) {
    this.tx = tx;
  }

  /** No certificate of a device counts any longer. */
  private void revoke(String deviceId) {
    revokeBut(deviceId, "");
  }

  private void revokeBut(String deviceId, String serial) {
    tx.execute(
        "update device_certificate set state = 'revoked' where device_id = :d"
            + " and serial <> :s and state <> 'revoked'",
        Map.of("d", deviceId, "s", serial));
  }

  /** Whether a device has a certificate that it uses. */
  public boolean inForce(String deviceId) {
    return tx.any(
        "select 1 from device_certificate where device_id = :d and state = 'active'",
        Map.of("d", deviceId));
  }

  /** Whether a device uses a certificate. */
  public boolean inForce(String deviceId, String serial) {
    return tx.any(
        "select 1 from device_certificate where device_id = :d and serial = :s"
            + " and state = 'active'",
        Map.of("d", deviceId, "s", serial));
  }

  /** What was issued to a device and never used counts no longer. */
  public void supersede(String deviceId) {
    tx.execute(
        "update device_certificate set state = 'revoked'"
            + " where device_id = :d and state = 'issued'",
        Map.of("d", deviceId));
  }

  /**
   * Makes an issued certificate the only one of its device that counts, and spends the password it
   * was got with.
   */
  public void activate(String deviceId, String serial, Instant now) {
    revokeBut(deviceId, serial);
    tx.execute(
        "update device_certificate set state = 'active' where serial = :s", Map.of("s", serial));
    tx.execute(
        "update est_grant set used_at = :now where used_at is null and username ="
            + " (select grant_name from device_certificate where serial = :s)",
        Map.of("s", serial, "now", now));
  }

  /** No password gets a device a certificate any longer. */
  public void dropGrants(String deviceId) {
    tx.execute("delete from est_grant where device_id = :d", Map.of("d", deviceId));
  }

  /** Withdraws every certificate and password of a device. */
  public void withdraw(String deviceId) {
    revoke(deviceId);
    dropGrants(deviceId);
  }

  /**
   * The device of a certificate and what is outstanding for it.
   *
   * @param orderDue whether it has yet to be told how it is with the checks
   * @param ownDue whether what is its own changed and was not worked out since
   * @param own digest it is expected to tell of what is its own, if it tells one
   * @param appsDue whether its apps are to be looked at
   * @param inventory digest it told of its apps last
   */
  public record Known(
      String serial,
      String id,
      String certificateState,
      String desired,
      boolean orderDue,
      boolean ownDue,
      Optional<String> own,
      boolean appsDue,
      Optional<String> inventory,
      Standing standing,
      boolean factsKnown,
      boolean commandsQueued,
      Optional<String> openSession) {}

  /**
   * Whose certificates these are, by serial: the one statement of check-ins that come together. It
   * joins what is asked for, since a condition on an array would be planned anew each time.
   *
   * @param serials may hold one more than once: a device may ask on several connections
   */
  public static Map<String, Known> known(Look look, List<String> serials) throws SQLException {
    return look
        .select(
            Known.class,
            """
            select c.serial, d.device_id as id, c.state as certificate_state,
                   d.desired_digest as desired, d.order_due, exists (select 1 from own_due q where q.device_id = d.device_id)
                     as own_due,
                   case when o.told_for = o.desired then o.accepted else o.desired end as own,
                   coalesce(d.apps_due <= now(), false) as apps_due, d.inventory,
                   d.standing, d.facts_at is not null as facts_known,
                   exists (select 1 from command q
                            where q.device_id = d.device_id and q.state = 'queued')
                     as commands_queued,
                   s.session_id as open_session
              from unnest(?) asked(serial) join device_certificate c using (serial)
              join device_state d using (device_id)
              left join dm_session s using (device_id) left join device_self o using (device_id)
            """,
            serials.stream().distinct().toList())
        .stream()
        .collect(Collectors.toMap(Known::serial, k -> k));
  }

  /** Forgets passwords that lapsed a day ago. */
  public void tidy(Instant now) {
    tx.execute(
        "delete from est_grant where expires_at < cast(:now as timestamptz) - interval '1 day'",
        Map.of("now", now));
  }
}
