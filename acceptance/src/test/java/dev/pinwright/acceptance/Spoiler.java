package dev.pinwright.acceptance;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.JsonNodeFactory;
import com.fasterxml.jackson.databind.node.ObjectNode;
import com.fasterxml.jackson.dataformat.yaml.YAMLFactory;
import dev.pinwright.service.work.Page;
import java.io.IOException;
import java.io.InputStream;
import java.net.URLEncoder;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Base64;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Random;
import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * What comes from outside, spoilt in every way we could think of, from a seed: calls of every
 * operation of the contract, joins, requests for certificates and messages of management sessions.
 */
final class Spoiler {
  private static final JsonNodeFactory JSON = JsonNodeFactory.instance;

  /** Operations that would end the caller's own sign-in, or go on for ever. */
  private static final Set<String> LEFT_OUT = Set.of("signOut", "events");

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

  private static final Pattern ID = Pattern.compile("\"id\":\"([^\"]+)\"");
  private static final int MOST_KNOWN = 200;

  private final Random random;
  private final List<String> known = new ArrayList<>();
  private final JsonNode contract;
  private final List<Operation> operations = new ArrayList<>();

  private record Operation(String method, String path, JsonNode call) {}

  /** A request; the content type is empty where there is none. */
  record Request(String method, String path, Map<String, String> headers, byte[] body) {
    @Override
    public String toString() {
      return method
          + " "
          + path
          + " "
          + headers
          + " "
          + clipped(new String(body, StandardCharsets.UTF_8));
    }
  }

  Spoiler(long seed) {
    random = new Random(seed);
    try (InputStream in = Spoiler.class.getResourceAsStream("/openapi.yaml")) {
      contract = new ObjectMapper(new YAMLFactory()).readTree(in);
    } catch (IOException e) {
      throw new IllegalStateException(e);
    }
    contract
        .path("paths")
        .properties()
        .forEach(
            path ->
                path.getValue()
                    .properties()
                    .forEach(
                        call -> {
                          String id = call.getValue().path("operationId").asText();
                          if (!id.isEmpty() && !LEFT_OUT.contains(id)) {
                            operations.add(
                                new Operation(
                                    call.getKey().toUpperCase(Locale.ROOT),
                                    path.getKey(),
                                    call.getValue()));
                          }
                        }));
  }

  private <T> T one(List<T> from) {
    return from.get(random.nextInt(from.size()));
  }

  /** Remembers what is on file, so that not all that is asked for is missing. */
  void learn(String answer) {
    Matcher ids = ID.matcher(answer);
    while (ids.find()) {
      if (known.size() == MOST_KNOWN) {
        known.remove(random.nextInt(MOST_KNOWN));
      }
      known.add(ids.group(1));
    }
  }

  /** A call of some operation, its path, filters and body spoilt. */
  Request call() {
    Operation o = one(operations);
    String path = o.path();
    while (path.contains("{")) {
      String in =
          known.isEmpty() || random.nextInt(4) == 0 ? encoded(short_(one(TEXTS))) : one(known);
      path = path.replaceFirst("\\{[^}]*}", quoted(in));
    }
    JsonNode content = resolved(o.call().path("requestBody")).path("content");
    boolean sheet = content.has("text/csv");
    String body = content.isMissingNode() ? "" : sheet ? sheet() : body(content);
    return new Request(
        o.method(),
        "/api/v1" + path + query(o.call()),
        Map.of(
            "If-Match",
            one(List.of("\"1\"", "\"1\"", "\"2\"", "*", "1", "W/\"1\"", "-")),
            "Content-Type",
            content.isMissingNode() ? "-" : sheet ? "text/csv" : "application/json"),
        random.nextInt(12) == 0 ? bitten(body) : bytes(body));
  }

  private String sheet() {
    List<String> columns =
        List.of(
            "serial",
            "imei",
            "name",
            "parent",
            "unit",
            "site",
            "login",
            "mail",
            "tags",
            "order",
            "id",
            "device",
            "platform",
            "model",
            "language",
            "colour");
    String between = one(List.of(",", ";", "\t"));
    StringBuilder out = new StringBuilder();
    for (int row = random.nextInt(5); row >= 0; row--) {
      for (int cell = random.nextInt(6); cell >= 0; cell--) {
        out.append(random.nextInt(4) > 0 ? one(columns) : one(TEXTS));
        out.append(cell == 0 ? "\n" : between);
      }
    }
    return random.nextInt(10) == 0 ? "" : out.toString();
  }

  /** A request to join, or to begin one, by a code. */
  Request join(String code) {
    return new Request(
        "POST",
        switch (random.nextInt(4)) {
          case 0 -> "/join/by-identifier";
          case 1 -> "/join/" + code + "/bench";
          default -> "/join/" + (random.nextInt(9) == 0 ? encoded(short_(one(TEXTS))) : code);
        },
        headers("application/json"),
        random.nextInt(4) == 0 ? bitten(join().toString()) : bytes(join().toString()));
  }

