package dev.pinwright.service.session;

import dev.pinwright.core.session.Holding;
import dev.pinwright.core.tree.Tree;
import dev.pinwright.service.own.Selves;
import dev.pinwright.service.usecase.Noun;
import dev.pinwright.service.usecase.UseCases;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.device.ActivityStore;
import dev.pinwright.storage.row.DeviceRow;
import java.time.Instant;
import java.time.format.DateTimeParseException;
import java.time.temporal.ChronoUnit;
import java.util.Optional;
import java.util.stream.Stream;

/** What a session has to do with what is the device's own. */
final class OwnPart {
  private OwnPart() {}

  /** What is known of what a device holds of its own, by the digest it tells. */
  static Holding begin(Selves.Wanted wanted, String told) {
    Holding holding = Holding.reporting(Optional.of(told));
    if (wanted.asLeft(told)) {
      return holding.knowing(wanted.tree()); // whatever of it the device turned down then
    }
    return Stream.of(wanted.tree(), Tree.EMPTY)
        .filter(t -> t.digest().equals(told))
        .findFirst()
        .map(holding::knowing)
        .orElse(holding);
  }

  /**
   * Notes what a device made of what is its own, so that it is not told again.
   *
   * @param without what it turned down in this session
   */
  static void end(Tx tx, String deviceId, Selves.Wanted wanted, Holding holding, Tree without) {
    boolean news = holding.reported().filter(wanted::asLeft).isEmpty();
    if (news && (holding.matches(without) || holding.stuck())) {
      holding.digest(without).ifPresent(d -> Selves.told(tx, deviceId, wanted, d));
    }
  }

  /**
   * Notes that a kiosk was left by a code, of which nobody here knew.
   *
   * @param told when, as the device tells it (RFC 3339)
   */
  static void kioskLeft(UseCases.Act act, DeviceRow device, String told) {
    Instant when = moment(told).filter(t -> t.isBefore(act.now())).orElse(act.now());
    new ActivityStore(act.tx())
        .add(device.id, when, "kiosk-left", "Its kiosk was left by a code typed on it");
    act.done(
        Noun.DEVICE,
        "kiosk-left",
        device.id,
        device.name + ": its kiosk was left by a code at " + when.truncatedTo(ChronoUnit.SECONDS));
  }

  private static Optional<Instant> moment(String told) {
    try {
      return Optional.of(Instant.parse(told));
    } catch (DateTimeParseException e) {
      return Optional.empty();
    }
  }
}
