package dev.pinwright.core.organisation;

import dev.pinwright.core.Fault;
import dev.pinwright.core.catalog.Hours;
import java.util.Optional;

/**
 * When packages that are too large for the line of a site by day come in there.
 *
 * @param aboveMegabytes those of more than so many million bytes, 0 to 100 000
 * @param hours times of the week, see {@link Hours}
 */
public record LargePackages(int aboveMegabytes, String hours) {
  private static final int MOST = 100_000;
  private static final long MEGABYTE = 1_000_000;

  /**
   * @throws Fault saying which part is wrong
   */
  public LargePackages {
    if (aboveMegabytes < 0 || aboveMegabytes > MOST) {
      throw new Fault(
          "/aboveMegabytes",
          "Packages are large above 0 to 100000 MB, not " + aboveMegabytes + ".");
    }
    if (Hours.read(hours).isEmpty()) {
      throw new Fault(
          "/hours", "Times of the week are written as Mon-Fri 20:00-06:00; Sat,Sun 00:00-23:59.");
    }
  }

  /** When a package of so many bytes comes in; empty for at any time. */
  public Optional<String> hours(long bytes) {
    return bytes > aboveMegabytes * MEGABYTE ? Optional.of(hours) : Optional.empty();
  }
}
