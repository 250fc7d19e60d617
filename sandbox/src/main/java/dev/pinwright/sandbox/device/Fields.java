package dev.pinwright.sandbox.device;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.core.type.TypeReference;
import com.fasterxml.jackson.databind.DeserializationFeature;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.json.JsonMapper;
import dev.pinwright.protocol.join.JoinMessages;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;

/** JSON in the sandbox: fields of commands, join messages, kept state. */
final class Fields {
  static final ObjectMapper MAPPER =
      JsonMapper.builder().disable(DeserializationFeature.FAIL_ON_UNKNOWN_PROPERTIES).build();

  private Fields() {}

  /** What a device was told of the ready gate; a gate that cannot be read is open. */
  static JoinMessages.Gate gate(String text) {
    try {
      return MAPPER.readValue(text, JoinMessages.Gate.class);
    } catch (JsonProcessingException e) {
      return new JoinMessages.Gate(true, List.of());
    }
  }

  /** Fields of a command; none when there is no JSON object. */
  static Map<String, String> read(@Nullable String data) {
    if (data == null || data.isBlank()) {
      return Map.of();
    }
    try {
      return MAPPER.readValue(data, new TypeReference<>() {});
    } catch (JsonProcessingException e) {
      return Map.of();
    }
  }
}
