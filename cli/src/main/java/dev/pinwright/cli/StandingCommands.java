package dev.pinwright.cli;

import static dev.pinwright.cli.Context.call;
import static dev.pinwright.cli.Context.time;

import dev.pinwright.client.model.DayOfWeek;
import dev.pinwright.client.model.DispatchOrder;
import dev.pinwright.client.model.StandingOrder;
import dev.pinwright.client.model.StandingOrderDraft;
import dev.pinwright.client.model.StandingOrderPage;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Parameters;

/** {@code standing}. */
@Command(
    name = "standing",
    mixinStandardHelpOptions = true,
    synopsisSubcommandLabel = "VERB",
    description = "Commands that repeat: list, delete. They are made with --every of a command.",
    footer = {
      "",
      "Examples:",
      "  pinwright restart --unit VM-HAR --every daily@02:00 --called \"Nightly restart\"",
      "  pinwright standing list"
    })
final class StandingCommands {
  private final Context context;

  StandingCommands(Context context) {
    this.context = context;
  }

  /** Keeps an order, to be ordered again and again. */
  static int keep(Context context, DispatchOrder order, String every, String name) {
    String[] parts = every.split("@", 2);
    List<DayOfWeek> days = new ArrayList<>();
    if (parts.length == 2) {
      for (String d : parts[0].toLowerCase(Locale.ROOT).split(",")) {
        Stream.of(DayOfWeek.values())
            .filter(
                day -> d.equals("daily") || d.length() > 1 && day.getValue().startsWith(d.strip()))
            .filter(day -> !days.contains(day))
            .forEach(days::add);
      }
    }
    if (days.isEmpty()) {
      throw new Failure(
          Failure.USAGE,
          "--every is written like mon,thu@02:00 or daily@02:00, not " + every + ".");
    }
    StandingOrderDraft draft =
        new StandingOrderDraft()
            .name(name)
            .order(order)
            .days(days)
            .time(parts[1])
            .zone(ZoneId.systemDefault().getId());
    StandingOrder made = call(() -> context.client().acting().addStandingOrder(draft));
    return context.print(
        made,
        () ->
            context.line(
                "%s is kept for %s; ordered next %s.",
                made.getName(), made.getWhom(), time(made.getNextAt())));
  }

  @Command(mixinStandardHelpOptions = true, description = "Lists standing orders by name.")
  int list(@Mixin Paging paging) {
    StandingOrderPage page =
        call(() -> context.client().acting().listStandingOrders(paging.after, paging.limit));
    return context.list(
        page,
        page.getItems(),
        o ->
            new Object[] {
              o.getName(),
              o.getTitle(),
              o.getWhom(),
              o.getDays().stream()
                      .map(d -> d.getValue().substring(0, 3))
                      .collect(Collectors.joining(","))
                  + "@"
                  + o.getTime(),
              time(o.getNextAt()),
              o.getFault().isEmpty() ? time(o.getLastAt()) : o.getFault(),
              o.getMadeBy(),
              o.getId()
            },
        "NAME",
        "WHAT",
        "FOR",
        "WHEN",
        "NEXT",
        "LAST",
        "BY",
        "ID");
  }

  @Command(mixinStandardHelpOptions = true, description = "Deletes a standing order.")
  int delete(@Parameters(paramLabel = "ID") String id) {
    StandingOrder o = call(() -> context.client().acting().getStandingOrder(id));
    call(
        () -> {
          context.client().acting().deleteStandingOrder(id, Context.onVersion(o.getVersion()));
          return true;
        });
    return context.print(o, () -> context.line("%s is deleted.", o.getName()));
  }
}
