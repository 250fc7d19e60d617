package dev.pinwright.core.catalog;

import dev.pinwright.core.device.Ownership;
import java.util.Set;

/**
 * Something a device knows of itself, read from {@code ./Vendor/Pinwright/Facts/<key>}.
 *
 * @param key {@code section/name}, its path below Facts
 * @param title for people
 * @param unit {@code bytes}, {@code percent} … or empty
 * @param collectedOn ownerships on which it is collected at all; it is dropped on the others
 */
public record FactField(String key, String title, String unit, Set<Ownership> collectedOn) {
  public FactField {
    collectedOn = Set.copyOf(collectedOn);
  }
}
