package dev.pinwright.core.command;

import java.util.List;
import java.util.Optional;

/** What a holder answered to a question (OMA DM 1.2, user-interaction alerts 1101 and 1103). */
public final class HolderAnswer {
  private static final int OK = 200;
  private static final int REJECTED = 304;
  private static final int CANCELLED = 214;

  /** Most choices of a question. */
  public static final int MOST = 6;

  private HolderAnswer() {}

  /** The choices that were written, one a line; none for a question of yes and no. */
  public static List<String> choices(String written) {
    return written.lines().map(String::strip).filter(l -> !l.isEmpty()).distinct().toList();
  }

  /**
   * The answer a device tells.
   *
   * @param choices none for a question of yes and no
   * @param code status code
   * @param words what it says besides: the number of the choice, 1 for the first
   * @return empty where it is none
   */
  public static Optional<String> of(List<String> choices, int code, String words) {
    if (choices.isEmpty()) {
      return code == OK
          ? Optional.of("yes")
          : code == REJECTED || code == CANCELLED ? Optional.of("no") : Optional.empty();
    }
    String number = words.strip();
    return code == OK && number.matches("[1-9]")
        ? Optional.of(Integer.parseInt(number))
            .filter(n -> n <= choices.size())
            .map(n -> choices.get(n - 1))
        : Optional.empty();
  }
}
