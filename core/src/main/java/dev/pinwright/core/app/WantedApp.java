package dev.pinwright.core.app;

import dev.pinwright.core.Words;
import dev.pinwright.core.catalog.SettingKey;
import dev.pinwright.core.catalog.SettingValue;
import dev.pinwright.core.policy.Effective;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * One app as it is assigned to a device.
 *
 * @param key of the app
 * @param release code of the version it is to have; empty where there is none to install
 * @param version that version as people write it, or what was written in its place
 * @param held whether it stays with this version, even where a device has a later one
 * @param configuration JSON the app is told; empty when it is told nothing
 * @param secrets JSON whose members are laid over those of the configuration; empty when there are
 *     none
 */
public record WantedApp(
    String key,
    Presence presence,
    Optional<Long> release,
    String version,
    boolean held,
    InstallOptions options,
    String configuration,
    String secrets) {

  /** It with times to come in at, where it has none of its own. */
  public WantedApp at(Optional<String> times) {
    return new WantedApp(
        key, presence, release, version, held, options.at(times), configuration, secrets);
  }

  /** Section of the catalogue apps are assigned by. */
  public static final String SECTION = "apps";

  private static final Pattern WRITTEN = Pattern.compile("(.+) \\((\\d{1,10})\\)");

  /** The setting of an app by its name. */
  public static String setting(String key, String name) {
    return new SettingKey(SECTION, Optional.of(key), name).toString();
  }

  /** The apps among what a device should have, in order of key. */
  public static List<WantedApp> among(Effective effective) {
    Map<String, SettingValue> settings = new HashMap<>();
    effective.apart().forEach(r -> settings.put(r.setting().key(), r.value()));
    return in(settings);
  }

  /** The apps among settings by their keys, in order of the apps'. */
  public static List<WantedApp> in(Map<String, SettingValue> settings) {
    Map<String, Map<String, SettingValue>> byKey = new TreeMap<>();
    settings.forEach(
        (text, value) -> {
          if (text.startsWith(SECTION + "[")) {
            SettingKey key = SettingKey.read(text).orElseThrow();
            byKey
                .computeIfAbsent(key.entry().orElse(""), k -> new TreeMap<>())
                .put(key.name(), value);
          }
        });
    List<WantedApp> out = new ArrayList<>();
    byKey.forEach((key, values) -> read(key, values).ifPresent(out::add));
    return List.copyOf(out);
  }

  /** One app from its settings by name; empty where they do not say what it is to devices. */
  public static Optional<WantedApp> read(String key, Map<String, SettingValue> values) {
    return text(values, "presence")
        .map(
            presence ->
                new WantedApp(
                    key,
                    Words.parse(Presence.class, presence),
                    code(text(values, "version").orElse("")),
                    name(text(values, "version").orElse("")),
                    text(values, "follows").filter("held"::equals).isPresent(),
                    new InstallOptions(
                        flag(values, "take-over"),
                        flag(values, "wifi-only"),
                        flag(values, "charging-only"),
                        text(values, "hours"),
                        flag(values, "remove-with-management")),
                    text(values, "configuration").orElse(""),
                    text(values, "secrets").orElse("")));
  }

  private static Optional<String> text(Map<String, SettingValue> values, String name) {
    return values.get(name) instanceof SettingValue.Text t
        ? Optional.of(t.text())
        : Optional.empty();
  }

  /** How a version is written in a setting: its name, and its code in brackets. */
  public static String written(String version, long code) {
    return version + " (" + code + ")";
  }

  private static Optional<Long> code(String written) {
    Matcher m = WRITTEN.matcher(written);
    return m.matches() ? Optional.of(Long.valueOf(m.group(2))) : Optional.empty();
  }

  private static String name(String written) {
    Matcher m = WRITTEN.matcher(written);
    return m.matches() ? m.group(1) : written;
  }

  private static boolean flag(Map<String, SettingValue> values, String name) {
    return values.get(name) instanceof SettingValue.Flag f && f.on();
  }
}
