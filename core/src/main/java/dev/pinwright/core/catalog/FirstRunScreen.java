package dev.pinwright.core.catalog;

import java.util.Set;

/**
 * A screen a device shows its holder between joining and the first use.
 *
 * @param platforms where it exists; never empty
 * @param always whether it can never be skipped
 */
public record FirstRunScreen(
    String key, String title, String text, Set<String> platforms, boolean always) {
  public FirstRunScreen {
    platforms = Set.copyOf(platforms);
    if (platforms.isEmpty()) {
      throw new IllegalArgumentException("a first-run screen exists on some platform");
    }
  }
}
