package dev.pinwright.core.enrollment;

import dev.pinwright.core.device.OsVersion;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * What must be finished before a device is handed over.
 *
 * @param profiles whether its settings have to be on it
 * @param osVersions the OS version it has to reach, by platform
 */
public record ReadyGate(boolean profiles, Map<String, OsVersion> osVersions) {
  /** A gate that stands open. */
  public static final ReadyGate OPEN = new ReadyGate(false, Map.of());

  public ReadyGate {
    osVersions = Map.copyOf(osVersions);
  }

  /** Whether it holds up a device of this platform at all. */
  public boolean holds(String platform) {
    return profiles || osVersions.containsKey(platform);
  }

  /**
   * One thing to be finished.
   *
   * @param key {@code profiles} or {@code os-update}
   * @param wanted the OS version to reach; empty for other steps
   */
  public record Step(String key, String title, boolean done, Optional<String> wanted) {}

  /** The steps of a device, in the order it takes them. */
  public List<Step> steps(String platform, OsVersion os, boolean settled) {
    List<Step> out = new ArrayList<>();
    if (profiles) {
      out.add(new Step("profiles", "Settings of your organisation", settled, Optional.empty()));
    }
    OsVersion wanted = osVersions.get(platform);
    if (wanted != null) {
      out.add(
          new Step(
              "os-update",
              "System update to " + wanted,
              os.atLeast(wanted),
              Optional.of(wanted.toString())));
    }
    return out;
  }
}
