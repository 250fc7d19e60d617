package dev.pinwright.sandbox.demo;

import com.fasterxml.jackson.databind.JsonNode;
import java.util.List;
import java.util.Map;

/** What was done to devices from afar: wiped, proved, waiting for a second person. */
final class DemoActing {
  private final ApiCalls api;
  private final String base;

  DemoActing(ApiCalls api, String base) {
    this.api = api;
    this.base = base;
  }

  void write() {
    wipes();
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

  private List<String> devices(String query, int n) {
    return api
        .get("/devices?limit=" + n + "&" + query)
        .path("items")
        .findValuesAsText("id")
        .stream()
        .limit(n)
        .toList();
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
