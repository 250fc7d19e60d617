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
import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;

/** What a session has to do with what is the device's own. */
final class OwnPart {
  private static final String KIOSK_LEFT = "kiosk-left";

  /** Most times a message tells that are noted. */
  private static final int MOST_LEFT = 20;

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
   * Notes that a kiosk was left by codes, of which nobody here knew. What was told before, in a
   * session that broke off, is not noted again.
   *
   * @param told when, as the device tells it (RFC 3339)
   */
  static void kioskLeft(UseCases.Act act, DeviceRow device, List<String> told) {
    ActivityStore activity = new ActivityStore(act.tx());
    told.stream()
        .limit(MOST_LEFT)
        .map(t -> when(device, t, act.now()))
        .distinct()
        .filter(when -> !activity.has(device.id, when, KIOSK_LEFT))
        .forEach(
            when -> {
              activity.add(device.id, when, KIOSK_LEFT, "Its kiosk was left by a code typed on it");
              act.done(
                  Noun.DEVICE,
                  KIOSK_LEFT,
                  device.id,
                  device.name + ": its kiosk was left by a code at " + when);
            });
  }

  /** The second a device names; this one where it names none it can have been in. */
  private static Instant when(DeviceRow device, String told, Instant now) {
    return moment(told)
        .filter(t -> t.isBefore(now) && t.isAfter(device.enrolledAt))
        .orElse(now)
        .truncatedTo(ChronoUnit.SECONDS);
  }

  private static Optional<Instant> moment(String told) {
    try {
      return Optional.of(Instant.parse(told));
    } catch (DateTimeParseException e) {
      return Optional.empty();
    }
  }
}
