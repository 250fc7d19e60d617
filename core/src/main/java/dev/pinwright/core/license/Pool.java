package dev.pinwright.core.license;

import java.util.Optional;

/**
 * Licenses of one app for one place.
 *
 * @param site whose devices draw on it; empty where those of every site do
 * @param owned how many were bought
 * @param used how many are in somebody's name, those given away in the portal included
 */
public record Pool(Optional<String> site, long owned, long used) {
  /** How many can still be given. */
  public long free() {
    return Math.max(0, owned - used);
  }
}
