package dev.pinwright.acceptance;

import com.fasterxml.jackson.databind.JsonNode;
import java.io.IOException;
import java.net.CookieManager;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.util.Map;
import java.util.concurrent.BlockingQueue;
import java.util.concurrent.LinkedBlockingQueue;
import java.util.stream.Stream;

/** The API as a program without our client sees it: HTTP, JSON, a cookie and a few headers. */
final class Bare {
  private final String base;
  private final HttpClient http =
      HttpClient.newBuilder().cookieHandler(new CookieManager()).build();
  private String csrf = "";

  Bare(Rig rig) {
    base = rig.consoleUrl() + "/api/v1";
  }

  /** An answer with its JSON. */
  record Answer(int status, JsonNode json, HttpResponse<String> response) {
    String etag() {
      return response.headers().firstValue("ETag").orElse("");
    }

    String problem() {
      String type = json.path("type").asText();
      return type.substring(type.lastIndexOf('/') + 1);
    }
  }

  Answer send(String method, String path, String body, Map<String, String> headers) {
    HttpRequest.Builder r =
        HttpRequest.newBuilder(URI.create(base + path))
            .header("Content-Type", "application/json")
            .method(method, HttpRequest.BodyPublishers.ofString(body));
    if (!csrf.isEmpty()) {
      r.header("X-CSRF", csrf);
    }
    headers.forEach(r::header);
    try {
      HttpResponse<String> response = http.send(r.build(), HttpResponse.BodyHandlers.ofString());
      String text = response.body();
      boolean json = response.headers().firstValue("Content-Type").orElse("").contains("json");
      return new Answer(
          response.statusCode(),
          json ? Wire.JSON.readTree(text) : Wire.JSON.createObjectNode(),
          response);
    } catch (IOException e) {
      throw new IllegalStateException(e);
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
      throw new IllegalStateException(e);
    }
  }

  Answer get(String path) {
    return send("GET", path, "", Map.of());
  }

  Answer post(String path, String body) {
    return send("POST", path, body, Map.of());
  }

  /** Signs in as a browser does: the cookie is kept, and changes carry the CSRF value. */
  Answer signIn(String login, String password) {
    Answer a =
        post(
            "/sign-in",
            Wire.JSON.createObjectNode().put("login", login).put("password", password).toString());
    csrf = a.json().path("csrf").asText();
    return a;
  }

  /** Topics of live events as they come. */
  BlockingQueue<String> events() {
    BlockingQueue<String> topics = new LinkedBlockingQueue<>();
    http.sendAsync(
            HttpRequest.newBuilder(URI.create(base + "/events"))
                .header("Accept", "text/event-stream")
                .build(),
            HttpResponse.BodyHandlers.ofLines())
        .thenAccept(
            r -> {
              try (Stream<String> lines = r.body()) {
                lines
                    .filter(l -> l.startsWith("data:"))
                    .forEach(l -> topics.add(l.substring(5).strip()));
              }
            });
    return topics;
  }
}
