package dev.pinwright.protocol.pack;

import com.fasterxml.jackson.core.JsonFactoryBuilder;
import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.core.StreamReadConstraints;
import com.fasterxml.jackson.core.StreamReadFeature;
import com.fasterxml.jackson.databind.DeserializationFeature;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.json.JsonMapper;
import dev.pinwright.core.Text;
import dev.pinwright.core.app.AppId;
import dev.pinwright.core.catalog.ValueType.AddressType;
import dev.pinwright.core.device.OsVersion;
import java.nio.ByteBuffer;
import java.nio.charset.CharacterCodingException;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;

/**
 * Reads {@code manifest.json}. What is in it and is not known is refused, so that nothing hides.
 */
public final class Manifests {
  /** Most bytes of a manifest. */
  public static final int MOST_BYTES = 256 * 1024;

  private static final int MOST_FILES = 2_000;
  private static final int MOST_PERMISSIONS = 100;
  private static final Set<String> KNOWN =
      Set.of(
          "format",
          "id",
          "name",
          "publisher",
          "summary",
          "category",
          "version",
          "versionCode",
          "platforms",
          "lowestOs",
          "permissions",
          "icon",
          "size",
          "notes",
          "files",
          "configuration",
          "opens");
  private static final AddressType ADDRESS = new AddressType(AddressType.Of.URL);
  private static final JsonMapper MAPPER =
      JsonMapper.builder(
              new JsonFactoryBuilder()
                  .streamReadConstraints(
                      StreamReadConstraints.builder().maxNestingDepth(60).build())
                  .enable(StreamReadFeature.STRICT_DUPLICATE_DETECTION)
                  .build())
          .enable(DeserializationFeature.FAIL_ON_TRAILING_TOKENS)
          .build();

  private final JsonNode root;

  private Manifests(JsonNode root) {
    this.root = root;
  }

  /**
   * Reads one.
   *
   * @throws PackageRefused naming the member that is wrong
   */
  public static Manifest read(byte[] json) throws PackageRefused {
    if (json.length > MOST_BYTES) {
      throw new PackageRefused(
          "The manifest has at most "
              + (MOST_BYTES >> 10)
              + " KiB; this has "
              + json.length
              + " bytes.");
    }
    JsonNode root;
    try {
      root =
          MAPPER.readTree(
              StandardCharsets.UTF_8.newDecoder().decode(ByteBuffer.wrap(json)).toString());
    } catch (CharacterCodingException e) {
      throw new PackageRefused("The manifest is not UTF-8.");
    } catch (JsonProcessingException e) {
      throw new PackageRefused("The manifest is not JSON: " + e.getOriginalMessage() + ".");
    }
    return new Manifests(root).manifest();
  }

  private Manifest manifest() throws PackageRefused {
    if (!root.isObject()) {
      throw new PackageRefused("The manifest is a JSON object.");
    }
    for (Map.Entry<String, JsonNode> member : root.properties()) {
      if (!KNOWN.contains(member.getKey())) {
        throw new PackageRefused(
            "The manifest has a member "
                + Text.cleaned(member.getKey(), 60)
                + ", which is not known.");
      }
    }
    if (!root.path("format").asText().equals(Manifest.FORMAT)) {
      throw wrong("format", "is " + Manifest.FORMAT);
    }
    String id;
    try {
      id = AppId.read(text("id", 1, 100));
    } catch (IllegalArgumentException e) {
      throw wrong("id", "is not right: " + e.getMessage());
    }
    JsonNode code = root.path("versionCode");
    if (!code.isIntegralNumber()
        || !code.canConvertToLong()
        || code.asLong() < 1
        || code.asLong() > 2_100_000_000L) {
      throw wrong("versionCode", "is a whole number from 1 to 2100000000");
    }
    JsonNode size = root.path("size");
    if (!size.isMissingNode() && (!size.isIntegralNumber() || size.asLong() < 0)) {
      throw wrong("size", "is the number of bytes it takes once installed");
    }
    Map<String, String> files = files();
    Optional<String> icon = icon(files);
    return new Manifest(
        id,
        text("name", 1, 60),
        optional("publisher", 80),
        optional("summary", 200),
        optional("category", 40),
        text("version", 1, 40),
        code.asLong(),
        lowest(),
        permissions(),
        icon,
        size.asLong(0),
        notes(),
        files,
        configuration(),
        opens());
  }

  private static PackageRefused wrong(String member, String is) {
    return new PackageRefused("In the manifest, " + member + " " + is + ".");
  }

  private String text(String member, int least, int most) throws PackageRefused {
    JsonNode n = root.path(member);
    return line(member, n, least, most);
  }

  private static String line(String member, JsonNode n, int least, int most) throws PackageRefused {
    String wanted = "is a text of " + least + " to " + most + " characters on one line";
    if (!n.isTextual()) {
      throw wrong(member, wanted);
    }
    try {
      String text = Text.line(n.asText());
      if (text.strip().length() < least || text.length() > most) {
        throw wrong(member, wanted);
      }
      if (text.codePoints().anyMatch(Manifests::turnsText)) {
        throw wrong(member, wanted + ", without characters that turn the direction of text");
      }
      return text.strip();
    } catch (IllegalArgumentException e) {
      throw wrong(member, wanted + "; " + e.getMessage());
    }
  }

