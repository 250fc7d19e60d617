package dev.pinwright.service.configuration;

import com.fasterxml.jackson.core.JsonLocation;
import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.core.StreamReadFeature;
import com.fasterxml.jackson.databind.DeserializationFeature;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.dataformat.yaml.YAMLFactory;
import com.fasterxml.jackson.dataformat.yaml.YAMLGenerator;
import com.fasterxml.jackson.dataformat.yaml.YAMLMapper;
import dev.pinwright.core.configuration.Part;
import dev.pinwright.service.work.Json;
import dev.pinwright.service.work.Problem;
import java.util.ArrayList;
import java.util.EnumMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import org.yaml.snakeyaml.LoaderOptions;

/**
 * The configuration as texts of YAML 1.1 by the paths of their files, and read from them again.
 * What is written from the same arrangement is the same to the letter.
 */
final class ConfigurationTexts {
  /** The file that says what the others are. */
  static final String FIRST = "pinwright.yaml";

  /** The value of {@code format} in it. */
  static final String FORMAT = "pinwright-configuration/1";

  private static final int MOST_BYTES = 16 << 20;

  private static final YAMLMapper YAML =
      YAMLMapper.builder(
              YAMLFactory.builder()
                  .loaderOptions(sparing())
                  .enable(StreamReadFeature.STRICT_DUPLICATE_DETECTION)
                  .disable(YAMLGenerator.Feature.WRITE_DOC_START_MARKER)
                  .disable(YAMLGenerator.Feature.SPLIT_LINES)
                  .enable(YAMLGenerator.Feature.MINIMIZE_QUOTES)
                  .enable(YAMLGenerator.Feature.ALWAYS_QUOTE_NUMBERS_AS_STRINGS)
                  .enable(YAMLGenerator.Feature.LITERAL_BLOCK_STYLE)
                  .build())
          .enable(DeserializationFeature.FAIL_ON_TRAILING_TOKENS)
          .build();

  private ConfigurationTexts() {}

  /** No anchors that blow up, and no deeper than any file of ours. */
  private static LoaderOptions sparing() {
    LoaderOptions options = new LoaderOptions();
    options.setMaxAliasesForCollections(0);
    options.setNestingDepthLimit(20);
    options.setCodePointLimit(MOST_BYTES);
    return options;
  }

  /** The texts, by path. */
  static Map<String, String> write(Arrangement arrangement) {
    Map<String, String> texts = new TreeMap<>();
    texts.put(FIRST, text(Map.of("format", FORMAT)));
    for (Part part : Part.values()) {
      Map<String, List<Object>> files = new LinkedHashMap<>();
      if (!part.inFolder()) {
        files.put(part.place(), new ArrayList<>());
      }
      arrangement
          .of(part)
          .values()
          .forEach(p -> files.computeIfAbsent(p.file(), f -> new ArrayList<>()).add(p.thing()));
      files.forEach(
          (file, things) -> texts.put(file, text(part.inFolder() ? things.get(0) : things)));
    }
    return texts;
  }

  private static String text(Object value) {
    try {
      return YAML.writeValueAsString(Json.MAPPER.valueToTree(value));
    } catch (JsonProcessingException e) {
      throw new IllegalStateException(e);
    }
  }

  /**
   * What is in texts.
   *
   * @throws Problem 400 naming the file and what is wrong in it
   */
  static Arrangement read(Map<String, String> texts) {
    first(texts);
    Map<Part, Map<String, Arrangement.Placed>> parts = new EnumMap<>(Part.class);
    new TreeMap<>(texts)
        .forEach(
            (path, text) -> {
              if (path.equals(FIRST)) {
                return;
              }
              Part part =
                  Part.of(path)
                      .orElseThrow(
                          () ->
                              Problem.malformed(
                                  "",
                                  path + " is no file of a configuration; see pinwright.yaml."));
              read(part, path, text, parts.computeIfAbsent(part, p -> new LinkedHashMap<>()));
            });
    return new Arrangement(parts);
  }

  private static void first(Map<String, String> texts) {
    String first = texts.get(FIRST);
    if (first == null) {
      throw Problem.malformed("", "There is no " + FIRST + ", so this is no configuration.");
    }
    String format = tree(FIRST, first).path("format").asText();
    if (!format.equals(FORMAT)) {
      throw Problem.malformed(
          "", FIRST + ": its format has to be " + FORMAT + ", not '" + format + "'.");
    }
  }

  private static void read(
      Part part, String path, String text, Map<String, Arrangement.Placed> into) {
    JsonNode tree = tree(path, text);
    if (part.inFolder() == tree.isArray() || !tree.isContainerNode()) {
      throw Problem.malformed(
          "", path + (part.inFolder() ? " has to be one thing, a map." : " has to be a list."));
    }
    int nr = 0;
    for (JsonNode node : part.inFolder() ? List.of(tree) : tree) {
      nr++;
      String where = part.inFolder() ? path : path + ", number " + nr;
      Thing thing = At.file(where, () -> Json.request(node, Thing.type(part)));
      if (thing.key().isBlank()) {
        throw Problem.malformed("", where + ": say what it is called.");
      }
      if (into.putIfAbsent(thing.key(), new Arrangement.Placed(thing, path)) != null) {
        throw Problem.malformed("", where + ": " + thing.key() + " is there twice.");
      }
    }
  }

  private static JsonNode tree(String path, String text) {
    try {
      JsonNode tree = YAML.readTree(text);
      return tree == null || tree.isMissingNode() ? Json.MAPPER.createArrayNode() : tree;
    } catch (JsonProcessingException e) {
      JsonLocation at = e.getLocation();
      throw Problem.malformed(
          "",
          path
              + (at == null ? "" : ", line " + at.getLineNr())
              + ": this is no YAML: "
              + e.getOriginalMessage().lines().findFirst().orElse("")
              + ".");
    }
  }
}
