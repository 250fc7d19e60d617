package dev.pinwright.core.catalog;

import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * Names a setting: {@code section.name}, or {@code section[entry].name} for one of an entry of a
 * collection.
 *
 * @param entry small letters, digits and hyphens, at most 32
 */
public record SettingKey(String section, Optional<String> entry, String name) {
  private static final Pattern WRITTEN =
      Pattern.compile("([a-z0-9-]+)(?:\\[([a-z0-9-]{1,32})])?\\.([a-z0-9.-]+)");

  /** Reads a key; empty when it is none. */
  public static Optional<SettingKey> read(String text) {
    Matcher m = WRITTEN.matcher(text);
    return m.matches()
        ? Optional.of(new SettingKey(m.group(1), Optional.ofNullable(m.group(2)), m.group(3)))
        : Optional.empty();
  }

  /** The key of the setting without its entry, as the catalogue has it. */
  public String kind() {
    return section + "." + name;
  }

  /** What an entry is known by, {@code section[entry]}; empty outside collections. */
  public Optional<String> whole() {
    return entry.map(e -> section + "[" + e + "]");
  }

  /** LocURI of the leaf. */
  public String path() {
    return Catalog.POLICY_ROOT + "/" + section + entry.map(e -> "/" + e).orElse("") + "/" + name;
  }

  @Override
  public String toString() {
    return whole().orElse(section) + "." + name;
  }
}
