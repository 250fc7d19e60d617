package dev.pinwright.core.passcode;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.function.Function;
import java.util.function.IntPredicate;

/**
 * What a passcode has to be. Lengths and counts in characters; zero asks nothing.
 *
 * @param required whether there has to be one at all
 * @param alphanumeric whether digits alone are not enough
 * @param minLength least length
 * @param noRuns whether runs of three or more equal, rising or falling characters are refused
 */
public record PasscodePolicy(
    boolean required,
    boolean alphanumeric,
    int minLength,
    boolean noRuns,
    int minLetters,
    int minCapitals,
    int minDigits,
    int minSymbols) {

  private static final int RUN = 3;

  /** Reads the policy from the texts of the passcode settings, as they stand in a policy tree. */
  public static PasscodePolicy read(Map<String, String> texts) {
    Function<String, Integer> number = k -> Integer.parseInt(texts.getOrDefault(k, "0"));
    Function<String, Boolean> flag = k -> Boolean.parseBoolean(texts.getOrDefault(k, "false"));
    return new PasscodePolicy(
        flag.apply("required"),
        "alphanumeric".equals(texts.get("kind")),
        number.apply("min-length"),
        flag.apply("no-runs"),
        number.apply("min-letters"),
        number.apply("min-capitals"),
        number.apply("min-digits"),
        number.apply("min-symbols"));
  }

  /**
   * Judges a passcode.
   *
   * @param passcode the passcode, empty for none
   * @return every objection, in the words of the holder's device; empty when it is good
   */
  public List<String> objections(String passcode) {
    List<String> out = new ArrayList<>();
    if (passcode.isEmpty()) {
      return required ? List.of("A passcode is required.") : List.of();
    }
    int length = passcode.codePointCount(0, passcode.length());
    if (length < minLength) {
      out.add("At least " + minLength + " characters, this has " + length + ".");
    }
    if (alphanumeric && passcode.codePoints().allMatch(Character::isDigit)) {
      out.add("Digits alone are not enough.");
    }
    if (noRuns && hasRun(passcode)) {
      out.add("No repeated, rising or falling runs such as 111, 123 or 987.");
    }
    atLeast(out, passcode, minLetters, Character::isLetter, "letter");
    atLeast(out, passcode, minCapitals, Character::isUpperCase, "capital");
    atLeast(out, passcode, minDigits, Character::isDigit, "digit");
    atLeast(out, passcode, minSymbols, c -> !Character.isLetterOrDigit(c), "symbol");
    return out;
  }

  private static void atLeast(
      List<String> out, String passcode, int least, IntPredicate kind, String word) {
    long has = passcode.codePoints().filter(kind).count();
    if (has < least) {
      out.add(
          "At least " + least + " " + word + (least == 1 ? "" : "s") + ", this has " + has + ".");
    }
  }

  private static boolean hasRun(String passcode) {
    int[] c = passcode.codePoints().toArray();
    for (int i = 0; i + RUN <= c.length; i++) {
      int step = c[i + 1] - c[i];
      boolean run = Math.abs(step) <= 1;
      for (int j = i + 1; run && j < i + RUN; j++) {
        run = c[j] - c[j - 1] == step;
      }
      if (run) {
        return true;
      }
    }
    return false;
  }

  /** What is asked, in one sentence for the holder; empty when nothing is. */
  public String demand() {
    if (!required) {
      return "";
    }
    List<String> parts = new ArrayList<>();
    parts.add(alphanumeric ? "letters and digits" : "digits or letters");
    if (minLength > 0) {
      parts.add("at least " + minLength + " characters");
    }
    if (noRuns) {
      parts.add("no runs such as 111 or 123");
    }
    if (minLetters > 0) {
      parts.add("letters: " + minLetters);
    }
    if (minCapitals > 0) {
      parts.add("capitals: " + minCapitals);
    }
    if (minDigits > 0) {
      parts.add("digits: " + minDigits);
    }
    if (minSymbols > 0) {
      parts.add("symbols: " + minSymbols);
    }
    return String.join(", ", parts);
  }
}
