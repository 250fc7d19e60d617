package dev.pinwright.sandbox.demo;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import dev.pinwright.core.device.Position;
import dev.pinwright.sandbox.device.Agent;
import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.TimeUnit;

/** What was done to devices from afar: wiped, proved, waiting for a second person. */
final class DemoActing {
  private static final int PATIENCE_SECONDS = 120;

  private static final ObjectMapper MAPPER = new ObjectMapper();
  private static final int CORNERS = 9;

  /** Degrees of latitude that are about three hundred metres. */
  private static final double NEAR = 0.0027;

  private static final List<String> LOCATED = List.of("VM-HAR", "VM-OBS", "VM-TEX", "VM-LIG");

  private final ApiCalls api;
  private final String base;
  private final Map<String, String> units;
  private final List<Agent> agents;

  /**
   * @param units ids by code
   */
  DemoActing(ApiCalls api, String base, Map<String, String> units, List<Agent> agents) {
    this.api = api;
    this.base = base;
    this.units = units;
    this.agents = agents;
  }

  void write() {
    places();
    question();
    words();
    nightly();
    cases();
    wipes();
  }

  /** The island, drawn by ourselves, and the outline of each site on it. */
  static void map(ApiCalls api) {
    try (InputStream in = DemoActing.class.getResourceAsStream("/vellmar.geojson")) {
      api.put(
          "/map",
          "/map",
          Map.of(
              "kind",
              "drawing",
              "attribution",
              "Drawn by Vellmar Museums",
              "drawing",
              MAPPER.readTree(in)));
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }

  /** The corners of a site, about three hundred metres around its middle. */
  static List<List<Double>> outline(double[] middle) {
    List<List<Double>> corners = new ArrayList<>();
    for (int i = 0; i < CORNERS; i++) {
      double turn = 2 * Math.PI * i / CORNERS + middle[0];
      double far = NEAR * (i % 2 == 0 ? 1.25 : 0.95);
      corners.add(
          List.of(middle[1] + 1.47 * far * Math.sin(turn), middle[0] + far * Math.cos(turn)));
    }
    return corners;
  }

  /** Devices of some houses are asked where they are; two of them are somewhere else. */
  private void places() {
    Map<String, double[]> at = new HashMap<>();
    for (String unit : LOCATED) {
      for (JsonNode d : api.get("/devices?limit=200&unit=" + units.get(unit)).path("items")) {
        at.put(d.path("serial").asText(), Vellmar.SITES.get(Vellmar.site(unit)));
      }
    }
    int nr = 0;
    for (Agent agent : agents) {
      double[] site = at.get(agent.screen().serial());
      if (site == null) {
        continue;
      }
      nr++;
      double[] here = nr % 41 == 7 ? Vellmar.SITES.get("Norhaven") : site;
      double far = NEAR * 0.8 * (nr % 10) / 10;
      agent
          .device()
          .be(
              new Position(
                  Instant.now(),
                  here[0] + far * Math.cos(nr),
                  here[1] + 1.4 * far * Math.sin(nr),
                  Optional.of(6.0 + nr % 5 * 7),
                  nr % 3 == 0 ? Position.Source.SATELLITE : Position.Source.WIFI));
    }
    List<Map<String, String>> targets =
        LOCATED.stream().map(u -> Map.of("kind", "unit", "ref", units.get(u))).toList();
    Map<String, Object> order = new HashMap<>();
    order.put("command", "locate");
    order.put("reason", "Stock-taking before the season.");
    order.put("targets", targets);
    JsonNode asked = api.post("/dispatches/rehearsal", order).path("confirmDevices");
    if (asked.isNumber()) {
      order.put("confirmDevices", asked.asLong());
    }
    api.post("/dispatches", order);
  }

  /** Sixty are asked something; not everybody has answered. */
  private void question() {
    List<Map<String, String>> sixty =
        devices("platform=tarn&sort=name", 60).stream()
            .map(id -> Map.of("kind", "device", "ref", id))
            .toList();
    api.post(
        "/dispatches",
        Map.of(
            "command",
            "ask",
            "fields",
            Map.of(
                "text",
                "When may the tablets of your house be away for the new covers?",
                "choices",
                "Monday morning\nThursday evening\nNot this week"),
            "targets",
            sixty,
            "confirmDevices",
            sixty.size()));
  }

  /** Words to be used again, and a picture of a screen somebody asked for. */
  private void words() {
    api.post(
        "/message-templates",
        Map.of(
            "name",
            "The house closes early",
            "command",
            "message",
            "fields",
            Map.of(
                "text",
                "We close at four today. Please bring {self:Name} back to its shelf before that.",
                "text@fr",
                "Nous fermons à seize heures. Merci de rapporter {self:Name} avant.")));
    api.post(
        "/dispatches",
        Map.of(
            "command",
            "screenshot",
            "reason",
            "A visitor says that it shows the wrong language.",
            "targets",
            List.of(
                Map.of(
                    "kind",
                    "device",
                    "ref",
                    devices("q=gla&standing=settled&platform=tarn", 1).get(0)))));
  }

  /** The kiosks of the harbour start afresh every night. */
  private void nightly() {
    Map<String, Object> order = new HashMap<>();
    order.put("command", "restart");
    order.put("reason", "A fresh start for the day.");
    order.put("expiresInMinutes", 120);
    order.put("targets", List.of(Map.of("kind", "unit", "ref", units.get("VM-HAR"))));
    JsonNode asked = api.post("/dispatches/rehearsal", order).path("confirmDevices");
    if (asked.isNumber()) {
      order.put("confirmDevices", asked.asLong());
    }
    api.post(
        "/standing-orders",
        Map.of(
            "name", "Nightly restart, Harbour Museum",
            "order", order,
            "days",
                List.of(
                    "monday", "tuesday", "wednesday", "thursday", "friday", "saturday", "sunday"),
            "time", "02:30",
            "zone", "UTC"));
  }

  /** One phone is being looked for, another was found under a counter. */
  private void cases() {
    ApiCalls tova = new ApiCalls(base, "tova", "first password of Tova");
    String missing = phone("VM-LIG");
    JsonNode open =
        tova.post(
            "/cases",
            Map.of(
                "deviceId",
                missing,
                "what",
                "It was not on its shelf when the lighthouse opened; last seen on the gallery.",
                "text",
                "This phone belongs to Vellmar Museums. Please hand it in at the pier.",
                "phone",
                "+000 5550 100",
                "lostAt",
                Instant.now().minus(Duration.ofHours(26)).toString(),
                "everyMinutes",
                5,
                "ringSiteId",
                site("Tollen point")));
    String notes = "/cases/" + open.path("id").asText() + "/notes";
    tova.post(notes, Map.of("text", "Told the ferry office and the keeper.", "told", true));
    tova.post(
        notes,
        Map.of("text", "The keeper thinks it is down by the landing; it rings there by itself."));
    String found = phone("VM-OBS");
    JsonNode closed =
        tova.post(
            "/cases",
            Map.of(
                "deviceId", found,
                "what", "Left in the dome after the night tour.",
                "phone", "+000 5550 100"));
    String id = closed.path("id").asText();
    tova.put(
        "/cases/" + id + "/end",
        "/cases/" + id,
        Map.of("found", true, "words", "It lay under the counter, behind the star charts."));
  }

  private String site(String name) {
    for (JsonNode s : api.get("/sites?limit=200").path("items")) {
      if (s.path("name").asText().equals(name)) {
        return s.path("id").asText();
      }
    }
    throw new IllegalStateException("there is no site " + name);
  }

  private String phone(String unit) {
    for (JsonNode d : api.get("/devices?limit=200&unit=" + units.get(unit)).path("items")) {
      if (d.path("kind").asText().equals("phone")) {
        return d.path("id").asText();
      }
    }
    throw new IllegalStateException("there is no phone in " + unit);
  }

  /** A work part that can be brought back, a tablet proved blank, and one that waits for two. */
  private void wipes() {
    wipe(
        api,
        "wipe-work",
        devices("ownership=personal&sort=name", 3).get(2),
        "The phone was left on the ferry.",
        Map.of());
    List<String> glass = devices("q=gla&standing=settled&platform=tarn", 4);
    wipe(api, "wipe", glass.get(3), "It goes back to the maker.", Map.of("retire", "true"));
    api.put(
        "/house/thresholds",
        "/house/thresholds",
        Map.of("number", 25, "reason", 100, "second", 200, "wiping", 1));
    ApiCalls eskil = new ApiCalls(base, "eskil", "first password of Eskil");
    String harbour = devices("q=har&standing=settled&platform=tarn", 6).get(5);
    eskil.post(
        "/proposals",
        Map.of(
            "intent",
            Map.of(
                "order",
                order("wipe", harbour, "Its screen is cracked; it is to be sold.", Map.of())),
            "note",
            "The dealer takes it on Thursday, if nothing of ours is on it."));
  }

  /** So many devices of a filter, once there are as many: who has just joined is yet to settle. */
  private List<String> devices(String query, int n) {
    long end = System.nanoTime() + TimeUnit.SECONDS.toNanos(PATIENCE_SECONDS);
    while (System.nanoTime() < end) {
      List<String> found =
          api.get("/devices?limit=" + n + "&" + query).path("items").findValuesAsText("id").stream()
              .limit(n)
              .toList();
      if (found.size() == n) {
        return found;
      }
      Scenario.pause();
    }
    throw new IllegalStateException("there are not " + n + " devices with " + query);
  }

  private static Map<String, Object> order(
      String command, String device, String reason, Map<String, String> fields) {
    return Map.of(
        "command",
        command,
        "reason",
        reason,
        "fields",
        fields,
        "targets",
        List.of(Map.of("kind", "device", "ref", device)));
  }

  private static JsonNode wipe(
      ApiCalls by, String command, String device, String reason, Map<String, String> fields) {
    return by.post("/dispatches", order(command, device, reason, fields));
  }
}
