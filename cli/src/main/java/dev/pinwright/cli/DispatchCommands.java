package dev.pinwright.cli;

import static dev.pinwright.cli.Context.call;
import static dev.pinwright.cli.Context.time;

import dev.pinwright.client.model.Cancelled;
import dev.pinwright.client.model.CommandKey;
import dev.pinwright.client.model.CommandPage;
import dev.pinwright.client.model.CommandState;
import dev.pinwright.client.model.Dispatch;
import dev.pinwright.client.model.DispatchOrder;
import dev.pinwright.client.model.DispatchPage;
import java.nio.file.Path;
import java.time.LocalDate;
import java.time.OffsetDateTime;
import java.time.ZoneId;
import java.util.Map;
import java.util.UUID;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

/** {@code dispatch}. */
@Command(
    name = "dispatch",
    mixinStandardHelpOptions = true,
    synopsisSubcommandLabel = "VERB",
    description =
        "Orders of a command to many devices: list, show, wait, brought, cancel, again;"
            + " and of single commands over all devices: commands, export.")
final class DispatchCommands {
  private static final long POLL_MILLIS = 300;
  private final Context context;

  DispatchCommands(Context context) {
    this.context = context;
  }

  @Command(mixinStandardHelpOptions = true, description = "Lists dispatches, newest first.")
  int list(@Mixin Paging paging) {
    DispatchPage page =
        call(() -> context.client().acting().listDispatches(paging.after, paging.limit));
    return context.list(
        page,
        page.getItems(),
        d ->
            new Object[] {
              time(d.getAt()),
              d.getTitle(),
              d.getActor(),
              d.getTotal(),
              states(d.getStates()),
              d.getReason(),
              d.getId()
            },
        "WHEN",
        "COMMAND",
        "BY",
        "DEVICES",
        "STATES",
        "REASON",
        "ID");
  }

  private static String states(Map<String, Long> states) {
    return states.entrySet().stream()
        .map(e -> e.getValue() + " " + e.getKey())
        .collect(Collectors.joining(", "));
  }

  @Command(mixinStandardHelpOptions = true, description = "Shows a dispatch device by device.")
  int show(
      @Parameters(paramLabel = "ID") String id,
      @Option(names = "--state", defaultValue = "") String state,
      @Mixin Paging paging) {
    CommandPage page =
        call(
            () ->
                context
                    .client()
                    .acting()
                    .getDispatchCommands(id, state, paging.after, paging.limit));
    return context.print(page, () -> table(page));
  }

  static Table table(CommandPage page) {
    Table t =
        new Table(
            "DEVICE", "COMMAND", "STATE", "ANSWER", "WHY", "BY", "QUEUED", "DELIVERED", "ENDED");
    page.getItems()
        .forEach(
            c ->
                t.row(
                    c.getDevice(),
                    c.getTitle(),
                    c.getState(),
                    c.getAnswer(),
                    c.getReason(),
                    c.getBy(),
                    time(c.getQueuedAt()),
                    time(c.getDeliveredAt()),
                    time(c.getEndedAt())));
    return t;
  }

  /** Which commands are asked for. */
  static final class Asked {
    @Option(names = "--search", description = "Words of the device's name.")
    @Nullable String words;

    @Option(names = "--command", description = "Such as lock.")
    @Nullable CommandKey command;

    @Option(names = "--state", description = "Such as failed.")
    @Nullable CommandState state;

    @Option(names = "--by", description = "Login of whoever ordered it.")
    @Nullable String by;

    @Option(names = "--device", description = "By name, serial, IMEI or id.")
    @Nullable String device;

    @Option(
        names = "--since",
        paramLabel = "YYYY-MM-DD",
        description = "Not what was ordered before that day.")
    @Nullable LocalDate since;

    private @Nullable String deviceId(Context context) {
      return device == null ? null : context.device(device).getId();
    }

    private @Nullable OffsetDateTime from() {
      return since == null ? null : since.atStartOfDay(ZoneId.systemDefault()).toOffsetDateTime();
    }
  }

