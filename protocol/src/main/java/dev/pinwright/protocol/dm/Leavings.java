package dev.pinwright.protocol.dm;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import dev.pinwright.core.Text;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;

/**
 * What a device says went with its management and what stayed: JSON, {@code {"went":["…"],
 * "stayed":["…"]}}. One whose holder ended it may say {@code 1} and no more.
 *
 * @param went at most a hundred, each at most 100 characters
 * @param stayed likewise
 */
public record Leavings(List<String> went, List<String> stayed) {
  private static final ObjectMapper MAPPER = new ObjectMapper();
  private static final int MOST = 100;
  private static final int LONGEST = 100;

  public Leavings {
    went = List.copyOf(went);
    stayed = List.copyOf(stayed);
  }

  /** Reads what a device said; nothing where it cannot be read. */
  public static Leavings read(String data) {
    try {
      JsonNode said = MAPPER.readTree(data);
      return said == null
          ? new Leavings(List.of(), List.of())
          : new Leavings(texts(said.path("went")), texts(said.path("stayed")));
    } catch (JsonProcessingException e) {
      return new Leavings(List.of(), List.of());
    }
  }

  private static List<String> texts(JsonNode list) {
    List<String> out = new ArrayList<>();
    for (JsonNode n : list) {
      String text = Text.cleaned(n.asText(""), LONGEST);
      if (!text.isEmpty() && out.size() < MOST) {
        out.add(text);
      }
    }
    return out;
  }

  /** As a device says it. */
  public String json() {
    try {
      return MAPPER.writeValueAsString(Map.of("went", went, "stayed", stayed));
    } catch (JsonProcessingException e) {
      throw new IllegalStateException(e);
    }
  }

  /** In a sentence; empty where nothing was said. */
  public String words() {
    String gone = went.isEmpty() ? "" : "went: " + String.join(", ", went);
    String kept = stayed.isEmpty() ? "" : "stayed: " + String.join(", ", stayed);
    return gone.isEmpty() || kept.isEmpty() ? gone + kept : gone + "; " + kept;
  }
}
