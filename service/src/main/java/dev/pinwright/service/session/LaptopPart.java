package dev.pinwright.service.session;

import dev.pinwright.core.command.CommandState;
import dev.pinwright.core.command.DeviceAnswer;
import dev.pinwright.core.command.ScriptEnd;
import dev.pinwright.protocol.dm.Heard;
import dev.pinwright.protocol.dm.Processes;
import dev.pinwright.service.acting.Commands;
import dev.pinwright.service.acting.Outputs;
import dev.pinwright.service.usecase.Noun;
import dev.pinwright.service.usecase.UseCases;
import dev.pinwright.storage.acting.CommandStore;
import dev.pinwright.storage.row.DeviceRow;
import java.util.Optional;

/** What laptops bring back: how scripts ended, and what runs. */
final class LaptopPart {
  private static final DeviceAnswer UNREADABLE =
      new DeviceAnswer(CommandState.FAILED, "what the device said of it cannot be read");

  private LaptopPart() {}

  /** Keeps what was brought back of commands that are under way. */
  static void heard(UseCases.Act act, DeviceRow device, Heard heard) {
    heard
        .scripts()
        .forEach(
            (command, said) ->
                take(
                    act,
                    device,
                    command,
                    Outputs.SCRIPT,
                    said,
                    ScriptEnd.read(said).map(ScriptEnd::answer)));
    heard
        .processes()
        .forEach(
            (command, said) ->
                take(
                    act,
                    device,
                    command,
                    Outputs.PROCESSES,
                    said,
                    Processes.read(said).map(p -> new DeviceAnswer(CommandState.DONE, ""))));
  }

  private static void take(
      UseCases.Act act,
      DeviceRow device,
      String command,
      String key,
      String said,
      Optional<DeviceAnswer> read) {
    CommandStore commands = new CommandStore(act.tx());
    if (commands.underWay(command, key, device.id).isEmpty()) {
      return;
    }
    DeviceAnswer answer = read.orElse(UNREADABLE);
    if (read.isPresent()) {
      commands.output(command, Outputs.kept(key, said));
    }
    Commands.step(act.tx(), device.id, command, answer.state(), answer.reason(), act.now());
    act.touch(Noun.DISPATCH);
  }
}
