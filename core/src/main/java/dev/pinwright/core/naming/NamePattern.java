package dev.pinwright.core.naming;

import dev.pinwright.core.device.Identifier;
import java.util.List;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.function.Predicate;
import java.util.regex.MatchResult;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * Literal text with places in it: {@code {serial}}, {@code {imei}}, {@code {imei:last4}}, {@code
 * {asset}}, {@code {person}}, {@code {unit}}, {@code {site}}, {@code {model}}, {@code {platform}},
 * {@code {sheet}} (the name its row on the roster has) and {@code {seq}} or {@code {seq:3}} (a
 * running number, of at least so many digits).
 *
 * @param text the pattern as written, 1 to 60 characters
 */
public record NamePattern(String text) {
  /** The most characters a device's name has. */
  public static final int MAX_NAME = 80;

  private static final Pattern PLACE = Pattern.compile("\\{([^{}]*)}");
  private static final List<String> KNOWN =
      List.of(
          "serial",
          "imei",
          "imei:last4",
          "asset",
          "person",
          "unit",
          "site",
          "model",
          "platform",
          "sheet");
  private static final Pattern SEQ = Pattern.compile("seq(?::([1-9]))?");
  private static final String NUMBER = "\u0000";

  /**
   * @throws IllegalArgumentException for an unknown place, naming the known ones
   */
  public NamePattern {
    if (text.isBlank() || text.length() > 60) {
      throw new IllegalArgumentException("a name pattern has 1 to 60 characters");
    }
    Matcher m = PLACE.matcher(text);
    int numbers = 0;
    while (m.find()) {
      boolean number = SEQ.matcher(m.group(1)).matches();
      numbers += number ? 1 : 0;
      if (!number && !KNOWN.contains(m.group(1))) {
        throw new IllegalArgumentException(
            "a name pattern knows {"
                + String.join("}, {", KNOWN)
                + "}, {seq} and {seq:3}, not {"
                + m.group(1)
                + "}");
      }
    }
    String around = PLACE.matcher(text).replaceAll("");
    if (around.contains("{") || around.contains("}")) {
      throw new IllegalArgumentException(
          "a name pattern has its places in closed braces, such as {serial}; one is open in '"
              + text
              + "'");
    }
    if (numbers > 1) {
      throw new IllegalArgumentException("a name pattern counts once, with one {seq}");
    }
  }

  /**
   * What names are made of; what a device does not have is empty.
   *
   * @param person name of its holder
   * @param unit code of its unit
   * @param site name of its site
   * @param sheet name its row on the roster has
   */
  public record Facts(
      List<Identifier> identifiers,
      String model,
      String platform,
      String person,
      String unit,
      String site,
      String sheet) {
    public Facts {
      identifiers = List.copyOf(identifiers);
    }

    private Optional<String> known(Identifier.Kind kind) {
      return identifiers.stream().filter(i -> i.kind() == kind).map(Identifier::value).findFirst();
    }
  }

  /** Whether names have a running number. */
  public boolean counts() {
    return text.matches(".*\\{seq(:\\d)?}.*");
  }

  /**
   * The sequence a device's number comes from: each different text around the number counts by
   * itself, so that {@code {unit}-{seq:3}} numbers every unit from 1.
   */
  public String sequence(Facts facts) {
    return filled(facts, NUMBER).replace(NUMBER, "#");
  }

  /**
   * The name of one device, at most {@link #MAX_NAME} characters, never empty: a device of which
   * the pattern knows nothing is called by its model.
   *
   * @param number its number in {@link #sequence}, when the pattern counts
   */
  public String name(Facts facts, OptionalLong number) {
    String name = filled(facts, NUMBER);
    if (number.isPresent()) {
      name = name.replace(NUMBER, padded(number.getAsLong()));
    }
    name = name.replace(NUMBER, "").strip();
    if (name.isEmpty()) {
      name = facts.model();
    }
    return name.length() > MAX_NAME ? name.substring(0, MAX_NAME).strip() : name;
  }

  private String padded(long number) {
    Matcher m = PLACE.matcher(text);
    while (m.find()) {
      Matcher seq = SEQ.matcher(m.group(1));
      if (seq.matches() && seq.group(1) != null) {
        return String.format("%0" + seq.group(1) + "d", number);
      }
    }
    return Long.toString(number);
  }

  private String filled(Facts facts, String number) {
    return PLACE
        .matcher(text)
        .replaceAll(r -> Matcher.quoteReplacement(place(r, facts, number)))
        .replaceAll(" {2,}", " ")
        .strip();
  }

  private static String place(MatchResult place, Facts facts, String number) {
    return switch (place.group(1)) {
      case "serial" ->
          facts
              .known(Identifier.Kind.SERIAL)
              .or(() -> facts.known(Identifier.Kind.IMEI))
              .orElse("");
      case "imei" -> facts.known(Identifier.Kind.IMEI).orElse("");
      case "imei:last4" -> facts.known(Identifier.Kind.IMEI).map(i -> i.substring(11)).orElse("");
      case "asset" -> facts.known(Identifier.Kind.ASSET).orElse("");
      case "person" -> facts.person();
      case "unit" -> facts.unit();
      case "site" -> facts.site();
      case "model" -> facts.model();
      case "platform" -> facts.platform();
      case "sheet" -> facts.sheet();
      default -> number;
    };
  }

  /**
   * The name, or where another device has it already the name with the lowest free number from 2 in
   * brackets: {@code Ines Tablet (2)}.
   */
  public static String free(String name, Predicate<String> taken) {
    String wanted = name;
    for (int i = 2; taken.test(wanted); i++) {
      String suffix = " (" + i + ")";
      int room = Math.min(name.length(), MAX_NAME - suffix.length());
      wanted = name.substring(0, room).strip() + suffix;
    }
    return wanted;
  }
}
