package dev.pinwright.service.rules;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.JsonNode;
import dev.pinwright.core.Words;
import dev.pinwright.core.app.Origin;
import dev.pinwright.core.app.Presence;
import dev.pinwright.core.app.WantedApp;
import dev.pinwright.core.catalog.Catalog;
import dev.pinwright.core.catalog.SettingKey;
import dev.pinwright.core.catalog.SettingValue;
import dev.pinwright.core.policy.ProfileKind;
import dev.pinwright.protocol.dm.InstallOrder;
import dev.pinwright.service.work.Json;
import dev.pinwright.service.work.Problem;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.app.AppStore;
import dev.pinwright.storage.row.AppRow;
import dev.pinwright.storage.row.ProfileRow;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;

/** What assignments of apps say: of one app, with the version that is wanted filled in. */
final class AppSettings {
  private static final String FOLLOWS = "follows";
  private static final String VERSION = "version";

  private final Catalog catalog;

  AppSettings(Catalog catalog) {
    this.catalog = catalog;
  }

  /**
   * Settings a profile may have.
   *
   * @throws Problem 400 when it assigns apps and is no assignment of one, or the other way round,
   *     or asks for what there is not
   */
  Map<String, SettingValue> sound(Tx tx, ProfileRow row, Map<String, SettingValue> settings) {
    Optional<String> apart = settings.keySet().stream().filter(catalog::apart).findFirst();
    if (row.kind() != ProfileKind.APP) {
      apart.ifPresent(
          key -> {
            throw Problem.malformed(
                "/settings/" + key, "Apps are assigned from their own pages, not by profiles.");
          });
      return settings;
    }
    AppRow app = tx.find(AppRow.class, row.appId).orElseThrow();
    settings.keySet().stream()
        .filter(key -> !belongs(key, app.key))
        .findFirst()
        .ifPresent(
            key -> {
              throw Problem.malformed(
                  "/settings/" + key,
                  "This assigns "
                      + app.name
                      + ": its settings are called apps["
                      + app.key
                      + "].presence and so on.");
            });
    return filled(tx, app, settings);
  }

  private boolean belongs(String key, String app) {
    return SettingKey.read(key)
        .filter(k -> k.section().equals(WantedApp.SECTION) && k.entry().equals(Optional.of(app)))
        .isPresent();
  }

  private static Map<String, SettingValue> filled(
      Tx tx, AppRow app, Map<String, SettingValue> settings) {
    Map<String, SettingValue> out = new TreeMap<>(settings);
    Map<String, SettingValue> byName = new TreeMap<>();
    settings.forEach((key, v) -> byName.put(SettingKey.read(key).orElseThrow().name(), v));
    WantedApp wanted =
        WantedApp.read(app.key, byName)
            .orElseThrow(
                () ->
                    Problem.malformed(
                        "/settings/" + WantedApp.setting(app.key, "presence"),
                        "Say what "
                            + app.name
                            + " is to these devices: "
                            + String.join(
                                ", ",
                                Words.of(Presence.REQUIRED),
                                Words.of(Presence.OFFERED),
                                "or " + Words.of(Presence.FORBIDDEN))
                            + "."));
    configuration(app, wanted);
    Origin origin = Words.parse(Origin.class, app.origin);
    if (wanted.presence() == Presence.OFFERED && origin == Origin.SYSTEM) {
      throw Problem.malformed(
          "/settings/" + WantedApp.setting(app.key, "presence"),
          app.name + " comes with the OS: it can be required or forbidden, and is on no shelf.");
    }
    if (wanted.presence() == Presence.FORBIDDEN || origin == Origin.SYSTEM) {
      for (String name : List.of(FOLLOWS, VERSION)) {
        out.remove(WantedApp.setting(app.key, name));
      }
      return out;
    }
    String follows = byName.get(FOLLOWS) instanceof SettingValue.Text t ? t.text() : "all";
    AppStore.ReleaseLine release =
        switch (follows) {
          case "all" -> released(tx, app, app.forAll, "to all");
          case "early" ->
              released(tx, app, app.forEarly == null ? app.forAll : app.forEarly, "early");
          default -> held(tx, app, wanted);
        };
    schema(app, release, wanted);
    out.put(WantedApp.setting(app.key, FOLLOWS), new SettingValue.Text(follows));
    out.put(
        WantedApp.setting(app.key, VERSION),
        new SettingValue.Text(WantedApp.written(release.version(), release.code())));
    return out;
  }

  private static AppStore.ReleaseLine released(Tx tx, AppRow app, @Nullable Long code, String to) {
    return Optional.ofNullable(code)
        .flatMap(c -> new AppStore(tx).release(app.id, c))
        .orElseThrow(
            () ->
                Problem.conflict(
                    "not-released",
                    "No version of "
                        + app.name
                        + " is released "
                        + to
                        + " yet; release one, or say with which it stays."));
  }

  /** The version it stays with, by its code or by its name. */
  private static AppStore.ReleaseLine held(Tx tx, AppRow app, WantedApp wanted) {
    AppStore store = new AppStore(tx);
    Optional<AppStore.ReleaseLine> byName = store.release(app.id, wanted.version());
    return wanted
        .release()
        .flatMap(code -> store.release(app.id, code))
        .or(() -> byName)
        .or(
            () ->
                wanted.version().matches("\\d{1,10}")
                    ? store.release(app.id, Long.parseLong(wanted.version()))
                    : Optional.empty())
        .orElseThrow(
            () ->
                Problem.malformed(
                    "/settings/" + WantedApp.setting(app.key, VERSION),
                    wanted.version().isEmpty()
                        ? "Say with which version it stays."
                        : app.name + " has no version " + wanted.version() + "."));
  }

  private static void configuration(AppRow app, WantedApp wanted) {
    object(app, "configuration", wanted.configuration());
    object(app, "secrets", wanted.secrets());
  }

  private static void object(AppRow app, String name, String json) {
    if (json.isEmpty()) {
      return;
    }
    try {
      JsonNode root = Json.MAPPER.readTree(json);
      if (root.isObject()) {
        return;
      }
    } catch (JsonProcessingException e) {
      // said below
    }
    throw Problem.malformed(
        "/settings/" + WantedApp.setting(app.key, name), "Write a JSON object, such as {}.");
  }

  private static void schema(AppRow app, AppStore.ReleaseLine release, WantedApp wanted) {
    Optional<String> told = InstallOrder.merged(wanted.configuration(), wanted.secrets());
    if (told.isEmpty()) {
      return;
    }
    String pointer = "/settings/" + WantedApp.setting(app.key, "configuration");
    if (release.configuration().isEmpty()) {
      throw Problem.malformed(
          pointer, app.name + " " + release.version() + " cannot be configured.");
    }
    List<String> faults = Schemas.faults(release.configuration().get(), told.get());
    if (!faults.isEmpty()) {
      throw Problem.malformed(
          pointer,
          app.name
              + " "
              + release.version()
              + " does not take this configuration: "
              + String.join("; ", faults)
              + ".");
    }
  }
}
