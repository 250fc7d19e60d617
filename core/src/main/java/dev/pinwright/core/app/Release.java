package dev.pinwright.core.app;

import dev.pinwright.core.device.OsVersion;
import java.util.Map;
import java.util.Optional;

/**
 * One version of an app.
 *
 * @param code rises with each version
 * @param version as people write it
 * @param lowest the platforms it is for, each with the lowest OS version it runs on
 * @param bytes size of its package
 * @param sha256 lower-case hex SHA-256 of its package, under which it is fetched
 * @param address where its store serves it, or the cache of a site; empty where it is fetched here
 */
public record Release(
    long code,
    String version,
    Map<String, OsVersion> lowest,
    long bytes,
    String sha256,
    Optional<String> address) {
  public Release {
    lowest = Map.copyOf(lowest);
  }

  /** Why devices of a platform cannot have it; empty when some can. */
  public Optional<String> objection(String platform) {
    return lowest.containsKey(platform)
        ? Optional.empty()
        : Optional.of("version " + version + " is not for " + platform);
  }

  /** Why a device cannot have it; empty when it can. */
  public Optional<String> objection(String platform, OsVersion os) {
    return objection(platform)
        .or(
            () ->
                os.atLeast(lowest.get(platform))
                    ? Optional.empty()
                    : Optional.of(
                        "version "
                            + version
                            + " needs "
                            + platform
                            + " "
                            + lowest.get(platform)
                            + " or later, and this is "
                            + os));
  }
}
