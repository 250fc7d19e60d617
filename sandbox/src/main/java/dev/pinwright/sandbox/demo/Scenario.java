package dev.pinwright.sandbox.demo;

import com.fasterxml.jackson.databind.JsonNode;
import dev.pinwright.core.device.Position;
import dev.pinwright.sandbox.Outside;
import dev.pinwright.sandbox.device.Agent;
import dev.pinwright.sandbox.device.Fleet;
import dev.pinwright.sandbox.office.SiteServer;
import dev.pinwright.sandbox.office.StaffDirectory;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.TimeUnit;
import java.util.function.Predicate;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;

/**
 * Writes the demo into an empty service, through the public API as anybody would: the organisation,
 * a roster out of sheets, profiles, and about two hundred devices that join. Does nothing when the
 * service has units already.
 */
public final class Scenario {
  private static final long PATIENCE_SECONDS = 240;
  private static final int LEFT_WAITING = 2;
  private static final int BENCH_TABLETS = 9;
  private static final int FIRST_MEDDLED = 20;
  private static final int MEDDLED = 11;
  private static final int HALF_HOURS = 96;
  private static final String POLICY = "./Vendor/Pinwright/Policy/";
  private final String base;
  private final ApiCalls api;
  private final Outside outside;
  private final Fleet fleet;
  private final List<Agent> welcome = new ArrayList<>();
  private final List<Agent> unwelcome = new ArrayList<>();
  private final List<Agent> dig = new ArrayList<>();
  private @Nullable DemoApps apps;
  private final Map<String, String> profiles = new HashMap<>();
  private final List<String> handsFree = new ArrayList<>();
  private final Map<String, String> units = new HashMap<>();
  private final Map<String, String> sites = new HashMap<>();
  private final StringBuilder sheet = new StringBuilder("serial,asset,person,unit,site,tags\n");
  private int made;

  /** Signs in, waiting for a service that is just starting. */
  public Scenario(Outside outside, String base, String login, String password)
      throws InterruptedException {
    Vellmar.staff(outside.directory());
    ApiCalls.awaitService(base);
    this.outside = outside;
    this.fleet = outside.fleet();
    this.base = base;
    this.api = new ApiCalls(base, login, password);
  }

  /** Some devices of a kind that arrive in a unit. */
  private record Cart(String unit, String model, String os, int devices, String profile) {}

  /**
   * Writes it.
   *
   * @return what is missing of it, when devices could not join; nothing at all when the demo was
   *     there already
   */
  public Optional<List<String>> write() {
    if (!api.get("/units").isEmpty()) {
      return Optional.empty();
    }
    Map<String, String> links = arrange();
    slowLine();
    List<Cart> carts =
        List.of(
            new Cart("VM", "Note 14", "4.2", 10, "Office laptops"),
            new Cart("VM-HAR", "T10", "7.2.1", 36, "Gallery kiosks"),
            new Cart("VM-HAR", "T8 mini", "7.2", 12, "Audio guides"),
            new Cart("VM-GLA", "T10", "7.2.1", 22, "Gallery kiosks"),
            new Cart("VM-GLA", "T8 mini", "7.2", 4, "Working tablets"),
            new Cart("VM-OBS", "T10", "7.0", 14, "Gallery kiosks"),
            new Cart("VM-FOL", "T8 mini", "7.2.1", 18, "Working tablets"),
            new Cart("VM-TEX", "T10", "7.2.1", 12, "Gallery kiosks"),
            new Cart("VM-LIG", "T10", "7.2", 5, HandsFree.PROFILE));
    List<Runnable> arriving = new ArrayList<>();
    for (Cart cart : carts) {
      arriving.addAll(cart(cart, links.getOrDefault(cart.profile(), "")));
    }
    List<String> bench = new ArrayList<>();
    for (int i = 0; i < BENCH_TABLETS; i++) {
      bench.add(rosterOnly("VM-TEX", "T8 mini"));
    }
    Map<String, Integer> phones = new LinkedHashMap<>();
    phones.put("VM-HAR", 8);
    phones.put("VM-GLA", 5);
    phones.put("VM-OBS", 3);
    phones.put("VM-FOL", 6);
    phones.put("VM-TEX", 4);
    phones.put("VM-LIG", 1);
    for (Vellmar.Person p : Vellmar.people()) {
      int left = phones.getOrDefault(p.unit(), 0);
      if (p.unit().equals("VM-VOL")) {
        String model = made % 2 == 0 ? "Fold" : "P5";
        arriving.add(held(p, model, null, links.getOrDefault(p.login(), "")));
      } else if (left > 0) {
        phones.put(p.unit(), left - 1);
        arriving.add(held(p, "P5", made % 3 == 2 ? "12.4" : "13.1", links.get("Staff phones")));
      }
    }
    List<Runnable> digging = new ArrayList<>();
    for (int i = 0; i < 6; i++) {
      String link = links.get("Dig station tablets");
      String serial = listed("VM-DIG", "P5 rugged");
      digging.add(() -> dig.add(asking(serial, "P5 rugged", "13.0", "", link, null)));
    }
    expected();
    importRoster();
    new HandsFree(outside, api).connect(handsFree, profiles.get(HandsFree.PROFILE));
    new DemoStore(api, outside.vendors(), apps).write();
    // who waits for a person comes first, and is let in while the others come
    digging.forEach(Runnable::run);
    dig.get(dig.size() - 1).device().fault("no-install", true);
    arriving.forEach(Runnable::run);
    bench(bench);
    unwelcome(links);
    approve();
    List<String> missing = settle();
    numberEleven();
    meddled();
    faulty();
    outOnTheLake();
    missingPhone();
    new OwnFields(api, LocalDate.now(ZoneOffset.UTC)).ofDevices();
    appsLive();
    waveInFlight();
    secondPerson();
    new DemoActing(api, base, units, welcome).write();
    fleet.make(new Fleet.Wish("T10", "7.2.1", "AR10-0042-7731", false, null));
    fleet.make(new Fleet.Wish("P5", "11.0", "KE5-0013-2204", false, null));
    return Optional.of(missing);
  }

