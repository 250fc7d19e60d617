package dev.pinwright.core.organisation;

import java.math.BigDecimal;
import java.time.LocalDate;
import java.time.format.DateTimeParseException;
import java.util.List;

/** What an attribute of one's own can hold. */
public enum AttributeType {
  TEXT,
  /** A decimal number with a point. */
  NUMBER,
  /** A day as ISO 8601 has it, such as {@code 2026-05-01}. */
  DATE,
  /** One of some words. */
  CHOICE;

  /** The longest text. */
  public static final int MAX_TEXT = 200;

  /**
   * Reads a value, and gives it the form it is kept in.
   *
   * @param choices the words of a choice
   * @throws IllegalArgumentException saying what would be right
   */
  public String read(String typed, List<String> choices) {
    String text = typed.strip();
    return switch (this) {
      case TEXT -> {
        if (text.length() > MAX_TEXT) {
          throw new IllegalArgumentException("a text has at most " + MAX_TEXT + " characters");
        }
        yield text;
      }
      case NUMBER -> {
        try {
          if (text.length() > 40) {
            throw new NumberFormatException();
          }
          yield new BigDecimal(text).stripTrailingZeros().toPlainString();
        } catch (NumberFormatException e) {
          throw new IllegalArgumentException("'" + text + "' is not a number such as 12.5", e);
        }
      }
      case DATE -> {
        try {
          yield LocalDate.parse(text).toString();
        } catch (DateTimeParseException e) {
          throw new IllegalArgumentException("'" + text + "' is not a day such as 2026-05-01", e);
        }
      }
      case CHOICE ->
          choices.stream()
              .filter(c -> c.equalsIgnoreCase(text))
              .findFirst()
              .orElseThrow(
                  () ->
                      new IllegalArgumentException(
                          "'" + text + "' is not one of " + String.join(", ", choices)));
    };
  }
}
