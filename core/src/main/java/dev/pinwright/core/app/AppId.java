package dev.pinwright.core.app;

import java.util.regex.Pattern;

/** How an app is known to devices: two or more words with dots between them, small letters. */
public final class AppId {
  private static final Pattern WRITTEN =
      Pattern.compile("[a-z][a-z0-9-]{0,40}(\\.[a-z0-9][a-z0-9-]{0,40}){1,6}");

  private AppId() {}

  /**
   * An id that is one.
   *
   * @throws IllegalArgumentException saying what one looks like
   */
  public static String read(String text) {
    if (!WRITTEN.matcher(text).matches() || text.length() > 100) {
      throw new IllegalArgumentException(
          "the id of an app is two to seven words of small letters, digits and hyphens with dots"
              + " between them, such as vellmar.gallery-guide");
    }
    return text;
  }

  /** The key assignments know an app by: its last word, at most 32 characters of it. */
  public static String key(String id) {
    String last = id.substring(id.lastIndexOf('.') + 1);
    return last.length() > 32 ? last.substring(0, 32) : last;
  }
}
