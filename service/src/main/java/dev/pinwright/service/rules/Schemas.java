package dev.pinwright.service.rules;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.JsonNode;
import com.networknt.schema.JsonSchema;
import com.networknt.schema.JsonSchemaException;
import com.networknt.schema.JsonSchemaFactory;
import com.networknt.schema.SchemaId;
import com.networknt.schema.SchemaLocation;
import com.networknt.schema.SpecVersion;
import com.networknt.schema.ValidationMessage;
import dev.pinwright.core.Text;
import dev.pinwright.service.work.Json;
import java.util.List;

/** JSON Schema (2020-12) of what apps can be told. Nothing a schema refers to is fetched. */
public final class Schemas {
  private static final int MOST = 5;
  private static final int WORDS = 160;
  private static final JsonSchemaFactory FACTORY =
      JsonSchemaFactory.getInstance(SpecVersion.VersionFlag.V202012);

  private Schemas() {}

  /** What is wrong with a schema itself; empty when it is one. */
  public static List<String> faults(String schema) {
    try {
      JsonNode root = Json.MAPPER.readTree(schema);
      if (root.findValues("$ref").stream().anyMatch(r -> !r.asText().startsWith("#"))
          || root.has("$id")) {
        return List.of("it refers to something outside of itself");
      }
      return words(
          FACTORY.getSchema(SchemaLocation.of(SchemaId.V202012)).validate(root).stream().toList());
    } catch (JsonProcessingException | JsonSchemaException e) {
      return List.of("it is no schema");
    }
  }

  /** What is wrong with a value; empty when it is as the schema says. */
  public static List<String> faults(String schema, String value) {
    try {
      JsonSchema read = FACTORY.getSchema(Json.MAPPER.readTree(schema));
      return words(read.validate(Json.MAPPER.readTree(value)).stream().toList());
    } catch (JsonProcessingException | JsonSchemaException e) {
      return List.of("it cannot be compared with its schema");
    }
  }

  private static List<String> words(List<ValidationMessage> messages) {
    return messages.stream()
        .map(m -> Text.cleaned(m.getMessage(), WORDS))
        .sorted()
        .limit(MOST)
        .toList();
  }
}
