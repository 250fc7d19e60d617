package dev.pinwright.acceptance;

import dev.pinwright.core.access.Role;
import dev.pinwright.core.change.Confirmation;
import dev.pinwright.core.change.Rehearsal;
import dev.pinwright.core.policy.ProfileKind;
import dev.pinwright.core.query.DeviceQuery;
import dev.pinwright.core.query.RuleText;
import dev.pinwright.core.roster.SheetState;
import dev.pinwright.service.Pinwright;
import dev.pinwright.service.acting.DispatchOrder;
import dev.pinwright.service.device.DeviceFilter;
import dev.pinwright.service.device.Groups;
import dev.pinwright.service.group.Membership;
import dev.pinwright.service.group.RuleNamesHere;
import dev.pinwright.service.roster.RosterImports;
import dev.pinwright.service.rules.Profiles;
import dev.pinwright.service.secret.Vault;
import dev.pinwright.service.shape.Shapes;
import dev.pinwright.service.sheet.SheetText;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Json;
import dev.pinwright.service.work.Page;
import dev.pinwright.service.work.Settings;
import dev.pinwright.storage.Database;
import dev.pinwright.storage.Planning;
import dev.pinwright.storage.TestDatabase;
import dev.pinwright.storage.TestFleet;
import dev.pinwright.storage.query.DeviceCondition;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Supplier;
import org.awaitility.Awaitility;

/**
 * What a change of rules costs, beside what is possible: one {@code UPDATE} of a narrow table made
 * for it (device, shape, digest, standing, change), of as many rows, in the same run.
 */
final class FleetBenchmark implements AutoCloseable {
  private static final Caller OWNER = new Caller("owner-id", "owner", Role.OWNER);
  private static final int ROUNDS = 5;

  private final int devices;
  private final Database database;
  private final Pinwright pinwright;

  FleetBenchmark(int devices) throws Exception {
    this.devices = devices;
    String url = TestDatabase.create();
    database = TestDatabase.open(url);
    TestFleet.fill(database, devices);
    Path home = Files.createTempDirectory("pinwright-fleet");
    pinwright =
        new Pinwright(
            new Settings(
                home,
                TestDatabase.address(url, 8),
                "127.0.0.1",
                7443,
                List.of("127.0.0.1"),
                "",
                "127.0.0.1",
                7480,
                "Vellmar Museums",
                "a long enough password",
                false,
                Duration.ofDays(36_500),
                List.of()),
            Clock.systemUTC());
    Shapes shapes =
        new Shapes(
            pinwright.catalogue().catalog(),
            Vault.at(home),
            new Membership(Clock.systemUTC()),
            Clock.systemUTC());
    database.call(shapes::repair);
    rules();
    database.run(
        tx -> tx.execute("update device_state set reported_digest = desired_digest", Map.of()));
    vacuum();
  }

  /** Profiles for everyone, tags, groups and units, so that there are some hundreds of shapes. */
  private void rules() {
    publish("Everyone", "{\"passcode.min-length\":4}", "{\"kind\":\"everyone\"}");
    for (String tag : List.of("gallery", "field", "staff", "cart")) {
      publish(
          "Tag " + tag,
          "{\"appearance.lock-screen-text\":\"" + tag + "\"}",
          "{\"kind\":\"tag\",\"ref\":\"" + tag + "\"}");
    }
    for (int unit = 1; unit < 10; unit++) {
      publish(
          "Unit " + unit,
          "{\"passcode.auto-lock\":" + (1 + unit % 3) + "}",
          "{\"kind\":\"unit\",\"ref\":\"U" + unit + "\"}");
    }
    for (int group = 0; group < 10; group++) {
      publish(
          "Group " + group,
          "{\"restrictions.camera-off\":true}",
          "{\"kind\":\"group\",\"ref\":\"G" + group + "\"}");
    }
  }

  private void publish(String name, String settings, String target) {
    Profiles.Detail draft =
        pinwright
            .profiles()
            .add(
                OWNER,
                Json.request(
                    "{\"name\":\""
                        + name
                        + "\",\"settings\":"
                        + settings
                        + ",\"targets\":["
                        + target
                        + "]}",
                    Profiles.Draft.class));
    Optional<Long> devicesThatChange =
        pinwright.publishing().rehearse(OWNER, draft.id()).confirmDevices();
    pinwright
        .publishing()
        .publish(OWNER, draft.id(), draft.version(), Confirmation.of(devicesThatChange));
  }

