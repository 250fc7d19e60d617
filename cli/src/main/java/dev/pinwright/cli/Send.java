package dev.pinwright.cli;

import dev.pinwright.client.model.Dispatch;
import dev.pinwright.client.model.DispatchOrder;
import dev.pinwright.client.model.DispatchPreview;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.UUID;
import java.util.concurrent.Callable;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;

/** One verb for each command of the catalogue. */
@Command(
    mixinStandardHelpOptions = true,
    description = "Orders this command to devices.",
    footer = {
      "",
      "Examples:",
      "  pinwright lock --serial AR10-0042-7731 --text \"Please return me to Norhaven\" \\",
      "    --reason \"missing since Sunday\" --wait",
      "  pinwright message --group Glasshouse --text \"The glasshouse closes at five.\"",
      "  pinwright refresh --tag gallery --confirm 36 --wait",
      "  pinwright restart --where standing=drifted --where platform=tarn --dry-run"
    })
final class Send implements Callable<Integer> {
  static final List<String> COMMANDS =
      List.of("lock", "unlock", "message", "ring", "refresh", "restart", "clear-passcode");

  private final Context context;
  private final String command;

  @Mixin TargetOptions targets = new TargetOptions();

  @Option(names = "--serial", description = "By serial number, several with commas.", split = ",")
  @Nullable List<String> serials;

  @Mixin WhereOptions which = new WhereOptions();

  @Option(names = "--text", description = "Text on the screen.")
  @Nullable String text;

  @Option(names = "--phone", description = "Number to call, on the lock screen.")
  @Nullable String phone;

  @Option(names = "--reason", description = "Why; recorded in the journal.")
  @Nullable String reason;

  @Option(names = "--minutes", description = "How long it waits for a device.")
  @Nullable Long minutes;

  @Option(names = "--confirm", description = "The number of devices, where it is asked for.")
  @Nullable Long confirm;

  @Option(names = "--dry-run", description = "Only say what it would do.")
  boolean dryRun;

  @Option(names = "--wait", description = "Follow it to the end.")
  boolean wait;

  Send(Context context, String command) {
    this.context = context;
    this.command = command;
  }

  @Override
  public Integer call() throws InterruptedException {
    Map<String, String> fields = new HashMap<>();
    if (text != null) {
      fields.put("text", text);
    }
    if (phone != null) {
      fields.put("phone", phone);
    }
    DispatchOrder order =
        new DispatchOrder()
            .command(command)
            .fields(fields)
            .reason(reason)
            .targets(targets.specs(context))
            .serials(serials)
            .matching(which.filter(context))
            .expiresInMinutes(minutes)
            .confirmDevices(confirm);
    if (dryRun) {
      DispatchPreview p = Context.call(() -> context.client().acting().rehearseDispatch(order));
      return context.print(
          p,
          () -> {
            context.line(
                "%s would go to %d devices; %d can carry it out.",
                command, p.getDevices(), p.getAble());
            p.getUnable()
                .forEach(u -> context.line("  %d cannot: %s", u.getDevices(), u.getReason()));
          });
    }
    Dispatch d =
        Context.call(
            () -> context.client().acting().addDispatch(order, UUID.randomUUID().toString()));
    if (wait) {
      return DispatchCommands.follow(context, d.getId());
    }
    return context.print(
        d,
        () ->
            context.line(
                "%s sent to %d devices. Follow with: pinwright dispatch wait %s",
                d.getTitle(), d.getTotal(), d.getId()));
  }
}
