package dev.pinwright.sandbox.demo;

import com.fasterxml.jackson.databind.JsonNode;
import dev.pinwright.protocol.pack.Manifest;
import dev.pinwright.protocol.pack.PackageMaker;
import dev.pinwright.protocol.pack.PackageRefused;
import dev.pinwright.protocol.pki.Pki;
import dev.pinwright.sandbox.device.Agent;
import java.awt.Color;
import java.awt.Font;
import java.awt.GradientPaint;
import java.awt.Graphics2D;
import java.awt.RenderingHints;
import java.awt.image.BufferedImage;
import java.io.File;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.stream.Stream;
import javax.imageio.ImageIO;

/** The museums' own apps: packages their workshop makes, and whom they are for. */
final class DemoApps {
  private static final int ICON = 192;
  private static final int ARC = 84;
  private static final int PAYLOAD = 240_000;
  private static final int SHOPPERS = 38;
  static final String GUIDE = "vellmar.gallery-guide";

  private final ApiCalls api;
  private final Map<String, String> units;
  private final Pki.Identity workshop;

  DemoApps(ApiCalls api, Map<String, String> units) {
    this.api = api;
    this.units = units;
    Instant now = Instant.now();
    workshop =
        Pki.newRoot(
            "Vellmar Museums workshop",
            now.minus(Duration.ofDays(200)),
            now.plus(Duration.ofDays(500)));
  }

  /** An app: what its manifest says besides, and the colour of its icon. */
  private record Own(
      String id, String name, String category, String summary, Color colour, String more) {}

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
              "\"permissions\":[\"network\"]"),
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
  }

  private Map<String, String> unit(String code) {
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
      return api.appPackage(packed(own, code, version, notes));
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    } catch (PackageRefused e) {
      throw new IllegalStateException(e);
    }
  }

  @SafeVarargs
  private void assign(
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

  // ---- making packages -------------------------------------------------------------------------

  private byte[] packed(Own own, int code, String version, String notes)
      throws IOException, PackageRefused {
    Path folder = Files.createTempDirectory("app");
    Path file = Files.createTempFile("app", ".pkg");
    try {
      Files.writeString(
          folder.resolve(Manifest.FILE),
          """
          {"id":"%s","name":"%s","publisher":"Vellmar Museums","summary":"%s","category":"%s",
           "version":"%s","versionCode":%d,"platforms":["tarn","fjell","moor"],"icon":"icon.png",
           "size":%d,"notes":"%s",%s}
          """
              .formatted(
                  own.id(),
                  own.name(),
                  own.summary(),
                  own.category(),
                  version,
                  code,
                  48_000_000 + code * 1_300_000L,
                  notes.replace("\n", "\\n"),
                  own.more()));
      ImageIO.write(icon(own), "png", folder.resolve("icon.png").toFile());
      byte[] payload = new byte[PAYLOAD];
      new Random(own.id().hashCode() + code).nextBytes(payload);
      Files.createDirectory(folder.resolve("payload"));
      Files.write(folder.resolve("payload/app.bin"), payload);
      PackageMaker.make(folder, file);
      PackageMaker.sign(file, workshop.key(), List.of(workshop.certificate()));
      return Files.readAllBytes(file);
    } finally {
      Files.deleteIfExists(file);
      try (Stream<Path> all = Files.walk(folder)) {
        all.sorted(Comparator.reverseOrder()).map(Path::toFile).forEach(File::delete);
      }
    }
  }

  private static BufferedImage icon(Own own) {
    BufferedImage icon = new BufferedImage(ICON, ICON, BufferedImage.TYPE_INT_ARGB);
    Graphics2D g = icon.createGraphics();
    g.setRenderingHint(RenderingHints.KEY_ANTIALIASING, RenderingHints.VALUE_ANTIALIAS_ON);
    g.setRenderingHint(
        RenderingHints.KEY_TEXT_ANTIALIASING, RenderingHints.VALUE_TEXT_ANTIALIAS_ON);
    g.setPaint(new GradientPaint(0, 0, own.colour().brighter(), 0, ICON, own.colour().darker()));
    g.fillRoundRect(0, 0, ICON, ICON, ARC, ARC);
    g.setColor(new Color(255, 255, 255, 40));
    g.fillOval(ICON / 2, -ICON / 3, ICON, ICON);
    g.setColor(Color.WHITE);
    g.setFont(new Font(Font.SANS_SERIF, Font.BOLD, ICON / 2));
    String letter = own.name().substring(0, 1);
    var box = g.getFontMetrics();
    g.drawString(
        letter,
        (ICON - box.stringWidth(letter)) / 2,
        (ICON - box.getHeight()) / 2 + box.getAscent());
    g.dispose();
    return icon;
  }
}
