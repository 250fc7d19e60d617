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
 * @param unlicensed that it has no license for it; empty when it has, or needs none
 */
public record AppGoal(
    String id,
    String name,
    Map<String, String> about,
    WantedApp wanted,
    Optional<Release> release,
    String configuration,
    Optional<String> cannot,
    Optional<Unlicensed> unlicensed) {

  /**
   * That a license is missing.
   *
   * @param why in words that follow a colon
   * @param coming whether it is about to be given
   */
  public record Unlicensed(String why, boolean coming) {}

  Presence presence() {
    return wanted.presence();
  }

  /** Why it cannot be had now, whatever was done for it; empty when it can, or soon. */
  public Optional<String> objection() {
    return cannot.or(() -> unlicensed.filter(u -> !u.coming()).map(Unlicensed::why));
  }
}
