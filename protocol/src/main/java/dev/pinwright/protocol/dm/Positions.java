package dev.pinwright.protocol.dm;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.json.JsonMapper;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import dev.pinwright.core.Words;
import dev.pinwright.core.device.Position;
import java.time.DateTimeException;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/**
 * Where a device was, as it tells it: a GeoJSON Feature (RFC 7946, 3.2) with a Point and the
 * properties {@code at} (RFC 3339), {@code accuracy} (metres, 68 %) and {@code source}; a trail is
 * a FeatureCollection (3.3).
 */
public final class Positions {
  /** Most points that are told at once. */
  public static final int MOST = 500;

  private static final JsonMapper MAPPER = new JsonMapper();

  private Positions() {}

  /** What a device tells. What is no position is left out; of more than {@link #MOST} the rest. */
  public static List<Position> read(String data) {
    List<Position> all = new ArrayList<>();
    try {
      JsonNode root = MAPPER.readTree(data);
      if (root.path("type").asText().equals("FeatureCollection")) {
        root.path("features").forEach(f -> position(f).ifPresent(all::add));
      } else {
        position(root).ifPresent(all::add);
      }
    } catch (JsonProcessingException e) {
      return List.of();
    }
    return all.size() > MOST ? all.subList(0, MOST) : all;
  }

  private static Optional<Position> position(JsonNode feature) {
    JsonNode geometry = feature.path("geometry");
    JsonNode point = geometry.path("coordinates");
    JsonNode said = feature.path("properties");
    if (!feature.path("type").asText().equals("Feature")
        || !geometry.path("type").asText().equals("Point")
        || !point.path(0).isNumber()
        || !point.path(1).isNumber()) {
      return Optional.empty();
    }
    try {
      return Optional.of(
          new Position(
              Instant.parse(said.path("at").asText()),
              point.get(1).asDouble(),
              point.get(0).asDouble(),
              Optional.of(said.path("accuracy")).filter(JsonNode::isNumber).map(JsonNode::asDouble),
              Words.parse(Position.Source.class, said.path("source").asText("network"))));
    } catch (DateTimeException | IllegalArgumentException e) {
      return Optional.empty();
    }
  }

  /** A trail as it is told. */
  public static String write(List<Position> positions) {
    ObjectNode root = MAPPER.createObjectNode().put("type", "FeatureCollection");
    ArrayNode features = root.putArray("features");
    for (Position p : positions) {
      ObjectNode feature = features.addObject().put("type", "Feature");
      feature
          .putObject("geometry")
          .put("type", "Point")
          .putArray("coordinates")
          .add(p.longitude())
          .add(p.latitude());
      ObjectNode said =
          feature
              .putObject("properties")
              .put("at", p.at().toString())
              .put("source", Words.of(p.source()));
      p.accuracy().ifPresent(a -> said.put("accuracy", a));
    }
    return root.toString();
  }
}
