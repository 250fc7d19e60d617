package dev.pinwright.core.catalog;

import dev.pinwright.core.tree.Leaf;
import java.util.List;

/** A value of a setting. On the wire every value is a leaf with a DM format and a text. */
public sealed interface SettingValue {

  /** DM format name of the leaf: {@code bool}, {@code int} or {@code chr} (OMA DM TND 1.2, 7.7). */
  String format();

  /** The leaf's text. */
  String text();

  /** The leaf that carries it. */
  default Leaf leaf() {
    return new Leaf(format(), text());
  }

  /** On or off. */
  record Flag(boolean on) implements SettingValue {
    @Override
    public String format() {
      return "bool";
    }

    @Override
    public String text() {
      return Boolean.toString(on);
    }
  }

  /** A whole number in the setting's own unit. */
  record Whole(long number) implements SettingValue {
    @Override
    public String format() {
      return "int";
    }

    @Override
    public String text() {
      return Long.toString(number);
    }
  }

  /** Free text, or the key of a choice. */
  record Text(String text) implements SettingValue {
    @Override
    public String format() {
      return "chr";
    }
  }

  /** A list of texts; its leaf holds a JSON array of strings. */
  record Items(List<String> items) implements SettingValue {
    public Items {
      items = List.copyOf(items);
    }

    @Override
    public String format() {
      return "chr";
    }

    @Override
    public String text() {
      return JsonTexts.write(items);
    }
  }
}
