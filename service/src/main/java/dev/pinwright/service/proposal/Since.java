package dev.pinwright.service.proposal;

import com.fasterxml.jackson.databind.JsonNode;
import java.util.ArrayList;
import java.util.List;

/** What became different between two rehearsals of the same thing, in sentences. */
final class Since {
  private Since() {}

  static List<String> told(JsonNode before, JsonNode now) {
    List<String> told = new ArrayList<>();
    if (before.path("version").asInt() != now.path("version").asInt()) {
      told.add("What is to be done was changed after it was proposed.");
    }
    number(told, before, now, "devices", "devices are concerned");
    number(told, before, now, "changing", "devices change");
    number(told, before, now, "gain", "devices gain settings");
    number(told, before, now, "change", "devices get other values");
    number(told, before, now, "lose", "devices lose settings");
    boolean others = !before.path("effects").equals(now.path("effects"));
    if (told.isEmpty() && others) {
      told.add("What changes on some of the devices is not the same as it was.");
    }
    return told;
  }

  private static void number(
      List<String> told, JsonNode before, JsonNode now, String key, String what) {
    long was = before.path(key).asLong();
    long is = now.path(key).asLong();
    if (was != is) {
      told.add("It was " + was + ", now " + is + " " + what + ".");
    }
  }
}
