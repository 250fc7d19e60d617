package dev.pinwright.service.device;

import dev.pinwright.service.live.Wakes;
import dev.pinwright.service.usecase.UseCases;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.change.EditStore;
import dev.pinwright.storage.device.DeviceStates;
import dev.pinwright.storage.query.Selection;
import java.util.List;

/** The end of devices' management; their records stay on file. */
public final class Retirement {
  private Retirement() {}

  /** Ends that of some. */
  public static void retire(UseCases.Act act, List<String> deviceIds, String reason) {
    retire(act, new Selection(act.tx()).ids(deviceIds), reason);
  }

  /**
   * Ends it: certificates stop working, queued commands are cancelled, numbers become free. The
   * devices are woken a last time, so that they hear of it and let go of what they have from us.
   */
  static void retire(UseCases.Act act, Selection devices, String reason) {
    Tx tx = act.tx();
    List<String> ids = devices.hold();
    new DeviceStates(tx).retire(ids, reason);
    new EditStore(tx).retire(reason, act.caller().login(), act.now());
    Wakes.drop(tx, ids);
  }
}
