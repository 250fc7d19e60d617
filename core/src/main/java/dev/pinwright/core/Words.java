package dev.pinwright.core;

import java.util.Arrays;
import java.util.Locale;
import java.util.stream.Collectors;

/**
 * Enum constants as the words that travel: {@code WORK_PROFILE} is {@code work-profile}; and
 * numbers of things.
 */
public final class Words {
  private Words() {}

  /** The word for a constant: lower case, hyphens for underscores. */
  public static String of(Enum<?> constant) {
    return constant.name().toLowerCase(Locale.ROOT).replace('_', '-');
  }

  /**
   * The constant for a word.
   *
   * @throws IllegalArgumentException naming the words that would be right
   */
  public static <E extends Enum<E>> E parse(Class<E> type, String word) {
    for (E constant : type.getEnumConstants()) {
      if (of(constant).equals(word)) {
        return constant;
      }
    }
    throw new IllegalArgumentException("'" + word + "' is not one of " + list(type));
  }

  /** A number of things: {@code 1 device}, {@code 3 devices}. */
  public static String counted(long n, String thing) {
    return counted(n, thing, thing + "s");
  }

  /** A number of things that are called otherwise when there are many: {@code 3 people}. */
  public static String counted(long n, String one, String many) {
    return n + " " + (n == 1 ? one : many);
  }

  /** Every word of an enum, comma separated, for messages. */
  public static <E extends Enum<E>> String list(Class<E> type) {
    return Arrays.stream(type.getEnumConstants()).map(Words::of).collect(Collectors.joining(", "));
  }
}
