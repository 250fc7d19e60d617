package dev.pinwright.storage.query;

import java.util.Locale;
import java.util.Map;

/** Filtering by words, wherever a list can be. */
public final class Sought {
  private Sought() {}

  /**
   * The condition that each word is part of a text; true without words.
   *
   * @param text an SQL expression of text in small letters, best one with a trigram index
   * @param words as typed; what means something to {@code like} is just letters here
   * @param parameters takes a parameter for each word, named {@code w0}, {@code w1} …
   */
  public static String in(String text, String words, Map<String, Object> parameters) {
    StringBuilder sql = new StringBuilder("true");
    int i = 0;
    for (String word : words.toLowerCase(Locale.ROOT).strip().split("\\s+")) {
      if (!word.isEmpty()) {
        sql.append(" and ").append(text).append(" like :w").append(i);
        parameters.put("w" + i++, "%" + word.replaceAll("([%_\\\\])", "\\\\$1") + "%");
      }
    }
    return sql.toString();
  }
}
