package dev.pinwright.sandbox.demo;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.net.URI;
import java.net.URLEncoder;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.util.Map;

/** Calls of the public API, for writing the demo. */
final class ApiCalls {
  private static final int AGAIN = 20;
  private static final int PATIENCE_TENTHS = 600;
  private static final ObjectMapper JSON = new ObjectMapper();
  private final HttpClient http = HttpClient.newHttpClient();
  private final String base;
  private final String token;

  ApiCalls(String base, String login, String password) {
    this.base = base + "/api/v1";
    this.token =
        send(
                "POST",
                "/sign-in",
                Map.of("login", login, "password", password, "program", true, "label", "demo"),
                "",
                "")
            .path("token")
            .asText();
  }

  /** Waits until a service that is starting answers; gives up after a minute. */
  static void awaitService(String base) throws InterruptedException {
    HttpClient http = HttpClient.newHttpClient();
    HttpRequest health = HttpRequest.newBuilder(URI.create(base + "/health")).build();
    for (int i = 0; i < PATIENCE_TENTHS; i++) {
      try {
        if (http.send(health, HttpResponse.BodyHandlers.discarding()).statusCode() == 200) {
          return;
        }
      } catch (IOException e) {
        // not there yet
      }
      Thread.sleep(100);
    }
    throw new IllegalStateException("the service at " + base + " does not answer");
  }

  JsonNode get(String path) {
    return send("GET", path, Map.of(), token, "");
  }

  JsonNode post(String path, Object body) {
    return send("POST", path, body, token, "");
  }

  /** Writes over something, or over a part of it, as it is now. */
  JsonNode put(String path, String record, Object body) {
    return send("PUT", path, body, token, "\"" + get(record).path("version").asInt() + "\"");
  }

  /** Writes something that was not there. */
  JsonNode putFirst(String path, Object body) {
    return send("PUT", path, body, token, "\"0\"");
  }

  JsonNode post(String path, Object body, int version) {
    return send("POST", path, body, token, "\"" + version + "\"");
  }

  /** Sends a sheet (RFC 4180). */
  JsonNode sheet(String path, String rows) {
    return send("POST", path, rows, token, "");
  }

  /** Stores a file that devices can be handed, and says how a setting names it. */
  String file(String name, byte[] content) {
    String query = "/files?name=" + URLEncoder.encode(name, StandardCharsets.UTF_8);
    return "sha256:" + send("POST", query, content, token, "").path("id").asText();
  }

  /** Brings a package of an app. */
  JsonNode appPackage(byte[] content) {
    return send("POST", "/apps/packages", new Package(content), token, "");
  }

  private record Package(byte[] content) {}

  private static HttpRequest.BodyPublisher published(HttpRequest.Builder request, Object body)
      throws IOException {
    if (body instanceof byte[] content) {
      request.header("Content-Type", "application/octet-stream");
      return HttpRequest.BodyPublishers.ofByteArray(content);
    }
    if (body instanceof Package app) {
      request.header("Content-Type", "application/vnd.pinwright.package+zip");
      return HttpRequest.BodyPublishers.ofByteArray(app.content());
    }
    if (body instanceof String rows) {
      request.header("Content-Type", "text/csv");
      return HttpRequest.BodyPublishers.ofString(rows);
    }
    request.header("Content-Type", "application/json");
    return HttpRequest.BodyPublishers.ofString(JSON.writeValueAsString(body));
  }

  private JsonNode send(String method, String path, Object body, String bearer, String ifMatch) {
    try {
      HttpRequest.Builder request = HttpRequest.newBuilder(URI.create(base + path));
      if (method.equals("GET")) {
        request.GET();
      } else {
        request.method(method, published(request, body));
      }
      if (!bearer.isEmpty()) {
        request.header("Authorization", "Bearer " + bearer);
      }
      if (!ifMatch.isEmpty()) {
        request.header("If-Match", ifMatch);
      }
      HttpResponse<String> response =
          http.send(request.build(), HttpResponse.BodyHandlers.ofString());
      // a busy machine: nothing was changed, and it says when to come again
      for (int i = 0; i < AGAIN && response.statusCode() == 503; i++) {
        long seconds = response.headers().firstValueAsLong("Retry-After").orElse(1);
        Thread.sleep(seconds * 1_000);
        response = http.send(request.build(), HttpResponse.BodyHandlers.ofString());
      }
      if (response.statusCode() >= 300) {
        throw new IllegalStateException(
            method + " " + path + " answered " + response.statusCode() + ": " + response.body());
      }
      return response.body().isEmpty() ? JSON.nullNode() : JSON.readTree(response.body());
    } catch (IOException e) {
      throw new UncheckedIOException("the service at " + base + " cannot be reached", e);
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
      throw new IllegalStateException(e);
    }
  }
}
