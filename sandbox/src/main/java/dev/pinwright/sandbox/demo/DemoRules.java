package dev.pinwright.sandbox.demo;

import com.fasterxml.jackson.databind.JsonNode;
import java.awt.Color;
import java.time.Duration;
import java.time.Instant;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/**
 * What the devices of the museums are told, and the groups that fill themselves.
 *
 * @param units ids by code
 */
record DemoRules(ApiCalls api, Map<String, String> units) {

  void write() {
    JsonNode baseline = api.post("/baseline", Map.of());
    publish(baseline);
    Map<String, Object> gallery = gallery();
    gallery.put(
        "appearance.wallpaper-picture",
        api.file(
            "Quay at dusk.png",
            DemoFiles.landscape(
                new Color(0x34506b),
                new Color(0xe6c79c),
                new Color(0x6f8a96),
                new Color(0x1f2f3d))));
    profile("Gallery tablets", "What visitors may touch", gallery, target("tag", "gallery"));
    profile("Gallery Wi-Fi", "Network of the exhibition rooms", wifi(), target("tag", "gallery"));
    profile(
        "Observatory at night",
        "Screens that do not spoil the dark",
        Map.of(
            "appearance.brightness",
            20,
            "appearance.dark",
            "dark",
            "appearance.wallpaper-picture",
            api.file(
                "Ridge at night.png",
                DemoFiles.landscape(
                    new Color(0x0b1120),
                    new Color(0x2a3352),
                    new Color(0x232b45),
                    new Color(0x05070d)))),
        target("unit", units.get("VM-OBS")));
    profile(
        "At the dig",
        "Where the tablets are that go out on the lake",
        Map.of("location.trail", true, "location.every", 30, "location.days", 14),
        target("unit", units.get("VM-DIG")));
    groups();
  }

  private static Map<String, Object> gallery() {
    Map<String, Object> gallery = new LinkedHashMap<>();
    gallery.put("restrictions.camera-off", true);
    gallery.put("restrictions.usb-off", true);
    gallery.put("restrictions.store-off", true);
    gallery.put("restrictions.hotspot-off", true);
    gallery.put("passcode.auto-lock", 2);
    gallery.put(
        "appearance.lock-screen-text",
        "{self:Unit}, {self:Name}. Please hand it to a gallery attendant.");
    gallery.put("appearance.wallpaper", "quay");
    gallery.put("appearance.brightness", 90);
    gallery.put("web.allowed", List.of("vellmar.example"));
    gallery.put("web.start-page", "https://vellmar.example/rooms");
    gallery.put("shortcuts[hours].title", "Opening hours");
    gallery.put("shortcuts[hours].address", "https://vellmar.example/opening-hours");
    return gallery;
  }

  private static Map<String, Object> galleryKiosk() {
    Map<String, Object> kiosk = new LinkedHashMap<>();
    kiosk.put("kiosk.mode", "home");
    kiosk.put(
        "kiosk.apps",
        List.of(DemoApps.GUIDE, "system.video", "system.photos", "system.maps", "system.web"));
    kiosk.put("kiosk.layout", List.of("0.2 system.web"));
    kiosk.put("kiosk.columns", 2);
    kiosk.put("kiosk.title", "Welcome to {self:Unit}");
    kiosk.put("kiosk.status-bar-off", true);
    kiosk.put("kiosk.power-button-off", true);
    kiosk.put("kiosk.rotation", "upright");
    kiosk.put("kiosk.never-sleeps", true);
    kiosk.put("kiosk.holder-changes", List.of("brightness", "language"));
    kiosk.put("kiosk.exit-minutes", 30);
    return kiosk;
  }

  private static Map<String, Object> wifi() {
    return Map.of(
        "wifi[galleries].network", "Vellmar-Galleries",
        "wifi[galleries].security", "personal",
        "wifi[galleries].passphrase", "lantern over the quay");
  }

  private Map<String, Object> laptops() {
    Map<String, Object> laptops = new LinkedHashMap<>();
    laptops.put(
        "signin.banner",
        "This laptop belongs to Vellmar Museums.\nWhat is done on it can be looked into.");
    laptops.put("signin.style", "names");
    laptops.put("signin.last-hidden", true);
    laptops.put("signin.out-after", 30);
    laptops.put("accounts[office].login", "office");
    laptops.put("accounts[office].title", "Trust office");
    laptops.put("accounts[office].kind", "directory");
    laptops.put("accounts[care].login", "care");
    laptops.put("accounts[care].title", "IT care");
    laptops.put("accounts[care].administers", true);
    laptops.put("printers[office].title", "Trust office");
    laptops.put("printers[office].address", "printer.vellmar.example:631");
    laptops.put("printers[office].two-sided", true);
    laptops.put("backup.target", "https://backup.vellmar.example/laptops");
    laptops.put("backup.every", 24);
    laptops.put("media.sticks", "read");
    laptops.put("power.lid", "sleep");
    laptops.put("web.categories", List.of("gambling", "malware"));
    laptops.put("updates.when", "window");
    laptops.put("updates.window", "Mon-Sun 02:00-05:00");
    laptops.put("encryption.required", true);
    laptops.put("encryption.escrow", true);
    laptops.put("scripts[drive].file", api.file("Office drive.sh", DemoFiles.signInScript()));
    return laptops;
  }

