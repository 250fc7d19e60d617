package dev.pinwright.core.organisation;

import dev.pinwright.core.Versioned;
import java.util.List;
import java.util.Locale;

/**
 * A typed field of an organisation's own.
 *
 * @param choices the words of a choice
 * @param used how many have a value
 * @param version how often it was changed
 */
public record Attribute(
    String id,
    String name,
    Kind kind,
    AttributeType type,
    List<String> choices,
    long used,
    int version)
    implements Versioned {

  /** What can have attributes. */
  public enum Kind {
    DEVICE,
    PERSON,
    UNIT
  }

  /** A value in the form it is kept in; {@link IllegalArgumentException} when it cannot be. */
  public String read(String typed) {
    return type.read(typed, choices);
  }

  /** Whether it is called this; capitals do not count. */
  public boolean isCalled(String name) {
    return this.name.toLowerCase(Locale.ROOT).equals(name.toLowerCase(Locale.ROOT));
  }
}
