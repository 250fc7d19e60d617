package dev.pinwright.server;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.JsonNodeFactory;
import com.fasterxml.jackson.databind.node.ObjectNode;
import com.fasterxml.jackson.dataformat.yaml.YAMLFactory;
import dev.pinwright.service.work.Json;
import dev.pinwright.service.work.Page;
import java.io.IOException;
import java.io.InputStream;
import java.net.URLEncoder;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Base64;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Random;
import java.util.stream.StreamSupport;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;

/**
 * What comes from outside, spoilt in every way we could think of, from a seed that is new at every
 * run and printed with what failed: whatever is sent, the answer is a problem with words, never a
 * failure of the server.
 */
class FuzzTest {
  private static final int CALLS = 2_500;
  private static final JsonNodeFactory JSON = JsonNodeFactory.instance;
  private static final List<String> TEXTS =
      List.of(
          "",
          " ",
          "a",
          "none",
          "null",
          "-1",
          "0",
          "99999999999999999999",
          "1e400",
          "'; drop table device; --",
          "<b>x</b>",
          "%",
          "%00",
          "..",
          "../../etc/passwd",
          "=1+1",
          "a\0b",
          "\u001b[2J",
          "line\r\nBcc: all",
          "\ud800",
          "\uffff",
          "\u202eabc",
          "A\u030a",
          "👩🏽‍🔧",
          "{seq",
          "{seq:99}",
          "2026-13-45",
          "2026-02-30T00:00:00Z",
          "+292278994-08-16T23:00:00Z",
          "http://127.0.0.1:1/",
          "x".repeat(300),
          "ж".repeat(5_000),
          "y".repeat(100_000));

  private final long seed = System.nanoTime();
  private final Random random = new Random(seed);
  private final JsonNode contract = contract();

  private static JsonNode contract() {
    try (InputStream in = FuzzTest.class.getResourceAsStream("/openapi.yaml")) {
      return new ObjectMapper(new YAMLFactory()).readTree(in);
    } catch (IOException e) {
      throw new IllegalStateException(e);
    }
  }

  private <T> T one(List<T> from) {
    return from.get(random.nextInt(from.size()));
  }

  @Test
  @Timeout(240)
  void whateverIsSentTheServerAnswersWithWords() throws Exception {
    List<String> failed = new ArrayList<>();
    int refused = 0;
    try (House house = new House()) {
      List<Contract.Operation> operations =
          StreamSupport.stream(Contract.read().operations().spliterator(), false)
              .filter(o -> !o.id().equals("signOut"))
              .toList();
      for (int i = 0; i < CALLS; i++) {
        Contract.Operation o = one(operations);
        String path = o.path();
        while (path.contains("{")) {
          path = path.replaceFirst("\\{[^}]*}", quoted(encoded(short_(one(TEXTS)))));
        }
        JsonNode call =
            contract.path("paths").path(o.path()).path(o.method().toLowerCase(Locale.ROOT));
        String query = query(call);
        String body = body(call);
        House.Answer answer =
            house.call("owner", o.method().toUpperCase(Locale.ROOT), path + query, body);
        if (answer.status() >= 500) {
          failed.add(o.id() + " " + path + query + " " + clipped(body) + " → " + answer.body());
        } else if (answer.status() == 400) {
          refused++;
          if (Json.tree(answer.body()).path("detail").asText().length() < 10) {
            failed.add(o.id() + " says nothing: " + answer.body());
          }
        }
      }
      assertThat(house.call("owner", "GET", "/me", "").status()).isEqualTo(200);
    }
    assertThat(failed).as("seed %d", seed).isEmpty();
    assertThat(refused).as("refused with words, of %d; seed %d", CALLS, seed).isGreaterThan(300);
  }

  @Test
  @Timeout(120)
  void whateverADeviceSendsTheListenerAnswersWithWords() throws Exception {
    List<String> failed = new ArrayList<>();
    try (House house = new House()) {
      JsonNode profile =
          house.call("owner", "POST", "/enrollment-profiles", "{\"name\":\"Kiosks\"}").json();
      String code =
          house
              .call(
                  "owner",
                  "POST",
                  "/invitations",
                  "{\"profileId\":\"" + profile.path("id").asText() + "\",\"uses\":9999}")
              .json()
              .path("code")
              .asText();
      for (int i = 0; i < CALLS / 5; i++) {
        String path =
            switch (random.nextInt(6)) {
              case 0, 1 -> "/join/" + code;
              case 2 -> "/join/by-identifier";
              case 3 -> "/join/" + code + "/bench";
              case 4 -> "/.well-known/est/simpleenroll";
              default -> "/dm";
            };
        String body = random.nextInt(4) == 0 ? one(TEXTS) : join().toString();
        House.Answer answer = house.device("POST", path, body, headers());
        if (answer.status() >= 500) {
          failed.add(path + " " + clipped(body) + " → " + answer.body());
        }
      }
    }
    assertThat(failed).as("seed %d", seed).isEmpty();
  }

  private JsonNode join() {
    ObjectNode device = JSON.objectNode();
    for (String field : List.of("platform", "osVersion", "kind", "maker", "model")) {
      device.set(
          field,
          random.nextInt(3) == 0
              ? odd()
              : JSON.textNode(
                  Map.of(
                          "platform", "tarn",
                          "osVersion", "7.2.1",
                          "kind", "tablet",
                          "maker", "Arbor",
                          "model", "T10")
                      .get(field)));
    }
    ArrayNode identifiers = device.putArray("identifiers");
    for (int i = random.nextInt(3); i >= 0; i--) {
      ObjectNode one = identifiers.addObject();
      one.put("kind", one(List.of("serial", "imei", "asset", "x")));
      one.set("value", random.nextBoolean() ? odd() : JSON.textNode("AR10-" + random.nextInt(99)));
    }
    ObjectNode body = JSON.objectNode();
    body.set("device", random.nextInt(6) == 0 ? odd() : device);
    if (random.nextInt(3) == 0) {
      body.set("signIn", JSON.objectNode().put("login", one(TEXTS)).put("secret", one(TEXTS)));
    }
    body.set("termsAccepted", random.nextBoolean() ? number() : odd());
    return body;
  }

