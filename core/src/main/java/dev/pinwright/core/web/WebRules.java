package dev.pinwright.core.web;

import dev.pinwright.core.catalog.JsonTexts;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.jspecify.annotations.Nullable;

/**
 * What a browser may open. A host stands for all that lies below it; what is blocked is blocked
 * whatever else allows it.
 *
 * @param off whether there is no browser at all
 * @param categories kinds of pages that are not opened
 * @param blocked hosts that are not opened
 * @param allowed the only hosts that are; all where there are none
 * @param secureOnly whether plain connections are refused
 */
public record WebRules(
    boolean off,
    List<String> categories,
    List<String> blocked,
    List<String> allowed,
    boolean secureOnly) {
  private static final Pattern ADDRESS =
      Pattern.compile(
          "(?:([a-z]+)://)?([a-z0-9](?:[a-z0-9.-]*[a-z0-9])?)(?::\\d{1,5})?(?:[/?#].*)?");

  public WebRules {
    categories = List.copyOf(categories);
    blocked = List.copyOf(blocked);
    allowed = List.copyOf(allowed);
  }

  /** Reads the rules from the texts of the web settings, as they stand in a policy tree. */
  public static WebRules read(Map<String, String> texts) {
    return new WebRules(
        Boolean.parseBoolean(texts.get("off")),
        items(texts.get("categories")),
        items(texts.get("blocked")),
        items(texts.get("allowed")),
        Boolean.parseBoolean(texts.get("secure-only")));
  }

  private static List<String> items(@Nullable String text) {
    return Optional.ofNullable(text).flatMap(JsonTexts::read).orElse(List.of());
  }

  /**
   * Why an address is not opened, in the words of the holder's device; empty when it is.
   *
   * @param address as typed; without a scheme it is meant to be encrypted
   * @param category of the page, as far as it is known
   */
  public Optional<String> objection(String address, Optional<String> category) {
    if (off) {
      return Optional.of("The browser is turned off.");
    }
    Matcher typed = ADDRESS.matcher(address.strip().toLowerCase(Locale.ROOT));
    String scheme = typed.matches() && typed.group(1) != null ? typed.group(1) : "https";
    if (!typed.matches() || !(scheme.equals("https") || scheme.equals("http"))) {
      return Optional.of("This is no address.");
    }
    String name = typed.group(2);
    Optional<String> by = blocked.stream().filter(b -> below(name, b)).findFirst();
    if (by.isPresent()) {
      return Optional.of("Your organisation blocks " + by.get() + ".");
    }
    if (category.filter(categories::contains).isPresent()) {
      return Optional.of("Your organisation blocks pages of this kind: " + category.get() + ".");
    }
    if (!allowed.isEmpty() && allowed.stream().noneMatch(a -> below(name, a))) {
      return Optional.of("Only " + String.join(", ", allowed) + " can be opened here.");
    }
    return secureOnly && scheme.equals("http")
        ? Optional.of("Only encrypted pages can be opened; this one is not.")
        : Optional.empty();
  }

  private static boolean below(String host, String of) {
    String name = of.toLowerCase(Locale.ROOT).replaceFirst(":\\d+$", "");
    return host.equals(name) || host.endsWith("." + name);
  }
}