  /** Explicit directional formatting (UAX #9, 2): it lets a text read as another. */
  private static boolean turnsText(int c) {
    return c >= 0x202a && c <= 0x202e || c >= 0x2066 && c <= 0x2069;
  }

  private String optional(String member, int most) throws PackageRefused {
    return root.has(member) ? text(member, 0, most) : "";
  }

  private String notes() throws PackageRefused {
    if (!root.has("notes")) {
      return "";
    }
    String wanted = "is a text of at most 4000 characters";
    if (!root.get("notes").isTextual() || root.get("notes").asText().length() > 4_000) {
      throw wrong("notes", wanted);
    }
    try {
      return Text.lines(root.get("notes").asText());
    } catch (IllegalArgumentException e) {
      throw wrong("notes", wanted + "; " + e.getMessage());
    }
  }

  private Map<String, OsVersion> lowest() throws PackageRefused {
    JsonNode platforms = root.path("platforms");
    if (!platforms.isArray() || platforms.isEmpty() || platforms.size() > 10) {
      throw wrong("platforms", "is a list of one to ten platforms");
    }
    JsonNode lowest = root.path("lowestOs");
    if (!lowest.isMissingNode() && !lowest.isObject()) {
      throw wrong("lowestOs", "is an object with the lowest OS version of each platform");
    }
    Map<String, OsVersion> out = new TreeMap<>();
    for (JsonNode p : platforms) {
      String platform = line("platforms", p, 1, 32);
      try {
        out.put(platform, OsVersion.parse(lowest.path(platform).asText("0.0")));
      } catch (IllegalArgumentException e) {
        throw wrong("lowestOs", "has no OS version for " + platform + ": " + e.getMessage());
      }
    }
    for (Map.Entry<String, JsonNode> l : lowest.properties()) {
      if (!out.containsKey(l.getKey())) {
        throw wrong(
            "lowestOs", "names " + Text.cleaned(l.getKey(), 32) + ", which is not among platforms");
      }
    }
    return out;
  }

  private List<String> permissions() throws PackageRefused {
    JsonNode n = root.path("permissions");
    if (n.isMissingNode()) {
      return List.of();
    }
    if (!n.isArray() || n.size() > MOST_PERMISSIONS) {
      throw wrong("permissions", "is a list of at most " + MOST_PERMISSIONS + " words");
    }
    List<String> out = new ArrayList<>();
    for (JsonNode p : n) {
      String permission = line("permissions", p, 1, 60);
      if (!out.contains(permission)) {
        out.add(permission);
      }
    }
    return out.stream().sorted().toList();
  }

  private Map<String, String> files() throws PackageRefused {
    JsonNode n = root.path("files");
    if (!n.isObject() || n.isEmpty() || n.size() > MOST_FILES) {
      throw wrong("files", "is an object of 1 to " + MOST_FILES + " paths, each with its SHA-256");
    }
    Map<String, String> out = new TreeMap<>();
    Set<String> alike = new HashSet<>();
    for (Map.Entry<String, JsonNode> f : n.properties()) {
      String path = f.getKey();
      if (!PackageFile.fits(path)
          || path.equals(Manifest.FILE)
          || path.equals(Manifest.SIGNATURE)) {
        throw wrong(
            "files", "names " + Text.cleaned(path, 80) + ", which no file of a package is called");
      }
      if (!alike.add(path.toLowerCase(Locale.ROOT))) {
        throw wrong("files", "names " + Text.cleaned(path, 80) + " twice but for capitals");
      }
      if (!f.getValue().asText().matches("[0-9a-f]{64}")) {
        throw wrong("files", "has no SHA-256 of 64 small hex digits for " + Text.cleaned(path, 80));
      }
      out.put(path, f.getValue().asText());
    }
    return out;
  }

  private Optional<String> icon(Map<String, String> files) throws PackageRefused {
    if (!root.has("icon")) {
      return Optional.empty();
    }
    String icon = text("icon", 1, 200);
    if (!files.containsKey(icon)) {
      throw wrong("icon", "is a path among files");
    }
    return Optional.of(icon);
  }

  private Optional<String> configuration() throws PackageRefused {
    JsonNode n = root.path("configuration");
    if (n.isMissingNode()) {
      return Optional.empty();
    }
    if (!n.isObject() || !n.path("type").asText().equals("object")) {
      throw wrong("configuration", "is a JSON Schema (2020-12) of type object");
    }
    return Optional.of(n.toString());
  }

  private Optional<String> opens() throws PackageRefused {
    if (!root.has("opens")) {
      return Optional.empty();
    }
    String opens = text("opens", 1, 2_000);
    if (!ADDRESS.fits(opens)) {
      throw wrong("opens", "is " + ADDRESS.wanted());
    }
    return Optional.of(opens);
  }
}
