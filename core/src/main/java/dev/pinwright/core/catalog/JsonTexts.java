package dev.pinwright.core.catalog;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.stream.Collectors;

/** A list of texts as a JSON array of strings (RFC 8259, 5 and 7), as it stands in a leaf. */
public final class JsonTexts {
  private static final String SHORT = "\"\\bfnrt";
  private static final String MEANT = "\"\\\b\f\n\r\t";

  private JsonTexts() {}

  static String write(List<String> texts) {
    return texts.stream().map(JsonTexts::quoted).collect(Collectors.joining(",", "[", "]"));
  }

  private static String quoted(String text) {
    StringBuilder out = new StringBuilder("\"");
    for (char c : text.toCharArray()) {
      int known = MEANT.indexOf(c);
      if (known >= 0) {
        out.append('\\').append(SHORT.charAt(known));
      } else if (c < 0x20) {
        out.append("\\u%04x".formatted((int) c));
      } else {
        out.append(c);
      }
    }
    return out.append('"').toString();
  }

  /** The texts of an array; empty when it is not an array of strings and nothing else. */
  public static Optional<List<String>> read(String json) {
    try {
      return Optional.of(new Reader(json).array());
    } catch (IllegalArgumentException e) {
      return Optional.empty();
    }
  }

  private static final class Reader {
    private final String json;
    private int at;

    Reader(String json) {
      this.json = json;
    }

    List<String> array() {
      List<String> out = new ArrayList<>();
      take('[');
      if (next() == ']') {
        at++;
      } else {
        out.add(string());
        while (next() == ',') {
          at++;
          out.add(string());
        }
        take(']');
      }
      space();
      require(at == json.length());
      return out;
    }

    private String string() {
      take('"');
      StringBuilder out = new StringBuilder();
      while (true) {
        char c = any();
        require(c >= 0x20);
        if (c == '"') {
          return out.toString();
        }
        out.append(c == '\\' ? escaped(any()) : c);
      }
    }

    private char escaped(char c) {
      if (c == 'u') {
        require(at + 4 <= json.length());
        String digits = json.substring(at, at + 4);
        require(digits.matches("[0-9A-Fa-f]{4}"));
        at += 4;
        return (char) Integer.parseInt(digits, 16);
      }
      if (c == '/') {
        return c;
      }
      int known = SHORT.indexOf(c);
      require(known >= 0);
      return MEANT.charAt(known);
    }

    private void space() {
      while (at < json.length() && " \t\n\r".indexOf(json.charAt(at)) >= 0) {
        at++;
      }
    }

    private char next() {
      space();
      require(at < json.length());
      return json.charAt(at);
    }

    private void take(char wanted) {
      require(next() == wanted);
      at++;
    }

    private char any() {
      require(at < json.length());
      return json.charAt(at++);
    }

    private static void require(boolean right) {
      if (!right) {
        throw new IllegalArgumentException();
      }
    }
  }
}