  /**
   * Writes what is arranged before any device is there: the organisation, rules and intake.
   *
   * @return links of invitations by enrollment profile
   */
  public Map<String, String> arrange() {
    organisation();
    new OwnFields(api, LocalDate.now(ZoneOffset.UTC)).ofUnitsAndPeople();
    new DemoRules(api, units).write();
    apps = new DemoApps(api, units);
    apps.write();
    return intake();
  }

  /** The observatory has a slow line: what devices there fetch comes from a cache, by and by. */
  private void slowLine() {
    SiteServer server = outside.siteServer();
    if (!server.able()) {
      return;
    }
    String cache = "/sites/" + sites.get(Vellmar.site("VM-OBS")) + "/cache";
    api.putFirst(cache, Map.of("address", server.address()));
    server.setUp(api.post(cache + "/script", Map.of()).path("text").asText());
  }

  private static String id(JsonNode node) {
    return node.path("id").asText();
  }

  // ---- the organisation ------------------------------------------------------------------------

  private void organisation() {
    Vellmar.SITES.forEach(
        (name, at) -> {
          Map<String, Object> body =
              new HashMap<>(
                  Map.of(
                      "name",
                      name,
                      "latitude",
                      at[0],
                      "longitude",
                      at[1],
                      "outline",
                      DemoActing.outline(at)));
          if (name.equals(Vellmar.SLOW_SITE)) {
            body.put("largePackages", Map.of("aboveMegabytes", 50, "hours", "Mon-Sun 22:00-06:00"));
          }
          sites.put(name, id(api.post("/sites", body)));
        });
    DemoActing.map(api);
    for (Vellmar.Unit u : Vellmar.UNITS) {
      Map<String, Object> body = new LinkedHashMap<>(Map.of("code", u.code(), "name", u.name()));
      if (!u.parent().isEmpty()) {
        body.put("parentId", units.get(u.parent()));
      }
      units.put(u.code(), id(api.post("/units", body)));
    }
    api.put(
        "/mail",
        "/mail",
        Map.of(
            "host", "127.0.0.1",
            "port", outside.mail().port(),
            "from", "it@vellmar.example",
            "noticesTo", "it@vellmar.example"));
    api.put(
        "/directory",
        "/directory",
        Map.of(
            "address", outside.directory().address(),
            "base", StaffDirectory.BASE,
            "login", StaffDirectory.READER,
            "password", StaffDirectory.READER_PASSWORD));
    api.post("/directory/reading", Map.of());
    for (String name : List.of("Maren", "Eskil", "Tova")) {
      api.post(
          "/accounts",
          Map.of(
              "login",
              name.toLowerCase(),
              "name",
              name,
              "role",
              name.equals("Tova") ? "helpdesk" : "operator",
              "password",
              "first password of " + name));
    }
  }

