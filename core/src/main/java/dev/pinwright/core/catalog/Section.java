package dev.pinwright.core.catalog;

import java.util.Optional;

/**
 * Settings that belong together.
 *
 * @param entries there when the section is a collection: several of a kind, each with a key of its
 *     own
 */
public record Section(String key, String title, String help, Optional<Entries> entries) {
  /**
   * A collection.
   *
   * @param noun what one of them is called, such as {@code network}
   * @param most how many a profile can have
   */
  public record Entries(String noun, int most) {}
}
