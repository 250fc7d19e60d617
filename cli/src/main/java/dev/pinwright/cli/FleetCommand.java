package dev.pinwright.cli;

import dev.pinwright.client.model.Fleet;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;

/** {@code fleet}. */
@Command(
    name = "fleet",
    mixinStandardHelpOptions = true,
    description = "Says how all devices stand.")
final class FleetCommand implements Callable<Integer> {
  private final Context context;

  FleetCommand(Context context) {
    this.context = context;
  }

  @Override
  public Integer call() {
    Fleet fleet = Context.call(() -> context.client().devices().getFleet());
    return context.print(
        fleet,
        () -> {
          Table t = new Table("STANDING", "DEVICES");
          fleet.getByStanding().forEach(t::row);
          return t.row("all", fleet.getTotal()).row("connected now", fleet.getOnline());
        });
  }
}
