package dev.pinwright.core.intake;

import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * Literal text with {@code {serial}}, {@code {model}}, {@code {platform}} in it.
 *
 * @param text the pattern as written, 1 to 60 characters
 */
public record NamePattern(String text) {
  private static final Pattern PLACE = Pattern.compile("\\{([^{}]*)}");
  private static final Set<String> KNOWN = Set.of("serial", "model", "platform");

  /**
   * @throws IllegalArgumentException for an unknown placeholder, naming the known ones
   */
  public NamePattern {
    if (text.isBlank() || text.length() > 60) {
      throw new IllegalArgumentException("a name pattern has 1 to 60 characters");
    }
    Matcher m = PLACE.matcher(text);
    while (m.find()) {
      if (!KNOWN.contains(m.group(1))) {
        throw new IllegalArgumentException(
            "a name pattern knows {serial}, {model} and {platform}, not {" + m.group(1) + "}");
      }
    }
  }

  /** The name of one device; what the device does not have becomes empty. */
  public String name(JoinAttempt device) {
    String serial =
        device.identifiers().stream()
            .filter(i -> i.kind() != Identifier.Kind.ASSET)
            .map(Identifier::value)
            .findFirst()
            .orElse("");
    return PLACE
        .matcher(text)
        .replaceAll(
            r ->
                Matcher.quoteReplacement(
                    switch (r.group(1)) {
                      case "serial" -> serial;
                      case "model" -> device.model();
                      default -> device.platform();
                    }))
        .strip();
  }
}
