package dev.pinwright.core.device;

import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;

/**
 * How soon what is changed on a device behind our back is put right. At once, as long as it happens
 * now and then; where it happens again and again something on the device does it, and putting it
 * right each time would keep the two at it for ever: then ever later.
 */
public final class Drift {
  /** What happened longer ago does not count. */
  public static final Duration COUNTED = Duration.ofDays(1);

  /** The most times that count. */
  public static final int MOST = 12;

  private static final int AT_ONCE = 3;
  private static final Duration FIRST_WAIT = Duration.ofMinutes(10);

  private Drift() {}

  /**
   * When it is put right.
   *
   * @param before when it was put right within {@link #COUNTED}, latest first
   * @return the moment it waits for; empty for now
   */
  public static Optional<Instant> waits(List<Instant> before, Instant now) {
    if (before.size() < AT_ONCE) {
      return Optional.empty();
    }
    int doubled = Math.min(before.size(), MOST) - AT_ONCE;
    Duration wait = FIRST_WAIT.multipliedBy(1L << doubled);
    Instant next = before.get(0).plus(wait.compareTo(COUNTED) > 0 ? COUNTED : wait);
    return now.isBefore(next) ? Optional.of(next) : Optional.empty();
  }

  /** How a device stands whose settings are left as they are for now. */
  public static Standing.Judgement left(Instant until) {
    return new Standing.Judgement(
        Standing.DRIFTED,
        "its settings are changed on the device again and again; put right when it is first heard"
            + " after "
            + until.toString().substring(0, 16).replace('T', ' ')
            + " UTC");
  }
}
