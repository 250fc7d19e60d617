package dev.pinwright.storage.device;

import dev.pinwright.core.tree.Leaf;
import dev.pinwright.core.tree.Refused;
import dev.pinwright.storage.Tx;
import java.time.Instant;
import java.util.List;
import java.util.Map;

/** Settings devices refused, with the value that was refused. */
public final class RefusalStore {
  private final Tx tx;

  public RefusalStore(Tx tx) {
    this.tx = tx;
  }

  /**
   * A setting a device refused.
   *
   * @param code the status it answered with (OMA SyncML Representation Protocol 1.2, 10)
   */
  public record Refusal(String path, int code, String reason, Instant at) {}

  /** What a device refused, by path. */
  public List<Refusal> of(String deviceId) {
    return tx.select(
        Refusal.class,
        "select path, code, reason, at from refusal where device_id = :id order by path",
        Map.of("id", deviceId));
  }

  /** A setting that devices refused, why, and how many. */
  public record Counted(String path, String reason, long devices) {}

  /** What devices refused that a profile is assigned to, most devices first; at most a hundred. */
  public List<Counted> ofProfile(String profileId) {
    return tx.select(
        Counted.class,
        """
        select r.path, r.reason, count(*) as devices
          from refusal r join device_state st using (device_id)
         where st.standing <> 'retired'
           and st.shape_key in (select shape_key from shape_profile where profile_id = :p)
         group by 1, 2 order by 3 desc, 1, 2 limit 100
        """,
        Map.of("p", profileId));
  }

  /** Keeps that a device refused a value, in place of what it refused at this path before. */
  public void keep(String deviceId, Refusal refusal, Leaf leaf) {
    tx.execute(
        """
        insert into refusal (device_id, path, format, value_hash, code, reason, at)
        values (:d, :p, :f, :h, :c, :r, :now)
        on conflict (device_id, path) do update
          set format = excluded.format, value_hash = excluded.value_hash, code = excluded.code,
              reason = excluded.reason, at = excluded.at
        """,
        Map.of(
            "d", deviceId,
            "p", refusal.path(),
            "f", leaf.format(),
            "h", Refused.leaf(refusal.path(), leaf),
            "c", refusal.code(),
            "r", refusal.reason(),
            "now", refusal.at()));
  }

  /** Forgets all but these values of a device. */
  public void keepOnly(String deviceId, Refused kept) {
    tx.execute(
        "delete from refusal where device_id = :d"
            + " and not (value_hash = any(cast(:kept as text[])))",
        Map.of("d", deviceId, "kept", kept.leaves().toArray(String[]::new)));
  }
}
