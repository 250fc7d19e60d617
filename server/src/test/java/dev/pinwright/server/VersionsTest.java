package dev.pinwright.server;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.dataformat.yaml.YAMLMapper;
import java.io.InputStream;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import org.junit.jupiter.api.Test;

/** Every call of the contract that writes over something, or takes it away. */
class VersionsTest {

  @Test
  void noneIsAnsweredWithoutTheVersionItWasMadeOn() throws Exception {
    JsonNode paths;
    try (InputStream in = VersionsTest.class.getResourceAsStream("/openapi.yaml")) {
      paths = new YAMLMapper().readTree(in).path("paths");
    }
    List<String> tried = new ArrayList<>();
    List<String> answered = new ArrayList<>();
    try (House house = new House()) {
      for (Map.Entry<String, JsonNode> path : paths.properties()) {
        for (Map.Entry<String, JsonNode> call : path.getValue().properties()) {
          if (!call.getValue().path("parameters").toString().contains("parameters/ifMatch")) {
            continue;
          }
          String method = call.getKey().toUpperCase(Locale.ROOT);
          House.Answer a =
              house.unseen("owner", method, path.getKey().replaceAll("\\{[^}]*}", "none"), "{}");
          tried.add(method + " " + path.getKey());
          if (a.status() != 428 || !a.body().contains("version-required")) {
            answered.add(method + " " + path.getKey() + ": " + a.status() + " " + a.body());
          }
        }
      }
    }
    assertThat(tried).hasSizeGreaterThan(25).contains("PATCH /devices/{id}", "PUT /mail");
    assertThat(answered).isEmpty();
  }
}