  private void vacuum() throws Exception {
    try (var c = database.dataSource().getConnection();
        var s = c.createStatement()) {
      c.setAutoCommit(true);
      s.execute("vacuum (analyze) device_state");
      s.execute("vacuum (analyze) device");
    }
  }

  private static double millis(Runnable work) {
    long start = System.nanoTime();
    work.run();
    return (System.nanoTime() - start) / 1e6;
  }

  private static double median(List<Double> values) {
    return values.stream().sorted().toList().get(values.size() / 2);
  }

  private double reference() throws Exception {
    try (var c = database.dataSource().getConnection();
        var s = c.createStatement()) {
      c.setAutoCommit(true);
      s.execute(
          "create table narrow (device_id text primary key, shape_key text, desired_digest text,"
              + " standing text, change_id text) with (fillfactor = 45)");
      s.execute(
          "insert into narrow select device_id, shape_key, desired_digest, standing, change_id"
              + " from device_state");
      List<Double> times = new ArrayList<>();
      for (int i = 0; i < ROUNDS; i++) {
        s.execute("vacuum (analyze) narrow");
        int round = i;
        times.add(
            millis(
                () -> {
                  try {
                    s.executeUpdate(
                        "update narrow set shape_key = md5(shape_key), desired_digest ="
                            + " md5(desired_digest) || md5('"
                            + round
                            + "'), standing = 'catching-up',"
                            + " change_id = '01J8ZQ4N6T0000000000000"
                            + round
                            + "'");
                  } catch (java.sql.SQLException e) {
                    throw new IllegalStateException(e);
                  }
                }));
      }
      s.execute("drop table narrow");
      return median(times);
    }
  }

  /** An app that is assigned to everyone, beside the same UPDATE of a narrow table. */
  private void assignment(double reference) throws Exception {
    database.run(
        tx -> {
          tx.execute(
              "insert into stored_file (id, version, name, kind, media_type, bytes, about, stored_at,"
                  + " stored_by, content) values (repeat('a', 64), 0, 'rota.pkg', 'package', 'x', 1,"
                  + " '', now(), 'x', 0)",
              Map.of());
          tx.execute(
              "insert into app (id, version, key, package_id, name, publisher, summary, category,"
                  + " origin, for_all, created_at, changed_at) values ('A', 0, 'rota',"
                  + " 'vellmar.rota', 'Rota', '', '', '', 'package', 1, now(), now())",
              Map.of());
          tx.execute(
              "insert into app_release (app_id, code, version, lowest, permissions, bytes,"
                  + " installed, notes, file_id, sha256, brought_at, brought_by) values ('A', 1, '1.0',"
                  + " '{\"tarn\":\"0.0\",\"fjell\":\"0.0\",\"moor\":\"0.0\"}', '{}', 1, 0, '',"
                  + " repeat('a', 64), repeat('a', 64), now(), 'x')",
              Map.of());
        });
    List<Double> times = new ArrayList<>();
    for (int i = 0; i < ROUNDS; i++) {
      Profiles.Detail draft =
          pinwright
              .profiles()
              .add(
                  OWNER,
                  Json.request(
                      ("{\"kind\":\"app\",\"app\":\"A\",\"name\":\"Rota %d\",\"settings\":"
                              + "{\"apps[rota].presence\":\"required\"},"
                              + "\"targets\":[{\"kind\":\"everyone\"}]}")
                          .formatted(i),
                      Profiles.Draft.class));
      vacuum();
      Optional<Long> number = pinwright.publishing().rehearse(OWNER, draft.id()).confirmDevices();
      times.add(
          millis(
              () ->
                  pinwright
                      .publishing()
                      .publish(OWNER, draft.id(), draft.version(), Confirmation.of(number))));
      Profiles.Detail now = pinwright.profiles().get(OWNER, draft.id());
      pinwright
          .publishing()
          .delete(
              OWNER,
              draft.id(),
              now.version(),
              Confirmation.of(
                  pinwright.publishing().rehearseDeletion(OWNER, draft.id()).confirmDevices()));
      database.run(
          tx ->
              tx.execute(
                  "update device_state set standing = 'settled', apps_due = null", Map.of()));
    }
    double assigned = median(times);
    System.out.printf(
        "  an app assigned to all %.0f ms (%.1f times)%n", assigned, assigned / reference);
  }

