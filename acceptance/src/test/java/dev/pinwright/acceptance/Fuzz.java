package dev.pinwright.acceptance;

import com.fasterxml.jackson.core.JsonProcessingException;
import dev.pinwright.client.http.ApiException;
import dev.pinwright.client.model.Invitation;
import dev.pinwright.core.tree.Tree;
import dev.pinwright.protocol.pki.Pki;
import java.io.IOException;
import java.lang.management.ManagementFactory;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.net.http.HttpTimeoutException;
import java.security.cert.X509Certificate;
import java.time.Duration;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.TreeMap;
import javax.management.JMException;
import javax.management.ObjectName;

/**
 * Sends spoilt input from a seed to the API, to joins, to EST and into management sessions, and
 * holds every answer to words: no failure of the server, nothing unanswered, no session of HTTP
 * kept in memory.
 */
public final class Fuzz {
  private static final Duration LONGEST = Duration.ofSeconds(20);
  private static final int A_DEVICE_EACH = 400;

  private final int inputs;
  private final Random random;
  private final Spoiler spoiler;
  private final List<String> faults = new ArrayList<>();
  private final Map<String, Map<Integer, Integer>> statuses = new LinkedHashMap<>();
  private final Map<String, Long> slowest = new TreeMap<>();
  private Spoiler.Request before;
  private int refused;
  private int taken;

  Fuzz(int inputs, long seed) {
    this.inputs = inputs;
    random = new Random(seed);
    spoiler = new Spoiler(seed);
  }

  List<String> faults() {
    return faults;
  }

  int refused() {
    return refused;
  }

  int taken() {
    return taken;
  }

  void run() {
    try (Rig rig = new Rig()) {
      Desk desk = new Desk(rig);
      Invitation open = desk.kiosks("Kiosks", 100_000);
      X509Certificate root =
          Pki.certificate(rig.client.intake().getJoinFile(open.getId()).getRoot());
      Wire stranger = new Wire(rig.deviceUrl(), root, null, null);
      HttpClient console = HttpClient.newBuilder().version(HttpClient.Version.HTTP_1_1).build();
      Wire.Joined device = null;
      Est est = null;
      for (int i = 0; i < inputs; i++) {
        if (i % A_DEVICE_EACH == 0) {
          // what was sent may have retired the last one, or ended its invitation
          open = desk.kiosks("Kiosks " + i, 100_000);
          device = stranger.joined(open.getCode(), "FZ-" + i, root);
          est = Est.of(stranger, open.getCode(), "FE-" + i);
        }
        switch (random.nextInt(10)) {
          case 0, 1 -> device(stranger, "join", spoiler.join(open.getCode()));
          case 2 ->
              device(
                  random.nextBoolean() ? stranger : device.wire(),
                  "EST",
                  spoiler.certificate(est.username(), est.password(), est.csr()));
          case 3, 4 ->
              device(
                  device.wire(),
                  "sessions",
                  spoiler.message(
                      Wire.packageOne(
                          String.valueOf(i / 4),
                          1 + random.nextInt(2),
                          random.nextBoolean() ? Tree.EMPTY.digest() : "")));
          default -> api(console, rig, spoiler.call());
        }
      }
      rig.client.access().me();
      long sessions = instances("org.eclipse.jetty.session.ManagedSession");
      if (sessions > 0) {
        faults.add(sessions + " HTTP sessions are in memory");
      }
    } catch (ApiException | JMException e) {
      throw new IllegalStateException(e);
    }
  }

  private record Est(String username, String password, String csr) {
    static Est of(Wire stranger, String code, String serial) {
      Wire.Answer a =
          stranger.join(
              code,
              Map.of("device", Wire.device("tarn", "7.2", "tablet", serial), "termsAccepted", 1));
      String id = a.json().path("commonName").asText();
      return new Est(
          a.json().at("/est/username").asText(),
          a.json().at("/est/password").asText(),
          Pki.base64(Pki.newRequest(id, Pki.newKey())));
    }
  }

