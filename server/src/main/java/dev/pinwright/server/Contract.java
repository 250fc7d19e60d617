package dev.pinwright.server;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.dataformat.yaml.YAMLFactory;
import dev.pinwright.core.Words;
import dev.pinwright.service.work.Role;
import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.util.LinkedHashMap;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;

/**
 * What {@code api/openapi.yaml} says of each call: its name and the least role that may make it
 * ({@code x-least-role}; {@code nobody} for a call that needs no sign-in).
 */
final class Contract {
  private static final String NOBODY = "nobody";
  private final Map<String, Operation> operations = new LinkedHashMap<>();

  /**
   * A call.
   *
   * @param least empty when nobody has to be signed in
   */
  record Operation(String id, String method, String path, Optional<Role> least) {}

  /**
   * Reads the contract.
   *
   * @throws IllegalStateException when it is not there, or a call in it declares no role
   */
  static Contract read() {
    try (InputStream in = Contract.class.getResourceAsStream("/openapi.yaml")) {
      if (in == null) {
        throw new IllegalStateException("the contract of the API is not on the class path");
      }
      return new Contract(new ObjectMapper(new YAMLFactory()).readTree(in));
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }

  Contract(JsonNode root) {
    root.path("paths")
        .properties()
        .forEach(
            path ->
                path.getValue()
                    .properties()
                    .forEach(method -> add(path.getKey(), method.getKey(), method.getValue())));
  }

  private void add(String path, String method, JsonNode operation) {
    String id = operation.path("operationId").asText();
    String least = operation.path("x-least-role").asText();
    Optional<Role> role;
    try {
      role = least.equals(NOBODY) ? Optional.empty() : Optional.of(Words.parse(Role.class, least));
    } catch (IllegalArgumentException e) {
      throw new IllegalStateException(
          "the contract declares no role for "
              + id
              + ": x-least-role has to be one of "
              + Words.list(Role.class)
              + " or "
              + NOBODY,
          e);
    }
    operations.put(key(method, path), new Operation(id, method, path, role));
  }

  /**
   * The call at a method and path.
   *
   * @throws IllegalStateException when the contract has none
   */
  Operation at(String method, String path) {
    Operation o = operations.get(key(method, path));
    if (o == null) {
      throw new IllegalStateException("the contract has no " + method + " " + path);
    }
    return o;
  }

  /** Every call, in the order of the contract. */
  Iterable<Operation> operations() {
    return operations.values();
  }

  /** Parameters may be called otherwise in the contract than here. */
  private static String key(String method, String path) {
    return method.toUpperCase(Locale.ROOT) + " " + path.replaceAll("\\{[^}]*}", "{}");
  }
}