  void run() throws Exception {
    long shapes =
        database.call(
            tx ->
                tx.value(
                    "select count(distinct shape_key) from device_state", Long.class, Map.of()));
    double reference = reference();
    Profiles.Detail profile =
        pinwright
            .profiles()
            .page(OWNER, ProfileKind.PROFILE, "Everyone", new Page.Request("", 5))
            .items()
            .stream()
            .map(p -> pinwright.profiles().get(OWNER, p.id()))
            .findFirst()
            .orElseThrow();
    List<Double> rehearsals = new ArrayList<>();
    List<Double> publications = new ArrayList<>();
    for (int i = 0; i < ROUNDS; i++) {
      String draft = "{\"settings\":{\"passcode.min-length\":" + (5 + i) + "}}";
      Profiles.Detail now =
          pinwright
              .profiles()
              .change(
                  OWNER,
                  profile.id(),
                  pinwright.profiles().get(OWNER, profile.id()).version(),
                  Json.request(draft, Profiles.Draft.class));
      vacuum();
      Supplier<Rehearsal> rehearse = () -> pinwright.publishing().rehearse(OWNER, profile.id());
      Rehearsal rehearsal = rehearse.get();
      rehearsals.add(millis(rehearse::get));
      publications.add(
          millis(
              () ->
                  pinwright
                      .publishing()
                      .publish(
                          OWNER,
                          profile.id(),
                          now.version(),
                          Confirmation.of(rehearsal.confirmDevices()))));
      database.run(
          tx ->
              tx.execute(
                  "update device_state set reported_digest = desired_digest,"
                      + " standing = 'settled'",
                  Map.of()));
    }
    double published = median(publications);
    System.out.printf(
        "%,d devices in %d shapes: one UPDATE of a narrow table %.0f ms; publication to all"
            + " %.0f ms (%.1f times); its rehearsal %.0f ms%n",
        devices, shapes, reference, published, published / reference, median(rehearsals));
    assignment(reference);
  }

  /** A command ordered to all, beside one INSERT of as many rows into the same table. */
  private void orders() throws Exception {
    List<Double> raw = new ArrayList<>();
    List<Double> ordered = new ArrayList<>();
    String lock =
        "{\"command\":\"refresh\",\"targets\":[{\"kind\":\"everyone\"}],\"confirmDevices\":%d}"
            .formatted(devices);
    for (int i = 0; i < ROUNDS; i++) {
      String id = "R" + i;
      database.run(
          tx ->
              tx.execute(
                  "insert into dispatch (id, command, fields, reason, at, expires_at, actor, total,"
                      + " account_id, request_hash) values (:id, 'refresh', '{}', '', now(), now()"
                      + " + interval '1 day', 'x', 1, 'x', 'x')",
                  Map.of("id", id)));
      raw.add(
          millis(
              () ->
                  database.run(
                      tx ->
                          tx.execute(
                              "insert into command (id, dispatch_id, device_id, command, state,"
                                  + " reason, queued_at, expires_at) select :id || '-' ||"
                                  + " row_number() over (order by id), :id, id, 'refresh',"
                                  + " 'queued', '', now(), now() + interval '1 day' from device"
                                  + " where retired_at is null",
                              Map.of("id", id)))));
      ordered.add(
          millis(
              () ->
                  pinwright
                      .dispatches()
                      .order(OWNER, Json.request(lock, DispatchOrder.class), "")));
      database.run(tx -> tx.execute("delete from command", Map.of()));
      vacuum();
    }
    System.out.printf(
        "a command ordered to all: %.0f ms; one INSERT of as many rows %.0f ms (%.1f times)%n",
        median(ordered), median(raw), median(ordered) / median(raw));
  }

