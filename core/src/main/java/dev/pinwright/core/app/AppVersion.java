package dev.pinwright.core.app;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Collectors;

/**
 * What can be compared of an app's version: the numbers with dots between them it begins with,
 * without zeros at the end. {@code 4.10-beta} is above {@code 4.9} and the same as {@code 4.10.0}.
 *
 * @param parts at least one, each below a thousand million
 */
public record AppVersion(List<Integer> parts) implements Comparable<AppVersion> {
  /** What it begins with, in the form PostgreSQL and Java both read. */
  public static final String NUMBERS = "^[0-9]{1,9}(\\.[0-9]{1,9}){0,9}";

  /** The zeros that are left out of it. */
  public static final String ZEROS = "(\\.0+)+$";

  private static final Pattern BEGINNING = Pattern.compile(NUMBERS);

  public AppVersion {
    parts = List.copyOf(parts);
  }

  /** What can be compared of a version; empty when it begins with no number. */
  public static Optional<AppVersion> of(String version) {
    Matcher m = BEGINNING.matcher(version);
    if (!m.find()) {
      return Optional.empty();
    }
    List<Integer> parts = new ArrayList<>();
    for (String part : m.group().replaceFirst(ZEROS, "").split("\\.")) {
      parts.add(Integer.valueOf(part));
    }
    return Optional.of(new AppVersion(parts));
  }

  /**
   * A version as somebody asks for it.
   *
   * @throws IllegalArgumentException when it is no number with dots
   */
  public static AppVersion parse(String typed) {
    return of(typed)
        .filter(v -> typed.matches("[0-9.]+"))
        .orElseThrow(
            () ->
                new IllegalArgumentException(
                    typed + " is no version such as 4.2, numbers with dots between them"));
  }

  @Override
  public int compareTo(AppVersion o) {
    for (int i = 0; i < Math.min(parts.size(), o.parts.size()); i++) {
      int by = Integer.compare(parts.get(i), o.parts.get(i));
      if (by != 0) {
        return by;
      }
    }
    return Integer.compare(parts.size(), o.parts.size());
  }

  /** As people write it. */
  @Override
  public String toString() {
    return parts.stream().map(String::valueOf).collect(Collectors.joining("."));
  }
}