  /** What is asked before many devices change, and a change that waits for somebody's word. */
  private void secondPerson() {
    api.put(
        "/house/thresholds",
        "/house/thresholds",
        Map.of("number", 25, "reason", 100, "second", 200));
    ApiCalls maren = new ApiCalls(base, "maren", "first password of Maren");
    JsonNode gallery = api.get("/profiles?q=Gallery%20tablets&limit=1").path("items").path(0);
    Map<String, Object> settings = settings(api.get("/profiles/" + id(gallery)));
    settings.put("appearance.brightness", 70);
    settings.put("restrictions.bluetooth-off", true);
    maren.put("/profiles/" + id(gallery), "/profiles/" + id(gallery), Map.of("settings", settings));
    maren.post(
        "/proposals",
        Map.of(
            "intent",
            Map.of("publish", Map.of("id", id(gallery))),
            "note",
            "The lamps in the new rooms are dimmer; and visitors keep pairing their headphones."));
  }

  /** A second network for the galleries reaches a handful of tablets first. */
  private void waveInFlight() {
    JsonNode found = api.get("/profiles?q=Gallery%20Wi-Fi&limit=1").path("items").path(0);
    String path = "/profiles/" + id(found);
    Map<String, Object> settings = settings(api.get(path));
    settings.put("wifi[events].network", "Vellmar-Events");
    settings.put("wifi[events].security", "open");
    JsonNode draft = api.put(path, path, Map.of("settings", settings));
    Map<String, Object> publication = new HashMap<>();
    publication.put(
        "waves",
        Map.of(
            "steps",
            List.of(Map.of("devices", 5), Map.of("share", 5), Map.of("share", 25)),
            "hold",
            120,
            "bound",
            10));
    JsonNode asked = api.get(path + "/rehearsal").path("confirmDevices");
    if (asked.isNumber()) {
      publication.put("confirmDevices", asked.asLong());
    }
    api.post(path + "/publication", publication, draft.path("version").asInt());
  }

  private static Map<String, Object> settings(JsonNode profile) {
    Map<String, Object> settings = new HashMap<>();
    profile.path("settings").properties().forEach(e -> settings.put(e.getKey(), e.getValue()));
    return settings;
  }

  // ---- intake ----------------------------------------------------------------------------------

  /** Writes terms, enrollment profiles and an invitation to each; links by profile. */
  private Map<String, String> intake() {
    int terms =
        api.post(
                "/terms",
                Map.of(
                    "language",
                    "en",
                    "translations",
                    List.of(
                        Map.of(
                            "language",
                            "nb",
                            "title",
                            "Bruk av en enhet fra Vellmar Museums",
                            "text",
                            "Stiftelsen bestemmer regler for koden, velger apper og kan l\u00e5se"
                                + " enheten hvis den blir borte.")),
                    "title",
                    "Using a Vellmar Museums device",
                    "text",
                    "The trust sets a passcode rule, chooses apps and may lock this device if"
                        + " it is lost.\n\nIt sees what is listed above and nothing"
                        + " else. Bring the device to the trust office in Norhaven when you"
                        + " leave."))
            .path("version")
            .asInt();
    String gallery = id(api.post("/groups", Map.of("name", "Gallery tablets")));
    Map<String, String> links = new HashMap<>();
    DemoProfiles all = new DemoProfiles(units, sites, gallery);
    for (DemoProfiles.Draft d : all.drafts()) {
      if (!d.name().equals(HandsFree.PROFILE)) {
        d.body().put("termsVersion", terms);
      }
      String profileId = id(api.post("/enrollment-profiles", d.body()));
      profiles.put(d.name(), profileId);
      if (d.name().equals(HandsFree.PROFILE) || d.name().equals(DemoProfiles.OWN)) {
        continue;
      }
      links.put(
          d.name(),
          api.post("/invitations", Map.of("profileId", profileId, "uses", 120, "note", d.name()))
              .path("link")
              .asText());
    }
    invite(links);
    return links;
  }

