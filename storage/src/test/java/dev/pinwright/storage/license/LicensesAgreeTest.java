package dev.pinwright.storage.license;

import static org.assertj.core.api.Assertions.assertThat;

import dev.pinwright.core.device.Mode;
import dev.pinwright.core.device.OsVersion;
import dev.pinwright.core.license.Demand;
import dev.pinwright.core.license.LicenseState;
import dev.pinwright.core.license.Licensing;
import dev.pinwright.core.license.Pool;
import dev.pinwright.core.policy.Shape;
import dev.pinwright.storage.Database;
import dev.pinwright.storage.TestDatabase;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.app.AppStore.ShapeWish;
import dev.pinwright.storage.license.StoreAppStore.StoreApp;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Random;
import java.util.TreeMap;
import java.util.stream.Collectors;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;

/** The statements that hand licenses out, held against what was decided. */
class LicensesAgreeTest {
  private static final Instant NOW = Instant.parse("2026-11-29T09:00:00Z");
  private static final List<String> SITES = List.of("quay", "ulby");
  private static Database database;

  @BeforeAll
  static void open() {
    database = TestDatabase.open();
    database.run(
        tx -> {
          tx.execute(
              "insert into gateway (platform, version, services, roots) values ('tarn', 0, '', '')",
              Map.of());
          for (String site : SITES) {
            tx.execute(
                "insert into site (id, version, name, address, created_at)"
                    + " values (:s, 0, :s, '', now())",
                Map.of("s", site));
          }
        });
  }

  @AfterAll
  static void close() {
    database.close();
  }

  private static StoreApp app(Tx tx, Licensing licensing) {
    tx.execute("delete from app", Map.of());
    tx.execute("delete from device", Map.of());
    tx.execute(
        """
        insert into app (id, version, key, package_id, name, publisher, summary, category, origin,
                         created_at, changed_at)
        values ('a', 0, 'reader', 'lumen.reader', 'Lumen Reader', '', '', '', 'store', now(), now())
        """,
        Map.of());
    new StoreAppStore(tx).put("a", "tarn", licensing, "{}", true, NOW);
    return new StoreAppStore(tx).find("a").orElseThrow();
  }

  private static void pool(Tx tx, String id, Optional<String> site, long owned, long elsewhere) {
    Map<String, Object> p = new HashMap<>();
    p.put("id", id);
    p.put("site", site.orElse(null));
    p.put("owned", owned);
    p.put("elsewhere", elsewhere);
    tx.execute(
        "insert into license_pool (id, version, app_id, place, site_id, owned, elsewhere)"
            + " values (:id, 0, 'a', :id, cast(:site as text), :owned, :elsewhere)",
        p);
  }

  private static void device(Tx tx, String id, Optional<String> site, int enrolled) {
    TestDatabase.device(tx, id);
    Map<String, Object> p = new HashMap<>();
    p.put("id", id);
    p.put("site", site.orElse(null));
    p.put("at", NOW.minusSeconds(1_000 - enrolled));
    tx.execute(
        "update device set site_id = cast(:site as text), enrolled_at = :at where id = :id", p);
  }

  private static List<ShapeWish> wishes(boolean required) {
    String key = new Shape("tarn", Mode.SUPERVISED, new OsVersion(7, 2, 0), List.of()).key();
    return List.of(new ShapeWish(key, "7.1", required));
  }

  private record Held(String name, String poolId) {}

  private static Map<String, String> held(Tx tx) {
    return tx
        .select(Held.class, "select name, pool_id from license where app_id = 'a'", Map.of())
        .stream()
        .collect(Collectors.toMap(Held::name, Held::poolId, (x, y) -> x, TreeMap::new));
  }

  @Test
  void asManyGoWithoutAsWasDecidedAndTheFirstEnrolledNever() {
    long seed = System.nanoTime();
    Random random = new Random(seed);
    for (int round = 0; round < 25; round++) {
      database.run(
          tx -> {
            StoreApp app = app(tx, Licensing.BY_DEVICE);
            List<Pool> pools = new ArrayList<>();
            int n = random.nextInt(5);
            for (int i = 0; i < n; i++) {
              Optional<String> site = any(random);
              long owned = random.nextInt(5);
              long elsewhere = random.nextInt(3);
              pool(tx, "p" + i, site, owned, elsewhere);
              pools.add(new Pool(site, owned, elsewhere));
            }
            Map<Optional<String>, Long> wanting = new HashMap<>();
            int devices = random.nextInt(9);
            Map<String, Optional<String>> where = new HashMap<>();
            for (int i = 0; i < devices; i++) {
              Optional<String> site = any(random);
              device(tx, "D" + i, site, i);
              where.put("D" + i, site);
              wanting.merge(site, 1L, Long::sum);
            }
            List<Demand> demands =
                wanting.entrySet().stream().map(e -> new Demand(e.getKey(), e.getValue())).toList();
            LicenseStore store = new LicenseStore(tx);
            assertThat(store.pools("a"))
                .as("seed %d", seed)
                .containsExactlyInAnyOrderElementsOf(pools);
            long lacking = store.handOut(app, wishes(true), NOW);
            assertThat(lacking).as("seed %d", seed).isEqualTo(Demand.lacking(demands, pools));
            Map<String, String> held = held(tx);
            assertThat(held).as("seed %d", seed).hasSize(devices - (int) lacking);
            assertThat(store.pools("a"))
                .as("no more than is owned, seed %d", seed)
                .allSatisfy(p -> assertThat(p.used()).isLessThanOrEqualTo(Math.max(p.owned(), 2)));
            where.forEach(
                (device, site) -> {
                  if (!held.containsKey(device)) {
                    assertThat(where.entrySet())
                        .as(
                            "%s goes without, and nobody later of its site has one; seed %d",
                            device, seed)
                        .noneMatch(
                            o ->
                                o.getValue().equals(site)
                                    && o.getKey().compareTo(device) > 0
                                    && held.containsKey(o.getKey()));
                  }
                });
            assertThat(store.handOut(app, wishes(true), NOW)).isEqualTo(lacking);
            assertThat(held(tx)).as("once and for all").isEqualTo(held);
          });
    }
  }

