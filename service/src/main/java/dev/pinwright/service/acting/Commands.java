package dev.pinwright.service.acting;

import dev.pinwright.core.command.CommandState;
import dev.pinwright.service.device.Activity;
import dev.pinwright.storage.Tx;
import java.time.Instant;
import java.util.List;
import java.util.Map;

/** Steps in the life of commands, as statements. Each step is taken at most once. */
public final class Commands {
  private Commands() {}

  /** A command to be delivered. */
  public record Queued(String id, String command, String fields) {}

  /** Commands waiting for a device, oldest first, at most {@code limit}. */
  public static List<Queued> queued(Tx tx, String deviceId, Instant now, int limit) {
    return tx
        .rows(
            """
            select c.id, c.command, cast(d.fields as text) from command c
              join dispatch d on d.id = c.dispatch_id
             where c.device_id = :device and c.state = 'queued' and c.expires_at > :now
             order by c.queued_at, c.id limit :limit
            """,
            Map.of("device", deviceId, "now", now, "limit", limit))
        .stream()
        .map(r -> new Queued((String) r[0], (String) r[1], (String) r[2]))
        .toList();
  }

  /**
   * Takes a step; false when it is not allowed from where the command is. The check is part of the
   * statement, so two nodes cannot both take it.
   */
  public static boolean step(
      Tx tx, String deviceId, String commandId, CommandState to, String reason, Instant now) {
    String[] from =
        CommandState.before(to).stream().map(dev.pinwright.core.Words::of).toArray(String[]::new);
    String time = to == CommandState.DELIVERED ? "delivered_at" : "ended_at";
    List<Object[]> stepped =
        tx.rows(
            "update command set state = :to, reason = :reason, "
                + time
                + " = :now where id = :id and device_id = :device"
                + " and state = any(cast(:from as text[])) returning command, 1",
            Map.of(
                "to", dev.pinwright.core.Words.of(to),
                "reason", reason,
                "now", now,
                "id", commandId,
                "device", deviceId,
                "from", from));
    if (stepped.isEmpty()) {
      return false;
    }
    String words = dev.pinwright.core.Words.of(to) + (reason.isEmpty() ? "" : ": " + reason);
    Activity.add(tx, deviceId, now, "command", stepped.get(0)[0] + " " + words);
    return true;
  }
}