  /** Mails every volunteer an invitation of their own; links by login. */
  private void invite(Map<String, String> links) {
    api.post(
        "/invitations/many",
        Map.of(
            "profileId",
            profiles.get(DemoProfiles.OWN),
            "unitId",
            units.get("VM-VOL"),
            "mail",
            true));
    for (JsonNode i : api.get("/invitations?limit=200&q=own").path("items")) {
      links.put(
          i.path("mail").asText().replaceFirst("@.*", ""),
          api.get("/invitations/" + id(i)).path("link").asText());
    }
  }

  // ---- the bench -------------------------------------------------------------------------------

  /** The mill's tablets are prepared on the bench, nine of a rack of sixteen. */
  private void bench(List<String> serials) {
    JsonNode session =
        api.post(
            "/bench-sessions",
            Map.of(
                "name", "Textile Mill tablets",
                "profileId", profiles.get("Working tablets"),
                "assetPrefix", "VM-TEX-",
                "wifiName", "Vellmar-Staff",
                "wifiSecret", "lantern over the quay"));
    outside.cable().connect(session.path("link").asText());
    for (int i = 0; i < serials.size(); i++) {
      Agent agent = fleet.make(new Fleet.Wish("T8 mini", "7.2", serials.get(i), true, 600L));
      welcome.add(agent);
      outside.cable().plug(1, i + 1, agent);
    }
  }

  /** Puts a device on the sheet that comes by another way than a link; its serial number. */
  private String rosterOnly(String unit, String model) {
    String serial = serial(model);
    sheet.append("%s,,,%s,%s,\n".formatted(serial, unit, Vellmar.site(unit)));
    return serial;
  }

  // ---- devices ---------------------------------------------------------------------------------

  private List<Runnable> cart(Cart cart, String link) {
    List<Runnable> out = new ArrayList<>();
    for (int i = 0; i < cart.devices(); i++) {
      boolean behind = i % 9 == 8 && !cart.model().equals("Note 14");
      String os = behind && cart.model().equals("T10") ? "7.0" : cart.os();
      out.add(listed(cart.unit(), cart.model(), os, i == 9 ? "appearance/brightness" : "", link));
    }
    return out;
  }

  /** Puts a device on the sheet; its serial number. */
  private String listed(String unit, String model) {
    String serial = serial(model);
    sheet.append("%s,VM-%05d,,%s,%s,\n".formatted(serial, 100 + made, unit, Vellmar.site(unit)));
    return serial;
  }

  /** Puts a device on the sheet; what is returned makes it and lets it join. */
  private Runnable listed(
      String unit, String model, @Nullable String os, String refuses, String link) {
    String serial = listed(unit, model);
    if (link.isEmpty()) {
      handsFree.add(serial);
    }
    return () -> welcome.add(asking(serial, model, os, refuses, link, null));
  }

  private Runnable held(Vellmar.Person person, String model, @Nullable String os, String link) {
    String serial = serial(model);
    sheet.append("%s,,%s,,%s,\n".formatted(serial, person.login(), Vellmar.site(person.unit())));
    Vellmar.Person signsIn = person.unit().equals("VM-VOL") ? person : null;
    return () -> welcome.add(asking(serial, model, os, "", link, signsIn));
  }

  private String serial(String model) {
    made++;
    String stem =
        switch (model) {
          case "T10" -> "AR10";
          case "T8 mini" -> "AR8";
          case "Fold" -> "LU";
          case "P5 rugged" -> "KE5R";
          case "P5" -> "KE5";
          default -> "MO14";
        };
    return "%s-%04d-%04d".formatted(stem, 1000 + made, made * 7919 % 10_000);
  }

  /** Makes a device that asks to be let in: by a link, or without one by its maker's registrar. */
  private Agent asking(
      String serial,
      String model,
      @Nullable String os,
      String refuses,
      String link,
      Vellmar.@Nullable Person holder) {
    // some holders take their time to choose a passcode
    long thinks = Math.floorMod(serial.hashCode(), 13) == 4 ? TimeUnit.DAYS.toMillis(30) : 600L;
    Agent agent = fleet.make(new Fleet.Wish(model, os, serial, true, thinks));
    if (link.isEmpty()) {
      agent.boot();
      return agent;
    }
    if (!refuses.isEmpty()) {
      agent.device().refuseAlways(List.of(POLICY + refuses));
    }
    agent
        .take(link)
        .thenCompose(
            x ->
                !agent.screen().screen().equals("offered")
                    ? CompletableFuture.completedFuture(null)
                    : holder == null
                        ? agent.accept(null)
                        : agent.accept(holder.login(), Vellmar.password(holder.login())));
    return agent;
  }

