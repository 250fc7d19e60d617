package dev.pinwright.core.catalog;

import dev.pinwright.core.catalog.SettingValue.Flag;
import dev.pinwright.core.catalog.SettingValue.Items;
import dev.pinwright.core.catalog.SettingValue.Text;
import dev.pinwright.core.catalog.SettingValue.Whole;
import dev.pinwright.core.tree.Leaf;
import java.util.List;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/** What values a setting takes, with its bounds. */
public sealed interface ValueType {

  /** What is wrong with a value and what would be right; empty when it fits. */
  Optional<String> objection(SettingValue value);

  /**
   * The value a leaf of this type carries; the exact inverse of {@link SettingValue#leaf()}.
   *
   * @return empty when the leaf has another format or its text is none of this type
   */
  default Optional<SettingValue> read(Leaf leaf) {
    SettingValue value =
        switch (leaf.format()) {
          case "bool" ->
              leaf.value().equals("true") || leaf.value().equals("false")
                  ? new Flag(leaf.value().equals("true"))
                  : null;
          case "int" -> whole(leaf.value());
          case "chr" ->
              this instanceof ItemsType
                  ? JsonTexts.read(leaf.value()).map(Items::new).orElse(null)
                  : new Text(leaf.value());
          default -> null;
        };
    boolean fits =
        value != null
            && (this instanceof FlagType == value instanceof Flag)
            && (this instanceof WholeType == value instanceof Whole);
    return fits ? Optional.of(value) : Optional.empty();
  }

  private static @Nullable SettingValue whole(String digits) {
    try {
      Whole value = new Whole(Long.parseLong(digits));
      return value.text().equals(digits) ? value : null;
    } catch (NumberFormatException e) {
      return null;
    }
  }

  /** On or off. */
  record FlagType() implements ValueType {
    @Override
    public Optional<String> objection(SettingValue value) {
      return value instanceof Flag ? Optional.empty() : Optional.of("has to be true or false");
    }
  }

  /** A whole number from {@code min} to {@code max}, both included, counted in {@code unit}. */
  record WholeType(long min, long max, String unit) implements ValueType {
    @Override
    public Optional<String> objection(SettingValue value) {
      boolean fits = value instanceof Whole w && w.number() >= min && w.number() <= max;
      String unitWord = unit.isEmpty() ? "" : " " + unit;
      return fits
          ? Optional.empty()
          : Optional.of("has to be a whole number from " + min + " to " + max + unitWord);
    }
  }

  /** Text of {@code minLength} to {@code maxLength} characters. */
  record TextType(int minLength, int maxLength, boolean multiline) implements ValueType {
    @Override
    public Optional<String> objection(SettingValue value) {
      if (!(value instanceof Text t)) {
        return Optional.of("has to be text");
      }
      int length = t.text().codePointCount(0, t.text().length());
      if (length < minLength || length > maxLength) {
        return Optional.of("has to be text of " + minLength + " to " + maxLength + " characters");
      }
      boolean control =
          t.text().codePoints().anyMatch(c -> c < 0x20 && !(c == '\n' && multiline) || c == 0x7f);
      return control
          ? Optional.of(multiline ? "must not hold control characters" : "has to be one line")
          : Optional.empty();
    }
  }

  /** One of a list of choices; where strictness matters they are listed from lax to strict. */
  record ChoiceType(List<Choice> choices) implements ValueType {
    public ChoiceType {
      choices = List.copyOf(choices);
    }

    /** Position of a choice's key, or -1. */
    public int position(String key) {
      for (int i = 0; i < choices.size(); i++) {
        if (choices.get(i).key().equals(key)) {
          return i;
        }
      }
      return -1;
    }

    @Override
    public Optional<String> objection(SettingValue value) {
      return value instanceof Text t && position(t.text()) >= 0
          ? Optional.empty()
          : Optional.of(
              "has to be one of " + String.join(", ", choices.stream().map(Choice::key).toList()));
    }
  }

  /** One choice: its key on the wire and its title for people. */
  record Choice(String key, String title) {}

  /** Up to {@code maxItems} different texts of up to {@code maxLength} characters each. */
  record ItemsType(int maxItems, int maxLength) implements ValueType {
    @Override
    public Optional<String> objection(SettingValue value) {
      if (!(value instanceof Items list)) {
        return Optional.of("has to be a list of texts");
      }
      boolean fits =
          list.items().size() <= maxItems
              && list.items().stream().distinct().count() == list.items().size()
              && list.items().stream().allMatch(i -> !i.isBlank() && i.length() <= maxLength);
      return fits
          ? Optional.empty()
          : Optional.of(
              "has to hold at most "
                  + maxItems
                  + " different texts of 1 to "
                  + maxLength
                  + " characters");
    }
  }
}
