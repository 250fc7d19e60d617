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
   * @param why what keeps it from being finished, and what may be done; empty when nothing does but
   *     time
   */
  public record Step(
      String key, String title, boolean done, Optional<String> wanted, Optional<String> why) {}

  /**
   * How a device stands to what it should hold.
   *
   * @param there whether all of it is on it, but for what it refused
   * @param refused titles of the settings it refused: it is not ready without them
   */
  public record Settings(boolean there, List<String> refused) {
    /** Nothing is on it yet. */
    public static final Settings NONE = new Settings(false, List.of());

    public Settings {
      refused = List.copyOf(refused);
    }

    private Optional<String> why() {
      return refused.isEmpty()
          ? Optional.empty()
          : Optional.of(
              "it refused "
                  + String.join(", ", refused)
                  + "; change that setting, or take it away from this device");
    }
  }

  /** The steps of a device, in the order it takes them. */
  public List<Step> steps(String platform, OsVersion os, Settings settings) {
    List<Step> out = new ArrayList<>();
    if (profiles) {
      out.add(
          new Step(
              "profiles",
              "Settings of your organisation",
              settings.there() && settings.refused().isEmpty(),
              Optional.empty(),
              settings.why()));
    }
    OsVersion wanted = osVersions.get(platform);
    if (wanted != null) {
      out.add(
          new Step(
              "os-update",
              "System update to " + wanted,
              os.atLeast(wanted),
              Optional.of(wanted.toString()),
              Optional.empty()));
    }
    return out;
  }
}
