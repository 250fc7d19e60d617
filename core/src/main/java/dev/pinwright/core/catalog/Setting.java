package dev.pinwright.core.catalog;

import dev.pinwright.core.device.DeviceTraits;
import dev.pinwright.core.device.Mode;
import dev.pinwright.core.device.OsVersion;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/**
 * One thing a device can be told.
 *
 * @param key see {@link SettingKey}; never changed once published
 * @param section key of the section it belongs to
 * @param title what it is called
 * @param help what it does, in a sentence or two
 * @param searchWords other words people look for it by
 * @param type the values it takes
 * @param fallback the value a form starts with
 * @param support where it works; a device outside all of these cannot take it
 * @param merge how several values become one
 * @param path LocURI of its leaf, below {@code ./Vendor/Pinwright/Policy}
 * @param required whether every entry of its collection needs it
 * @param awaited what its holder has to do before it is in effect
 * @param notice where the holder notices it, as a device's screen calls the place; empty where it
 *     only stands in the list of what the organisation has set
 */
public record Setting(
    String key,
    String section,
    String title,
    String help,
    List<String> searchWords,
    ValueType type,
    SettingValue fallback,
    List<Support> support,
    MergeRule merge,
    String path,
    boolean required,
    Optional<Awaited> awaited,
    Optional<String> notice) {

  /** Stands for a sensitive value that is not shown; sent back, it leaves the value as it is. */
  public static final SettingValue MASK = new SettingValue.Text("••••••••");

  public Setting {
    searchWords = List.copyOf(searchWords);
    support = List.copyOf(support);
  }

  /** Whether its value is a secret: sealed at rest and never shown again. */
  public boolean sensitive() {
    return type instanceof ValueType.SecretType;
  }

  /** This setting of one entry of its collection. */
  public Setting in(String entry) {
    SettingKey own = SettingKey.read(key).orElseThrow();
    SettingKey of = new SettingKey(own.section(), Optional.of(entry), own.name());
    return new Setting(
        of.toString(),
        section,
        title + " (" + entry + ")",
        help,
        searchWords,
        type,
        fallback,
        support,
        merge,
        of.path(),
        required,
        awaited,
        notice);
  }

  /** The entry it is of, {@code section[entry]}; empty outside collections. */
  public Optional<String> entry() {
    return SettingKey.read(key).flatMap(SettingKey::whole);
  }

  /**
   * Something the holder has to do once a setting has a value.
   *
   * @param when the value of the setting that asks for it
   * @param fact key of the fact that tells whether it was done
   * @param until the fact's value once it was
   * @param words what has to be done, after "the holder has to"
   */
  public record Awaited(SettingValue when, String fact, String until, String words) {}

  /** A platform, the modes in which a setting works there, and the first OS version that has it. */
  public record Support(String platform, Set<Mode> modes, OsVersion since) {
    public Support {
      modes = Set.copyOf(modes);
    }
  }

  /** A value as people see it: {@link #MASK} when it is a secret. */
  public SettingValue shown(SettingValue value) {
    return sensitive() ? MASK : value;
  }

  /** Why a device of these traits cannot take this setting; empty when it can. */
  public Optional<String> objection(DeviceTraits traits) {
    Optional<Support> onPlatform =
        support.stream().filter(s -> s.platform().equals(traits.platform())).findFirst();
    if (onPlatform.isEmpty()) {
      return Optional.of("does not exist on " + traits.platform());
    }
    Support s = onPlatform.get();
    if (!s.modes().contains(traits.mode())) {
      return Optional.of(
          "works on "
              + traits.platform()
              + " only when "
              + String.join(
                  " or ", s.modes().stream().map(dev.pinwright.core.Words::of).sorted().toList()));
    }
    return traits.os().atLeast(s.since())
        ? Optional.empty()
        : Optional.of("needs " + traits.platform() + " " + s.since() + " or later");
  }
}
