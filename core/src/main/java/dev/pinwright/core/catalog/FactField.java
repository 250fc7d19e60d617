package dev.pinwright.core.catalog;

import dev.pinwright.core.Text;
import dev.pinwright.core.device.Ownership;
import java.time.DateTimeException;
import java.time.Instant;
import java.time.OffsetDateTime;
import java.time.temporal.ChronoUnit;
import java.util.Optional;
import java.util.Set;

/**
 * Something a device knows of itself, read from {@code ./Vendor/Pinwright/Facts/<key>}.
 *
 * @param key {@code section/name}, its path below Facts
 * @param title for people
 * @param unit {@code bytes}, {@code percent} … or empty
 * @param kind what its value is; a device that tells anything else has told nothing
 * @param collectedOn ownerships on which it is collected at all; it is dropped on the others
 */
public record FactField(
    String key, String title, String unit, Kind kind, Set<Ownership> collectedOn) {
  private static final int MOST_CHARACTERS = 200;

  /** What a fact's value is. */
  public enum Kind {
    TEXT,
    /** A whole number that is not negative. */
    NUMBER,
    /** A share of a hundred. */
    PERCENT,
    /** {@code true} or {@code false}. */
    FLAG,
    /** A time, as RFC 3339 has it; kept in UTC to the second. */
    TIME
  }

  public FactField {
    collectedOn = Set.copyOf(collectedOn);
  }

  /** What a device told, as it is kept; empty when it cannot be a value of this fact. */
  public Optional<String> read(String told) {
    String text = Text.cleaned(told, MOST_CHARACTERS);
    if (kind == Kind.TIME) {
      return time(text);
    }
    boolean right =
        switch (kind) {
          case TEXT -> !text.isEmpty();
          case NUMBER -> text.matches("\\d{1,18}");
          case PERCENT -> text.matches("\\d{1,3}") && Integer.parseInt(text) <= 100;
          case FLAG -> text.equals("true") || text.equals("false");
          case TIME -> false;
        };
    return right ? Optional.of(text) : Optional.empty();
  }

  private static Optional<String> time(String text) {
    try {
      Instant at = OffsetDateTime.parse(text).toInstant().truncatedTo(ChronoUnit.SECONDS);
      return Optional.of(at.toString()).filter(t -> t.length() == 20);
    } catch (DateTimeException e) {
      return Optional.empty();
    }
  }
}
