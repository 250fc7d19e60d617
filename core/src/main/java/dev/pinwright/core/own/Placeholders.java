package dev.pinwright.core.own;

import java.util.Collection;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Collectors;

/**
 * Places in a text that each device fills in with what is its own: {@code Property of {self:Unit}}.
 * The text stays the same for all of them; only the device knows what it says there.
 */
public final class Placeholders {
  private static final Pattern PLACE = Pattern.compile("\\{self:([^{}]*)\\}");

  /** How a placeholder for an attribute begins. */
  public static final String ATTRIBUTE = "{self:" + OwnDetails.ATTRIBUTE;

  private Placeholders() {}

  /**
   * What is wrong with the placeholders of a text and what would be right.
   *
   * @param attributes names of the attributes devices may have
   */
  public static Optional<String> objection(String text, Collection<String> attributes) {
    return PLACE
        .matcher(text)
        .results()
        .map(r -> r.group(1))
        .filter(
            name ->
                !known(name)
                    || name.startsWith(OwnDetails.ATTRIBUTE)
                        && attributes.stream()
                            .noneMatch(a -> name.equals(OwnDetails.ATTRIBUTE + OwnDetails.key(a))))
        .findFirst()
        .map(
            name ->
                "holds {self:"
                    + name
                    + "}, which no device can fill in; known are "
                    + String.join(", ", OwnDetails.NAMES)
                    + " and Attribute/ with the name of an attribute of devices, such as"
                    + " {self:Name}");
  }

  /** Whether there may be something a device fills in for a name. */
  public static boolean known(String name) {
    return OwnDetails.NAMES.contains(name)
        || name.startsWith(OwnDetails.ATTRIBUTE) && name.length() > OwnDetails.ATTRIBUTE.length();
  }

  /** Names of the placeholders of a text. */
  public static Set<String> names(String text) {
    return PLACE.matcher(text).results().map(r -> r.group(1)).collect(Collectors.toSet());
  }

  /** Whether every placeholder of a text has a name a device knows. */
  public static boolean allKnown(String text) {
    return names(text).stream().allMatch(Placeholders::known);
  }

  /** A text with its placeholders filled in; nothing stands for what the device was not told. */
  public static String fill(String text, Function<String, Optional<String>> own) {
    return PLACE
        .matcher(text)
        .replaceAll(r -> Matcher.quoteReplacement(own.apply(r.group(1)).orElse("")));
  }
}
