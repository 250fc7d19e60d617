package dev.pinwright.core.enrollment;

import java.util.Locale;
import java.util.Optional;
import java.util.function.IntUnaryOperator;

/**
 * Twelve Crockford base-32 characters: 60 bits, read without hyphens, spaces or case, with {@code
 * O} read as 0 and {@code I}, {@code L} as 1.
 *
 * @param value the twelve characters, normalised
 */
public record InvitationCode(String value) {
  private static final String ALPHABET = "0123456789ABCDEFGHJKMNPQRSTVWXYZ";

  /** Length in characters. */
  public static final int LENGTH = 12;

  /**
   * Reads what a person typed.
   *
   * @throws IllegalArgumentException when it cannot be a code
   */
  public static InvitationCode parse(String typed) {
    String value =
        typed
            .replaceAll("[\\s-]+", "")
            .toUpperCase(Locale.ROOT)
            .replace('O', '0')
            .replace('I', '1')
            .replace('L', '1');
    if (value.length() != LENGTH || value.chars().anyMatch(c -> ALPHABET.indexOf(c) < 0)) {
      throw new IllegalArgumentException(
          "a code has twelve letters and digits, such as 4T7K-91QM-XZ3A");
    }
    return new InvitationCode(value);
  }

  /**
   * A new code.
   *
   * @param random given a bound, a number from 0 to below it; has to be unpredictable
   */
  public static InvitationCode generate(IntUnaryOperator random) {
    StringBuilder sb = new StringBuilder(LENGTH);
    for (int i = 0; i < LENGTH; i++) {
      sb.append(ALPHABET.charAt(random.applyAsInt(ALPHABET.length())));
    }
    return new InvitationCode(sb.toString());
  }

  /** As shown to people: {@code XXXX-XXXX-XXXX}. */
  public String display() {
    return value.substring(0, 4) + "-" + value.substring(4, 8) + "-" + value.substring(8);
  }

  /** {@link #parse}, or empty for what is no code. */
  public static Optional<InvitationCode> read(String typed) {
    try {
      return Optional.of(parse(typed));
    } catch (IllegalArgumentException e) {
      return Optional.empty();
    }
  }
}
