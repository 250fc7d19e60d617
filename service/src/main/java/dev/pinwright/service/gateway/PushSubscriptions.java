package dev.pinwright.service.gateway;

import dev.pinwright.storage.Tx;
import dev.pinwright.storage.row.DeviceRow;
import java.util.Map;

/** Where devices can be woken that keep no connection open. */
public final class PushSubscriptions {
  /** The fact by which a device tells its push resource (RFC 8030, 4); it is never shown. */
  public static final String FACT = "push/endpoint";

  private PushSubscriptions() {}

  /**
   * Keeps the push resource a device told, or forgets it when the device told none. An address that
   * is not of the platform's own push service is not taken.
   */
  public static void told(Tx tx, DeviceRow device, String endpoint) {
    if (endpoint.isEmpty()) {
      tx.execute("delete from push_subscription where device_id = :d", Map.of("d", device.id));
      return;
    }
    tx.execute(
        """
        insert into push_subscription (device_id, platform, endpoint)
        select :d, g.platform, :e from gateway g
         where g.platform = :p and starts_with(:e, g.services || '/push/') and length(:e) < 500
        on conflict (device_id) do update
          set endpoint = excluded.endpoint, platform = excluded.platform, pushed_at = null
          where push_subscription.endpoint <> excluded.endpoint
        """,
        Map.of("d", device.id, "e", endpoint, "p", device.platform));
  }
}
