package dev.pinwright.storage;

import java.util.Map;

/**
 * A place in a list that is ordered by a text and an id.
 *
 * @param key the text, as the statement orders by it
 */
public record After(String key, String id) {
  /** Before everything. */
  public static final After START = new After("", "");

  /** The parameters {@code :key}, {@code :id} and {@code :limit} of a page after this place. */
  public Map<String, Object> parameters(int limit) {
    return Map.of("key", key, "id", id, "limit", limit);
  }
}
