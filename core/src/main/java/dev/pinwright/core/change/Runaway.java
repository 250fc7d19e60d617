package dev.pinwright.core.change;

import dev.pinwright.core.Words;
import java.util.Optional;

/**
 * The limit of devices that one person alone may wipe or release within an hour. It stops what runs
 * away and what a stolen sign-in orders; two together are not held up by it.
 *
 * @param most devices in an hour, from 0, where two are always needed
 */
public record Runaway(long most) {
  /** As long as the owner says nothing. */
  public static final Runaway USUAL = new Runaway(10);

  /** The highest it may be set to. */
  public static final long HIGHEST = 100_000;

  public Runaway {
    if (most < 0 || most > HIGHEST) {
      throw new IllegalArgumentException(
          "devices one person may wipe in an hour are from 0 to " + HIGHEST);
    }
  }

  /**
   * Why so many more are too many; empty when they are not.
   *
   * @param before ordered by one person alone in the last hour, by whomever
   */
  public Optional<String> objection(long before, long more) {
    if (before + more <= most) {
      return Optional.empty();
    }
    return Optional.of(
        before == 0
            ? "One person alone may wipe or release "
                + Words.counted(most, "device")
                + " in an hour."
            : Words.counted(before, "device")
                + (before == 1 ? " was" : " were")
                + " wiped or released in the last hour; one person alone may do so with "
                + Words.counted(most, "device")
                + ".");
  }
}
