package dev.pinwright.cli;

import static dev.pinwright.cli.Context.call;

import dev.pinwright.client.model.Command;
import dev.pinwright.client.model.CommandKey;
import dev.pinwright.client.model.CommandOutput;
import dev.pinwright.client.model.CommandPage;
import dev.pinwright.client.model.CommandState;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;

/** What the commands of a dispatch brought back, device by device. */
final class BroughtBack {
  private final Context context;
  private final Path folder;
  private final List<Object> brought = new ArrayList<>();
  private final List<Runnable> told = new ArrayList<>();

  /**
   * Shows it.
   *
   * @param folder where screenshots are saved
   */
  BroughtBack(Context context, Path folder) {
    this.context = context;
    this.folder = folder;
  }

  /** A screenshot and the file it is in now. */
  record Saved(String device, String file) {}

  int show(CommandPage page) {
    for (Command c : page.getItems()) {
      boolean done = c.getState() == CommandState.DONE;
      if (c.getCommand() == CommandKey.SCREENSHOT && done) {
        save(c);
      } else if (c.getCommand() == CommandKey.PROCESSES && done) {
        CommandOutput o = output(c);
        tell(o, () -> processes(c, o));
      } else if (c.getCommand() == CommandKey.RUN_SCRIPT
          && (done || c.getReason().startsWith("the script"))) {
        CommandOutput o = output(c);
        tell(o, () -> script(c, o));
      }
    }
    return context.print(
        brought,
        () -> {
          told.forEach(Runnable::run);
          if (told.isEmpty()) {
            context.line("It has brought nothing back.");
          }
        });
  }

  private void tell(Object what, Runnable forPeople) {
    brought.add(what);
    told.add(forPeople);
  }

  private CommandOutput output(Command c) {
    return call(() -> context.client().acting().getCommandOutput(c.getId()));
  }

  private void save(Command c) {
    Path from = call(() -> context.client().acting().seeScreenshot(c.getId())).toPath();
    Path to = folder.resolve(c.getDevice().replaceAll("[^\\w.-]+", "-") + ".png");
    try {
      Files.move(from, to, StandardCopyOption.REPLACE_EXISTING);
    } catch (IOException e) {
      throw new Failure(Failure.REFUSED, "The picture cannot be saved as " + to + ".");
    }
    tell(new Saved(c.getDevice(), to.toString()), () -> context.line("%s: %s", c.getDevice(), to));
  }

  private void script(Command c, CommandOutput o) {
    context.line(
        "%s: %s",
        c.getDevice(),
        o.getExit() == null ? "took too long and was stopped" : "ended with " + o.getExit());
    String text = o.getText() == null ? "" : o.getText();
    text.lines().forEach(l -> context.line("  %s", l));
  }

  private void processes(Command c, CommandOutput o) {
    context.line("%s:", c.getDevice());
    o.getProcesses()
        .forEach(
            p ->
                context.line(
                    "  %8d  %-28s %-20s %s",
                    p.getNumber(),
                    p.getName(),
                    p.getOwner(),
                    String.format(Locale.ROOT, "%5.1f %%  %6.0f MiB", p.getCpu(), p.getMemory())));
  }
}
