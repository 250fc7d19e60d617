package dev.pinwright.core.query;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;

/**
 * A piece of a rule.
 *
 * @param text as it is read: of a quoted text what is between the quotes
 * @param column where it begins, from 1
 * @param end the place after its last character, from 0
 */
record RuleToken(Kind kind, String text, int column, int end) {
  enum Kind {
    WORD,
    QUOTED,
    SIGN,
    END
  }

  private static final String SIGNS = "()<>,=";

  /** The pieces of a rule; the last one is its end. */
  static List<RuleToken> of(String rule) {
    List<RuleToken> out = new ArrayList<>();
    int i = 0;
    while (i < rule.length()) {
      char c = rule.charAt(i);
      int begin = i;
      if (Character.isWhitespace(c)) {
        i++;
        continue;
      }
      if (c == '"') {
        StringBuilder text = new StringBuilder();
        i = quoted(rule, i + 1, text);
        out.add(new RuleToken(Kind.QUOTED, text.toString(), begin + 1, i));
      } else if (SIGNS.indexOf(c) >= 0) {
        boolean two = (c == '<' || c == '>') && i + 1 < rule.length() && rule.charAt(i + 1) == '=';
        i += two ? 2 : 1;
        out.add(new RuleToken(Kind.SIGN, rule.substring(begin, i), begin + 1, i));
      } else {
        while (i < rule.length() && isWord(rule.charAt(i))) {
          i++;
        }
        out.add(new RuleToken(Kind.WORD, rule.substring(begin, i), begin + 1, i));
      }
    }
    out.add(new RuleToken(Kind.END, "", rule.length() + 1, rule.length()));
    return out;
  }

  private static boolean isWord(char c) {
    return !Character.isWhitespace(c) && c != '"' && SIGNS.indexOf(c) < 0;
  }

  /** Reads up to the closing quote, a doubled one being a quote; the place after it. */
  private static int quoted(String rule, int from, StringBuilder into) {
    for (int i = from; i < rule.length(); i++) {
      char c = rule.charAt(i);
      if (c == '"' && i + 1 < rule.length() && rule.charAt(i + 1) == '"') {
        into.append('"');
        i++;
      } else if (c == '"') {
        return i + 1;
      } else {
        into.append(c);
      }
    }
    throw new RuleFault(from, "this quote is not closed");
  }

  /** Whether it is this word of the language, in any letters, or this sign. */
  boolean is(String word) {
    return kind != Kind.QUOTED && text.toLowerCase(Locale.ROOT).equals(word);
  }

  /** As it is named in messages. */
  String said() {
    return kind == Kind.END ? "the end" : "'" + text + "'";
  }
}
