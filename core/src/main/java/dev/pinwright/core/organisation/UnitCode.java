package dev.pinwright.core.organisation;

import java.util.Locale;

/**
 * The code of a unit. It never changes, whatever the unit is called and wherever it moves, so that
 * sheets and other systems can rely on it.
 *
 * @param value 1 to 20 capital letters, digits and hyphens, beginning with a letter or digit
 */
public record UnitCode(String value) {
  /**
   * Reads a code; spaces around it and small letters are put right.
   *
   * @throws IllegalArgumentException saying what would be right
   */
  public static UnitCode parse(String raw) {
    String plain = raw.strip().toUpperCase(Locale.ROOT);
    if (!plain.matches("[A-Z0-9][A-Z0-9-]{0,19}")) {
      throw new IllegalArgumentException(
          "a unit code has 1 to 20 capital letters, digits and hyphens, such as VM-HAR");
    }
    return new UnitCode(plain);
  }

  @Override
  public String toString() {
    return value;
  }
}
