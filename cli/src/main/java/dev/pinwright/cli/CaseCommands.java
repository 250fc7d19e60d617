package dev.pinwright.cli;

import static dev.pinwright.cli.Context.call;
import static dev.pinwright.cli.Context.time;

import dev.pinwright.client.model.CaseChange;
import dev.pinwright.client.model.CaseDraft;
import dev.pinwright.client.model.CaseEnd;
import dev.pinwright.client.model.CaseNote;
import dev.pinwright.client.model.CaseState;
import dev.pinwright.client.model.CaseTimeline;
import dev.pinwright.client.model.LostCase;
import dev.pinwright.client.model.LostCasePage;
import java.nio.file.Path;
import java.time.LocalDateTime;
import java.time.ZoneId;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

/** {@code case}. */
@Command(
    name = "case",
    mixinStandardHelpOptions = true,
    synopsisSubcommandLabel = "VERB",
    description =
        "Lost devices, from the report to the end: open, list, show, note, every, found, write-off,"
            + " sheet.",
    footer = {
      "",
      "Examples:",
      "  pinwright case open \"Lighthouse phone\" --what \"left on the ferry\" --phone \"+000 5550 100\"",
      "  pinwright case note 01J… \"Handed in a report\" --told",
      "  pinwright case found 01J… \"It was under the counter\"",
      "  pinwright case write-off 01J… \"Not seen for a month\" --wipe"
    })
final class CaseCommands {
  private final Context context;

  CaseCommands(Context context) {
    this.context = context;
  }

  @Command(
      mixinStandardHelpOptions = true,
      description = "Reports a device lost: it is locked, and asked where it is again and again.")
  int open(
      @Parameters(paramLabel = "DEVICE") String device,
      @Option(names = "--what", required = true, description = "What happened.") String what,
      @Option(names = "--text", description = "On its lock screen.") @Nullable String text,
      @Option(names = "--phone", description = "Number to call, on its lock screen.")
          @Nullable String phone,
      @Option(names = "--every", description = "Minutes between two looks; 0 for none.")
          @Nullable Integer every,
      @Option(
              names = "--since",
              paramLabel = "TIME",
              description = "When it went missing, such as 2026-12-24T12:00 here.")
          @Nullable LocalDateTime since,
      @Option(
              names = "--ring-at",
              paramLabel = "SITE",
              description = "It rings by itself when it is there.")
          @Nullable String ringAt,
      @Option(names = "--no-lock", description = "Leave it unlocked.") boolean unlocked) {
    CaseDraft draft =
        new CaseDraft()
            .deviceId(context.device(device).getId())
            .what(what)
            .text(text)
            .phone(phone)
            .everyMinutes(every)
            .lostAt(since == null ? null : since.atZone(ZoneId.systemDefault()).toOffsetDateTime())
            .ringSiteId(ringAt == null ? null : context.site(ringAt).getId())
            .lock(!unlocked);
    LostCase c = call(() -> context.client().acting().openCase(draft));
    return context.print(
        c,
        () ->
            context.line(
                "%s is reported lost. Follow it with: pinwright case show %s",
                c.getDevice(), c.getId()));
  }

  @Command(mixinStandardHelpOptions = true, description = "Lists cases, newest first.")
  int list(
      @Option(names = "--state", description = "Only these: open, found, written-off.")
          @Nullable CaseState state,
      @Mixin Paging paging) {
    LostCasePage page =
        call(() -> context.client().acting().listCases(state, null, paging.after, paging.limit));
    return context.list(
        page,
        page.getItems(),
        c ->
            new Object[] {
              time(c.getOpenedAt()),
              c.getDevice(),
              c.getState() + (c.getOverdue() ? ", overdue" : ""),
              c.getWhat(),
              time(c.getHeardAt()),
              c.getOpenedBy(),
              c.getId()
            },
        "REPORTED",
        "DEVICE",
        "STATE",
        "WHAT",
        "HEARD",
        "BY",
        "ID");
  }

  @Command(mixinStandardHelpOptions = true, description = "Shows what happened in a case.")
  int show(@Parameters(paramLabel = "ID") String id) {
    CaseTimeline t = call(() -> context.client().acting().getCaseTimeline(id));
    return context.list(
        t,
        t.getItems(),
        e -> new Object[] {time(e.getAt()), e.getKind(), e.getText(), e.getBy()},
        "WHEN",
        "KIND",
        "WHAT",
        "BY");
  }

  @Command(mixinStandardHelpOptions = true, description = "Writes something down.")
  int note(
      @Parameters(paramLabel = "ID") String id,
      @Parameters(paramLabel = "TEXT") String text,
      @Option(names = "--told", description = "It says who was told.") boolean told,
      @Option(names = "--file", description = "A stored file that goes with it.")
          @Nullable String file) {
    CaseNote note =
        new CaseNote()
            .text(text)
            .told(told)
            .fileId(file == null ? null : context.file(file).getId());
    CaseTimeline t = call(() -> context.client().acting().addCaseNote(id, note));
    return context.print(t, () -> context.line("Written down."));
  }

  @Command(
      mixinStandardHelpOptions = true,
      description = "Says how often its device is asked where it is.")
  int every(
      @Parameters(paramLabel = "ID") String id,
      @Parameters(paramLabel = "MINUTES", description = "0 for never.") int minutes) {
    return change(id, new CaseChange().everyMinutes(minutes));
  }

  @Command(
      name = "ring-at",
      mixinStandardHelpOptions = true,
      description = "Says at which site its device rings by itself.")
  int ringAt(
      @Parameters(paramLabel = "ID") String id,
      @Parameters(paramLabel = "SITE", arity = "0..1", description = "None for nowhere.")
          @Nullable String site) {
    return change(id, new CaseChange().ringSiteId(site == null ? "" : context.site(site).getId()));
  }

  private int change(String id, CaseChange change) {
    LostCase now = call(() -> context.client().acting().getCase(id));
    LostCase c =
        call(
            () ->
                context
                    .client()
                    .acting()
                    .changeCase(id, Context.onVersion(now.getVersion()), change));
    return context.print(c, () -> context.line("Changed."));
  }

  @Command(
      mixinStandardHelpOptions = true,
      description = "Ends a case with the device found, and put back as it was.")
  int found(
      @Parameters(paramLabel = "ID") String id, @Parameters(paramLabel = "WORDS") String words) {
    return end(id, new CaseEnd().found(true).words(words));
  }

  @Command(
      name = "write-off",
      mixinStandardHelpOptions = true,
      description = "Ends a case without the device.")
  int writeOff(
      @Parameters(paramLabel = "ID") String id,
      @Parameters(paramLabel = "WORDS") String words,
      @Option(names = "--wipe", description = "Wipe it, and retire it once that is proved.")
          boolean wipe,
      @Option(names = "--retire", description = "Retire it at once.") boolean retire) {
    return end(id, new CaseEnd().found(false).words(words).wipe(wipe).retire(retire));
  }

  private int end(String id, CaseEnd end) {
    LostCase now = call(() -> context.client().acting().getCase(id));
    LostCase c =
        call(() -> context.client().acting().endCase(id, Context.onVersion(now.getVersion()), end));
    return context.print(c, () -> context.line("%s: %s.", c.getDevice(), c.getState()));
  }

  @Command(
      mixinStandardHelpOptions = true,
      description = "Makes a paper of a case for the insurer or the police, as PDF.")
  int sheet(@Parameters(paramLabel = "ID") String id, @Parameters(paramLabel = "FILE") Path file) {
    return FileText.keep(context, call(() -> context.client().acting().getCaseSheet(id)), file);
  }
}