  private void groups() {
    String laptops = group("Laptops", "platform is moor");
    profile("Office laptops", "What the office works with", laptops(), target("group", laptops));
    String staff = group("Staff devices", "ownership is corporate and not tag has gallery");
    String network =
        profile(
            "Staff network",
            "Whom the devices of the staff trust",
            Map.of(
                "certificates[network].file",
                api.file(
                    "Staff network root.pem",
                    DemoFiles.root(
                        "Vellmar Museums staff network", Instant.now(), Duration.ofDays(26))),
                "certificates[network].use",
                "trust"));
    kit(staff, network);
    String phones = group("Staff phones", "kind is phone and ownership is corporate");
    profile(
        "Staff phones",
        "A longer passcode, with three days to choose it",
        Map.of("passcode.min-length", 8, "passcode.grace", 72, "passcode.history", 3),
        target("group", phones));
    String kiosks =
        group(
            "Gallery kiosks",
            "kind is tablet and mode is supervised and tag has gallery and not unit in VM-OBS");
    profile(
        "Gallery kiosks", "Four apps and nothing else", galleryKiosk(), target("group", kiosks));
    profile(
        "Dome screens",
        "One page, and nothing to touch",
        Map.of(
            "kiosk.mode",
            "one",
            "kiosk.apps",
            List.of("system.video"),
            "kiosk.fallback",
            "system.photos",
            "kiosk.home-button-off",
            true,
            "kiosk.exit-minutes",
            15),
        target("unit", units.get("VM-OBS")));
    String behind =
        group(
            "Kiosks behind on updates",
            "kind is tablet and mode is supervised and os < 7.1\n  and not unit in VM-DIG");
    String quiet = group("Quiet at the dig", "unit in VM-DIG and not seen within 2 days");
    api.post("/groups", Map.of("name", "To look at", "inside", List.of(behind, quiet)));
    checks();
  }

  /** What every device of the staff gets; the network only while it is in order. */
  private void kit(String staff, String network) {
    publish(
        api.post(
            "/profiles",
            Map.of(
                "kind",
                "kit",
                "name",
                "Staff kit",
                "description",
                "The house rules, and the staff network for devices in order",
                "settings",
                Map.of(
                    "documents[rules].title",
                    "House rules",
                    "documents[rules].file",
                    api.file("House rules.txt", DemoFiles.houseRules())),
                "parts",
                List.of(Map.of("profile", network, "whenInOrder", true)),
                "targets",
                List.of(target("group", staff)))));
  }

  /** What is looked for on devices. */
  private void checks() {
    check(
        "Passcode",
        "passcode is overdue",
        "Choose a longer passcode.",
        Map.of("grace", 0, "holder", 0));
    check(
        "Encryption",
        "fact security/encrypted is \"false\"",
        "Turn encryption on, in the settings of the device.",
        Map.of("grace", 0, "holder", 0, "house", 0, "withhold", 0));
    check(
        "Least OS version",
        "(platform is fjell and os < 13) or (platform is tarn and os < 7.1)",
        "Update the system of the device.",
        Map.of("grace", 168, "holder", 0, "house", 168));
    check(
        "Apps from anywhere",
        "fact security/unknown-sources is \"true\"",
        "Turn off apps from unknown sources.",
        Map.of("grace", 24, "holder", 0, "house", 24));
  }

  private void check(String name, String rule, String advice, Map<String, Integer> ladder) {
    api.post("/checks", Map.of("name", name, "rule", rule, "advice", advice, "ladder", ladder));
  }

  private String group(String name, String rule) {
    return api.post("/groups", Map.of("name", name, "rule", rule)).path("id").asText();
  }

  private static Map<String, String> target(String kind, String ref) {
    return Map.of("kind", kind, "ref", ref);
  }

  @SafeVarargs
  private String profile(
      String name,
      String description,
      Map<String, Object> settings,
      Map<String, String>... targets) {
    return publish(
        api.post(
            "/profiles",
            Map.of(
                "name", name,
                "description", description,
                "settings", settings,
                "targets", List.of(targets))));
  }

  private String publish(JsonNode profile) {
    api.post(
        "/profiles/" + profile.path("id").asText() + "/publication",
        Map.of(),
        profile.path("version").asInt());
    return profile.path("id").asText();
  }
}
