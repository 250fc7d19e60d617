package dev.pinwright.storage.device;

import dev.pinwright.core.device.ActivityLine;
import dev.pinwright.storage.Tx;
import java.time.Instant;
import java.util.List;
import java.util.Map;

/** What happened to devices, as lines for people. */
public final class ActivityStore {
  private final Tx tx;

  public ActivityStore(Tx tx) {
    this.tx = tx;
  }

  /** Adds a line in the transaction of what it tells. */
  public void add(String deviceId, Instant at, String kind, String text) {
    tx.execute(
        "insert into activity (device_id, at, kind, text) values (:d, :at, :kind, :text)",
        Map.of("d", deviceId, "at", at, "kind", kind, "text", text));
  }

  /** Whether there is a line of this kind about a device at this time. */
  public boolean has(String deviceId, Instant at, String kind) {
    return tx.any(
        "select 1 from activity where device_id = :d and at = :at and kind = :kind",
        Map.of("d", deviceId, "at", at, "kind", kind));
  }

  /** When a device's latest lines of a kind were, since a moment, latest first. */
  public List<Instant> latest(String deviceId, String kind, Instant since, int limit) {
    return tx.column(
        Instant.class,
        "select at from (select at, kind from activity where device_id = :d order by id desc limit 500) a"
            + " where kind = :k and at > :since limit :limit",
        Map.of("d", deviceId, "k", kind, "since", since, "limit", limit));
  }

  /**
   * Lines of a device, newest first.
   *
   * @param before those with a lower number
   */
  public List<ActivityLine> page(String deviceId, long before, int limit) {
    return tx.select(
        ActivityLine.class,
        "select id, at, kind, text from activity where device_id = :d and id < :b"
            + " order by id desc limit :limit",
        Map.of("d", deviceId, "b", before, "limit", limit));
  }
}