  /** A request for a certificate, made from one that is right. */
  Request certificate(String username, String password, String csr) {
    String user =
        random.nextInt(4) == 0
            ? short_(one(TEXTS)) + ":" + short_(one(TEXTS))
            : username + ":" + (random.nextInt(4) == 0 ? password : short_(one(TEXTS)));
    String basic = Base64.getEncoder().encodeToString(user.getBytes(StandardCharsets.UTF_8));
    Map<String, String> headers = new java.util.HashMap<>(headers("application/pkcs10"));
    headers.put(
        "Authorization",
        "Basic " + (random.nextInt(5) == 0 ? basic.substring(basic.length() / 3) : basic));
    byte[] body =
        switch (random.nextInt(4)) {
          case 0 -> bytes(one(TEXTS));
          case 1 -> Base64.getEncoder().encode(spoilt(Base64.getDecoder().decode(csr)));
          case 2 -> bitten(csr);
          default -> bytes(csr);
        };
    return new Request(
        random.nextInt(12) == 0 ? "GET" : "POST",
        "/.well-known/est/"
            + one(List.of("simpleenroll", "simpleenroll", "simplereenroll", "cacerts", "csrattrs")),
        headers,
        body);
  }

  /** A message of a management session, made from one that is right. */
  Request message(String right) {
    String xml = right;
    for (int times = random.nextInt(4); times > 0; times--) {
      int from = xml.indexOf('>', random.nextInt(xml.length())) + 1;
      int to = xml.indexOf('<', from);
      if (to < 0) {
        continue;
      }
      xml =
          xml.substring(0, from)
              + (random.nextBoolean() ? escaped(one(TEXTS)) : one(ODD_ELEMENTS))
              + xml.substring(random.nextInt(5) == 0 ? Math.min(to + 9, xml.length()) : to);
    }
    return new Request(
        "POST",
        "/dm",
        headers("application/vnd.syncml.dm+xml; charset=utf-8"),
        random.nextInt(4) == 0 ? bitten(xml) : bytes(xml));
  }

  private static final List<String> ODD_ELEMENTS =
      List.of(
          "<Status><CmdID>9</CmdID><MsgRef>1</MsgRef><CmdRef>2</CmdRef><Cmd>Get</Cmd><Data>200</Data></Status>",
          "<Results><CmdID>7</CmdID><MsgRef>1</MsgRef><CmdRef>1</CmdRef></Results>",
          "<Item/>",
          "<Final/>",
          "<Data>-1</Data>",
          "<x xmlns=\"urn:x\"/>",
          "<Meta><MaxMsgSize xmlns=\"syncml:metinf\">1</MaxMsgSize></Meta>",
          "<MaxMsgSize>99999999999</MaxMsgSize>",
          "<Alert><CmdID>5</CmdID><Data>1223</Data></Alert>",
          "<Alert><CmdID>6</CmdID><Data>1226</Data><Item><Meta><Type xmlns=\"syncml:metinf\">x</Type></Meta></Item></Alert>",
          "<Exec><CmdID>8</CmdID><Item><Target><LocURI>./x</LocURI></Target></Item></Exec>",
          "<Item><Source><LocURI>./DevInfo/../x</LocURI></Source><Data>1</Data></Item>",
          "<![CDATA[x]]>");

  private static String escaped(String text) {
    return text.replace("&", "&amp;").replace("<", "&lt;");
  }

  private static byte[] bytes(String text) {
    return text.getBytes(StandardCharsets.UTF_8);
  }

  private byte[] bitten(String text) {
    return spoilt(bytes(text));
  }

  /** Some bytes changed, left out, or come twice. */
  private byte[] spoilt(byte[] right) {
    byte[] out = right.clone();
    for (int times = random.nextInt(3); times >= 0 && out.length > 1; times--) {
      int at = random.nextInt(out.length);
      switch (random.nextInt(3)) {
        case 0 -> out[at] ^= (byte) (1 << random.nextInt(8));
        case 1 -> out = Arrays.copyOf(out, at);
        default -> {
          byte[] twice = Arrays.copyOf(out, out.length + at);
          System.arraycopy(out, 0, twice, out.length, at);
          out = twice;
        }
      }
    }
    return out;
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

  private Map<String, String> headers(String type) {
    return Map.of(
        "Accept-Language",
        one(List.of("-", "*", "en;q=2", "de-x", "xx-yy-zz;q=0.5", "\u00e9", ",,,")),
        "Content-Type",
        random.nextInt(9) == 0 ? one(List.of("text/plain", "-", "application/x")) : type);
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

  private String body(JsonNode content) {
    JsonNode schema = content.path("application/json").path("schema");
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
