package dev.pinwright.core.device;

import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * An operating system version of one to three numbers; missing numbers are zero, so {@code 7} and
 * {@code 7.0.0} are equal.
 */
public record OsVersion(int major, int minor, int patch) implements Comparable<OsVersion> {
  private static final Pattern FORM =
      Pattern.compile("(\\d{1,4})(?:\\.(\\d{1,4}))?(?:\\.(\\d{1,6}))?");

  /**
   * Reads {@code 7}, {@code 7.2} or {@code 7.2.1}.
   *
   * @throws IllegalArgumentException when the text has another form
   */
  public static OsVersion parse(String text) {
    Matcher m = FORM.matcher(text.trim());
    if (!m.matches()) {
      throw new IllegalArgumentException(
          "'" + text + "' is not an OS version; one to three numbers such as 7.2.1 are");
    }
    return new OsVersion(number(m.group(1)), number(m.group(2)), number(m.group(3)));
  }

  private static int number(@org.jspecify.annotations.Nullable String digits) {
    return digits == null ? 0 : Integer.parseInt(digits);
  }

  /** Whether this version is {@code other} or later. */
  public boolean atLeast(OsVersion other) {
    return compareTo(other) >= 0;
  }

  @Override
  public int compareTo(OsVersion o) {
    int byMajor = Integer.compare(major, o.major);
    if (byMajor != 0) {
      return byMajor;
    }
    int byMinor = Integer.compare(minor, o.minor);
    return byMinor != 0 ? byMinor : Integer.compare(patch, o.patch);
  }

  /** Shortest text that keeps major and minor: {@code 7.0}, {@code 7.2.1}. */
  @Override
  public String toString() {
    return patch == 0 ? major + "." + minor : major + "." + minor + "." + patch;
  }
}