  @Command(
      mixinStandardHelpOptions = true,
      description = "Lists single commands over all devices, newest first.")
  int commands(@Mixin Asked asked, @Mixin Paging paging) {
    String device = asked.deviceId(context);
    CommandPage page =
        call(
            () ->
                context
                    .client()
                    .acting()
                    .listCommands(
                        asked.words,
                        asked.command,
                        asked.state,
                        asked.by,
                        device,
                        null,
                        asked.from(),
                        paging.after,
                        paging.limit));
    return context.print(page, () -> table(page));
  }

  @Command(
      mixinStandardHelpOptions = true,
      description = "Writes single commands over all devices into a sheet, newest first.")
  int export(@Parameters(paramLabel = "FILE") Path file, @Mixin Asked asked) {
    String device = asked.deviceId(context);
    return FileText.keep(
        context,
        call(
            () ->
                context
                    .client()
                    .acting()
                    .exportCommands(
                        asked.words,
                        asked.command,
                        asked.state,
                        asked.by,
                        device,
                        null,
                        asked.from())),
        file);
  }

  @Command(
      mixinStandardHelpOptions = true,
      description =
          "Shows what a dispatch brought back: what scripts wrote and what runs on laptops;"
              + " screenshots are saved as files. That you looked is recorded.")
  int brought(
      @Parameters(paramLabel = "ID") String id,
      @Option(
              names = "--to",
              paramLabel = "FOLDER",
              defaultValue = ".",
              description = "Where screenshots are saved; here without.")
          Path to,
      @Mixin Paging paging) {
    CommandPage page =
        call(
            () ->
                context.client().acting().getDispatchCommands(id, "", paging.after, paging.limit));
    return new BroughtBack(context, to).show(page);
  }

  @Command(
      name = "wait",
      mixinStandardHelpOptions = true,
      description = "Follows a dispatch to its end.")
  int waitFor(@Parameters(paramLabel = "ID") String id) throws InterruptedException {
    return follow(context, id);
  }

  static int follow(Context context, String id) throws InterruptedException {
    Dispatch d = call(() -> context.client().acting().getDispatch(id));
    String shown = "";
    while (!d.getEnded()) {
      String now = states(d.getStates());
      if (!now.equals(shown)) {
        System.err.println(now);
        shown = now;
      }
      Thread.sleep(POLL_MILLIS);
      d = call(() -> context.client().acting().getDispatch(id));
    }
    Dispatch end = d;
    CommandPage failed =
        call(() -> context.client().acting().getDispatchCommands(id, "failed", null, 20));
    context.print(
        end,
        () -> {
          context.line("%s: %s.", end.getTitle(), states(end.getStates()));
          end.getAnswers().forEach((answer, n) -> context.line("  %d answered: %s", n, answer));
          failed.getItems().forEach(c -> context.line("  %s: %s", c.getDevice(), c.getReason()));
        });
    return end.getStates().keySet().equals(java.util.Set.of("done")) ? 0 : Failure.SOME_FAILED;
  }

  @Command(mixinStandardHelpOptions = true, description = "Cancels what has not been delivered.")
  int cancel(@Parameters(paramLabel = "ID") String id) {
    Cancelled c = call(() -> context.client().acting().cancelDispatch(id));
    return context.print(
        c, () -> context.line("%s cancelled.", Context.counted(c.getCancelled(), "command")));
  }

  @Command(
      mixinStandardHelpOptions = true,
      description = "Orders it again for the devices on which it failed or expired.")
  int again(
      @Parameters(paramLabel = "ID") String id,
      @Option(names = "--reason", description = "Why; as before without it.")
          @Nullable String reason,
      @Option(
              names = "--confirm",
              paramLabel = "NUMBER",
              description = "How many devices, where that is asked.")
          @Nullable Long confirm) {
    Dispatch before = call(() -> context.client().acting().getDispatch(id));
    DispatchOrder order =
        new DispatchOrder()
            .command(CommandKey.fromValue(String.valueOf(before.getCommand())))
            .fields(before.getFields())
            .reason(reason == null ? before.getReason() : reason)
            .again(id)
            .confirmDevices(confirm);
    Dispatch made =
        call(() -> context.client().acting().addDispatch(order, UUID.randomUUID().toString()));
    return context.print(
        made,
        () ->
            context.line(
                "%s ordered again for %s: %s",
                made.getTitle(), Context.counted(made.getTotal(), "device"), made.getId()));
  }
}
