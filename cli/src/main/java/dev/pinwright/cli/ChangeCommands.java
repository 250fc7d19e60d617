package dev.pinwright.cli;

import static dev.pinwright.cli.Context.call;
import static dev.pinwright.cli.Context.time;

import dev.pinwright.client.model.Change;
import dev.pinwright.client.model.ChangePage;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Parameters;

/** {@code change}. */
@Command(
    name = "change",
    mixinStandardHelpOptions = true,
    synopsisSubcommandLabel = "VERB",
    description = "Changes and how far devices are with them: list, wait.")
final class ChangeCommands {
  private static final long POLL_MILLIS = 400;
  private final Context context;

  ChangeCommands(Context context) {
    this.context = context;
  }

  @Command(mixinStandardHelpOptions = true, description = "Lists changes, newest first.")
  int list(@Mixin Paging paging) {
    ChangePage page = call(() -> context.client().rules().listChanges(paging.after, paging.limit));
    return context.list(
        page,
        page.getItems(),
        c ->
            new Object[] {
              time(c.getAt()),
              c.getTitle(),
              c.getActor(),
              c.getTotal(),
              c.getDone(),
              c.getWaiting(),
              c.getFailed(),
              c.getOvertaken()
            },
        "WHEN",
        "WHAT",
        "BY",
        "DEVICES",
        "DONE",
        "WAITING",
        "FAILED",
        "OVERTAKEN");
  }

  @Command(
      name = "wait",
      mixinStandardHelpOptions = true,
      description = "Follows a change until no device waits any more.")
  int waitFor(@Parameters(paramLabel = "ID") String id) throws InterruptedException {
    return follow(context, id);
  }

  static int follow(Context context, String id) throws InterruptedException {
    Change c = call(() -> context.client().rules().getChange(id));
    long shown = -1;
    while (c.getWaiting() > 0) {
      if (shown != c.getDone()) {
        shown = c.getDone();
        System.err.println(
            c.getDone() + " of " + c.getTotal() + " done, " + c.getWaiting() + " waiting");
      }
      Thread.sleep(POLL_MILLIS);
      c = call(() -> context.client().rules().getChange(id));
    }
    Change end = c;
    context.print(
        end,
        () ->
            context.line(
                "%s: %d done, %d refused part of it%s.",
                end.getTitle(),
                end.getDone(),
                end.getFailed(),
                end.getOvertaken() > 0
                    ? ", " + end.getOvertaken() + " moved on by a later change"
                    : ""));
    return end.getFailed() > 0 ? Failure.SOME_FAILED : 0;
  }
}
