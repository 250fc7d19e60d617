package dev.pinwright.core.catalog;

import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * Texts of a command in more than one language: {@code text} is for everybody, {@code text@fr} for
 * those whose device speaks French (BCP 47).
 */
public final class Wordings {
  private static final Pattern KEY =
      Pattern.compile("([a-z-]+)@([a-z]{2,3}(?:-[a-z0-9]{2,8})*)", Pattern.CASE_INSENSITIVE);

  private Wordings() {}

  /**
   * The key of a field and the language it is filled in for, in small letters.
   *
   * @param language empty for everybody
   */
  public record Key(String field, Optional<String> language) {
    /** As it is written: {@code text@fr}. */
    public String written() {
      return field + language.map(l -> "@" + l).orElse("");
    }
  }

  /** Reads a key; one that names no language is a field's own. */
  public static Key key(String written) {
    Matcher m = KEY.matcher(written);
    return m.matches()
        ? new Key(m.group(1), Optional.of(m.group(2).toLowerCase(Locale.ROOT)))
        : new Key(written, Optional.empty());
  }

  /**
   * What was filled in, as a device reads it: each text in its language, or in the one that is for
   * everybody (RFC 4647, 3.4: the end of the tag is left out until something fits).
   *
   * @param language as the device tells it, such as {@code fr-CA}; empty where it does not
   */
  public static Map<String, String> in(Map<String, String> filled, String language) {
    Map<String, String> out = new TreeMap<>();
    filled.forEach(
        (written, text) -> {
          if (key(written).language().isEmpty()) {
            out.put(written, best(filled, written, language).orElse(text));
          }
        });
    return out;
  }

  private static Optional<String> best(Map<String, String> filled, String field, String language) {
    String range = language.replace('_', '-').toLowerCase(Locale.ROOT);
    while (!range.isEmpty()) {
      String text = filled.get(field + "@" + range);
      if (text != null) {
        return Optional.of(text);
      }
      range = range.contains("-") ? range.substring(0, range.lastIndexOf('-')) : "";
    }
    return Optional.empty();
  }
}
