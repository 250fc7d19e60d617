package dev.pinwright.sandbox.demo;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/** The enrollment profiles of Vellmar Museums. */
final class DemoProfiles {
  /** What volunteers' phones join by. */
  static final String OWN = "Volunteers' own phones";

  private final List<Draft> drafts;

  /** One of them, as it is sent. */
  record Draft(String name, Map<String, Object> body) {
    Draft(String name, String mode, String platform, String pattern) {
      this(name, new LinkedHashMap<>());
      body.put("name", name);
      body.put("mode", mode);
      body.put("namePattern", pattern);
      if (!platform.isEmpty()) {
        body.put("platforms", List.of(platform));
      }
    }
  }

  /**
   * @param units ids by code
   * @param sites ids by name
   * @param gallery id of the group of gallery tablets
   */
  DemoProfiles(Map<String, String> units, Map<String, String> sites, String gallery) {
    Draft kiosks = new Draft("Gallery kiosks", "supervised", "tarn", "{unit} kiosk {seq:3}");
    kiosks.body().put("rosterOnly", true);
    kiosks.body().put("groups", List.of(gallery));
    kiosks.body().put("tags", List.of("gallery"));
    Draft guides = new Draft("Audio guides", "supervised", "tarn", "{unit} guide {seq:2}");
    guides.body().put("rosterOnly", true);
    guides.body().put("tags", List.of("gallery", "audio"));
    Draft working = new Draft("Working tablets", "supervised", "tarn", "{unit} tablet {seq:2}");
    working.body().put("rosterOnly", true);
    Draft phones = new Draft("Staff phones", "standard", "fjell", "{person}");
    phones.body().put("minimumOs", Map.of("fjell", "12.0"));
    phones.body().put("tags", List.of("staff"));
    Draft dig = new Draft("Dig station tablets", "supervised", "fjell", "DIG {seq:2}");
    dig.body().put("approval", true);
    dig.body().put("tags", List.of("field"));
    dig.body().put("unitId", units.get("VM-DIG"));
    dig.body().put("siteId", sites.get("Lake Orre"));
    Draft laptops = new Draft("Office laptops", "supervised", "moor", "VM laptop {seq:2}");
    laptops.body().put("unitId", units.get("VM"));
    laptops.body().put("siteId", sites.get("Norhaven"));
    Draft own = new Draft(OWN, "work-profile", "", "{person}, own");
    own.body().put("ownership", "personal");
    own.body().put("signIn", "directory");
    own.body().put("tags", List.of("volunteer"));
    Draft handed = new Draft(HandsFree.PROFILE, "supervised", "tarn", "{unit} kiosk {seq:3}");
    handed.body().put("rosterOnly", true);
    handed.body().put("tags", List.of("gallery"));
    handed.body().put("readyGate", Map.of("profiles", true));
    Map<String, Object> onShow =
        Map.of(
            "skipped",
            List.of("text-size", "fingerprint", "assistant", "backup", "maker-account", "tour"),
            "language",
            "en",
            "region",
            "QV",
            "wallpaper",
            "quay");
    kiosks.body().put("firstRun", onShow);
    handed.body().put("firstRun", onShow);
    drafts = List.of(kiosks, guides, working, phones, dig, laptops, own, handed);
  }

  List<Draft> drafts() {
    return drafts;
  }
}
