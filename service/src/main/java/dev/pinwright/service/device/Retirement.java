package dev.pinwright.service.device;

import dev.pinwright.service.live.Wakes;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.change.EditStore;
import dev.pinwright.storage.device.DeviceStates;
import dev.pinwright.storage.query.Selection;
import java.time.Instant;
import java.util.List;

/** The end of devices' management; their records stay on file. */
public final class Retirement {
  private Retirement() {}

  /** Ends that of one. */
  public static void retire(Tx tx, String deviceId, String reason, Instant now) {
    retire(tx, new Selection(tx).ids(List.of(deviceId)), reason, now);
  }

  /** Ends that of some. */
  public static void retire(Tx tx, List<String> deviceIds, String reason, Instant now) {
    retire(tx, new Selection(tx).ids(deviceIds), reason, now);
  }

  /**
   * Ends it: certificates stop working, queued commands are cancelled, numbers become free, and
   * whoever is connected no longer is.
   */
  static void retire(Tx tx, Selection devices, String reason, Instant now) {
    List<String> ids = devices.hold();
    new DeviceStates(tx).retire(ids, reason);
    new EditStore(tx).retire(reason, now);
    Wakes.drop(tx, ids);
  }
}
