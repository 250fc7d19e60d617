package dev.pinwright.core;

import java.text.Normalizer;

/**
 * The one gate for text from outside. What passes can be kept, shown and sent on as it is: it is in
 * Unicode Normalization Form C (UAX #15; for passwords see RFC 8265, 4.2.2), has no control
 * characters but those said, no lone surrogate and no noncharacter.
 */
public final class Text {
  /** Most characters a line can have; what it is for may bound it further. */
  public static final int MAX_LINE = 4_000;

  private Text() {}

  /**
   * A text of one line.
   *
   * @throws IllegalArgumentException saying what is in it and where
   */
  public static String line(String typed) {
    if (typed.length() > MAX_LINE) {
      throw new IllegalArgumentException("a line has at most " + MAX_LINE + " characters");
    }
    return clean(typed, false);
  }

  /**
   * A text of any number of lines, with line feeds between them; tabs may be in it.
   *
   * @throws IllegalArgumentException saying what is in it and where
   */
  public static String lines(String typed) {
    return clean(typed.replace("\r\n", "\n").replace('\r', '\n'), true);
  }

  /**
   * What of a text can be kept that nobody can be asked to type again, such as a device's word: its
   * first characters, in one line, without what the gate would refuse.
   *
   * @param max most characters
   */
  public static String cleaned(String told, int max) {
    StringBuilder out = new StringBuilder();
    told.codePoints()
        .map(c -> Character.isWhitespace(c) ? ' ' : c)
        .filter(c -> Character.getType(c) != Character.CONTROL && isCharacter(c))
        .limit(max)
        .forEach(out::appendCodePoint);
    return Normalizer.normalize(out, Normalizer.Form.NFC).strip();
  }

  /**
   * {@link #cleaned} of a text of many lines: line feeds and tabs stay, and of more characters than
   * can be kept it is the last ones.
   *
   * @param max most characters
   */
  public static String cleanedLines(String told, int max) {
    StringBuilder out = new StringBuilder();
    told.substring(Math.max(0, told.length() - max))
        .codePoints()
        .filter(c -> c == '\n' || c == '\t' || Character.getType(c) != Character.CONTROL)
        .filter(Text::isCharacter)
        .forEach(out::appendCodePoint);
    return Normalizer.normalize(out, Normalizer.Form.NFC);
  }

  private static boolean isCharacter(int c) {
    return Character.getType(c) != Character.SURROGATE && (c & 0xFFFE) != 0xFFFE;
  }

  private static String clean(String text, boolean breaks) {
    for (int i = 0; i < text.length(); ) {
      int c = text.codePointAt(i);
      boolean allowed = breaks && (c == '\n' || c == '\t');
      if (Character.getType(c) == Character.CONTROL && !allowed) {
        throw new IllegalArgumentException(
            c == '\n' || c == '\r'
                ? "this has to be one line"
                : "the control character " + name(c) + " at place " + (i + 1) + " cannot be kept");
      }
      if (!isCharacter(c)) {
        throw new IllegalArgumentException(name(c) + " at place " + (i + 1) + " is no character");
      }
      i += Character.charCount(c);
    }
    return Normalizer.isNormalized(text, Normalizer.Form.NFC)
        ? text
        : Normalizer.normalize(text, Normalizer.Form.NFC);
  }

  private static String name(int c) {
    return "U+%04X".formatted(c);
  }
}
