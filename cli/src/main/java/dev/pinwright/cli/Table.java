package dev.pinwright.cli;

import java.io.PrintWriter;
import java.util.ArrayList;
import java.util.List;
import picocli.CommandLine.Help.Ansi;

/** A table for people: columns as wide as they need to be, a quiet heading, no boxes. */
final class Table {
  private final String[] heads;
  private final List<String[]> rows = new ArrayList<>();

  Table(String... heads) {
    this.heads = heads;
  }

  Table row(Object... cells) {
    String[] texts = new String[cells.length];
    for (int i = 0; i < cells.length; i++) {
      texts[i] = cells[i] == null ? "" : cells[i].toString().replaceAll("[\\r\\n\\t]+", " ");
    }
    rows.add(texts);
    return this;
  }

  void print(PrintWriter out, Ansi ansi) {
    int[] widths = new int[heads.length];
    for (int i = 0; i < heads.length; i++) {
      widths[i] = heads[i].length();
      for (String[] r : rows) {
        widths[i] = Math.max(widths[i], r[i].length());
      }
    }
    out.println(ansi.string("@|faint " + line(heads, widths) + "|@"));
    for (String[] r : rows) {
      String text = line(r, widths);
      out.println(ansi.enabled() ? Colours.standing(text) : text);
    }
  }

  private static String line(String[] cells, int[] widths) {
    StringBuilder sb = new StringBuilder();
    for (int i = 0; i < cells.length; i++) {
      sb.append(cells[i]);
      if (i < cells.length - 1) {
        sb.append(" ".repeat(widths[i] - cells[i].length() + 2));
      }
    }
    return sb.toString();
  }

  /** Colours for the words that say how things stand. */
  private static final class Colours {
    private static final String RESET = "\u001b[0m";

    static String standing(String line) {
      return line.replaceAll("\\b(settled|done|open)\\b", "\u001b[32m$1" + RESET)
          .replaceAll("\\b(catching-up|waiting|queued|delivered)\\b", "\u001b[33m$1" + RESET)
          .replaceAll("\\b(drifted|blocked|failed|refused|lapsed)\\b", "\u001b[31m$1" + RESET);
    }
  }
}
