package dev.pinwright.service.device;

import dev.pinwright.service.live.Wakes;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.acting.CommandStore;
import dev.pinwright.storage.device.ActivityStore;
import dev.pinwright.storage.device.DeviceStates;
import dev.pinwright.storage.device.GroupStore;
import dev.pinwright.storage.gateway.PushStore;
import dev.pinwright.storage.identity.CertificateStore;
import dev.pinwright.storage.naming.SequenceStore;
import dev.pinwright.storage.row.DeviceRow;
import java.time.Instant;

/** The end of a device's management; its record stays on file. */
public final class Retirement {
  private Retirement() {}

  /** Ends it: certificates stop working, queued commands are cancelled, its number becomes free. */
  public static void retire(Tx tx, DeviceRow row, String reason, Instant now) {
    row.retiredAt = now;
    row.readyGate = null;
    new DeviceStates(tx).retire(row.id, reason);
    new CertificateStore(tx).withdraw(row.id);
    new CommandStore(tx).cancelQueued(row.id, "the device was retired", now);
    new GroupStore(tx).leave(row.id);
    new PushStore(tx).unsubscribe(row.id);
    new SequenceStore(tx).giveBack(row.id, now);
    new ActivityStore(tx).add(row.id, now, "retired", "Retired: " + reason);
    Wakes.drop(tx, row.id);
  }
}
