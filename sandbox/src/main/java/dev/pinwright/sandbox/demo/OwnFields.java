package dev.pinwright.sandbox.demo;

import com.fasterxml.jackson.databind.JsonNode;
import java.time.LocalDate;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/** The museums' own fields: how a device is put up, when its lease ends, who has the keys. */
final class OwnFields {
  private static final int MONTHS_OF_LEASE = 36;
  private static final Map<String, String> HOURS = new LinkedHashMap<>();

  static {
    HOURS.put("VM-HAR", "Tue to Sun, 10 to 18");
    HOURS.put("VM-GLA", "daily, 9 to 17");
    HOURS.put("VM-OBS", "Fri and Sat, 19 to 24");
    HOURS.put("VM-FOL", "May to September, 10 to 17");
    HOURS.put("VM-TEX", "Wed to Sun, 10 to 16");
    HOURS.put("VM-LIG", "Sat and Sun, 12 to 16");
  }

  private final ApiCalls api;
  private final LocalDate today;

  OwnFields(ApiCalls api, LocalDate today) {
    this.api = api;
    this.today = today;
  }

  /** Makes the fields, and fills in those of units and people. */
  void ofUnitsAndPeople() {
    attribute("Mount", "device", "choice", List.of("wall", "stand", "hand-held"));
    attribute("Lease ends", "device", "date", List.of());
    attribute("Opening hours", "unit", "text", List.of());
    attribute("Keys", "person", "choice", List.of("yes", "no"));
    StringBuilder units = new StringBuilder("code;name;Opening hours\n");
    for (Vellmar.Unit u : Vellmar.UNITS) {
      units.append("%s;%s;%s\n".formatted(u.code(), u.name(), HOURS.getOrDefault(u.code(), "")));
    }
    take("units", units);
    StringBuilder people = new StringBuilder("name,login,Keys\n");
    List<Vellmar.Person> all = Vellmar.people();
    for (int i = 0; i < all.size(); i += 9) {
      people.append("%s,%s,yes\n".formatted(all.get(i).name(), all.get(i).login()));
    }
    take("people", people);
  }

  /** Fills in those of the devices that have arrived. */
  void ofDevices() {
    take("devices", sheet());
  }

  private void take(String what, CharSequence rows) {
    api.sheet("/organisation/" + what + ".csv?save=true", rows.toString());
  }

  private void attribute(String name, String kind, String type, List<String> choices) {
    api.post(
        "/attributes",
        choices.isEmpty()
            ? Map.of("name", name, "kind", kind, "type", type)
            : Map.of("name", name, "kind", kind, "type", type, "choices", choices));
  }

  private String sheet() {
    StringBuilder rows = new StringBuilder("identifier,Mount,Lease ends\n");
    String after = "";
    int row = 0;
    do {
      JsonNode page =
          api.get(
              "/devices?ownership=corporate&limit=200"
                  + (after.isEmpty() ? "" : "&after=" + after));
      for (JsonNode d : page.path("items")) {
        String name = d.path("name").asText();
        boolean laptop = d.path("kind").asText().equals("laptop");
        String mount =
            laptop ? "" : !name.contains("kiosk") ? "hand-held" : row % 3 == 0 ? "stand" : "wall";
        // leased by the dozen: those of one lot end on one day
        LocalDate ends = today.withDayOfMonth(1).plusMonths(2 + row / 12 * 5 % MONTHS_OF_LEASE);
        rows.append(d.path("serial").asText())
            .append(',')
            .append(mount)
            .append(',')
            .append(ends.minusDays(1))
            .append('\n');
        row++;
      }
      after = page.path("next").asText();
    } while (!after.isEmpty());
    return rows.toString();
  }
}
