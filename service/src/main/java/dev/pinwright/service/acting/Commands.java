package dev.pinwright.service.acting;

import dev.pinwright.core.Words;
import dev.pinwright.core.command.CommandState;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.acting.CommandStore;
import dev.pinwright.storage.device.ActivityStore;
import java.time.Instant;
import java.util.Optional;

/** Steps in the life of commands. Each is taken at most once and told in the device's activity. */
public final class Commands {
  private Commands() {}

  /**
   * Takes a step.
   *
   * @return the catalogue's key of the command; empty when it is not allowed from where that is
   */
  public static Optional<String> step(
      Tx tx, String deviceId, String commandId, CommandState to, String reason, Instant now) {
    Optional<String> stepped = new CommandStore(tx).step(deviceId, commandId, to, reason, now);
    stepped.ifPresent(
        command ->
            new ActivityStore(tx)
                .add(
                    deviceId,
                    now,
                    "command",
                    command + " " + Words.of(to) + (reason.isEmpty() ? "" : ": " + reason)));
    return stepped;
  }
}
