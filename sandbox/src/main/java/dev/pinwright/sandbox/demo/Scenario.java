package dev.pinwright.sandbox.demo;

import com.fasterxml.jackson.databind.JsonNode;
import dev.pinwright.sandbox.device.Agent;
import dev.pinwright.sandbox.device.Fleet;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.TimeUnit;

/**
 * Writes the demo into an empty service: terms, enrollment profiles, groups, profiles, and devices
 * that join by invitation. Does nothing when the service has enrollment profiles already.
 */
public final class Scenario {
  private static final long PATIENCE_SECONDS = 60;
  private static final String POLICY = "./Vendor/Pinwright/Policy/";
  private final ApiCalls api;
  private final Fleet fleet;
  private final List<CompletableFuture<?>> joining = new ArrayList<>();

  /** Signs in, waiting for a service that is just starting. */
  public Scenario(Fleet fleet, String base, String login, String password)
      throws InterruptedException {
    ApiCalls.awaitService(base);
    this.fleet = fleet;
    this.api = new ApiCalls(base, login, password);
  }

  /**
   * Writes it.
   *
   * @return whether there was anything to write
   */
  public boolean write() {
    if (!api.get("/enrollment-profiles?limit=1").path("items").isEmpty()) {
      return false;
    }
    int terms =
        api.post(
                "/terms",
                Map.of(
                    "title",
                    "Using a Vellmar Museums device",
                    "text",
                    "The trust sets a passcode rule, chooses apps and may lock this device if"
                        + " it is lost.\n\nIt sees the list on the previous page and nothing"
                        + " else. Bring the device to the trust office in Norhaven when you"
                        + " leave."))
            .path("version")
            .asInt();
    String harbour = id(api.post("/groups", Map.of("name", "Harbour Museum")));
    String glasshouse = id(api.post("/groups", Map.of("name", "Glasshouse")));
    String dig = id(api.post("/groups", Map.of("name", "Dig station")));
    String office = id(api.post("/groups", Map.of("name", "Trust office")));

    String kiosks =
        enrollment(
            "Harbour gallery kiosks",
            "corporate",
            "supervised",
            "tarn",
            terms,
            "HAR {serial}",
            harbour,
            List.of("gallery"),
            false);
    String glass =
        enrollment(
            "Glasshouse kiosks",
            "corporate",
            "supervised",
            "tarn",
            terms,
            "GLA {serial}",
            glasshouse,
            List.of("gallery"),
            false);
    String phones =
        enrollment(
            "Staff phones",
            "corporate",
            "standard",
            "fjell",
            terms,
            "{model} {serial}",
            harbour,
            List.of("staff"),
            false);
    String field =
        enrollment(
            "Dig station tablets",
            "corporate",
            "supervised",
            "fjell",
            terms,
            "DIG {serial}",
            dig,
            List.of("field"),
            true);
    String laptops =
        enrollment(
            "Office laptops",
            "corporate",
            "supervised",
            "moor",
            terms,
            "VM {serial}",
            office,
            List.of("staff"),
            false);
    String volunteers =
        enrollment(
            "Volunteers' own phones",
            "personal",
            "work-profile",
            "",
            terms,
            "{model} {serial}",
            "",
            List.of("volunteer"),
            false);

    Map<String, Object> baseline = new LinkedHashMap<>();
    baseline.put("passcode.required", true);
    baseline.put("passcode.kind", "numeric");
    baseline.put("passcode.min-length", 6);
    baseline.put("passcode.no-runs", true);
    baseline.put("passcode.auto-lock", 10);
    baseline.put("restrictions.encryption-required", true);
    baseline.put("restrictions.unknown-sources-off", true);
    profile(
        "Baseline",
        "Passcode, encryption and approved sources for everybody",
        baseline,
        List.of(Map.of("kind", "everyone")),
        List.of());

    Map<String, Object> gallery = new LinkedHashMap<>();
    gallery.put("restrictions.camera-off", true);
    gallery.put("restrictions.usb-off", true);
    gallery.put("restrictions.store-off", true);
    gallery.put("passcode.auto-lock", 2);
    gallery.put(
        "appearance.lock-screen-text",
        "Property of Vellmar Museums. Please hand it to a gallery attendant.");
    gallery.put("appearance.wallpaper", "quay");
    gallery.put("appearance.brightness", 90);
    profile(
        "Gallery tablets",
        "What visitors may touch",
        gallery,
        List.of(Map.of("kind", "tag", "ref", "gallery")),
        List.of());
    Map<String, Object> wifi = new LinkedHashMap<>();
    wifi.put("wifi.network", "Vellmar-Galleries");
    wifi.put("wifi.security", "personal");
    wifi.put("wifi.passphrase", "lantern over the quay");
    profile(
        "Gallery Wi-Fi",
        "Network of the exhibition rooms",
        wifi,
        List.of(
            Map.of("kind", "group", "ref", harbour), Map.of("kind", "group", "ref", glasshouse)),
        List.of());

    String quay = invitation(kiosks, 40, "Cart in the quay gallery");
    for (int i = 0; i < 14; i++) {
      join(quay, "T10", i % 5 == 4 ? "6.3" : "7.2.1", i == 9);
    }
    String glassLink = invitation(glass, 30, "Glasshouse cart");
    for (int i = 0; i < 8; i++) {
      join(glassLink, "T8 mini", i % 4 == 3 ? "7.0" : "7.2", false);
    }
    String phoneLink = invitation(phones, 20, "Staff phones of the Harbour Museum");
    for (int i = 0; i < 6; i++) {
      join(phoneLink, "P5", i % 3 == 2 ? "12.4" : "13.1", false);
    }
    String officeLink = invitation(laptops, 10, "Laptops of the trust office");
    for (int i = 0; i < 4; i++) {
      join(officeLink, "Note 14", "4.2", false);
    }
    String volunteerLink = invitation(volunteers, 40, "Volunteers' evening");
    for (int i = 0; i < 5; i++) {
      join(volunteerLink, i % 2 == 0 ? "Fold" : "P5", null, false);
    }
    String digLink = invitation(field, 8, "Lake Orre");
    for (int i = 0; i < 2; i++) {
      join(digLink, "P5 rugged", "13.0", false);
    }
    settle();
    fleet.make(new Fleet.Wish("T10", "7.2.1", "AR10-0042-7731", false, null));
    fleet.make(new Fleet.Wish("P5", "11.0", "KE5-0013-2204", false, null));
    return true;
  }

