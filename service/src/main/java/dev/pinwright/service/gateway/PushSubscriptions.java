package dev.pinwright.service.gateway;

import dev.pinwright.storage.Tx;
import dev.pinwright.storage.gateway.PushStore;
import dev.pinwright.storage.row.DeviceRow;

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
      new PushStore(tx).unsubscribe(device.id);
    } else {
      new PushStore(tx).subscribe(device.id, device.platform, endpoint);
    }
  }
}
