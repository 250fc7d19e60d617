package dev.pinwright.protocol.dm;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import dev.pinwright.core.Text;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * What a device says runs on it: a JSON list of {@code {"number":4711,"name":"…","owner":"…",
 * "cpu":2.5,"memory":180}}, of which number and name have to be there.
 */
public final class Processes {
  private static final ObjectMapper MAPPER = new ObjectMapper();
  private static final int MOST = 1000;
  private static final int LONGEST = 200;

  private Processes() {}

  /**
   * A process.
   *
   * @param number by which it is ended
   * @param owner login of whoever it runs for; empty where that is not said
   * @param cpu percent of one processor
   * @param memory MiB
   */
  public record Process(long number, String name, String owner, double cpu, double memory) {}

  /** Reads a list, the most of a processor first; empty where it is none. At most a thousand. */
  public static Optional<List<Process>> read(String data) {
    try {
      JsonNode list = MAPPER.readTree(data);
      if (list == null || !list.isArray()) {
        return Optional.empty();
      }
      List<Process> out = new ArrayList<>();
      for (JsonNode n : list) {
        String name = Text.cleaned(n.path("name").asText(""), LONGEST);
        if (n.path("number").canConvertToLong() && !name.isEmpty() && out.size() < MOST) {
          out.add(
              new Process(
                  n.path("number").asLong(),
                  name,
                  Text.cleaned(n.path("owner").asText(""), LONGEST),
                  amount(n.path("cpu")),
                  amount(n.path("memory"))));
        }
      }
      out.sort(Comparator.comparingDouble(Process::cpu).reversed().thenComparing(Process::number));
      return Optional.of(out);
    } catch (JsonProcessingException e) {
      return Optional.empty();
    }
  }

  private static double amount(JsonNode n) {
    double amount = n.asDouble(0);
    return Double.isFinite(amount) ? Math.max(0, amount) : 0;
  }

  /** As a device says it. */
  public static String write(List<Process> processes) {
    try {
      return MAPPER.writeValueAsString(
          processes.stream()
              .map(
                  p ->
                      Map.of(
                          "number", p.number(),
                          "name", p.name(),
                          "owner", p.owner(),
                          "cpu", p.cpu(),
                          "memory", p.memory()))
              .toList());
    } catch (JsonProcessingException e) {
      throw new IllegalStateException(e);
    }
  }
}
