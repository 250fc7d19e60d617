package dev.pinwright.service.acting;

import dev.pinwright.core.command.ScriptEnd;
import dev.pinwright.protocol.dm.Processes;
import dev.pinwright.service.usecase.Noun;
import dev.pinwright.service.usecase.UseCases;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Problem;
import dev.pinwright.storage.acting.CommandStore;
import dev.pinwright.storage.row.CommandRow;
import java.util.List;
import java.util.Optional;

/** What commands brought back: what a script wrote, or what runs on a laptop. */
public final class Outputs {
  /** Commands that bring something back, as the catalogue calls them. */
  public static final String SCRIPT = "run-script";

  public static final String PROCESSES = "processes";

  private final UseCases useCases;

  public Outputs(UseCases useCases) {
    this.useCases = useCases;
  }

  /**
   * What a command brought back.
   *
   * @param exit exit code of a script; empty where it was stopped, and for what is no script
   * @param text what a script wrote, the last of it
   * @param processes what ran then, the most of a processor first
   */
  public record Output(
      String commandId,
      String deviceId,
      String command,
      Optional<Integer> exit,
      Optional<String> text,
      List<Processes.Process> processes) {}

  /** As much of what a device said as is kept. */
  public static String kept(String command, String said) {
    return command.equals(SCRIPT)
        ? ScriptEnd.read(said)
            .map(e -> e.exit().map(String::valueOf).orElse("stopped") + "\n" + e.output())
            .orElse("")
        : Processes.write(Processes.read(said).orElse(List.of()));
  }

  /**
   * What a command brought back; that somebody looked at what a script wrote or at what runs on
   * somebody's laptop is told in the journal.
   *
   * @throws Problem 404 when there is no such command, or it brought nothing back
   */
  public Output look(Caller caller, String commandId) {
    return useCases.act(
        caller,
        act -> {
          CommandRow row =
              act.tx()
                  .find(CommandRow.class, commandId)
                  .orElseThrow(() -> Problem.notFound("command", commandId));
          String kept =
              new CommandStore(act.tx())
                  .output(commandId)
                  .orElseThrow(() -> Problem.notFound("output of a command", commandId));
          act.done(
              Noun.COMMAND,
              "output-seen",
              Noun.DEVICE,
              row.deviceId,
              "What " + row.command + " brought back was looked at");
          Optional<ScriptEnd> end =
              row.command.equals(SCRIPT) ? ScriptEnd.read(kept) : Optional.empty();
          return new Output(
              commandId,
              row.deviceId,
              row.command,
              end.flatMap(ScriptEnd::exit),
              end.map(ScriptEnd::output),
              row.command.equals(PROCESSES) ? Processes.read(kept).orElse(List.of()) : List.of());
        });
  }
}
