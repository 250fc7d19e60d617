package dev.pinwright.core.catalog;

import java.util.Optional;

/**
 * Settings that belong together.
 *
 * @param apart whether they are no leaves of a device's policy: they say what else it should have,
 *     and are assigned from pages of their own
 * @param entries there when the section is a collection: several of a kind, each with a key of its
 *     own
 */
public record Section(
    String key, String title, String help, boolean apart, Optional<Entries> entries) {
  /**
   * A collection.
   *
   * @param noun what one of them is called, such as {@code network}
   * @param most how many a profile can have
   * @param decides name of the choice that decides before nearness does which entry of a key wins:
   *     the earlier in its list; empty where nearness alone does
   */
  public record Entries(String noun, int most, Optional<String> decides) {}
}
