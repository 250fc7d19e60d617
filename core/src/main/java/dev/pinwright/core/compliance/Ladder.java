package dev.pinwright.core.compliance;

import dev.pinwright.core.Words;
import java.time.Duration;
import java.time.Instant;
import java.util.Optional;
import java.util.stream.Stream;

/**
 * What follows from a finding, in hours since it was found. Each step is taken once its time has
 * come and stays until the finding is gone.
 *
 * @param grace until then the device still counts as in order
 * @param holder when the device tells its holder; empty for never
 * @param house when the administrators are told; empty for never
 * @param withhold when it loses what kits give only to devices in order; empty for never, and never
 *     before the grace is over
 */
public record Ladder(
    int grace, Optional<Integer> holder, Optional<Integer> house, Optional<Integer> withhold) {
  /** Longest time a step waits: a year, in hours. */
  public static final int MOST = 8_784;

  /** Three days; the holder hears of it at once, the administrators when they are over. */
  public static final Ladder USUAL =
      new Ladder(72, Optional.of(0), Optional.of(72), Optional.empty());

  public Ladder {
    Stream.of(Optional.of(grace), holder, house, withhold)
        .flatMap(Optional::stream)
        .filter(hours -> hours < 0 || hours > MOST)
        .findFirst()
        .ifPresent(
            hours -> {
              throw new IllegalArgumentException(
                  "a step waits from 0 to " + MOST + " hours, not " + hours);
            });
    int least = grace;
    if (withhold.filter(hours -> hours < least).isPresent()) {
      throw new IllegalArgumentException(
          "nothing is withheld before the grace of " + Words.counted(grace, "hour") + " is over");
    }
  }

  /** How a device is with a finding. */
  public Order order(Instant since, Instant now) {
    return reached(Optional.of(grace), since, now) ? Order.OUT_OF_ORDER : Order.IN_GRACE;
  }

  /** Until when the device still counts as in order. */
  public Instant due(Instant since) {
    return since.plus(Duration.ofHours(grace));
  }

  /** Whether a step is taken by now. */
  public static boolean reached(Optional<Integer> step, Instant since, Instant now) {
    return step.filter(hours -> !now.isBefore(since.plus(Duration.ofHours(hours)))).isPresent();
  }
}