  private static String id(JsonNode node) {
    return node.path("id").asText();
  }

  private String enrollment(
      String name,
      String ownership,
      String mode,
      String platform,
      int terms,
      String pattern,
      String group,
      List<String> tags,
      boolean approval) {
    Map<String, Object> body = new LinkedHashMap<>();
    body.put("name", name);
    body.put("ownership", ownership);
    body.put("mode", mode);
    if (!platform.isEmpty()) {
      body.put("platforms", List.of(platform));
    }
    body.put("termsVersion", terms);
    body.put("namePattern", pattern);
    body.put("groups", group.isEmpty() ? List.of() : List.of(group));
    body.put("tags", tags);
    body.put("approval", approval);
    if (platform.equals("fjell")) {
      body.put("minimumOs", Map.of("fjell", "12.0"));
    }
    return id(api.post("/enrollment-profiles", body));
  }

  private void profile(
      String name,
      String description,
      Map<String, Object> settings,
      List<Map<String, String>> targets,
      List<Map<String, String>> exclusions) {
    JsonNode made =
        api.post(
            "/profiles",
            Map.of(
                "name", name,
                "description", description,
                "settings", settings,
                "targets", targets,
                "exclusions", exclusions));
    api.post("/profiles/" + id(made) + "/publication", Map.of(), made.path("version").asInt());
  }

  private String invitation(String profileId, int uses, String note) {
    return api.post("/invitations", Map.of("profileId", profileId, "uses", uses, "note", note))
        .path("link")
        .asText();
  }

  private void join(
      String link, String model, @org.jspecify.annotations.Nullable String os, boolean stubborn) {
    Agent agent = fleet.make(new Fleet.Wish(model, os, null, true, 600L));
    if (stubborn) {
      agent.device().refuseAlways(List.of(POLICY + "appearance/brightness"));
    }
    joining.add(agent.take(link).thenCompose(x -> agent.accept(null)));
  }

  private void settle() {
    CompletableFuture.allOf(joining.toArray(CompletableFuture[]::new))
        .orTimeout(PATIENCE_SECONDS, TimeUnit.SECONDS)
        .join();
  }
}
