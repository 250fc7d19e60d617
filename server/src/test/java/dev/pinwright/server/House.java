package dev.pinwright.server;

import com.fasterxml.jackson.databind.JsonNode;
import dev.pinwright.service.work.Json;
import dev.pinwright.service.work.Settings;
import dev.pinwright.storage.TestDatabase;
import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStream;
import java.io.InputStreamReader;
import java.net.ServerSocket;
import java.net.Socket;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpHeaders;
import java.net.http.HttpRequest;
import java.net.http.HttpRequest.BodyPublishers;
import java.net.http.HttpResponse;
import java.net.http.HttpResponse.BodyHandlers;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.security.GeneralSecurityException;
import java.security.cert.X509Certificate;
import java.time.Clock;
import java.time.Duration;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import javax.net.ssl.SSLContext;
import javax.net.ssl.SSLEngine;
import javax.net.ssl.TrustManager;
import javax.net.ssl.X509ExtendedTrustManager;

/** A server on loopback with a database of its own, and a plain HTTP client that calls it. */
final class House implements AutoCloseable {
  static final String PASSWORD = "a long enough password";

  final int consolePort = freePort();
  final int devicePort = freePort();
  private final Server server;
  private final HttpClient devices;
  private final HttpClient http =
      HttpClient.newBuilder()
          .version(HttpClient.Version.HTTP_1_1)
          .connectTimeout(Duration.ofSeconds(5))
          .build();
  private final Map<String, String> tokens = new HashMap<>();

  House() throws Exception {
    this(TestDatabase.create());
  }

  /** A server on the database of a URL. */
  House(String url) throws Exception {
    this(url, List.of());
  }

  /** A server behind proxies. */
  House(List<String> proxies) throws Exception {
    this(TestDatabase.create(), proxies);
  }

  private House(String url, List<String> proxies) throws Exception {
    devices = trusting();
    server =
        new Server(
            new Settings(
                Files.createTempDirectory("pinwright-house"),
                TestDatabase.address(url, 8),
                "127.0.0.1",
                devicePort,
                List.of("127.0.0.1"),
                "",
                "127.0.0.1",
                consolePort,
                "Vellmar Museums",
                PASSWORD,
                false,
                Duration.ofDays(7),
                proxies),
            Clock.systemUTC());
    tokens.put("owner", signIn("owner", PASSWORD));
  }

  private static int freePort() {
    try (ServerSocket s = new ServerSocket(0)) {
      return s.getLocalPort();
    } catch (IOException e) {
      throw new IllegalStateException(e);
    }
  }

  /** Calls the device listener, whose certificate is taken as it is; without one of our own. */
  Answer device(String method, String path, String body, Map<String, String> headers) {
    HttpRequest.Builder request =
        HttpRequest.newBuilder(URI.create("https://127.0.0.1:" + devicePort + path))
            .timeout(Duration.ofSeconds(20))
            .method(
                method,
                method.equals("GET")
                    ? BodyPublishers.noBody()
                    : BodyPublishers.ofByteArray(body.getBytes(StandardCharsets.UTF_8)));
    headers.forEach(request::header);
    try {
      HttpResponse<String> response = devices.send(request.build(), BodyHandlers.ofString());
      return new Answer(response.statusCode(), response.body(), response.headers());
    } catch (IOException | InterruptedException e) {
      throw new IllegalStateException(method + " " + path, e);
    }
  }

  /** A connection to the device listener. */
  Socket deviceSocket() throws IOException, GeneralSecurityException {
    return anyServer().getSocketFactory().createSocket("127.0.0.1", devicePort);
  }

  /** The head of the device listener's answer to a request no well-behaved client would send. */
  String head(String method, String path, Map<String, String> headers) throws Exception {
    try (Socket socket = deviceSocket()) {
      StringBuilder request =
          new StringBuilder(method + " " + path + " HTTP/1.1\r\nHost: 127.0.0.1\r\n");
      headers.forEach((k, v) -> request.append(k).append(": ").append(v).append("\r\n"));
      socket
          .getOutputStream()
          .write(request.append("\r\n").toString().getBytes(StandardCharsets.US_ASCII));
      BufferedReader in =
          new BufferedReader(
              new InputStreamReader(socket.getInputStream(), StandardCharsets.US_ASCII));
      StringBuilder head = new StringBuilder();
      for (String line = in.readLine(); line != null && !line.isEmpty(); line = in.readLine()) {
        head.append(line).append('\n');
      }
      return head.toString();
    }
  }

  private static SSLContext anyServer() throws GeneralSecurityException {
    SSLContext tls = SSLContext.getInstance("TLS");
    tls.init(null, new TrustManager[] {new AnyServer()}, null);
    return tls;
  }

  private static HttpClient trusting() throws GeneralSecurityException {
    return HttpClient.newBuilder()
        .version(HttpClient.Version.HTTP_1_1)
        .sslContext(anyServer())
        .build();
  }

