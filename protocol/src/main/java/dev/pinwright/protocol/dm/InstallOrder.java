package dev.pinwright.protocol.dm;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.json.JsonMapper;
import com.fasterxml.jackson.databind.node.ObjectNode;
import dev.pinwright.core.Sha256;
import dev.pinwright.core.app.InstallOptions;
import java.io.IOException;
import java.util.Optional;
import org.erdtman.jcs.JsonCanonicalizer;

/**
 * What a device is told of an app it is to install: the JSON of {@code InstallOpts}.
 *
 * @param sha256 lower-case hex SHA-256 of the package
 * @param size bytes of the package
 * @param required whether the holder is not asked
 * @param hold whether it stays with this version
 * @param config what the app is told, a JSON object; empty for nothing
 */
public record InstallOrder(
    String sha256,
    long size,
    boolean required,
    boolean hold,
    InstallOptions options,
    Optional<String> config) {
  private static final JsonMapper MAPPER = new JsonMapper();

  /** As it travels. */
  public String json() {
    ObjectNode root = MAPPER.createObjectNode();
    root.put("sha256", sha256).put("size", size).put("required", required);
    root.put("wifiOnly", options.wifiOnly()).put("chargingOnly", options.chargingOnly());
    options.hours().ifPresent(h -> root.put("hours", h));
    root.put("takeOver", options.takeOver()).put("holdVersion", hold);
    root.put("removeWithManagement", options.removeWithManagement());
    config.ifPresent(c -> root.set("config", tree(c)));
    return root.toString();
  }

  /**
   * Reads one.
   *
   * @throws IllegalArgumentException when it is none
   */
  public static InstallOrder read(String json) {
    JsonNode root = tree(json);
    String sha256 = root.path("sha256").asText();
    if (!sha256.matches("[0-9a-f]{64}")) {
      throw new IllegalArgumentException("InstallOpts names no package by its SHA-256");
    }
    return new InstallOrder(
        sha256,
        root.path("size").asLong(),
        root.path("required").asBoolean(),
        root.path("holdVersion").asBoolean(),
        new InstallOptions(
            root.path("takeOver").asBoolean(),
            root.path("wifiOnly").asBoolean(),
            root.path("chargingOnly").asBoolean(),
            Optional.ofNullable(root.path("hours").textValue()),
            root.path("removeWithManagement").asBoolean()),
        root.path("config").isObject()
            ? Optional.of(root.path("config").toString())
            : Optional.empty());
  }

  /**
   * A configuration with its secrets laid over it.
   *
   * @param configuration JSON object, or empty
   * @param secrets JSON object whose members take the place of those of the configuration; or empty
   * @return a JSON object; empty where there is nothing to tell
   */
  public static Optional<String> merged(String configuration, String secrets) {
    if (configuration.isEmpty() && secrets.isEmpty()) {
      return Optional.empty();
    }
    ObjectNode root = MAPPER.createObjectNode();
    for (String part : new String[] {configuration, secrets}) {
      if (!part.isEmpty()) {
        tree(part).properties().forEach(e -> root.set(e.getKey(), e.getValue()));
      }
    }
    return root.isEmpty() ? Optional.empty() : Optional.of(root.toString());
  }

  /**
   * Digest of a configuration: lower-case hex SHA-256 of its canonical form (RFC 8785),
   * placeholders not filled in; empty for none.
   */
  public static String digest(Optional<String> config) {
    return config
        .map(
            c -> {
              try {
                return Sha256.hex(new JsonCanonicalizer(c).getEncodedString());
              } catch (IOException e) {
                throw new IllegalArgumentException("this is no JSON object", e);
              }
            })
        .orElse("");
  }

  private static JsonNode tree(String json) {
    try {
      return MAPPER.readTree(json);
    } catch (JsonProcessingException e) {
      throw new IllegalArgumentException("this is no JSON", e);
    }
  }
}