  private static Optional<String> any(Random random) {
    int i = random.nextInt(3);
    return i == 2 ? Optional.empty() : Optional.of(SITES.get(i));
  }

  @Test
  void whoseOsIsTooOldForEveryVersionTakesNone() {
    database.run(
        tx -> {
          StoreApp app = app(tx, Licensing.BY_DEVICE);
          pool(tx, "p", Optional.empty(), 9, 0);
          for (String id : List.of("D1", "D2", "D3")) {
            device(tx, id, Optional.empty(), 1);
          }
          tx.execute("update device set os_version = '7.0.9' where id = 'D1'", Map.of());
          tx.execute("update device set os_version = '7.1' where id = 'D2'", Map.of());
          tx.execute("update device set os_version = '10.0' where id = 'D3'", Map.of());
          for (String lowest :
              List.of("{\"tarn\":\"7.1\"}", "{\"tarn\":\"9\"}", "{\"moor\":\"1\"}")) {
            tx.execute(
                """
                insert into app_release (app_id, code, version, lowest, permissions, bytes, installed,
                                         notes, address, sha256, brought_at, brought_by)
                select 'a', count(*) + 1, '1', cast(:lowest as jsonb), '{}', 1, 0, '',
                       'https://shop.example', repeat('a', 64), now(), 'x' from app_release
                """,
                Map.of("lowest", lowest));
          }
          LicenseStore store = new LicenseStore(tx);
          assertThat(store.handOut(app, wishes(true), NOW)).as("nobody lacks one").isZero();
          assertThat(held(tx)).containsOnlyKeys("D2", "D3");
          tx.execute("update device set os_version = '7.0' where id = 'D2'", Map.of());
          assertThat(store.reclaim(app, wishes(true), NOW)).as("it went back").isEqualTo(1);
        });
  }

  @Test
  void whatIsNeededNoMoreGoesBackAndWhatIsNeededAgainIsKept() {
    database.run(
        tx -> {
          StoreApp app = app(tx, Licensing.BY_DEVICE);
          pool(tx, "p", Optional.empty(), 3, 0);
          device(tx, "D1", Optional.empty(), 1);
          device(tx, "D2", Optional.empty(), 2);
          LicenseStore store = new LicenseStore(tx);
          store.handOut(app, wishes(true), NOW);
          store.given("a", List.of("D1", "D2"), NOW);
          tx.execute(
              "update device_state set standing = 'retired' where device_id = 'D1'", Map.of());
          assertThat(store.reclaim(app, wishes(true), NOW)).isEqualTo(1);
          assertThat(store.orders(10))
              .extracting(LicenseStore.Order::state, LicenseStore.Order::names)
              .containsExactly(
                  org.assertj.core.groups.Tuple.tuple(LicenseState.RETURNING, List.of("D1")));
          tx.execute(
              "update device_state set standing = 'settled' where device_id = 'D1'", Map.of());
          assertThat(store.reclaim(app, wishes(true), NOW)).isEqualTo(1);
          store.gone("a", LicenseState.RETURNING, List.of("D1"));
          assertThat(held(tx)).as("asked for again before it was gone").containsKey("D1");
          assertThat(store.reclaim(app, wishes(false), NOW)).as("on the shelf only").isEqualTo(2);
        });
  }

  @Test
  void whoPickedItComesAfterThoseToWhomItIsRequiredAndHoldersOnceForAllTheirDevices() {
    database.run(
        tx -> {
          StoreApp app = app(tx, Licensing.BY_HOLDER);
          pool(tx, "p", Optional.empty(), 1, 0);
          for (String p : List.of("ines", "bo")) {
            tx.execute(
                "insert into person (id, version, name, mail, created_at)"
                    + " values (:p, 0, :p, :m, now()) on conflict do nothing",
                Map.of("p", p, "m", p.toUpperCase() + "@vellmar.example"));
          }
          TestDatabase.device(tx, "F1", "standard");
          TestDatabase.device(tx, "D1");
          TestDatabase.device(tx, "D2");
          tx.execute("update device set person_id = 'ines' where id = 'F1'", Map.of());
          tx.execute("update device set person_id = 'bo' where id in ('D1', 'D2')", Map.of());
          tx.execute("insert into app_wish values ('F1', 'lumen.reader', now())", Map.of());
          String standard =
              new Shape("tarn", Mode.STANDARD, new OsVersion(7, 2, 0), List.of()).key();
          List<ShapeWish> wishes = new ArrayList<>(wishes(true));
          wishes.add(new ShapeWish(standard, "7.1", false));
          LicenseStore store = new LicenseStore(tx);
          assertThat(store.handOut(app, wishes, NOW)).isEqualTo(1);
          assertThat(held(tx)).containsOnlyKeys("bo@vellmar.example");
          assertThat(store.devices(Licensing.BY_HOLDER, List.of("bo@vellmar.example")))
              .containsExactlyInAnyOrder("D1", "D2");
          tx.execute("update license_pool set owned = 2", Map.of());
          assertThat(store.handOut(app, wishes, NOW)).isZero();
          assertThat(held(tx)).containsOnlyKeys("bo@vellmar.example", "ines@vellmar.example");
        });
  }
}
