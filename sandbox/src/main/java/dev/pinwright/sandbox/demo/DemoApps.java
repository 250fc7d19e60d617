package dev.pinwright.sandbox.demo;

import com.fasterxml.jackson.databind.JsonNode;
import dev.pinwright.protocol.pack.PackageRefused;
import dev.pinwright.sandbox.device.Agent;
import java.awt.Color;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.util.HashMap;
import java.util.List;
import java.util.Map;

/** The museums' own apps: packages their workshop makes, and whom they are for. */
final class DemoApps {
  private static final int SHOPPERS = 38;
  static final String GUIDE = "vellmar.gallery-guide";

  private final ApiCalls api;
  private final Map<String, String> units;
  private final DemoPackages packages =
      new DemoPackages("Vellmar Museums", "Vellmar Museums workshop");

  DemoApps(ApiCalls api, Map<String, String> units) {
    this.api = api;
    this.units = units;
  }

  /** An app: what its manifest says besides, and the colour of its icon. */
  private record Own(
      String id, String name, String category, String summary, Color colour, String more) {
    DemoPackages.App made() {
      return new DemoPackages.App(
          id, name, category, summary, colour, List.of("tarn", "fjell", "moor"), more);
    }
  }

  private static final List<Own> OWN =
      List.of(
          new Own(
              GUIDE,
              "Gallery Guide",
              "galleries",
              "Rooms, objects and their stories, for visitors.",
              new Color(0x6c5a2e),
              """
              "permissions":["network"],"configuration":{"type":"object","additionalProperties":false,
               "properties":{"house":{"type":"string","title":"House","maxLength":80},
                 "quiet":{"type":"boolean","title":"Without sound"},
                 "minutes":{"type":"integer","title":"Back to the start after minutes","minimum":1,"maximum":60}},
               "required":["house"]}
              """),
          new Own(
              "vellmar.ticket-scan",
              "Ticket Scan",
              "visitors",
              "Reads tickets at the door.",
              new Color(0x2d6270),
              "\"permissions\":[\"camera\",\"network\"]"),
          new Own(
              "vellmar.object-records",
              "Object Records",
              "collection",
              "What is where, and in which condition.",
              new Color(0x5b4a78),
              "\"permissions\":[\"camera\",\"network\",\"storage\"]"),
          new Own(
              "vellmar.climate-log",
              "Climate Log",
              "collection",
              "Warmth and damp in the cases, by the hour.",
              new Color(0x2f5d50),
              "\"permissions\":[\"network\"]"),
          new Own(
              "vellmar.rota",
              "Rota",
              "staff",
              "Who is on when, and who swaps.",
              new Color(0x3c4f76),
              """
              "permissions":["network"],"configuration":{"type":"object","additionalProperties":false,
               "properties":{"server":{"type":"string","title":"Address of the rota","maxLength":200},
                 "team":{"type":"string","title":"Team","maxLength":80}},
               "required":["server"]}
              """),
          new Own(
              "vellmar.field-notes",
              "Field Notes",
              "dig",
              "What was found where, also without a network.",
              new Color(0x7d6a1f),
              "\"permissions\":[\"camera\",\"location\",\"storage\"]"),
          new Own(
              "vellmar.shift-radio",
              "Shift Radio",
              "staff",
              "Talking from room to room.",
              new Color(0x8a4f3d),
              "\"permissions\":[\"microphone\",\"network\"]"));

  /** Brings the first version of each, releases it, and assigns it. */
  void write() {
    for (Own own : OWN) {
      bring(own, 1, "4.1");
    }
    assign(
        GUIDE,
        "Gallery Guide in the galleries",
        "required",
        Map.of("configuration", "{\"house\":\"{self:Unit}\",\"minutes\":3}"),
        Map.of("kind", "tag", "ref", "gallery"));
    assign("vellmar.ticket-scan", "Ticket Scan at the doors", "required", Map.of(), unit("VM-HAR"));
    assign(
        "vellmar.climate-log", "Climate Log", "required", Map.of(), unit("VM-GLA"), unit("VM-TEX"));
    assign("vellmar.field-notes", "Field Notes at the dig", "required", Map.of(), unit("VM-DIG"));
    Map<String, String> staff =
        Map.of(
            "kind",
            "group",
            "ref",
            api.get("/groups?q=Staff%20devices&limit=1").path("items").path(0).path("id").asText());
    for (String shelved : List.of("vellmar.rota", "vellmar.object-records")) {
      assign(shelved, name(shelved) + " on the shelf", "offered", Map.of(), staff, unit("VM-VOL"));
    }
    assign("vellmar.shift-radio", "No Shift Radio", "forbidden", Map.of(), staff);
    assign(
        "system.mail",
        "No Mail in the galleries",
        "forbidden",
        Map.of(),
        Map.of("kind", "tag", "ref", "gallery"));
    api.post(
        "/apps/web",
        Map.of(
            "name", "Opening Hours",
            "address", "https://vellmar.example/opening-hours",
            "platforms", List.of("tarn", "fjell"),
            "publisher", "Vellmar Museums",
            "category", "visitors",
            "summary", "Which house is open when, and when the ferry goes."));
    assign("web.opening-hours", "Opening Hours on the shelf", "offered", Map.of(), staff);
    api.post(
        "/app-codes",
        Map.of(
            "appId", app("vellmar.rota").path("id").asText(),
            "unitId", units.get("VM-VOL"),
            "name", "Rota for volunteers",
            "configuration",
                Map.of("server", "https://rota.vellmar.example", "team", "{self:Unit}")));
  }

