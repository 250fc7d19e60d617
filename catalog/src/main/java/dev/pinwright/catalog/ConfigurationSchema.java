package dev.pinwright.catalog;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;

/**
 * What the files of a configuration are, as a JSON Schema (draft 2020-12) of contents by path, with
 * every setting of the catalogue.
 */
public final class ConfigurationSchema {
  private ConfigurationSchema() {}

  /** The schema. */
  public static ObjectNode of(Catalogue catalogue) {
    ObjectNode root = (ObjectNode) Catalogue.read("configuration-schema");
    JsonNode settings = ProfileSchema.of(catalogue).path("properties").path("settings");
    ((ObjectNode) root.at("/$defs/profile/properties")).set("settings", settings);
    return root;
  }

  /** The schema as it is published. */
  static String published(Catalogue catalogue) {
    return of(catalogue).toPrettyString() + "\n";
  }
}
