package dev.pinwright.sandbox.demo;

import dev.pinwright.sandbox.office.StaffDirectory;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Random;

/** What there is at Vellmar Museums: units, sites, people. All made up, from a fixed seed. */
final class Vellmar {
  private static final long SEED = 4401;

  private static final List<String> GIVEN =
      List.of(
          "Ines", "Bo", "Marte", "Teo", "Ylva", "Oskar", "Runa", "Caspar", "Nell", "Ivo", "Saskia",
          "Arne", "Petra", "Jory", "Linnea", "Milo", "Greta", "Halvar", "Dana", "Eskil", "Tova",
          "Rafe", "Sunniva", "Kit", "Orla", "Brand", "Maren", "Piet", "Vesna", "Lars");
  private static final List<String> FAMILY =
      List.of(
          "Orrin",
          "Skarnes",
          "Tollenby",
          "Vellmark",
          "Ulbyson",
          "Norhave",
          "Quayle-Holm",
          "Lakeren",
          "Ridgewell",
          "Millbrae",
          "Lantern",
          "Fernyard",
          "Kilnholt",
          "Saltmarsh",
          "Weaverly");

  private Vellmar() {}

  /** A site with a slow line. */
  static final String SLOW_SITE = "Skarne ridge";

  /** A unit with its code, name and parent's code; empty at the top. */
  record Unit(String code, String name, String parent, String site) {}

  static final List<Unit> UNITS =
      List.of(
          new Unit("VM", "Trust office", "", "Norhaven"),
          new Unit("VM-HAR", "Harbour Museum", "VM", "Norhaven quay"),
          new Unit("VM-GLA", "Glasshouse", "VM", "Ulby"),
          new Unit("VM-OBS", "Observatory", "VM", SLOW_SITE),
          new Unit("VM-FOL", "Folk Yard", "VM", "Tollen"),
          new Unit("VM-TEX", "Textile Mill", "VM", "Ulby"),
          new Unit("VM-LIG", "Lighthouse", "VM", "Tollen point"),
          new Unit("VM-DIG", "Dig station", "VM", "Lake Orre"),
          new Unit("VM-VOL", "Volunteers", "VM", ""));

  /** Sites with latitude and longitude in degrees. */
  static final Map<String, double[]> SITES = new LinkedHashMap<>();

  static {
    SITES.put("Norhaven", new double[] {47.2310, -20.3620});
    SITES.put("Norhaven quay", new double[] {47.2335, -20.3570});
    SITES.put("Ulby", new double[] {47.1890, -20.4480});
    SITES.put(SLOW_SITE, new double[] {47.2150, -20.5220});
    SITES.put("Tollen", new double[] {47.1620, -20.3300});
    SITES.put("Tollen point", new double[] {47.1505, -20.2980});
    SITES.put("Lake Orre", new double[] {47.1985, -20.5890});
  }

  /** The site of a unit; empty for the volunteers, who are everywhere. */
  static String site(String unit) {
    return UNITS.stream()
        .filter(u -> u.code().equals(unit))
        .map(Unit::site)
        .findFirst()
        .orElseThrow();
  }

  /** Somebody of a unit. */
  record Person(String name, String login, String unit) {
    String mail() {
      return login + "@vellmar.example";
    }
  }

  /** The password of somebody in the staff directory. */
  static String password(String login) {
    return "lantern " + login;
  }

  /** Fills the staff directory. */
  static void staff(StaffDirectory directory) {
    List<StaffDirectory.Member> all =
        people().stream()
            .map(
                p ->
                    new StaffDirectory.Member(
                        p.login(), p.name(), p.mail(), p.unit(), password(p.login())))
            .toList();
    directory.add(all);
    directory.group("volunteers", all.stream().filter(m -> m.unit().equals("VM-VOL")).toList());
    directory.group("office", all.stream().filter(m -> m.unit().equals("VM")).toList());
  }

  /** How many people each unit has; ninety together. */
  private static final Map<String, Integer> STAFF = new LinkedHashMap<>();

  static {
    STAFF.put("VM", 16);
    STAFF.put("VM-HAR", 11);
    STAFF.put("VM-GLA", 7);
    STAFF.put("VM-OBS", 4);
    STAFF.put("VM-FOL", 7);
    STAFF.put("VM-TEX", 6);
    STAFF.put("VM-LIG", 2);
    STAFF.put("VM-DIG", 3);
    STAFF.put("VM-VOL", 34);
  }

  /** Everybody, unit by unit; no two have the same name. */
  static List<Person> people() {
    List<String> names = new ArrayList<>();
    for (String given : GIVEN) {
      for (String family : FAMILY) {
        names.add(given + " " + family);
      }
    }
    java.util.Collections.shuffle(names, new Random(SEED));
    List<Person> out = new ArrayList<>();
    STAFF.forEach(
        (unit, n) -> {
          for (int i = 0; i < n; i++) {
            String name = names.get(out.size());
            String[] parts = name.toLowerCase().split(" ");
            out.add(new Person(name, parts[0] + "." + parts[1], unit));
          }
        });
    return out;
  }
}
