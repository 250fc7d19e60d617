package dev.pinwright.sandbox.demo;

import com.fasterxml.jackson.databind.JsonNode;
import java.util.List;
import java.util.Map;

/** Groups that fill themselves. */
final class DemoGroups {
  private DemoGroups() {}

  /** Makes them; the units they name have to be there. */
  static void make(ApiCalls api) {
    String behind =
        made(
            api,
            "Kiosks behind on updates",
            "kind is tablet and mode is supervised and os < 7.1\n  and not unit in VM-DIG");
    String quiet = made(api, "Quiet at the dig", "unit in VM-DIG and not seen within 2 days");
    api.post("/groups", Map.of("name", "To look at", "inside", List.of(behind, quiet)));
    made(api, "Staff phones on battery", "kind is phone and not fact battery/charging is true");
  }

  private static String made(ApiCalls api, String name, String rule) {
    JsonNode group = api.post("/groups", Map.of("name", name, "rule", rule));
    return group.path("id").asText();
  }
}
