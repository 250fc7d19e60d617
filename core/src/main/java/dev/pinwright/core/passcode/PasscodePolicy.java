package dev.pinwright.core.passcode;

import dev.pinwright.core.catalog.Catalog;
import dev.pinwright.core.tree.Tree;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.function.Function;
import java.util.function.IntPredicate;

/**
 * What a passcode has to be. Lengths and counts in characters; zero asks nothing.
 *
 * @param required whether there has to be one at all
 * @param alphanumeric whether digits alone are not enough
 * @param minLength least length
 * @param noRuns whether runs of three or more equal, rising or falling characters are refused
 * @param maxAge after how many days another has to be chosen
 * @param history how many earlier ones may not return
 * @param grace how many hours a holder may go on with one that is not good enough
 * @param maxFailures after how many wrong tries in a row the device erases itself
 */
public record PasscodePolicy(
    boolean required,
    boolean alphanumeric,
    int minLength,
    boolean noRuns,
    int minLetters,
    int minCapitals,
    int minDigits,
    int minSymbols,
    int maxAge,
    int history,
    int grace,
    int maxFailures) {

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
        number.apply("min-symbols"),
        number.apply("max-age"),
        number.apply("history"),
        number.apply("grace"),
        number.apply("max-failures"));
  }

  /** Reads the policy a tree of settings holds. */
  public static PasscodePolicy of(Tree policy) {
    String root = Catalog.POLICY_ROOT + "/passcode/";
    Map<String, String> texts = new TreeMap<>();
    policy
        .leaves()
        .forEach(
            (path, leaf) -> {
              if (path.startsWith(root)) {
                texts.put(path.substring(root.length()), leaf.value());
              }
            });
    return read(texts);
  }

  /** Where a holder is with what is asked of them. */
  public enum Demand {
    /** Their passcode is good. */
    NONE,
    /** They may still go on with it. */
    GRACE,
    /** They have to choose now. */
    NOW
  }

  /** Whether a passcode that was chosen at a time is too old. */
  public boolean aged(Instant chosen, Instant now) {
    return maxAge > 0 && !now.isBefore(chosen.plus(Duration.ofDays(maxAge)));
  }

  /** Until when a holder may go on, asked since a time. */
  public Instant until(Instant asked) {
    return asked.plus(Duration.ofHours(grace));
  }

  /**
   * Where a holder is.
   *
   * @param good whether their passcode is good and not too old
   * @param asked since when it is not
   */
  public Demand demand(boolean good, Instant asked, Instant now) {
    return good ? Demand.NONE : now.isBefore(until(asked)) ? Demand.GRACE : Demand.NOW;
  }

  /**
   * Why a passcode that was used before may not return; empty when it may.
   *
   * @param ago how many passcodes ago it was in use, from 1; 0 for the one in use now
   */
  public Optional<String> returning(int ago) {
    return ago < history
        ? Optional.of(
            ago == 0
                ? "That is the passcode you have."
                : "Not one of your last " + history + " passcodes.")
        : Optional.empty();
  }

  /** Whether the device erases itself after so many wrong tries in a row. */
  public boolean erases(int failures) {
    return maxFailures > 0 && failures >= maxFailures;
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
