package dev.pinwright.core.catalog;

import dev.pinwright.core.catalog.SettingValue.Flag;
import dev.pinwright.core.catalog.SettingValue.Items;
import dev.pinwright.core.catalog.SettingValue.Text;
import dev.pinwright.core.catalog.SettingValue.Whole;
import dev.pinwright.core.file.FileKind;
import dev.pinwright.core.file.StoredFile;
import dev.pinwright.core.tree.Leaf;
import java.util.List;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.jspecify.annotations.Nullable;

/** What values a setting takes, with its bounds. */
public sealed interface ValueType {

  /** What is wrong with a value and what would be right; empty when it fits. */
  Optional<String> objection(SettingValue value);

  /** DM format name of the leaves that carry it (OMA DM TND 1.2, 7.7). */
  default String format() {
    return this instanceof FlagType ? "bool" : this instanceof WholeType ? "int" : "chr";
  }

  /**
   * The value a text means that a person has written, without the spaces around it; where it means
   * none of this type, the text itself, to which {@link #objection} objects.
   */
  default SettingValue written(String text) {
    return read(new Leaf(format(), text.strip())).orElse(new Text(text.strip()));
  }

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

  /** A value in words for people: {@code on}, {@code 10 minutes}, the title of a choice. */
  default String words(SettingValue value) {
    if (value instanceof Flag flag) {
      return flag.on() ? "on" : "off";
    }
    if (value instanceof Items list && this instanceof ItemsType type) {
      return list.items().isEmpty()
          ? "none"
          : String.join(
              ", ", list.items().stream().map(i -> type.of().words(new Text(i))).toList());
    }
    if (this instanceof FileType) {
      return StoredFile.referred(value.text()).map(id -> "file " + id.substring(0, 12)).orElse("");
    }
    if (this instanceof WholeType type) {
      return Quantity.words(value.text(), type.unit());
    }
    if (this instanceof ChoiceType type) {
      return type.choices().stream()
          .filter(c -> c.key().equals(value.text()))
          .map(Choice::title)
          .findFirst()
          .orElse(value.text());
    }
    return value.text();
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

  /** A secret of {@code minLength} to {@code maxLength} characters on one line. */
  record SecretType(int minLength, int maxLength) implements ValueType {
    @Override
    public Optional<String> objection(SettingValue value) {
      return new TextType(minLength, maxLength, false).objection(value);
    }
  }

  /** Text in a form of its own. */
  sealed interface Formed extends ValueType {
    /** Whether a text has the form. */
    boolean fits(String text);

    /** What it has to be, with an example. */
    String wanted();

    @Override
    default Optional<String> objection(SettingValue value) {
      return value instanceof Text t && fits(t.text())
          ? Optional.empty()
          : Optional.of("has to be " + wanted());
    }
  }

  /** A file of a kind, by the SHA-256 of its content. */
  record FileType(FileKind of) implements Formed {
    @Override
    public boolean fits(String text) {
      return StoredFile.referred(text).isPresent();
    }

    @Override
    public String wanted() {
      return of.words() + " that is on file, as sha256: and its 64 hexadecimal digits";
    }
  }

  /** Where something is on a network. */
  record AddressType(Of of) implements Formed {
    /** Kinds of address. */
    public enum Of {
      /** A name (RFC 1123, 2.1) or an IPv4 address, with a port where one is meant. */
      HOST,
      /** An address that begins {@code https://} or {@code http://} (RFC 3986). */
      URL,
      /** A range of addresses (RFC 4632, 3.1). */
      NETWORK
    }

    private static final String LABEL = "[A-Za-z0-9](?:[A-Za-z0-9-]{0,61}[A-Za-z0-9])?";
    private static final String BYTE = "(?:25[0-5]|2[0-4]\\d|1?\\d?\\d)";

    @Override
    public boolean fits(String text) {
      return text.length() <= 2_000
          && switch (of) {
            case HOST -> text.matches(LABEL + "(?:\\." + LABEL + ")*(?::\\d{1,5})?");
            case URL ->
                text.matches(
                    "https?://" + LABEL + "(?:\\." + LABEL + ")*(?::\\d{1,5})?(?:[/?#]\\S*)?");
            case NETWORK -> text.matches("(?:" + BYTE + "\\.){3}" + BYTE + "/(?:3[0-2]|[12]?\\d)");
          };
    }

    @Override
    public String wanted() {
      return switch (of) {
        case HOST -> "the name of a host, such as proxy.vellmar.example:3128";
        case URL -> "an address such as https://vellmar.example/opening-hours";
        case NETWORK -> "a range of addresses such as 10.20.0.0/16";
      };
    }
  }

  /** Times of the week, see {@link Hours}. */
  record HoursType() implements Formed {
    @Override
    public boolean fits(String text) {
      return Hours.read(text).isPresent();
    }

    @Override
    public String wanted() {
      return "times of the week, such as Mon-Fri 08:00-17:30; Sat 10:00-14:00";
    }
  }

  /** An app, by its id. */
  record AppType() implements Formed {
    @Override
    public boolean fits(String text) {
      return text.length() <= 120 && text.matches("[a-z][a-z0-9]*(?:\\.[a-z][a-z0-9-]*)+");
    }

    @Override
    public String wanted() {
      return "the id of an app, such as example.vellmar.guide";
    }
  }

  /** Where an app lies on a home screen, see {@link HomeCell}. */
  record CellType() implements Formed {
    @Override
    public boolean fits(String text) {
      return HomeCell.read(text).isPresent();
    }

    @Override
    public String wanted() {
      return "a row from 0 to 6, a column from 1 to 6 and the id of an app, such as 2.1 system.web";
    }
  }

  /** A place on the map with the metres around it (WGS 84, degrees). */
  record PlaceType() implements Formed {
    @Override
    public boolean fits(String text) {
      String degrees = "(-?\\d{1,3}(?:\\.\\d{1,7})?)";
      Matcher m = Pattern.compile(degrees + "," + degrees + ",(\\d{1,6})").matcher(text);
      return m.matches()
          && Math.abs(Double.parseDouble(m.group(1))) <= 90
          && Math.abs(Double.parseDouble(m.group(2))) <= 180
          && Integer.parseInt(m.group(3)) > 0;
    }

    @Override
    public String wanted() {
      return "latitude, longitude and metres around, such as 47.2335,-20.3570,150";
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

  /** Up to {@code maxItems} different texts, each of which a type takes. */
  record ItemsType(int maxItems, ValueType of) implements ValueType {
    @Override
    public Optional<String> objection(SettingValue value) {
      if (!(value instanceof Items list)) {
        return Optional.of("has to be a list of texts");
      }
      if (list.items().size() > maxItems
          || list.items().stream().distinct().count() != list.items().size()) {
        return Optional.of("has to hold at most " + maxItems + " different texts");
      }
      return list.items().stream()
          .flatMap(i -> of.objection(new Text(i)).map(o -> "'" + i + "' " + o).stream())
          .findFirst();
    }
  }
}
