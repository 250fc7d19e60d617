package dev.pinwright.core.license;

import java.util.Collection;
import java.util.Optional;

/**
 * Devices or holders that are to have an app and have no license for it.
 *
 * @param site where they are; empty for those that are nowhere
 */
public record Demand(Optional<String> site, long wanting) {

  /**
   * How many of them go without. Each draws on the pools of its own site first, then on those of no
   * site.
   *
   * @param pools of one app
   */
  public static long lacking(Collection<Demand> demands, Collection<Pool> pools) {
    long left = 0;
    for (Demand d : demands) {
      long own = d.site().isEmpty() ? 0 : free(pools, d.site());
      left += Math.max(0, d.wanting() - own);
    }
    return Math.max(0, left - free(pools, Optional.empty()));
  }

  private static long free(Collection<Pool> pools, Optional<String> site) {
    return pools.stream().filter(p -> p.site().equals(site)).mapToLong(Pool::free).sum();
  }
}
