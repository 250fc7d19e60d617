package dev.pinwright.cli;

import static dev.pinwright.cli.Context.call;
import static dev.pinwright.cli.Context.counted;
import static dev.pinwright.cli.Context.time;

import dev.pinwright.client.model.Change;
import dev.pinwright.client.model.ChangePage;
import dev.pinwright.client.model.Confirmation;
import dev.pinwright.client.model.EditRehearsal;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

/** {@code change}. */
@Command(
    name = "change",
    mixinStandardHelpOptions = true,
    synopsisSubcommandLabel = "VERB",
    description = "Changes and how far devices are with them: list, wait, undo.")
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

  /** Says what an edit of devices would do. */
  static int rehearsed(Context context, EditRehearsal r) {
    return context.print(
        r,
        () -> {
          context.line(
              "%s, %d not so already.", counted(r.getDevices(), "device"), r.getChanging());
          if (r.getSettings() != null) {
            context.line(
                "%d get other settings: %d gain, %d change, %d lose.",
                r.getSettings().getChanging(),
                r.getSettings().getGain(),
                r.getSettings().getChange(),
                r.getSettings().getLose());
          }
          r.getTold().forEach(context::line);
          Table t = new Table("DEVICE", "NOW", "THEN");
          r.getExamples().forEach(e -> t.row(e.getName(), e.getBefore(), e.getAfter()));
          return t;
        });
  }

  /** Says that a change was made, and whether it can be taken back. */
  static int changed(Context context, Change c) {
    return context.print(
        c,
        () ->
            context.line(
                "%s: done%s",
                c.getTitle(),
                c.getUndoable()
                    ? ". Take it back with: pinwright change undo " + c.getId()
                    : "; this cannot be taken back."));
  }

  @Command(
      mixinStandardHelpOptions = true,
      description = {
        "Takes a change back: an edit of devices wherever it still stands, or the latest publication",
        "of a profile, in whose place is published what was before it."
      })
  int undo(
      @Parameters(paramLabel = "CHANGE-ID") String id,
      @Option(names = "--confirm", description = "The number of devices, where it is asked for.")
          @Nullable Long confirm,
      @Option(names = "--reason", description = "Why, where it is asked for.")
          @Nullable String reason,
      @Option(names = "--dry-run", description = "Only say what it would do.") boolean dryRun) {
    return dryRun
        ? rehearsed(context, call(() -> context.client().devices().rehearseUndo(id)))
        : changed(
            context,
            call(
                () ->
                    context
                        .client()
                        .devices()
                        .undoChange(
                            id, new Confirmation().confirmDevices(confirm).reason(reason))));
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
