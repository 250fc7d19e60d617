package dev.pinwright.core.catalog;

import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * Where an app lies on a home screen. Written {@code 2.1 system.web}.
 *
 * @param row 1 is the top one, at most 6; 0 is the dock at the bottom
 * @param column 1 is the first, at most 6
 * @param app its id
 */
public record HomeCell(int row, int column, String app) {
  private static final Pattern WRITTEN =
      Pattern.compile("([0-6])\\.([1-6]) ([a-z][a-z0-9]*(?:\\.[a-z][a-z0-9-]*)+)");

  /** Reads one; empty when it is none. */
  public static Optional<HomeCell> read(String text) {
    Matcher m = WRITTEN.matcher(text);
    return m.matches()
        ? Optional.of(
            new HomeCell(Integer.parseInt(m.group(1)), Integer.parseInt(m.group(2)), m.group(3)))
        : Optional.empty();
  }
}
