package dev.pinwright.cli;

import static dev.pinwright.cli.Context.call;
import static dev.pinwright.cli.Context.time;

import dev.pinwright.client.model.Arrival;
import dev.pinwright.client.model.ArrivalPage;
import dev.pinwright.client.model.Funnel;
import dev.pinwright.client.model.Reason;
import dev.pinwright.client.model.Settlement;
import java.nio.file.Path;
import java.time.LocalDate;
import java.time.OffsetDateTime;
import java.time.ZoneId;
import java.util.List;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

/** {@code arrival}. */
@Command(
    name = "arrival",
    mixinStandardHelpOptions = true,
    synopsisSubcommandLabel = "VERB",
    description =
        "Attempts to join: list, export, funnel, approve, refuse, approve-all, refuse-all.")
final class ArrivalCommands {
  private final Context context;

  ArrivalCommands(Context context) {
    this.context = context;
  }

  @Command(mixinStandardHelpOptions = true, description = "Lists arrivals, newest first.")
  int list(
      @Option(
              names = "--outcome",
              defaultValue = "",
              description = "under-way, waiting, done, refused or abandoned.")
          String outcome,
      @Parameters(
              arity = "0..1",
              defaultValue = "",
              description = "Words in identifier, model, device or enrollment profile.")
          String words,
      @Option(names = "--today", description = "Only since midnight.") boolean today,
      @Mixin Paging paging) {
    ArrivalPage page =
        call(
            () ->
                context
                    .client()
                    .intake()
                    .listArrivals(outcome, words, since(today), paging.after, paging.limit));
    return context.list(
        page,
        page.getItems(),
        a ->
            new Object[] {
              time(a.getStartedAt()),
              a.getDevice() == null ? a.getModel() : a.getDevice(),
              a.getIdentifier(),
              a.getProfile(),
              a.getOutcome(),
              a.getReason() + (a.getAdvice() == null ? "" : ". " + a.getAdvice()),
              a.getId()
            },
        "WHEN",
        "DEVICE",
        "IDENTIFIER",
        "BY",
        "OUTCOME",
        "WHY",
        "ID");
  }

  @Command(
      mixinStandardHelpOptions = true,
      description = "Writes arrivals, or those that match, as a sheet (CSV).")
  int export(
      @Parameters(paramLabel = "FILE") Path file,
      @Parameters(
              arity = "0..1",
              defaultValue = "",
              description = "Words in identifier, model, device or enrollment profile.")
          String words,
      @Option(
              names = "--outcome",
              defaultValue = "",
              description = "under-way, waiting, done, refused or abandoned.")
          String outcome,
      @Option(names = "--today", description = "Only since midnight.") boolean today) {
    return FileText.keep(
        context,
        call(() -> context.client().intake().exportArrivals(outcome, words, since(today))),
        file);
  }

  private static @Nullable OffsetDateTime since(boolean today) {
    return today ? LocalDate.now().atStartOfDay(ZoneId.systemDefault()).toOffsetDateTime() : null;
  }

  @Command(
      mixinStandardHelpOptions = true,
      description = "Shows how far arrivals came and where they stopped.")
  int funnel(@Option(names = "--today", description = "Only since midnight.") boolean today) {
    Funnel f = call(() -> context.client().intake().getFunnel(since(today)));
    return context.print(
        f,
        () -> {
          Table t =
              new Table("STEP", "DEVICES")
                  .row("asked", f.getAsked())
                  .row("let in", f.getLetIn())
                  .row("managed", f.getManaged())
                  .row("waiting", f.getWaiting())
                  .row("abandoned", f.getAbandoned())
                  .row("refused", f.getRefused());
          f.getRefusals().forEach((why, n) -> t.row("  " + why, n));
          return t;
        });
  }

  @Command(
      name = "approve-all",
      mixinStandardHelpOptions = true,
      description = "Lets every waiting device in.")
  int approveAll() {
    return all(true, null);
  }

  @Command(
      name = "refuse-all",
      mixinStandardHelpOptions = true,
      description = "Refuses every waiting device.")
  int refuseAll(@Option(names = "--reason") @Nullable String reason) {
    return all(false, reason);
  }

  private int all(boolean approve, @Nullable String reason) {
    List<String> ids =
        call(() -> context.client().intake().listArrivals("waiting", "", null, null, 200))
            .getItems()
            .stream()
            .map(Arrival::getId)
            .toList();
    if (ids.isEmpty()) {
      context.line("Nobody waits.");
      return 0;
    }
    Long n =
        call(
            () ->
                context
                    .client()
                    .intake()
                    .settleArrivals(new Settlement().ids(ids).approve(approve).reason(reason))
                    .getCount());
    context.line("%d %s.", n, approve ? "let in" : "refused");
    return 0;
  }

  @Command(mixinStandardHelpOptions = true, description = "Lets a waiting device in.")
  int approve(@Parameters(paramLabel = "ID") String id) {
    Arrival a = call(() -> context.client().intake().approveArrival(id));
    return context.print(a, () -> context.line("%s: %s.", a.getIdentifier(), a.getReason()));
  }

  @Command(
      mixinStandardHelpOptions = true,
      description = "Lets a refused device try again: lifts a refusal, or puts it on the roster.")
  int retry(@Parameters(paramLabel = "ID") String id) {
    Arrival a = call(() -> context.client().intake().retryArrival(id));
    return context.print(a, () -> context.line("%s: %s.", a.getIdentifier(), a.getReason()));
  }

  @Command(mixinStandardHelpOptions = true, description = "Refuses a waiting device.")
  int refuse(
      @Parameters(paramLabel = "ID") String id,
      @Option(names = "--reason", defaultValue = "") String reason) {
    Arrival a =
        call(() -> context.client().intake().refuseArrival(id, new Reason().reason(reason)));
    return context.print(a, () -> context.line("%s: refused.", a.getIdentifier()));
  }
}
