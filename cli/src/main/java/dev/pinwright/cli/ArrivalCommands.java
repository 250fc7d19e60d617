package dev.pinwright.cli;

import static dev.pinwright.cli.Context.call;
import static dev.pinwright.cli.Context.time;

import dev.pinwright.client.model.Arrival;
import dev.pinwright.client.model.ArrivalPage;
import dev.pinwright.client.model.Reason;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

/** {@code arrival}. */
@Command(
    name = "arrival",
    mixinStandardHelpOptions = true,
    synopsisSubcommandLabel = "VERB",
    description = "Attempts to join: list, approve, refuse.")
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
      @Mixin Paging paging) {
    ArrivalPage page =
        call(() -> context.client().intake().listArrivals(outcome, paging.after, paging.limit));
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
              a.getReason(),
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

  @Command(mixinStandardHelpOptions = true, description = "Lets a waiting device in.")
  int approve(@Parameters(paramLabel = "ID") String id) {
    Arrival a = call(() -> context.client().intake().approveArrival(id));
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
