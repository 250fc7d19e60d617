package dev.pinwright.storage.device;

import dev.pinwright.storage.Tx;
import java.time.Instant;
import java.util.Base64;
import java.util.Map;
import java.util.Optional;

/** Keys that open the disks of devices, wrapped. */
public final class RecoveryKeyStore {
  private final Tx tx;

  public RecoveryKeyStore(Tx tx) {
    this.tx = tx;
  }

  /**
   * A key.
   *
   * @param wrapped as the device wrapped it; DER
   */
  public record Kept(
      int number,
      byte[] wrapped,
      Instant receivedAt,
      Optional<Instant> shownAt,
      Optional<String> shownBy) {}

  /** The latest key of a device. */
  public Optional<Kept> latest(String deviceId) {
    return tx
        .select(
            Kept.class,
            "select number, wrapped, received_at, shown_at, shown_by from recovery_key"
                + " where device_id = :d order by number desc limit 1",
            Map.of("d", deviceId))
        .stream()
        .findFirst();
  }

  /** Keeps a key; the same number again takes the place of what was kept under it. */
  public void keep(String deviceId, int number, byte[] wrapped, Instant now) {
    tx.execute(
        """
        insert into recovery_key (device_id, number, wrapped, received_at)
        values (:d, :n, decode(:w, 'base64'), :now)
        on conflict (device_id, number) do update
          set wrapped = excluded.wrapped, received_at = excluded.received_at, shown_at = null,
              shown_by = null
        """,
        Map.of(
            "d", deviceId,
            "n", number,
            "w", Base64.getEncoder().encodeToString(wrapped),
            "now", now));
  }

  /** Notes who saw a key; the device is to make another. */
  public void shown(String deviceId, int number, Instant now, String by) {
    tx.execute(
        "update recovery_key set shown_at = :now, shown_by = :by"
            + " where device_id = :d and number = :n",
        Map.of("d", deviceId, "n", number, "now", now, "by", by));
    tx.execute(
        "update device_self set recovery_number = greatest(recovery_number, :n + 1)"
            + " where device_id = :d",
        Map.of("d", deviceId, "n", number));
  }

  /** The number of the key a device is to have. */
  public int wanted(String deviceId) {
    return tx.value(
        "select coalesce((select recovery_number from device_self where device_id = :d), 1)",
        Integer.class,
        Map.of("d", deviceId));
  }
}