  private Map<String, String> headers() {
    String user = short_(one(TEXTS)) + ":" + short_(one(TEXTS));
    String basic = Base64.getEncoder().encodeToString(user.getBytes(StandardCharsets.UTF_8));
    return Map.of(
        "Authorization",
        random.nextInt(3) == 0 ? "Basic " + basic.substring(basic.length() / 3) : "Basic " + basic,
        "Accept-Language",
        one(List.of("-", "*", "en;q=2", "de-x", "xx-yy-zz;q=0.5", "\u00e9", ",,,")),
        "Content-Type",
        one(List.of("application/json", "application/pkcs10", "text/plain", "-")));
  }

  private static String quoted(String replacement) {
    return replacement.replace("\\", "\\\\").replace("$", "\\$");
  }

  /** Of a path or query Jetty takes 8 KiB; what is longer is its to refuse. */
  private static String short_(String text) {
    return text.isEmpty() ? "-" : text.substring(0, Math.min(text.length(), 300));
  }

  private static String clipped(String text) {
    return text.length() > 300 ? text.substring(0, 300) + "…" : text;
  }

  private static String encoded(String text) {
    String out = URLEncoder.encode(text, StandardCharsets.UTF_8).replace("+", "%20");
    return out.equals(".") || out.equals("..") ? "%2e" : out;
  }

  private String query(JsonNode call) {
    StringBuilder out = new StringBuilder();
    for (JsonNode p : call.path("parameters")) {
      JsonNode parameter = p.has("$ref") ? resolved(p) : p;
      if (parameter.path("in").asText().equals("query") && random.nextInt(3) > 0) {
        String name = parameter.path("name").asText();
        String value = name.equals("after") ? cursor() : short_(one(TEXTS));
        out.append(out.isEmpty() ? "?" : "&").append(name).append('=').append(encoded(value));
      }
    }
    return out.toString();
  }

  /** A cursor of some list, or what is left of one. */
  private String cursor() {
    String whole =
        random.nextBoolean()
            ? Page.cursor(short_(one(TEXTS)), short_(one(TEXTS)))
            : Page.cursor(one(List.of("12", "99999999999999999999", "kiosk", "01J8", "infinity")));
    int cut = random.nextInt(whole.length() + 1);
    return random.nextInt(3) == 0 ? whole.substring(cut) : whole;
  }

  private String body(JsonNode call) {
    JsonNode schema = call.at("/requestBody/content/application~1json/schema");
    return switch (random.nextInt(12)) {
      case 0 ->
          one(List.of("", "null", "[]", "1", "\"a\"", "{", "{}{}", "{\"a\":}", "[".repeat(900)));
      case 1 -> "{\"unknown\":1}";
      default -> object(resolved(schema), 0).toString();
    };
  }

  private JsonNode resolved(JsonNode schema) {
    String ref = schema.path("$ref").asText();
    return ref.isEmpty() ? schema : contract.at(ref.substring(1));
  }

  private JsonNode object(JsonNode schema, int depth) {
    ObjectNode out = JSON.objectNode();
    for (Map.Entry<String, JsonNode> p : resolved(schema).path("properties").properties()) {
      if (random.nextInt(4) > 0) {
        out.set(p.getKey(), value(resolved(p.getValue()), depth));
      }
    }
    return out;
  }

  private JsonNode value(JsonNode schema, int depth) {
    if (random.nextInt(4) == 0 || depth > 3) {
      return odd();
    }
    List<JsonNode> words = new ArrayList<>();
    schema.path("enum").forEach(words::add);
    if (!words.isEmpty() && random.nextBoolean()) {
      return one(words);
    }
    return switch (schema.path("type").asText()) {
      case "object" ->
          schema.has("properties")
              ? object(schema, depth + 1)
              : JSON.objectNode().set(one(TEXTS.subList(0, 20)), odd());
      case "array" -> {
        ArrayNode list = JSON.arrayNode();
        for (int i = random.nextInt(3); i > 0; i--) {
          list.add(value(resolved(schema.path("items")), depth + 1));
        }
        yield list;
      }
      case "integer", "number" -> number();
      case "boolean" -> JSON.booleanNode(random.nextBoolean());
      default -> JSON.textNode(one(TEXTS));
    };
  }

  private JsonNode number() {
    return switch (random.nextInt(6)) {
      case 0 -> JSON.numberNode(-1);
      case 1 -> JSON.numberNode(0);
      case 2 -> JSON.numberNode(Long.MAX_VALUE);
      case 3 -> JSON.numberNode(1.5);
      case 4 -> JSON.numberNode(new java.math.BigDecimal("1e300"));
      default -> JSON.numberNode(random.nextInt(100));
    };
  }

  private JsonNode odd() {
    return switch (random.nextInt(6)) {
      case 0 -> JSON.nullNode();
      case 1 -> JSON.arrayNode().add(one(TEXTS));
      case 2 -> JSON.objectNode().put("x", 1);
      case 3 -> JSON.booleanNode(true);
      case 4 -> number();
      default -> JSON.textNode(one(TEXTS));
    };
  }
}
