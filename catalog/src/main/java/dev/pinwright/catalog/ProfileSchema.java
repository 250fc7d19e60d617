package dev.pinwright.catalog;

import com.fasterxml.jackson.databind.json.JsonMapper;
import com.fasterxml.jackson.databind.node.ObjectNode;
import dev.pinwright.core.catalog.Section;
import dev.pinwright.core.catalog.Setting;
import dev.pinwright.core.catalog.ValueType;
import dev.pinwright.core.policy.KitPart;

/**
 * What a profile is as a file, as a JSON Schema (draft 2020-12): {@code pinwright-profile/1} with
 * every setting of the catalogue.
 */
public final class ProfileSchema {
  /** The value of {@code format} in a file. */
  public static final String FORMAT = "pinwright-profile/1";

  private static final JsonMapper MAPPER = new JsonMapper();

  private ProfileSchema() {}

  /** The schema. */
  public static ObjectNode of(Catalogue catalogue) {
    ObjectNode root = MAPPER.createObjectNode();
    root.put("$schema", "https://json-schema.org/draft/2020-12/schema");
    root.put("title", "A profile of Pinwright");
    root.put("type", "object");
    root.put("additionalProperties", false);
    root.putArray("required").add("format").add("name").add("settings");
    ObjectNode properties = root.putObject("properties");
    properties.putObject("format").put("const", FORMAT);
    properties.set("name", text(1, 80).put("description", "what it is called"));
    properties.set("description", text(0, 500).put("description", "what it is for"));
    ObjectNode left = properties.putObject("secretsLeftOut");
    left.put("type", "array").put("description", "keys of secrets; they are never in a file");
    left.putObject("items").put("type", "string");
    properties
        .putObject("kind")
        .put("description", "what it is; a profile where this is not said")
        .putArray("enum")
        .add("profile")
        .add("kit");
    properties.set("parts", parts());
    ObjectNode settings = properties.putObject("settings");
    settings.put("type", "object").put("additionalProperties", false);
    ObjectNode plain = settings.putObject("properties");
    ObjectNode entries = settings.putObject("patternProperties");
    for (Setting s : catalogue.catalog().settings()) {
      if (catalogue.catalog().apart(s.key())) {
        continue; // assigned from pages of its own
      }
      ObjectNode value = value(s.type());
      value.put("title", s.title()).put("description", s.help());
      if (isCollection(catalogue, s.section())) {
        entries.set(
            "^" + s.key().replaceFirst("\\.", "\\\\[[a-z0-9-]{1,32}\\\\]\\\\.") + "$", value);
      } else {
        plain.set(s.key(), value);
      }
    }
    return root;
  }

  private static ObjectNode parts() {
    ObjectNode parts = MAPPER.createObjectNode();
    parts
        .put("type", "array")
        .put("maxItems", KitPart.MOST)
        .put("description", "profiles that go along with a kit");
    ObjectNode part = parts.putObject("items");
    part.put("type", "object").put("additionalProperties", false);
    part.putArray("required").add("profile");
    ObjectNode said = part.putObject("properties");
    said.set("profile", text(1, 80).put("description", "what it is called"));
    said.putObject("whenInOrder")
        .put("type", "boolean")
        .put("description", "whether devices that are out of order go without it");
    return parts;
  }

  private static boolean isCollection(Catalogue catalogue, String section) {
    return catalogue.catalog().sections().stream()
        .filter(s -> s.key().equals(section))
        .map(Section::entries)
        .anyMatch(e -> e.isPresent());
  }

  private static ObjectNode text(int min, int max) {
    return MAPPER
        .createObjectNode()
        .put("type", "string")
        .put("minLength", min)
        .put("maxLength", max);
  }

  private static ObjectNode value(ValueType type) {
    ObjectNode node = MAPPER.createObjectNode();
    if (type instanceof ValueType.FlagType) {
      return node.put("type", "boolean");
    } else if (type instanceof ValueType.WholeType w) {
      return node.put("type", "integer").put("minimum", w.min()).put("maximum", w.max());
    } else if (type instanceof ValueType.TextType t) {
      return text(t.minLength(), t.maxLength());
    } else if (type instanceof ValueType.SecretType t) {
      return text(t.minLength(), t.maxLength());
    } else if (type instanceof ValueType.ChoiceType c) {
      node.put("type", "string");
      c.choices().forEach(x -> node.withArray("enum").add(x.key()));
      return node;
    } else if (type instanceof ValueType.ItemsType i) {
      node.put("type", "array").put("maxItems", i.maxItems()).put("uniqueItems", true);
      node.set("items", value(i.of()));
      return node;
    } else if (type instanceof ValueType.Formed f) {
      return node.put("type", "string").put("$comment", f.wanted());
    }
    throw new IllegalArgumentException("no schema for " + type);
  }

  /** The schema as it is published. */
  static String published(Catalogue catalogue) {
    return of(catalogue).toPrettyString() + "\n";
  }
}
