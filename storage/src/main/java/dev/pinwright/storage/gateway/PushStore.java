package dev.pinwright.storage.gateway;

import dev.pinwright.storage.Tx;
import java.time.Instant;
import java.util.Collection;
import java.util.List;
import java.util.Map;

/** Where devices can be woken that keep no connection open. */
public final class PushStore {
  private final Tx tx;

  public PushStore(Tx tx) {
    this.tx = tx;
  }

  /** A push resource (RFC 8030, 4) to send to; {@code version} is that of its gateway. */
  public record Due(String deviceId, String platform, String endpoint, int version) {}

  /**
   * Claims devices for ten seconds, so that of several nodes one pushes; those that are connected
   * or were pushed and not heard since are left out.
   */
  public List<Due> claim(Collection<String> deviceIds, Instant now) {
    return tx.select(
        Due.class,
        """
        update push_subscription s set pushed_at = now()
          from gateway g
         where s.device_id = any(cast(:ids as text[])) and g.platform = s.platform
           and g.push_certificate is not null and g.push_expires_at > :now
           and (s.pushed_at is null or s.pushed_at < now() - interval '10 seconds'
                or exists (select 1 from device_state d where d.device_id = s.device_id
                             and d.last_seen > s.pushed_at))
           and not exists (select 1 from open_socket o where o.device_id = s.device_id)
        returning s.device_id, s.platform, s.endpoint, g.version
        """,
        Map.of("ids", deviceIds.toArray(String[]::new), "now", now));
  }

  /** How many devices of a platform can be woken. */
  public long count(String platform) {
    return tx.value(
        "select count(*) from push_subscription where platform = :p",
        Long.class,
        Map.of("p", platform));
  }

  /**
   * Keeps the push resource a device told. An address that is not of the platform's own push
   * service is not taken.
   */
  public void subscribe(String deviceId, String platform, String endpoint) {
    tx.execute(
        """
        insert into push_subscription (device_id, platform, endpoint)
        values (:d, :p, :e)
        on conflict (device_id) do update
          set endpoint = excluded.endpoint, platform = excluded.platform, pushed_at = null
          where push_subscription.endpoint <> excluded.endpoint
        """,
        Map.of("d", deviceId, "e", endpoint, "p", platform));
  }

  /** Forgets where a device can be woken; false when that was not known. */
  public boolean unsubscribe(String deviceId) {
    return tx.execute("delete from push_subscription where device_id = :d", Map.of("d", deviceId))
        > 0;
  }

  /** Puts on file how the push service of a platform fails; empty when it does not. */
  public void fault(String platform, String fault) {
    tx.execute(
        "update gateway set push_fault = :f where platform = :p and push_fault <> :f",
        Map.of("f", fault, "p", platform));
  }
}