  Map<String, String> unit(String code) {
    return Map.of("kind", "unit", "ref", units.get(code));
  }

  private static Own own(String id) {
    return OWN.stream().filter(o -> o.id().equals(id)).findFirst().orElseThrow();
  }

  private static String name(String id) {
    return own(id).name();
  }

  private JsonNode app(String id) {
    return api.get("/apps?q=" + id + "&limit=1").path("items").path(0);
  }

  private void bring(Own own, int code, String version) {
    JsonNode app = bringOnly(own, code, version, "").path("app");
    api.post(
        "/apps/" + app.path("app").path("id").asText() + "/releases",
        Map.of("code", code),
        app.path("version").asInt());
  }

  private JsonNode bringOnly(Own own, int code, String version, String notes) {
    try {
      return api.appPackage(packages.packed(own.made(), code, version, notes));
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    } catch (PackageRefused e) {
      throw new IllegalStateException(e);
    }
  }

  @SafeVarargs
  final void assign(
      String id,
      String name,
      String presence,
      Map<String, Object> how,
      Map<String, String>... targets) {
    JsonNode app = app(id);
    Map<String, Object> settings = new HashMap<>();
    String entry = "apps[" + app.path("key").asText() + "].";
    settings.put(entry + "presence", presence);
    how.forEach((k, v) -> settings.put(entry + k, v));
    JsonNode profile =
        api.post(
            "/profiles",
            Map.of(
                "kind",
                "app",
                "app",
                app.path("id").asText(),
                "name",
                name,
                "settings",
                settings,
                "targets",
                List.of(targets)));
    api.post(
        "/profiles/" + profile.path("id").asText() + "/publication",
        Map.of(),
        profile.path("version").asInt());
  }

  // ---- what happens later ----------------------------------------------------------------------

  /** Some pick from the shelf; one has what is forbidden and keeps it; at the dig one fails. */
  void live(List<Agent> devices) {
    List<Agent> shelved =
        devices.stream().filter(a -> !a.screen().shelf().isEmpty()).limit(SHOPPERS).toList();
    for (int i = 0; i < shelved.size(); i++) {
      shelved.get(i).device().pick(i % 3 == 0 ? "vellmar.object-records" : "vellmar.rota");
      shelved.get(i).checkIn(false);
    }
    devices.stream()
        .filter(
            a ->
                a.device().model().kind().equals("phone")
                    && a.screen().apps().size() > 0
                    && a.screen()
                        .offer()
                        .filter(o -> o.profile().ownership().equals("corporate"))
                        .isPresent())
        .reduce((first, second) -> second)
        .ifPresent(
            phone -> {
              phone.device().fault("no-removal", true);
              phone.device().holders("vellmar.shift-radio", "Shift Radio", "3.9");
              phone.checkIn(false);
            });
  }

  /** A version of the guide that does not install spreads until it stops by itself. */
  void haltedRollOut(List<Agent> galleries) {
    galleries.forEach(a -> a.device().fault("no-install", true));
    JsonNode brought =
        bringOnly(own(GUIDE), 2, "4.2", "A new tour of the ship hall.\nLarger letters.");
    JsonNode app = brought.path("app");
    String path = "/apps/" + app.path("app").path("id").asText();
    Map<String, Object> release = new HashMap<>();
    release.put("code", 2);
    release.put(
        "waves",
        Map.of("steps", List.of(Map.of("share", 5), Map.of("share", 25)), "hold", 120, "bound", 5));
    JsonNode asked = api.post(path + "/release-rehearsal", Map.of("code", 2));
    if (asked.path("confirmDevices").isNumber()) {
      release.put("confirmDevices", asked.path("confirmDevices").asLong());
    }
    api.post(path + "/releases", release, app.path("version").asInt());
  }
}
