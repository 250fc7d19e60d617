package dev.pinwright.service;

import com.fasterxml.jackson.annotation.JsonInclude;
import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.core.type.TypeReference;
import com.fasterxml.jackson.databind.DeserializationFeature;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.SerializationFeature;
import com.fasterxml.jackson.databind.json.JsonMapper;
import com.fasterxml.jackson.datatype.jdk8.Jdk8Module;
import com.fasterxml.jackson.datatype.jsr310.JavaTimeModule;

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
      T value = MAPPER.readValue(json, type);
      if (value == null) {
        throw Problem.malformed("", "The body has to be a JSON object.");
      }
      return value;
    } catch (com.fasterxml.jackson.databind.exc.UnrecognizedPropertyException e) {
      throw Problem.malformed(
          pointer(e),
          "There is no field '"
              + e.getPropertyName()
              + "' here; known are "
              + e.getKnownPropertyIds()
              + ".");
    } catch (com.fasterxml.jackson.databind.JsonMappingException e) {
      String why = e.getCause() instanceof IllegalArgumentException c ? c.getMessage() : null;
      throw Problem.malformed(
          pointer(e), why != null ? why + "." : "The value here is of the wrong kind.");
    } catch (JsonProcessingException e) {
      throw Problem.malformed("", "The body is not JSON.");
    }
  }

  private static String pointer(com.fasterxml.jackson.databind.JsonMappingException e) {
    StringBuilder sb = new StringBuilder();
    e.getPath()
        .forEach(
            r -> sb.append('/').append(r.getFieldName() != null ? r.getFieldName() : r.getIndex()));
    return sb.toString();
  }
}