  private void device(Wire wire, String what, Spoiler.Request r) {
    long start = System.nanoTime();
    try {
      Wire.Answer a = wire.send(r.method(), r.path(), r.headers(), r.body());
      judge(what, r, a.status(), a.response().body(), start);
    } catch (IllegalStateException e) {
      faults.add(what + " " + r + " after " + before + " → " + e);
    }
    before = r;
  }

  private void api(HttpClient console, Rig rig, Spoiler.Request r) throws ApiException {
    HttpRequest.Builder request =
        HttpRequest.newBuilder(URI.create(rig.consoleUrl() + r.path()))
            .timeout(LONGEST)
            .method(r.method(), HttpRequest.BodyPublishers.ofByteArray(r.body()))
            .header("Authorization", "Bearer " + rig.token);
    r.headers().forEach(request::header);
    long start = System.nanoTime();
    try {
      HttpResponse<String> a = console.send(request.build(), HttpResponse.BodyHandlers.ofString());
      judge("API", r, a.statusCode(), a.body(), start);
      spoiler.learn(a.body());
      if (a.statusCode() == 401) {
        rig.signIn();
      }
    } catch (HttpTimeoutException e) {
      faults.add("API " + r + " was not answered");
    } catch (IOException e) {
      faults.add("API " + r + " → " + e);
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
      throw new IllegalStateException(e);
    }
  }

  private void judge(String what, Spoiler.Request r, int status, String body, long start) {
    slowest.merge(what, (System.nanoTime() - start) / 1_000_000, Math::max);
    statuses.computeIfAbsent(what, k -> new TreeMap<>()).merge(status, 1, Integer::sum);
    if (status >= 500) {
      faults.add(what + " " + r + " → " + status + " " + body);
    } else if (status < 300) {
      taken++;
    } else if (status >= 400) {
      refused++;
      if (!hasWords(body)) {
        faults.add(what + " " + r + " → " + status + " without words: " + body);
      }
    }
  }

  private static boolean hasWords(String body) {
    try {
      return Wire.JSON.readTree(body).path("detail").asText().length() >= 10;
    } catch (JsonProcessingException e) {
      return false;
    }
  }

  /** How many objects of a class are left, garbage not counted. */
  private static long instances(String type) throws JMException {
    String histogram =
        (String)
            ManagementFactory.getPlatformMBeanServer()
                .invoke(
                    new ObjectName("com.sun.management:type=DiagnosticCommand"),
                    "gcClassHistogram",
                    new Object[] {null},
                    new String[] {String[].class.getName()});
    return histogram
        .lines()
        .map(line -> line.strip().split("\\s+"))
        .filter(cells -> cells.length > 3 && cells[3].equals(type))
        .mapToLong(cells -> Long.parseLong(cells[1]))
        .sum();
  }

  /** Inputs, and a seed. */
  public static void main(String[] args) {
    int inputs = args.length > 0 ? Integer.parseInt(args[0]) : 20_000;
    long seed = args.length > 1 ? Long.parseLong(args[1]) : 1;
    Fuzz fuzz = new Fuzz(inputs, seed);
    long start = System.nanoTime();
    fuzz.run();
    System.out.printf(
        "%d spoilt inputs from seed %d in %d s; answers by status, and the slowest:%n",
        inputs, seed, (System.nanoTime() - start) / 1_000_000_000);
    fuzz.statuses.forEach(
        (what, counts) ->
            System.out.printf("  %-9s %s, %d ms%n", what, counts, fuzz.slowest.get(what)));
    fuzz.faults.forEach(System.out::println);
    System.out.printf(
        "%s  no failure of the server, nothing unanswered, a refusal always in words, no HTTP"
            + " session in memory%n",
        fuzz.faults.isEmpty() ? "yes" : "NO ");
    System.exit(fuzz.faults.isEmpty() ? 0 : 1);
  }
}
