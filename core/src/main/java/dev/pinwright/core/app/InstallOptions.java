package dev.pinwright.core.app;

import java.util.Optional;
import java.util.stream.Collectors;
import java.util.stream.Stream;

/**
 * How an app gets onto a device and off it again.
 *
 * @param takeOver whether a copy the holder had becomes the organisation's
 * @param wifiOnly whether the package waits for a Wi-Fi network
 * @param chargingOnly whether it waits until the device is charging
 * @param hours times of the week it may be installed in, see {@code Hours}; empty for any
 * @param removeWithManagement whether it goes when the device is no longer managed
 */
public record InstallOptions(
    boolean takeOver,
    boolean wifiOnly,
    boolean chargingOnly,
    Optional<String> hours,
    boolean removeWithManagement) {
  /** At once, and for as long as nobody removes it. */
  public static final InstallOptions PLAIN =
      new InstallOptions(false, false, false, Optional.empty(), false);

  /** These, with times where they have none of their own. */
  public InstallOptions at(Optional<String> times) {
    return new InstallOptions(
        takeOver, wifiOnly, chargingOnly, hours.or(() -> times), removeWithManagement);
  }

  /** What it waits for on the device, in words; empty where it comes in at once. */
  public Optional<String> waits() {
    String words =
        Stream.of(
                wifiOnly ? "on Wi-Fi" : "", chargingOnly ? "while charging" : "", hours.orElse(""))
            .filter(w -> !w.isEmpty())
            .collect(Collectors.joining(", "));
    return Optional.of(words).filter(w -> !w.isEmpty());
  }
}
