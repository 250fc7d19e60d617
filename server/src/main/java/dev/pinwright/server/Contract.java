package dev.pinwright.server;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.dataformat.yaml.YAMLFactory;
import dev.pinwright.core.Text;
import dev.pinwright.core.Words;
import dev.pinwright.core.access.Role;
import dev.pinwright.service.work.Problem;
import io.javalin.http.Context;
import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.util.ArrayList;
import java.util.Iterator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;

/**
 * What {@code api/openapi.yaml} says of each call: its name and the least role that may make it
 * ({@code x-least-role}; {@code nobody} for a call that needs no sign-in, {@code holder} for one of
 * the page of people who hold devices).
 */
final class Contract {
  private static final String NOBODY = "nobody";
  private static final String HOLDER = "holder";
  private final Map<String, Operation> operations = new LinkedHashMap<>();
  private final JsonNode root;

  /**
   * A call.
   *
   * @param least empty when nobody has to be signed in to an account
   * @param holders whether it is for people who hold devices, signed in for that
   * @param asked what may be asked for in the query, with the words it may be; no words for
   *     anything
   * @param takes the media type of the body it takes; empty when it takes none
   * @param onVersion whether it has to say which version of a thing it was made on
   */
  record Operation(
      String id,
      String method,
      String path,
      Optional<Role> least,
      boolean holders,
      Map<String, List<String>> asked,
      Optional<String> takes,
      boolean onVersion) {

    /**
     * Holds a request against the contract, so that what it does not know is told, and not taken
     * for nothing.
     *
     * @throws Problem 400 naming what there is, 415, 428
     */
    void check(Context ctx) {
      ctx.queryParamMap()
          .forEach(
              (name, values) -> {
                if (!asked.containsKey(name)) {
                  throw Problem.malformed(
                      "/" + Text.cleaned(name, 40),
                      "'"
                          + Text.cleaned(name, 40)
                          + "' cannot be asked for here; "
                          + (asked.isEmpty()
                              ? "nothing can."
                              : "there is " + String.join(", ", asked.keySet()) + "."));
                }
                values.forEach(value -> word(name, value));
              });
      if (onVersion) {
        Calls.ifMatch(ctx);
      }
      String type = ctx.contentType() == null ? "" : ctx.contentType();
      boolean body = ctx.req().getContentLengthLong() != 0;
      if (body && takes.filter(t -> !type.toLowerCase(Locale.ROOT).startsWith(t)).isPresent()) {
        throw new Problem(
            415, "wrong-media-type", "Wrong media type", "Send the body as " + takes.get() + ".");
      }
    }

    private void word(String name, String value) {
      List<String> words = asked.get(name);
      if (!value.isEmpty() && !words.isEmpty() && !words.contains(value)) {
        throw Problem.malformed(
            "/" + name,
            "'" + Text.cleaned(value, 40) + "' is not one of " + String.join(", ", words) + ".");
      }
    }
  }

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
    this.root = root;
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
      role =
          least.equals(NOBODY) || least.equals(HOLDER)
              ? Optional.empty()
              : Optional.of(Words.parse(Role.class, least));
    } catch (IllegalArgumentException e) {
      throw new IllegalStateException(
          "the contract declares no role for "
              + id
              + ": x-least-role has to be one of "
              + Words.list(Role.class)
              + " or "
              + NOBODY
              + "; or "
              + HOLDER,
          e);
    }
    Map<String, List<String>> asked = new TreeMap<>();
    operation.path("parameters").forEach(p -> asked(resolved(p), asked));
    boolean onVersion = false;
    for (JsonNode p : operation.path("parameters")) {
      onVersion |= resolved(p).path("name").asText().equals("If-Match");
    }
    Iterator<String> types = operation.at("/requestBody/content").fieldNames();
    Optional<String> takes = types.hasNext() ? Optional.of(types.next()) : Optional.empty();
    operations.put(
        key(method, path),
        new Operation(id, method, path, role, least.equals(HOLDER), asked, takes, onVersion));
  }

  private void asked(JsonNode parameter, Map<String, List<String>> into) {
    if (parameter.path("in").asText().equals("query")) {
      JsonNode schema = resolved(parameter.path("schema"));
      JsonNode words = schema.has("items") ? resolved(schema.path("items")) : schema;
      List<String> all = new ArrayList<>();
      words.path("enum").forEach(w -> all.add(w.asText()));
      into.put(parameter.path("name").asText(), all);
    }
  }

  private JsonNode resolved(JsonNode node) {
    String ref = node.path("$ref").asText();
    return ref.isEmpty() ? node : root.at(ref.substring(1));
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
