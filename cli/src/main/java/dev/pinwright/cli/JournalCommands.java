package dev.pinwright.cli;

import static dev.pinwright.cli.Context.call;
import static dev.pinwright.cli.Context.time;

import dev.pinwright.client.model.JournalPage;
import dev.pinwright.client.model.Verification;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;

/** {@code journal}. */
@Command(
    name = "journal",
    mixinStandardHelpOptions = true,
    synopsisSubcommandLabel = "VERB",
    description = "Who did what: list, verify.")
final class JournalCommands {
  private final Context context;

  JournalCommands(Context context) {
    this.context = context;
  }

  @Command(mixinStandardHelpOptions = true, description = "Lists entries, newest first.")
  int list(
      @Option(
              names = "--words",
              defaultValue = "",
              description = "Words in actor, action or summary.")
          String words,
      @Option(names = "--subject", defaultValue = "", description = "Such as device:01J…")
          String subject,
      @Mixin Paging paging) {
    JournalPage page =
        call(
            () ->
                context.client().records().listJournal(subject, words, paging.after, paging.limit));
    return context.list(
        page,
        page.getItems(),
        e ->
            new Object[] {
              e.getNumber(), time(e.getAt()), e.getWho(), e.getAction(), e.getSummary()
            },
        "NO",
        "WHEN",
        "WHO",
        "DID",
        "WHAT");
  }

  @Command(mixinStandardHelpOptions = true, description = "Checks every link of the chain.")
  int verify() {
    Verification v = call(() -> context.client().records().verifyJournal());
    context.print(
        v,
        () ->
            context.line(
                v.getIntact()
                    ? "The chain of "
                        + v.getEntries()
                        + " entries is intact"
                        + (v.getSealedAt() == null
                            ? "."
                            : " and leads to what was kept outside the database at "
                                + Context.time(v.getSealedAt())
                                + ".")
                    : "The chain is broken at entry "
                        + v.getFirstBroken()
                        + ": it was changed, or is gone."));
    return v.getIntact() ? 0 : Failure.REFUSED;
  }
}
