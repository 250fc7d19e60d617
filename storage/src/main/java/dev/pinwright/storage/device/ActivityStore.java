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
   * Since when a device stands as it does: it was heard last, moved by a change, or said so in its
   * activity; at the earliest it joined.
   */
  public Instant standsSince(String deviceId) {
    return tx.value(
        """
        select case when st.standing = 'silent' then coalesce(st.last_seen, d.enrolled_at)
                    else greatest(d.enrolled_at, a.at,
                                  case when st.standing = 'catching-up' then c.at end) end
          from device d join device_state st on st.device_id = d.id
          left join change c on c.id = st.change_id
          left join lateral (
            select at from (select at, kind from activity where device_id = d.id
                             order by id desc limit 500) l
             where kind in ('standing', 'drifted') limit 1) a on true
         where d.id = :d
        """,
        Instant.class,
        Map.of("d", deviceId));
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