  /** The map with every device on it, from the whole island to one street. */
  private void map() {
    database.run(
        tx ->
            tx.execute(
                "insert into last_position (device_id, at, latitude, longitude, accuracy, source,"
                    + " until) select id, now(), 47.11 + random() * 0.15, -20.69 + random() * 0.5,"
                    + " 12, 'wifi', now() + interval '1 day' from device where retired_at is null",
                Map.of()));
    for (int zoom : List.of(6, 10, 14)) {
      double half = 180.0 / (1 << zoom) * 2;
      List<Double> times = new ArrayList<>();
      for (int i = 0; i < ROUNDS; i++) {
        times.add(
            millis(
                () ->
                    pinwright
                        .houseMap()
                        .look(
                            OWNER,
                            47.19 - half,
                            -20.44 - 1.6 * half,
                            47.19 + half,
                            -20.44 + 1.6 * half,
                            zoom)));
      }
      System.out.printf("the map at zoom %d: %.0f ms%n", zoom, median(times));
    }
  }

  private static DeviceFilter filter(String field, String value) {
    return new DeviceFilter(
        field.equals("words") ? value : "",
        field.equals("platform") ? value : "",
        field.equals("standing") ? value : "",
        field.equals("mode") ? value : "",
        field.equals("ownership") ? value : "",
        field.equals("tag") ? value : "",
        field.equals("group") ? value : "",
        field.equals("unit") ? value : "",
        field.equals("site") ? value : "",
        field.equals("person") ? value : "",
        field.equals("profile") ? value : "",
        field.equals("attribute") ? List.of(value) : List.of(),
        field.equals("rule") ? value : "",
        0,
        false);
  }

  private static final String[][] FILTERS = {
    {"", ""},
    {"words", "ar10-00009"},
    {"words", "device 77"},
    {"words", "arbor"},
    {"words", "nobody has this"},
    {"platform", "tarn"},
    {"standing", "settled"},
    {"standing", "silent"},
    {"standing", "blocked"},
    {"mode", "standard"},
    {"ownership", "personal"},
    {"tag", "gallery"},
    {"tag", "rare"},
    {"group", "G3"},
    {"unit", "U0"},
    {"unit", "U1"},
    {"unit", "U150"},
    {"site", "S7"},
    {"person", "P77"},
    {"rule", "platform is tarn and unit in VM-1 and not tag has rare and seen within 700 days"}
  };

  private static double p95(List<Double> values) {
    List<Double> sorted = values.stream().sorted().toList();
    return sorted.get((int) Math.ceil(sorted.size() * 0.95) - 1);
  }

  /** Pages of a hundred in every order and with every filter, beside the barest of them. */
  void pages() {
    String bare =
        "select id, name from device where retired_at is null order by lower(name), id limit 100";
    List<Double> raw = new ArrayList<>();
    for (int i = 0; i < 40; i++) {
      double ms =
          millis(() -> database.call(tx -> tx.select(Rehearsal.Named.class, bare, Map.of())));
      if (i >= 10) {
        raw.add(ms);
      }
    }
    System.out.printf(
        "%,d devices, p95 of a page of 100; the barest SELECT %.1f ms%n", devices, p95(raw));
    double worst = 0;
    for (String[] f : FILTERS) {
      StringBuilder line =
          new StringBuilder("  %-26s".formatted(f[0].isEmpty() ? "all" : f[0] + " " + f[1]));
      DeviceFilter filter = filter(f[0], f[1]);
      for (String sort : List.of("name", "last-seen", "enrolled")) {
        List<Double> times = new ArrayList<>();
        String after = "";
        for (int i = 0; i < 30; i++) {
          String from = after;
          Page<?>[] page = new Page<?>[1];
          double ms =
              millis(
                  () ->
                      page[0] =
                          pinwright
                              .deviceList()
                              .page(OWNER, filter, sort, new Page.Request(from, 100)));
          after = page[0].next().orElse("");
          if (i >= 5) {
            times.add(ms);
          }
        }
        worst = Math.max(worst, p95(times));
        line.append("  %s %5.1f".formatted(sort, p95(times)));
      }
      List<Double> counts = new ArrayList<>();
      for (int i = 0; i < 12; i++) {
        counts.add(millis(() -> pinwright.deviceList().count(OWNER, filter)));
      }
      line.append("  count %5.1f".formatted(p95(counts.subList(3, 12))));
      System.out.println(line);
    }
    List<Double> fleet = new ArrayList<>();
    for (int i = 0; i < 12; i++) {
      fleet.add(millis(() -> pinwright.deviceList().fleet(OWNER)));
    }
    System.out.printf(
        "  slowest page %.1f ms; the fleet strip %.1f ms%n", worst, p95(fleet.subList(3, 12)));
  }

