package dev.pinwright.service.work;

import com.fasterxml.jackson.annotation.JsonInclude;
import com.fasterxml.jackson.annotation.JsonSetter;
import com.fasterxml.jackson.annotation.Nulls;
import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.core.type.TypeReference;
import com.fasterxml.jackson.databind.DeserializationFeature;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.SerializationFeature;
import com.fasterxml.jackson.databind.json.JsonMapper;
import com.fasterxml.jackson.datatype.jdk8.Jdk8Module;
import com.fasterxml.jackson.datatype.jsr310.JavaTimeModule;
import java.io.IOException;
import org.jspecify.annotations.Nullable;

/** JSON as the API speaks it: absent rather than null, instants as ISO 8601 in UTC. */
public final class Json {
  public static final ObjectMapper MAPPER =
      JsonMapper.builder()
          .addModule(new JavaTimeModule())
          .addModule(new Jdk8Module())
          .addModule(new CoreJson())
          .disable(SerializationFeature.WRITE_DATES_AS_TIMESTAMPS)
          .enable(DeserializationFeature.FAIL_ON_UNKNOWN_PROPERTIES)
          .enable(DeserializationFeature.FAIL_ON_TRAILING_TOKENS)
          .defaultPropertyInclusion(
              JsonInclude.Value.construct(
                  JsonInclude.Include.NON_ABSENT, JsonInclude.Include.ALWAYS))
          .build();

  private static final ObjectMapper REQUESTS =
      MAPPER
          .copy()
          .registerModule(new RequestTexts())
          .setDefaultSetterInfo(JsonSetter.Value.forContentNulls(Nulls.FAIL));

  private Json() {}

  /** Writes a value. */
  public static String write(Object value) {
    try {
      return MAPPER.writeValueAsString(value);
    } catch (JsonProcessingException e) {
      throw new IllegalStateException(e);
    }
  }

  /** Reads what we wrote ourselves. */
  public static <T> T read(String json, Class<T> type) {
    try {
      return MAPPER.readValue(json, type);
    } catch (JsonProcessingException e) {
      throw new IllegalStateException(e);
    }
  }

  /** Reads what we wrote ourselves. */
  public static <T> T read(String json, TypeReference<T> type) {
    try {
      return MAPPER.readValue(json, type);
    } catch (JsonProcessingException e) {
      throw new IllegalStateException(e);
    }
  }

  /** Reads what we wrote ourselves as a tree. */
  public static JsonNode tree(String json) {
    return read(json, JsonNode.class);
  }

  /**
   * Reads a request body.
   *
   * @throws Problem 400 naming the place and what is wrong with it
   */
  public static <T> T request(String json, Class<T> type) {
    try {
      return request(REQUESTS.readTree(json), type);
    } catch (JsonProcessingException e) {
      throw Problem.malformed("", "The body is not JSON.");
    }
  }

  /** {@link #request(String, Class)}, of what was parsed already. */
  public static <T> T request(@Nullable JsonNode tree, Class<T> type) {
    try {
      if (tree == null || !tree.isObject()) {
        throw Problem.malformed("", "The body has to be a JSON object.");
      }
      RequestTexts.check(tree);
      return REQUESTS.treeToValue(tree, type);
    } catch (IllegalArgumentException e) {
      throw Problem.malformed("", e);
    } catch (com.fasterxml.jackson.databind.exc.UnrecognizedPropertyException e) {
      throw Problem.malformed(
          pointer(e),
          "There is no field '"
              + e.getPropertyName()
              + "' here; known are "
              + e.getKnownPropertyIds()
              + ".");
    } catch (com.fasterxml.jackson.databind.JsonMappingException e) {
      if (e.getCause() instanceof IllegalArgumentException why && why.getMessage() != null) {
        throw Problem.malformed(pointer(e), why);
      }
      throw Problem.malformed(pointer(e), "The value here is of the wrong kind.");
    } catch (JsonProcessingException e) {
      throw Problem.malformed("", "This cannot be read.");
    }
  }

  /**
   * Reads what a device says. It may say more than is read; that is no reason to refuse.
   *
   * @return null for the JSON {@code null}
   * @throws IOException when it is not the JSON of this type
   */
  public static <T> @Nullable T said(byte[] body, Class<T> type) throws IOException {
    return REQUESTS
        .readerFor(type)
        .without(DeserializationFeature.FAIL_ON_UNKNOWN_PROPERTIES)
        .readValue(body);
  }

  private static String pointer(com.fasterxml.jackson.databind.JsonMappingException e) {
    StringBuilder sb = new StringBuilder();
    e.getPath()
        .forEach(
            r -> sb.append('/').append(r.getFieldName() != null ? r.getFieldName() : r.getIndex()));
    return sb.toString();
  }
}
