package dev.pinwright.cli;

import static dev.pinwright.cli.Context.call;
import static dev.pinwright.cli.Context.time;

import dev.pinwright.client.model.Revocation;
import dev.pinwright.client.model.Wipe;
import dev.pinwright.client.model.WipeKind;
import dev.pinwright.client.model.WipePage;
import dev.pinwright.client.model.WipeStage;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

/** {@code wipes}. */
@Command(
    name = "wipes",
    mixinStandardHelpOptions = true,
    synopsisSubcommandLabel = "VERB",
    description =
        "Wipes, whether they happened and how that is known: list, show, revoke. They are ordered"
            + " with wipe and wipe-work.",
    footer = {
      "",
      "Examples:",
      "  pinwright wipe --device \"Quay door\" --reason \"left on the ferry\" --retire",
      "  pinwright wipes list --open",
      "  pinwright wipes revoke 01J… --reason \"found at home\""
    })
final class WipeCommands {
  private final Context context;

  WipeCommands(Context context) {
    this.context = context;
  }

  @Command(mixinStandardHelpOptions = true, description = "Lists wipes, newest first.")
  int list(
      @Option(names = "--device", description = "Of one device, by name, serial number or id.")
          @Nullable String device,
      @Option(names = "--open", description = "Only those that are not over.") boolean open,
      @Mixin Paging paging) {
    String id = device == null ? null : context.device(device).getId();
    WipePage page =
        call(
            () ->
                context
                    .client()
                    .acting()
                    .listWipes(id, open ? true : null, paging.after, paging.limit));
    return context.list(
        page,
        page.getItems(),
        w ->
            new Object[] {
              time(w.getAskedAt()),
              w.getDevice(),
              w.getKind() == WipeKind.DEVICE ? "whole device" : "work part",
              stage(w),
              w.getReason(),
              w.getAgreedBy() == null ? w.getActor() : w.getActor() + ", " + w.getAgreedBy(),
              w.getId()
            },
        "WHEN",
        "DEVICE",
        "WHAT",
        "STAGE",
        "WHY",
        "BY",
        "ID");
  }

  private static String stage(Wipe w) {
    return w.getStage() == WipeStage.PROVED
        ? "proved: " + w.getProof()
        : w.getStage() == WipeStage.BEGUN ? "said so, not proved" : w.getStage().toString();
  }

  @Command(mixinStandardHelpOptions = true, description = "Shows a wipe, and what it took.")
  int show(@Parameters(paramLabel = "ID") String id) {
    Wipe w = call(() -> context.client().acting().getWipe(id));
    return context.print(w, () -> told(w));
  }

  private static Table told(Wipe w) {
    Table t = new Table(w.getDevice(), stage(w));
    t.row("ordered by " + w.getActor() + ": " + w.getReason(), time(w.getAskedAt()));
    t.row("with the device", time(w.getDeliveredAt()));
    t.row("it says that it begins", time(w.getBegunAt()));
    if (w.getDeniedAt() != null) {
      t.row("it spoke as if nothing had happened", time(w.getDeniedAt()));
    }
    t.row("proved", time(w.getProvedAt()));
    if (w.getRevokedAt() != null) {
      t.row("revoked by " + w.getRevokedBy(), time(w.getRevokedAt()));
      t.row("everything is back", time(w.getRestoredAt()));
    }
    w.getBefore().forEach(b -> t.row("it took " + b, ""));
    w.getAfter().forEach(a -> t.row("still there: " + a, ""));
    return t;
  }

  @Command(
      mixinStandardHelpOptions = true,
      description = "Revokes the wipe of a work part: everything comes back by itself.")
  int revoke(
      @Parameters(paramLabel = "ID") String id,
      @Option(names = "--reason", required = true, description = "Why.") String reason) {
    Wipe w = call(() -> context.client().acting().revokeWipe(id, new Revocation().reason(reason)));
    return context.print(
        w,
        () ->
            context.line(
                "Revoked. What it took comes back to %s once that is heard.", w.getDevice()));
  }
}
