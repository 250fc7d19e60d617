package dev.pinwright.service.acting;

import dev.pinwright.service.usecase.Noun;
import dev.pinwright.service.usecase.UseCases;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Problem;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.acting.CommandStore;
import dev.pinwright.storage.row.DeviceRow;
import java.util.List;

/** What waits for devices: each has a queue, which is put in order and cleared. */
public final class Queues {
  private final UseCases useCases;

  public Queues(UseCases useCases) {
    this.useCases = useCases;
  }

  /** Commands that wait for a device, in the order they are handed over in. */
  public List<CommandStore.Waiting> of(Caller caller, String deviceId) {
    return useCases.read(tx -> new CommandStore(tx).waiting(deviceId));
  }

  /**
   * Puts what waits for a device in order: these first, one after the other, then all else.
   *
   * @throws Problem 400 without any, and for a command that does not wait for it
   */
  public List<CommandStore.Waiting> arrange(Caller caller, String deviceId, List<String> ids) {
    if (ids.isEmpty()) {
      throw Problem.malformed("/commands", "Say which commands come first.");
    }
    return useCases.act(
        caller,
        act -> {
          DeviceRow device = device(act.tx(), deviceId);
          CommandStore commands = new CommandStore(act.tx());
          List<String> there =
              commands.waiting(deviceId).stream().map(CommandStore.Waiting::id).toList();
          ids.stream()
              .filter(id -> !there.contains(id))
              .findFirst()
              .ifPresent(
                  id -> {
                    throw Problem.malformed(
                        "/commands", "The command " + id + " does not wait for this device.");
                  });
          commands.place(deviceId, ids.stream().distinct().toList());
          act.done(
              Noun.COMMAND,
              "arranged",
              Noun.DEVICE,
              deviceId,
              "What waits for " + device.name + " put in order");
          return commands.waiting(deviceId);
        });
  }

  /**
   * Cancels all that waits for a device.
   *
   * @return how many commands were cancelled
   */
  public int clear(Caller caller, String deviceId) {
    return useCases.act(
        caller,
        act -> {
          DeviceRow device = device(act.tx(), deviceId);
          int n =
              new CommandStore(act.tx())
                  .cancelQueued(deviceId, "cancelled by " + caller.login(), act.now());
          if (n > 0) {
            act.done(
                Noun.COMMAND,
                "cancelled",
                Noun.DEVICE,
                deviceId,
                "All that waited for " + device.name + " cancelled: " + n);
          }
          return n;
        });
  }

  private static DeviceRow device(Tx tx, String id) {
    return tx.find(DeviceRow.class, id).orElseThrow(() -> Problem.notFound("device", id));
  }
}
