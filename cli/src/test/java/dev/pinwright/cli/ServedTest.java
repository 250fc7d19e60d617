package dev.pinwright.cli;

import com.sun.net.httpserver.HttpServer;
import java.io.IOException;
import java.io.PrintWriter;
import java.io.StringWriter;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.concurrent.CopyOnWriteArrayList;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.io.TempDir;

/** The command line against a service that answers as told, and keeps what it was asked. */
abstract class ServedTest {
  @TempDir Path home;
  HttpServer service;
  final Map<String, String> answers = new HashMap<>();
  final List<String> calls = new CopyOnWriteArrayList<>();
  final List<String> queries = new CopyOnWriteArrayList<>();
  int status = 200;
  String type = "application/json";

  @BeforeEach
  void start() throws IOException {
    service = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 0);
    service.createContext(
        "/",
        x -> {
          String body = new String(x.getRequestBody().readAllBytes(), StandardCharsets.UTF_8);
          String call = x.getRequestMethod() + " " + x.getRequestURI().getPath().substring(7);
          queries.add(String.valueOf(x.getRequestURI().getRawQuery()));
          calls.add(call + (body.isEmpty() ? "" : " " + body));
          String asked = call + "?" + x.getRequestURI().getRawQuery();
          byte[] answer =
              answers
                  .getOrDefault(asked, answers.getOrDefault(call, "{}"))
                  .getBytes(StandardCharsets.UTF_8);
          x.getResponseHeaders().add("Content-Type", type);
          x.sendResponseHeaders(status, answer.length);
          x.getResponseBody().write(answer);
          x.close();
        });
    service.start();
  }

  @AfterEach
  void stop() {
    service.stop(0);
  }

  /** Something that is found by its name, and read at {@code path}. */
  void known(String kind, String path, String name, String thing) {
    String id = path.substring(path.lastIndexOf('/') + 1);
    String found =
        "[{\"kind\":\"%s\",\"id\":\"%s\",\"name\":\"%s\",\"detail\":\"\"}]"
            .formatted(kind, id, name);
    answers.put(
        "GET /search?q=%s&kind=%s&whole=true".formatted(name.replace(" ", "%20"), kind), found);
    answers.put("GET " + path, thing);
  }

  record Ran(int code, String out, String err) {}

  Ran run(Map<String, String> more, String... args) {
    Map<String, String> env = new HashMap<>(more);
    env.put("PINWRIGHT_ADDRESS", "http://127.0.0.1:" + service.getAddress().getPort());
    env.put("PINWRIGHT_SIGNIN", home.resolve("signin.json").toString());
    StringWriter out = new StringWriter();
    StringWriter err = new StringWriter();
    int code = Main.run(env, new PrintWriter(out, true), new PrintWriter(err, true), args);
    return new Ran(code, out.toString(), err.toString());
  }

  Ran signedIn(String... args) {
    return run(Map.of("PINWRIGHT_TOKEN", "t"), args);
  }
}
