package dev.pinwright.service.device;

import dev.pinwright.service.identity.DeviceCertificates;
import dev.pinwright.service.live.Wakes;
import dev.pinwright.service.naming.Sequences;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.device.DeviceStates;
import dev.pinwright.storage.row.DeviceRow;
import java.time.Instant;
import java.util.Map;

/** The end of a device's management; its record stays on file. */
public final class Retirement {
  private Retirement() {}

  /** Ends it: certificates stop working, queued commands are cancelled, its number becomes free. */
  public static void retire(Tx tx, DeviceRow row, String reason, Instant now) {
    row.retiredAt = now;
    row.readyGate = null;
    tx.flush();
    new DeviceStates(tx).retire(row.id, reason);
    DeviceCertificates.withdraw(tx, row.id);
    tx.execute(
        "update command set state = 'cancelled', reason = 'the device was retired',"
            + " ended_at = :now where device_id = :d and state = 'queued'",
        Map.of("d", row.id, "now", now));
    tx.execute("delete from group_member where device_id = :d", Map.of("d", row.id));
    tx.execute("delete from push_subscription where device_id = :d", Map.of("d", row.id));
    Sequences.free(tx, row.id, now);
    Activity.add(tx, row.id, now, "retired", "Retired: " + reason);
    Wakes.drop(tx, row.id);
  }
}
