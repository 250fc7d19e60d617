package dev.pinwright.core.app;

import java.util.Map;
import java.util.Optional;

/**
 * An app as one device should have it.
 *
 * @param id see {@link AppId}
 * @param name for people
 * @param about what else is said of it on the shelf, by name: publisher, summary, category
 * @param release what it is to have; empty where it is forbidden or comes with the OS
 * @param configuration digest of the configuration that is to be in force; empty for none
 * @param cannot why this device cannot have it; empty when it can
 */
public record AppGoal(
    String id,
    String name,
    Map<String, String> about,
    WantedApp wanted,
    Optional<Release> release,
    String configuration,
    Optional<String> cannot) {
  Presence presence() {
    return wanted.presence();
  }
}
