package dev.pinwright.sandbox;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import dev.pinwright.protocol.pki.Pki;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.file.Path;
import java.time.Duration;
import java.util.Map;
import org.awaitility.Awaitility;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** The pages and calls besides devices. */
class OutsideTest {
  private static final ObjectMapper JSON = new ObjectMapper();
  @TempDir Path home;
  private Outside outside;

  @BeforeEach
  void start() {
    outside = new Outside(home, 0);
  }

  @AfterEach
  void stop() {
    outside.close();
  }

  private HttpResponse<String> send(String method, String path, Object body) throws Exception {
    return HttpClient.newHttpClient()
        .send(
            HttpRequest.newBuilder(URI.create("http://127.0.0.1:" + outside.port() + path))
                .method(method, HttpRequest.BodyPublishers.ofString(JSON.writeValueAsString(body)))
                .build(),
            HttpResponse.BodyHandlers.ofString());
  }

  private JsonNode json(String method, String path, Object body) throws Exception {
    return JSON.readTree(send(method, path, body).body());
  }

  @ParameterizedTest
  @ValueSource(strings = {"/", "/device.html", "/cable.html", "/mail.html", "/vendors.html"})
  void everyPageIsThere(String path) throws Exception {
    assertThat(send("GET", path, Map.of()).body()).contains("<nav aria-label=\"Sandbox\">");
  }

  @Test
  void thePortalSignsAndShowsWhatIsSold() throws Exception {
    JsonNode vendors = json("GET", "/api/vendors", Map.of());
    assertThat(vendors).hasSize(3);
    assertThat(vendors.get(0).path("root").asText()).startsWith("-----BEGIN CERTIFICATE-----");
    String request = Pki.requestPem(Pki.newRequest("Vellmar Museums", Pki.newKey()));
    assertThat(
            json(
                    "POST",
                    "/api/vendors/tarn/credentials",
                    Map.of("account", "it@vellmar.example", "request", request))
                .path("certificate")
                .asText())
        .contains("BEGIN CERTIFICATE");
    HttpResponse<String> bad =
        send(
            "POST",
            "/api/vendors/tarn/credentials",
            Map.of("account", "it@vellmar.example", "request", "words"));
    assertThat(bad.statusCode()).isEqualTo(400);
    assertThat(bad.body()).contains("not a PKCS#10 request");
    send(
        "POST",
        "/api/vendors/tarn/devices",
        Map.of(
            "account",
            "it@vellmar.example",
            "order",
            "VM-114",
            "devices",
            java.util.List.of(Map.of("serial", "AR10-0001", "model", "T10", "kind", "tablet"))));
    assertThat(
            json("GET", "/api/vendors/tarn/devices", Map.of()).get(0).path("assigned").asBoolean())
        .isFalse();
  }

  @Test
  void theCableSaysWhatIsMissing() throws Exception {
    assertThat(send("POST", "/api/cable", Map.of("link", "words")).statusCode()).isEqualTo(400);
    assertThat(send("POST", "/api/cable/plug", Map.of("rack", 1, "slot", 1)).body())
        .contains("no bench session");
    assertThat(json("GET", "/api/cable", Map.of()).path("slots")).isEmpty();
  }

  @Test
  void aDeviceNobodyBoughtShowsItsFirstScreen() throws Exception {
    JsonNode made = json("POST", "/api/devices", Map.of("model", "T10", "boots", true));
    String path = "/api/devices/" + made.path("id").asText();
    Awaitility.await()
        .atMost(Duration.ofSeconds(60))
        .until(() -> json("GET", path, Map.of()).path("screen").asText().equals("new"));
    send("POST", path + "/board", Map.of("serial", "AR10-7777"));
    assertThat(json("GET", path, Map.of()).path("serial").asText()).isEqualTo("AR10-7777");
    assertThat(send("POST", path + "/leave", Map.of()).statusCode())
        .as("it is not managed")
        .isEqualTo(409);
  }

  @Test
  void theDirectoryGoesDownAndUp() throws Exception {
    String address = outside.directory().address();
    assertThat(json("POST", "/api/directory", Map.of("up", false)).path("up").asBoolean())
        .isFalse();
    assertThat(json("POST", "/api/directory", Map.of("up", true)).path("up").asBoolean()).isTrue();
    assertThat(outside.directory().address()).as("at the same place").isEqualTo(address);
  }
}