  /** Rows of devices that are still on their way. */
  private void expected() {
    for (int i = 0; i < 7; i++) {
      String unit = i < 5 ? "VM-LIG" : "VM-DIG";
      String serial = serial("T10");
      sheet.append(
          "%s,VM-%05d,,%s,%s,spring-delivery\n"
              .formatted(serial, 100 + made, unit, Vellmar.site(unit)));
    }
  }

  private void importRoster() {
    String path =
        "/roster/imports/" + id(api.sheet("/roster/imports?sheet=spring.csv", sheet.toString()));
    while (api.get(path).path("state").asText().equals("checking")) {
      pause();
    }
    api.post(path + "/takeover", Map.of());
  }

  static void pause() {
    try {
      Thread.sleep(100);
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
      throw new IllegalStateException(e);
    }
  }

  /** Arrivals that come to nothing, each for its own reason. */
  private void unwelcome(Map<String, String> links) {
    String kiosks = links.get("Gallery kiosks");
    unwelcome.add(asking("AR10-9001-0417", "T10", "7.2.1", "", kiosks, null));
    unwelcome.add(asking("AR10-9002-1180", "T10", "7.2.1", "", kiosks, null));
    String phones = links.get("Staff phones");
    unwelcome.add(asking("KE5-9003-2241", "P5", "11.0", "", phones, null));
    unwelcome.add(asking("LU-9004-3302", "Fold", null, "", phones, null));
    String withdrawn =
        links.get("Audio guides").replaceFirst("/join/\\w{12}", "/join/0000000000AA");
    unwelcome.add(asking("AR8-9005-4363", "T8 mini", "7.2", "", withdrawn, null));
  }

  /** All but two of the dig's tablets are let in; the two wait for somebody. */
  private void approve() {
    await(dig, Scenario::waits);
    Set<String> left =
        dig.stream().limit(LEFT_WAITING).map(a -> a.screen().serial()).collect(Collectors.toSet());
    List<String> letIn = new ArrayList<>();
    for (JsonNode a : api.get("/arrivals?outcome=waiting&limit=100").path("items")) {
      if (!left.contains(a.path("identifier").asText())) {
        letIn.add(id(a));
      }
    }
    if (!letIn.isEmpty()) {
      api.post("/arrivals/settlement", Map.of("ids", letIn, "approve", true));
    }
    welcome.addAll(dig.subList(LEFT_WAITING, dig.size()));
  }

  private static boolean waits(Agent agent) {
    return agent.screen().screen().equals("waiting");
  }

  /** Waits for everybody who is to come; what is missing in the end, in words. */
  private List<String> settle() {
    List<String> missing = new ArrayList<>();
    for (Agent a : await(welcome, agent -> agent.screen().managed())) {
      missing.add(
          a.screen().serial()
              + " did not join: "
              + a.screen().screen()
              + " "
              + a.screen().reason());
    }
    for (Agent a : await(unwelcome, agent -> agent.screen().screen().equals("refused"))) {
      missing.add(a.screen().serial() + " was to be refused and is " + a.screen().screen());
    }
    return missing;
  }

  /** Waits until something is so of all; those of whom it is not when patience ends. */
  private static List<Agent> await(List<Agent> agents, Predicate<Agent> so) {
    long end = System.nanoTime() + TimeUnit.SECONDS.toNanos(PATIENCE_SECONDS);
    List<Agent> left = agents.stream().filter(so.negate()).toList();
    while (!left.isEmpty() && System.nanoTime() < end) {
      pause();
      left = left.stream().filter(so.negate()).toList();
    }
    return left;
  }

  /** On eleven kiosks something turns the light up again, however often it is put right. */
  private void meddled() {
    welcome.stream()
        .filter(a -> a.screen().noticed().getOrDefault("brightness", "").equals("90"))
        .skip(FIRST_MEDDLED)
        .limit(MEDDLED)
        .forEach(
            a -> {
              a.device().meddle(POLICY + "appearance/brightness", "100");
              a.checkIn(false);
            });
  }

