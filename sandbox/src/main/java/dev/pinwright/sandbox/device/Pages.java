package dev.pinwright.sandbox.device;

import java.util.Map;
import java.util.Optional;

/** What kinds of pages there are on the made-up web, as far as a filter needs to know. */
final class Pages {
  private static final Map<String, String> KINDS =
      Map.of(
          "dice.example", "gambling",
          "lagoon-films.example", "streaming",
          "market.example", "shopping",
          "chatter.example", "social",
          "marbles.example", "games",
          "cracked.example", "malware");

  private Pages() {}

  /** The kind of page at an address, as far as it is known. */
  static Optional<String> category(String address) {
    return KINDS.entrySet().stream()
        .filter(e -> address.contains(e.getKey()))
        .map(Map.Entry::getValue)
        .findFirst();
  }
}
