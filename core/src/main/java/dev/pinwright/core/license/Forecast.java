package dev.pinwright.core.license;

import java.time.Duration;
import java.util.OptionalLong;

/** How long licenses last when they go on being taken as they were lately. */
public final class Forecast {
  /** How far back it is looked at what was taken. */
  public static final Duration LOOKED_AT = Duration.ofDays(28);

  private Forecast() {}

  /**
   * Whole days until none is left.
   *
   * @param taken how many were taken within {@link #LOOKED_AT}, and kept
   * @return 0 when none is left; empty when none was taken, so that they last
   */
  public static OptionalLong daysLeft(long free, long taken) {
    if (free <= 0) {
      return OptionalLong.of(0);
    }
    return taken <= 0 ? OptionalLong.empty() : OptionalLong.of(free * LOOKED_AT.toDays() / taken);
  }
}