  /** Three phones of the staff are not as they should be. */
  private void faulty() {
    List<Agent> phones =
        welcome.stream()
            .filter(a -> a.device().model().kind().equals("phone") && a.screen().managed())
            .filter(
                a ->
                    a.screen()
                        .offer()
                        .filter(o -> !o.profile().ownership().equals("personal"))
                        .isPresent())
            .toList();
    List<String> faults = List.of("unencrypted", "unencrypted", "unknown-sources");
    for (int i = 0; i < Math.min(faults.size(), phones.size()); i++) {
      Agent phone = phones.get(i * 5 % phones.size());
      phone.device().fault(faults.get(i), true);
      phone.checkIn(false);
    }
  }

  /** What becomes of apps once devices are there. */
  private void appsLive() {
    if (apps == null) {
      return;
    }
    await(welcome, a -> a.screen().coming().isEmpty());
    apps.live(welcome);
    List<Agent> galleries =
        welcome.stream()
            .filter(
                a -> a.screen().installed().stream().anyMatch(i -> i.id().equals(DemoApps.GUIDE)))
            .toList();
    apps.haltedRollOut(galleries);
  }

  /** The dig's tablets that are let in were out on the lake and back, two days long. */
  private void outOnTheLake() {
    double[] lake = Vellmar.SITES.get("Lake Orre");
    Instant now = Instant.now().truncatedTo(ChronoUnit.MINUTES);
    List<Agent> out = dig.subList(LEFT_WAITING, dig.size());
    await(out, agent -> agent.screen().notices("trail"));
    int nr = 0;
    for (Agent agent : out) {
      nr++;
      for (int i = HALF_HOURS; i > 0; i--) {
        Instant at = now.minus(Duration.ofMinutes(30L * i - nr));
        int hour = at.atOffset(ZoneOffset.UTC).getHour();
        // from eight to five it is somewhere along the shore, else in the hut
        double far = hour < 8 || hour > 16 ? 0 : Math.sin(Math.PI * (hour - 8) / 9);
        agent
            .device()
            .be(
                new Position(
                    at,
                    lake[0] + far * 0.011 * Math.cos(nr + i / 9.0),
                    lake[1] + far * 0.017 * Math.sin(nr + i / 7.0),
                    Optional.of(far == 0 ? 35.0 : 6.0 + i % 5),
                    far == 0 ? Position.Source.WIFI : Position.Source.SATELLITE));
      }
      agent.checkIn(false);
    }
  }

  /** The lighthouse's phone is missing: somebody asked where it is, and had it locked. */
  private void missingPhone() {
    String unit = units.get("VM-LIG");
    JsonNode phone = null;
    for (JsonNode d : api.get("/devices?limit=50&unit=" + unit).path("items")) {
      phone = d.path("kind").asText().equals("phone") ? d : phone;
    }
    if (phone == null) {
      return;
    }
    String serial = phone.path("serial").asText();
    double[] point = Vellmar.SITES.get("Tollen point");
    welcome.stream()
        .filter(a -> a.screen().serial().equals(serial))
        .forEach(
            a ->
                a.device()
                    .be(
                        new Position(
                            Instant.now(),
                            point[0] + 0.004,
                            point[1] - 0.006,
                            Optional.of(38.0),
                            Position.Source.WIFI)));
    List<Map<String, Object>> to = List.of(Map.of("kind", "device", "ref", id(phone)));
    String reason = "missing since the ferry on Saturday";
    api.post("/dispatches", Map.of("command", "locate", "reason", reason, "targets", to));
    api.post(
        "/dispatches",
        Map.of(
            "command",
            "lock",
            "reason",
            reason,
            "fields",
            Map.of("text", "Lost. Please hand it in at any museum of the trust."),
            "targets",
            to));
  }

  /** The eleventh kiosk of the quay fell off its stand. */
  private void numberEleven() {
    for (JsonNode d : api.get("/devices?q=VM-HAR%20kiosk%20011&limit=50").path("items")) {
      if (d.path("name").asText().equals("VM-HAR kiosk 011")) {
        api.post(
            "/devices/" + id(d) + "/retirement",
            Map.of("reason", "fell off its stand, screen broken"));
      }
    }
  }
}