  private static final String RULE =
      "platform is tarn and not tag has rare and (unit in VM-1 or seen within 700 days)";

  /**
   * A group by rule: worked out whole beside the barest SELECT, and for one device that changed.
   */
  void groups() {
    Membership membership = new Membership(Clock.systemUTC());
    String id = pinwright.groups().add(OWNER, Groups.Draft.byRule("By rule", RULE)).id();
    for (int i = 1; i < 30; i++) {
      pinwright
          .groups()
          .add(
              OWNER, Groups.Draft.byRule("By rule " + i, "unit in VM-" + i + " and tag has staff"));
    }
    DeviceCondition condition =
        DeviceCondition.of(
            database.<DeviceQuery>call(
                tx -> RuleText.read(RULE, new RuleNamesHere(tx), Instant.now())));
    List<Double> bare = new ArrayList<>();
    List<Double> whole = new ArrayList<>();
    for (int i = 0; i < 15; i++) {
      bare.add(
          millis(
              () ->
                  database.call(
                      tx -> {
                        tx.plan(Planning.EACH_TIME);
                        return tx.value(
                            "select count(id) from (select d.id from "
                                + condition.from()
                                + " where d.retired_at is null and "
                                + condition.sql()
                                + " offset 0) x",
                            Long.class,
                            condition.parameters());
                      })));
      whole.add(millis(() -> database.call(tx -> membership.settle(tx, List.of(id)))));
    }
    List<Double> one = new ArrayList<>();
    for (int i = 0; i < 800; i++) {
      String device = "D%07d".formatted(i * 37 + 1);
      boolean in = i % 2 == 0;
      database.run(
          tx -> {
            tx.execute(
                in
                    ? "insert into device_tag values (:d, 'rare') on conflict do nothing"
                    : "delete from device_tag where device_id = :d and tag = 'staff'",
                Map.of("d", device));
            double ms = millis(() -> membership.follow(tx, List.of(device)));
            one.add(ms);
          });
    }
    double raw = median(bare);
    System.out.printf(
        "a group by rule of %,d devices: the barest SELECT %.0f ms; worked out whole %.0f ms"
            + " (%.1f times); one device that changed, 30 such groups, p95 %.1f ms%n",
        pinwright.groups().get(OWNER, id).devices(),
        raw,
        median(whole),
        median(whole) / raw,
        p95(one.subList(500, 800)));
  }

  private static final int ROWS = 50_000;

  /** A sheet of identifiers: checked row by row and taken over. */
  void sheet() {
    StringBuilder csv = new StringBuilder("Serial,IMEI,Asset,Name,Person,Unit,Site,Tags\n");
    for (int i = 0; i < ROWS; i++) {
      csv.append("SH10-%06d,,VM-%06d,Kiosk %d,,,,gallery\n".formatted(i, i, i));
    }
    RosterImports imports = pinwright.rosterImports();
    double ms =
        millis(
            () -> {
              String id =
                  imports
                      .bring(
                          OWNER,
                          new RosterImports.Draft(
                              SheetText.of(csv.toString()), Optional.empty(), "sheet"))
                      .id();
              Awaitility.await()
                  .atMost(Duration.ofMinutes(5))
                  .until(() -> imports.get(OWNER, id), i -> i.state() != SheetState.CHECKING);
              imports.takeOver(OWNER, id, false);
            });
    System.out.printf("%,d rows of a sheet checked and taken over in %.1f s%n", ROWS, ms / 1e3);
  }

  @Override
  public void close() {
    pinwright.close();
    database.close();
  }

  /** Takes sizes of fleets; 1,000, 10,000 and 100,000 unless said otherwise. */
  public static void main(String[] args) {
    List<Integer> sizes =
        args.length == 0
            ? List.of(1_000, 10_000, 100_000)
            : Arrays.stream(args).map(Integer::valueOf).toList();
    int code = 0;
    try {
      for (int devices : sizes) {
        try (FleetBenchmark b = new FleetBenchmark(devices)) {
          b.run();
          if (devices == sizes.get(sizes.size() - 1)) {
            b.groups();
            b.pages();
            b.sheet();
            b.orders();
            b.map();
          }
        }
      }
    } catch (Exception e) {
      e.printStackTrace();
      code = 1;
    }
    System.exit(code);
  }
}
