package dev.pinwright.service.shape;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import dev.pinwright.core.Fault;
import dev.pinwright.core.Words;
import dev.pinwright.core.catalog.Catalog;
import dev.pinwright.core.catalog.Setting;
import dev.pinwright.core.catalog.SettingValue;
import dev.pinwright.core.policy.KitPart;
import dev.pinwright.core.target.Assignment;
import dev.pinwright.core.target.Target;
import dev.pinwright.core.target.Window;
import dev.pinwright.service.secret.Vault;
import dev.pinwright.service.work.Json;
import dev.pinwright.service.work.Problem;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Base64;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;

/**
 * What a profile says: settings, what goes with them where it is a kit, and whom they go to. Kept
 * as JSON with sensitive values sealed, and shown with sensitive values masked.
 */
public record ProfileContent(
    Map<String, SettingValue> settings, List<KitPart> parts, Assignment assignment) {
  /** Stands for a sensitive value that is not shown; sent back, it leaves the value as it is. */
  public static final String MASK = Setting.MASK.text();

  private static final String SEALED = "sealed";
  private static final String PROFILE = "profile";
  private static final String WHEN_IN_ORDER = "whenInOrder";

  /** Nothing, to nobody. */
  public static final ProfileContent EMPTY =
      new ProfileContent(Map.of(), List.of(), Assignment.NOBODY);

  public ProfileContent {
    settings = Map.copyOf(settings);
    parts = List.copyOf(parts);
  }

  /** This, going to nobody. */
  public ProfileContent toNobody() {
    return new ProfileContent(settings, parts, Assignment.NOBODY);
  }

  /** As it is kept. */
  public String store(Catalog catalog, Vault vault) {
    ObjectNode root = Json.MAPPER.createObjectNode();
    ObjectNode values = root.putObject("settings");
    new TreeMap<>(settings)
        .forEach(
            (key, value) -> {
              if (sensitive(catalog, key)) {
                String sealed = Base64.getEncoder().encodeToString(vault.seal(value.text()));
                values.putObject(key).put(SEALED, sealed);
              } else {
                values.set(key, json(value));
              }
            });
    if (!parts.isEmpty()) {
      ArrayNode kept = root.putArray("parts");
      parts.forEach(
          p -> kept.addObject().put(PROFILE, p.profileId()).put(WHEN_IN_ORDER, p.whenInOrder()));
    }
    targets(root.putArray("targets"), assignment.targets());
    targets(root.putArray("exclusions"), assignment.exclusions());
    Window window = assignment.window();
    if (!window.equals(Window.ALWAYS)) {
      ObjectNode kept = root.putObject("window");
      window.from().ifPresent(from -> kept.put("from", from.toString()));
      window.until().ifPresent(until -> kept.put("until", until.toString()));
    }
    return Json.write(root);
  }

  /** From how it is kept. */
  public static ProfileContent load(String stored, Vault vault) {
    JsonNode root = Json.tree(stored);
    Map<String, SettingValue> values = new TreeMap<>();
    root.path("settings")
        .properties()
        .forEach(
            e -> {
              JsonNode n = e.getValue();
              values.put(
                  e.getKey(),
                  n.isObject()
                      ? new SettingValue.Text(
                          vault.open(Base64.getDecoder().decode(n.path(SEALED).asText())))
                      : value(n, "/settings/" + e.getKey()));
            });
    List<KitPart> parts = new ArrayList<>();
    root.path("parts")
        .forEach(
            p ->
                parts.add(
                    new KitPart(p.path(PROFILE).asText(), p.path(WHEN_IN_ORDER).asBoolean())));
    return new ProfileContent(
        values,
        parts,
        new Assignment(
            targets(root.path("targets"), ""),
            targets(root.path("exclusions"), ""),
            new Window(
                moment(root.path("window").path("from")),
                moment(root.path("window").path("until")))));
  }

  private static Optional<Instant> moment(JsonNode n) {
    return Optional.ofNullable(n.textValue()).map(Instant::parse);
  }

  /** Settings as shown: by key, sensitive values masked. */
  public Map<String, JsonNode> shown(Catalog catalog) {
    Map<String, JsonNode> out = new TreeMap<>();
    settings.forEach(
        (key, value) ->
            out.put(
                key,
                sensitive(catalog, key)
                    ? Json.MAPPER.getNodeFactory().textNode(MASK)
                    : json(value)));
    return out;
  }

  /** Settings in words for people, by key, sensitive values masked. */
  public Map<String, String> words(Catalog catalog) {
    Map<String, String> out = new TreeMap<>();
    settings.forEach(
        (key, value) ->
            out.put(
                key,
                catalog
                    .setting(key)
                    .map(s -> s.sensitive() ? MASK : s.type().words(value))
                    .orElse(value.text())));
    return out;
  }

  private static boolean sensitive(Catalog catalog, String key) {
    return catalog.setting(key).map(Setting::sensitive).orElse(false);
  }

  /**
   * Settings as an administrator wrote them.
   *
   * @param before what was there, for masked values
   * @throws Problem 400 naming every setting that is wrong
   */
  public static Map<String, SettingValue> written(
      Map<String, JsonNode> written, Catalog catalog, ProfileContent before) {
    Map<String, SettingValue> out = new TreeMap<>();
    List<Map<String, String>> faults = new ArrayList<>();
    written.forEach(
        (key, node) -> {
          Setting setting = catalog.setting(key).orElse(null);
          String pointer = "/settings/" + key;
          if (setting == null) {
            faults.add(Map.of("pointer", pointer, "detail", catalog.unknown(key)));
            return;
          }
          boolean masked = setting.sensitive() && node.asText().equals(MASK);
          if (masked && !before.settings().containsKey(key)) {
            faults.add(
                Map.of(
                    "pointer",
                    pointer,
                    "detail",
                    setting.title() + " is not kept under " + key + "; write it again."));
            return;
          }
          SettingValue value = masked ? before.settings().get(key) : value(node, pointer);
          setting
              .type()
              .objection(value)
              .ifPresent(
                  o ->
                      faults.add(
                          Map.of("pointer", pointer, "detail", setting.title() + " " + o + ".")));
          out.put(key, value);
        });
    for (Fault f : catalog.entryFaults(out.keySet())) {
      faults.add(Map.of("pointer", f.pointer(), "detail", f.getMessage()));
    }
    if (!faults.isEmpty()) {
      String detail = String.join(" ", faults.stream().map(f -> f.get("detail")).toList());
      throw Problem.malformed("", detail).with("errors", faults);
    }
    return out;
  }

  private static SettingValue value(JsonNode n, String pointer) {
    if (n.isBoolean()) {
      return new SettingValue.Flag(n.asBoolean());
    }
    if (n.isIntegralNumber() && n.canConvertToLong()) {
      return new SettingValue.Whole(n.asLong());
    }
    if (n.isTextual()) {
      return new SettingValue.Text(n.asText());
    }
    if (n.isArray()) {
      List<String> items = new ArrayList<>();
      n.forEach(i -> items.add(i.asText()));
      return new SettingValue.Items(items);
    }
    throw Problem.malformed(
        pointer, "A value is true, false, a whole number, a text or a list of texts.");
  }

  /** A value as JSON. */
  public static JsonNode json(SettingValue value) {
    return Json.MAPPER.valueToTree(value);
  }

  private static void targets(ArrayNode array, List<Target> targets) {
    for (Target t : targets) {
      array.addObject().put("kind", Words.of(t.kind())).put("ref", t.ref());
    }
  }

  private static List<Target> targets(JsonNode array, String pointer) {
    List<Target> out = new ArrayList<>();
    for (JsonNode n : array) {
      out.add(target(n.path("kind").asText(), n.path("ref").asText(), pointer));
    }
    return out;
  }

  /**
   * A target as an administrator wrote it.
   *
   * @throws Problem 400 when it cannot be one
   */
  public static Target target(String kind, String ref, String pointer) {
    try {
      return new Target(Words.parse(Target.Kind.class, kind), ref);
    } catch (IllegalArgumentException e) {
      throw Problem.malformed(pointer, "A target has to be right: " + e.getMessage() + ".");
    }
  }
}
