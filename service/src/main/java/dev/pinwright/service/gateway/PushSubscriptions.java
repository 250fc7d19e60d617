package dev.pinwright.service.gateway;

import dev.pinwright.protocol.notification.PushEndpoint;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.device.ActivityStore;
import dev.pinwright.storage.gateway.PushStore;
import dev.pinwright.storage.row.DeviceRow;
import dev.pinwright.storage.row.GatewayRow;
import java.time.Instant;
import java.util.Optional;

/** Where devices can be woken that keep no connection open. */
public final class PushSubscriptions {
  /** The fact by which a device tells its push resource (RFC 8030, 4); it is never shown. */
  public static final String FACT = "push/endpoint";

  private PushSubscriptions() {}

  /**
   * Keeps the push resource a device told, or forgets it when the device told none. With an address
   * that is not of the platform's own push service the one before is forgotten, and the device's
   * activity says so.
   */
  public static void told(Tx tx, DeviceRow device, String endpoint, Instant now) {
    Optional<String> taken =
        endpoint.isEmpty()
            ? Optional.empty()
            : tx.find(GatewayRow.class, device.platform)
                .filter(g -> g.services != null)
                .flatMap(g -> PushEndpoint.below(g.services, endpoint));
    if (taken.isPresent()) {
      new PushStore(tx).subscribe(device.id, device.platform, taken.get());
    } else if (new PushStore(tx).unsubscribe(device.id) && !endpoint.isEmpty()) {
      new ActivityStore(tx)
          .add(
              device.id,
              now,
              "push",
              "It told a push address that is not its platform's, and is no longer woken by push");
    }
  }
}