  /** Takes any certificate; what is tested is what is said over it. */
  private static final class AnyServer extends X509ExtendedTrustManager {
    @Override
    public void checkClientTrusted(X509Certificate[] chain, String type, Socket socket) {}

    @Override
    public void checkServerTrusted(X509Certificate[] chain, String type, Socket socket) {}

    @Override
    public void checkClientTrusted(X509Certificate[] chain, String type, SSLEngine engine) {}

    @Override
    public void checkServerTrusted(X509Certificate[] chain, String type, SSLEngine engine) {}

    @Override
    public void checkClientTrusted(X509Certificate[] chain, String type) {}

    @Override
    public void checkServerTrusted(X509Certificate[] chain, String type) {}

    @Override
    public X509Certificate[] getAcceptedIssuers() {
      return new X509Certificate[0];
    }
  }

  /** What came back: a status and, unless it streams, the body. */
  record Answer(int status, String body, HttpHeaders headers) {
    String header(String name) {
      return headers.firstValue(name).orElse("");
    }

    JsonNode json() {
      return Json.tree(body);
    }
  }

  /** Makes an account and signs it in. */
  void account(String role) {
    String account =
        "{\"login\":\"%1$s\",\"name\":\"%1$s\",\"role\":\"%1$s\",\"password\":\"%2$s\"}"
            .formatted(role, PASSWORD);
    Answer made = call("owner", "POST", "/accounts", account);
    if (made.status() != 201) {
      throw new IllegalStateException(made.body());
    }
    tokens.put(role, signIn(role, PASSWORD));
  }

  String signIn(String login, String password) {
    Answer in =
        call(
            "",
            "POST",
            "/sign-in",
            "{\"login\":\"%s\",\"password\":\"%s\",\"program\":true}".formatted(login, password));
    return in.json().path("token").asText();
  }

  /** Asks the console listener for a path as a browser does. */
  Answer page(String path) throws Exception {
    HttpResponse<String> response =
        http.send(
            HttpRequest.newBuilder(URI.create("http://127.0.0.1:" + consolePort + path))
                .header("Accept", "text/html,*/*")
                .timeout(Duration.ofSeconds(20))
                .build(),
            BodyHandlers.ofString());
    return new Answer(response.statusCode(), response.body(), response.headers());
  }

  /** Calls the API as an account, or as nobody for an empty name. */
  Answer call(String account, String method, String path, String body) {
    return with(tokens.getOrDefault(account, ""), method, path, body);
  }

  /** The status of a call that says whom it was forwarded for. */
  int forwarded(String forwarded, String path, String body) {
    try {
      return send(HttpRequest.newBuilder(
                  URI.create("http://127.0.0.1:" + consolePort + "/api/v1" + path))
              .header("Content-Type", "application/json")
              .header("Forwarded", forwarded)
              .POST(BodyPublishers.ofString(body))
              .build())
          .statusCode();
    } catch (IOException | InterruptedException e) {
      throw new IllegalStateException(e);
    }
  }

  /** Calls the API as an account that does not say which version of things it has seen. */
  Answer unseen(String account, String method, String path, String body) {
    return with(tokens.get(account), Optional.empty(), method, path, body);
  }

  /** Calls the API with a token. */
  Answer with(String token, String method, String path, String body) {
    return with(token, Optional.of("\"0\""), method, path, body);
  }

  private Answer with(
      String token, Optional<String> ifMatch, String method, String path, String body) {
    HttpRequest.Builder request =
        HttpRequest.newBuilder(URI.create("http://127.0.0.1:" + consolePort + "/api/v1" + path))
            .timeout(Duration.ofSeconds(20))
            .header("Content-Type", "application/json")
            .method(
                method,
                method.equals("GET") || method.equals("DELETE")
                    ? BodyPublishers.noBody()
                    : BodyPublishers.ofByteArray(body.getBytes(StandardCharsets.UTF_8)));
    ifMatch.ifPresent(seen -> request.header("If-Match", seen));
    if (!token.isEmpty()) {
      request.header("Authorization", "Bearer " + token);
    }
    try {
      HttpResponse<InputStream> response = send(request.build());
      try (InputStream in = response.body()) {
        boolean streams =
            response
                .headers()
                .firstValue("Content-Type")
                .filter(t -> t.startsWith("text/event-stream"))
                .isPresent();
        return new Answer(
            response.statusCode(),
            streams ? "" : new String(in.readAllBytes(), StandardCharsets.UTF_8),
            response.headers());
      }
    } catch (IOException | InterruptedException e) {
      throw new IllegalStateException(method + " " + path, e);
    }
  }

  /** A connection the listener closed while we took it up again is no answer; the second try is. */
  private HttpResponse<InputStream> send(HttpRequest request)
      throws IOException, InterruptedException {
    try {
      return http.send(request, BodyHandlers.ofInputStream());
    } catch (IOException closed) {
      return http.send(request, BodyHandlers.ofInputStream());
    }
  }

  @Override
  public void close() {
    server.close();
  }
}
