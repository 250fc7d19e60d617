package dev.pinwright.service.device;

import dev.pinwright.service.live.Wakes;
import dev.pinwright.service.usecase.UseCases;
import dev.pinwright.service.work.Problem;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.acting.WipeStore;
import dev.pinwright.storage.change.EditStore;
import dev.pinwright.storage.device.DeviceStates;
import dev.pinwright.storage.device.DeviceStore;
import dev.pinwright.storage.license.LicenseStore;
import dev.pinwright.storage.query.Selection;
import java.util.List;

/** The end of devices' management; their records stay on file. */
public final class Retirement {
  private Retirement() {}

  /**
   * Ends that of some.
   *
   * @throws Problem 409 naming those that are being erased: it would never be known whether they
   *     were
   */
  public static void retire(UseCases.Act act, List<String> deviceIds, String reason) {
    retire(act, new Selection(act.tx()).ids(deviceIds), reason);
  }

  /**
   * Ends that of one that has let go already.
   *
   * @param by who ended it
   */
  public static void leave(UseCases.Act act, String deviceId, String reason, String by) {
    retire(act, new Selection(act.tx()).ids(List.of(deviceId)), reason, by);
    new DeviceStore(act.tx()).letGo(deviceId, act.now());
  }

  static void retire(UseCases.Act act, Selection devices, String reason) {
    List<String> erasing = new WipeStore(act.tx()).underWay(devices.hold());
    if (!erasing.isEmpty()) {
      throw Problem.conflict(
          "wipe-under-way",
          String.join(", ", erasing)
              + (erasing.size() == 1 ? " is" : " are")
              + " being wiped; retired now, it would never be known whether it happened. Cancel the"
              + " wipe, or wait until the device says that it begins.");
    }
    retire(act, devices, reason, act.caller().login());
  }

  /**
   * Ends it: certificates stop working, queued commands are cancelled, numbers become free. The
   * devices are woken a last time, so that they hear of it and let go of what they have from us.
   */
  private static void retire(UseCases.Act act, Selection devices, String reason, String by) {
    Tx tx = act.tx();
    List<String> ids = devices.hold();
    new DeviceStates(tx).retire(ids, reason);
    new EditStore(tx).retire(reason, by, act.now());
    new LicenseStore(tx).due(act.now());
    Wakes.drop(tx, ids);
  }
}
