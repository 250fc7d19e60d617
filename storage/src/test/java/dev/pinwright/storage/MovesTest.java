package dev.pinwright.storage;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.tuple;

import dev.pinwright.core.change.Rehearsal;
import dev.pinwright.core.device.*;
import dev.pinwright.core.policy.Shape;
import dev.pinwright.core.target.Assignment;
import dev.pinwright.core.target.Target;
import dev.pinwright.core.target.Target.Kind;
import dev.pinwright.storage.change.Moves;
import dev.pinwright.storage.change.Moves.Candidate;
import dev.pinwright.storage.change.Moves.Goal;
import dev.pinwright.storage.device.DeviceStates;
import dev.pinwright.storage.shape.ShapeStore;
import java.time.Instant;
import java.util.*;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.OptionalInt;
import java.util.Random;
import java.util.TreeMap;
import java.util.concurrent.CopyOnWriteArrayList;
import java.util.function.Function;
import java.util.stream.Stream;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;

/** Where devices belong, worked out by statements over all of them. */
class MovesTest {
  private static final Target EVERYONE = new Target(Kind.EVERYONE, "");
  private static Database database;

  @BeforeAll
  static void open() {
    database = TestDatabase.open();
  }

  @AfterAll
  static void close() {
    database.close();
  }

  @BeforeEach
  void empty() {
    database.run(
        tx -> {
          for (String table :
              List.of("assignment", "profile", "device_tag", "group_member", "device_group")) {
            tx.execute("delete from " + table, Map.of());
          }
          tx.execute("delete from device", Map.of());
        });
  }

  private static Assignment to(Target... targets) {
    return new Assignment(List.of(targets), List.of());
  }

  private static Target tag(String tag) {
    return new Target(Kind.TAG, tag);
  }

  private static Target device(String id) {
    return new Target(Kind.DEVICE, id);
  }

  private static Target group(String id) {
    return new Target(Kind.GROUP, id);
  }

  private static void published(Tx tx, String profile, int version, Assignment assignment) {
    tx.execute(
        """
        insert into profile (id, version, name, description, draft, draft_changed,
                             published_version, created_at, changed_at)
        values (:p, 0, :p, '', '{}', false, :v, now(), now())
        """,
        Map.of("p", profile, "v", version));
    new ShapeStore(tx).assign(profile, assignment);
  }

  private static void tagged(Tx tx, String device, String tag) {
    tx.execute("insert into device_tag values (:d, :t)", Map.of("d", device, "t", tag));
  }

  /** The layers each device would have, by device. */
  private static Map<String, String> layers(Tx tx) {
    return worked(Moves.ofDevices(tx, ids(tx)));
  }

  private static Map<String, String> worked(Moves moves) {
    Map<String, String> out = new HashMap<>();
    for (Moves.Kind k : moves.kinds()) {
      String parts = k.to().text().substring(k.to().text().lastIndexOf('|') + 1);
      moves.devices(List.of(k), "", "", 1_000).forEach(d -> out.put(d.id(), parts));
    }
    return out;
  }

  private static List<String> ids(Tx tx) {
    return tx.column(String.class, "select id from device", Map.of());
  }

  private static <T> T trying(Function<Tx, T> work) {
    return database.rehearse(work);
  }

  @Test
  void aProfileReachesWhoStandsForOneOfItsTargets() {
    Map<String, String> layers =
        trying(
            tx -> {
              TestDatabase.device(tx, "QUAY");
              TestDatabase.device(tx, "RIDGE");
              tagged(tx, "QUAY", "gallery");
              published(tx, "all", 3, to(EVERYONE));
              published(tx, "galleries", 1, to(tag("gallery")));
              return layers(tx);
            });
    assertThat(layers)
        .containsEntry("QUAY", "all:3:1,galleries:1:3")
        .containsEntry("RIDGE", "all:3:1");
  }

  @Test
  void theNearestTargetCountsWhenSeveralReachADevice() {
    Map<String, String> layers =
        trying(
            tx -> {
              TestDatabase.device(tx, "QUAY");
              published(tx, "p", 1, to(EVERYONE, device("QUAY")));
              return layers(tx);
            });
    assertThat(layers).containsEntry("QUAY", "p:1:5");
  }

  @Test
  void anExclusionWinsHoweverNearTheTarget() {
    Map<String, String> layers =
        trying(
            tx -> {
              TestDatabase.device(tx, "QUAY");
              tagged(tx, "QUAY", "staff");
              published(tx, "p", 1, new Assignment(List.of(device("QUAY")), List.of(tag("staff"))));
              return layers(tx);
            });
    assertThat(layers).containsEntry("QUAY", "");
  }

  @Test
  void aRetiredDeviceStandsForNothing() {
    Map<String, String> layers =
        trying(
            tx -> {
              TestDatabase.device(tx, "QUAY");
              tx.execute("update device set retired_at = now()", Map.of());
              new DeviceStates(tx).retire(List.of("QUAY"), "lost");
              published(tx, "p", 1, to(EVERYONE));
              return layers(tx);
            });
    assertThat(layers).isEmpty();
  }

  @Test
  void aCandidateReplacesWhatItsProfileSaysNow() {
    trying(
        tx -> {
          TestDatabase.device(tx, "QUAY");
          TestDatabase.device(tx, "RIDGE");
          tagged(tx, "QUAY", "gallery");
          tagged(tx, "RIDGE", "staff");
          published(tx, "p", 4, to(tag("gallery")));
          Candidate candidate = new Candidate("p", 5, to(tag("staff")));
          layOut(tx);
          assertThat(worked(Moves.ofProfile(tx, candidate)))
              .as("who is reached now, and who would be")
              .containsEntry("QUAY", "")
              .containsEntry("RIDGE", "p:5:3");
          return true;
        });
  }

  @Test
  void devicesThatMoveAlikeAreOneKind() {
    trying(
        tx -> {
          for (int i = 0; i < 30; i++) {
            TestDatabase.device(tx, "T%02d".formatted(i), i % 3 == 0 ? "standard" : "supervised");
          }
          published(tx, "p", 1, to(EVERYONE));
          Moves moves = Moves.ofDevices(tx, ids(tx));
          assertThat(moves.kinds())
              .extracting(k -> k.to().mode(), Moves.Kind::devices)
              .containsExactly(tuple(Mode.SUPERVISED, 20L), tuple(Mode.STANDARD, 10L));
          return true;
        });
  }

  @Test
  void theDevicesOfSeveralKindsArePagedByNameWithoutGapsOrDoubles() {
    trying(
        tx -> {
          for (int i = 0; i < 25; i++) {
            TestDatabase.device(tx, "t%02d".formatted(i), i % 2 == 0 ? "standard" : "supervised");
          }
          Moves moves = Moves.ofDevices(tx, ids(tx));
          List<String> seen = new ArrayList<>();
          String afterName = "";
          String afterId = "";
          while (true) {
            List<Rehearsal.Named> page = moves.devices(moves.kinds(), afterName, afterId, 7);
            if (page.isEmpty()) {
              break;
            }
            page.forEach(d -> seen.add(d.name()));
            afterName = page.get(page.size() - 1).name();
            afterId = page.get(page.size() - 1).id();
          }
          assertThat(seen).hasSize(25).doesNotHaveDuplicates().isSorted();
          assertThat(moves.devices(moves.kinds().subList(0, 1), "", "", 50))
              .as("one kind alone")
              .hasSize(13);
          return true;
        });
  }

  @Test
  void aMoveSetsBackOnlyDevicesWhoseTreeChanges() {
    trying(
        tx -> {
          for (String d : List.of("NEW", "HAS", "SAME", "SILENT")) {
            TestDatabase.device(tx, d);
          }
          tx.execute(
              "update device_state set desired_digest = 'goal' where device_id = 'SAME'", Map.of());
          tx.execute(
              "update device_state set reported_digest = 'goal' where device_id = 'HAS'", Map.of());
          tx.execute(
              "update device_state set standing = 'silent' where device_id = 'SILENT'", Map.of());
          Moves moves = Moves.ofDevices(tx, ids(tx));
          List<Goal> goals = moves.kinds().stream().map(k -> new Goal(k, "shape", "goal")).toList();
          assertThat(moves.apply(goals, Optional.of("change-1"))).isEqualTo(3);
          assertThat(
                  tx.column(
                      String.class,
                      "select device_id || '|' || standing || '|' || shape_key || '|'"
                          + " || coalesce(change_id, '') from device_state order by 1",
                      Map.of()))
              .containsExactly(
                  "HAS|settled|shape|change-1",
                  "NEW|catching-up|shape|change-1",
                  "SAME|settled|shape|",
                  "SILENT|silent|shape|change-1");
          assertThat(
                  tx.column(
                      String.class,
                      "select change_id || ' ' || device_id || ' ' || to_shape from change_device"
                          + " order by 1",
                      Map.of()))
              .as("what the change moved is kept with it")
              .containsExactly("change-1 HAS shape", "change-1 NEW shape", "change-1 SILENT shape");
          return true;
        });
  }

  @Test
  @Timeout(20)
  void movesOfSingleDevicesGoOnSideBySideAndAChangeOfRulesWaitsForThem() throws Exception {
    List<String> order = new CopyOnWriteArrayList<>();
    Thread rules =
        new Thread(
            () ->
                database.run(
                    tx -> {
                      Moves.aloneWithRules(tx);
                      order.add("rules");
                    }));
    database.run(
        tx -> {
          Moves.besideRules(tx);
          database.run(
              other -> {
                Moves.besideRules(other);
                order.add("another single move");
              });
          rules.start();
          waitFor(rules, 300);
          order.add("single move");
        });
    waitFor(rules, 5_000);
    assertThat(order).containsExactly("another single move", "single move", "rules");
  }

  @Test
  @Timeout(20)
  void ofTwoChangesOfOneDeviceTheLaterSeesTheEarlier() throws Exception {
    database.run(
        tx -> {
          TestDatabase.device(tx, "QUAY");
          published(tx, "a", 1, to(tag("a")));
          published(tx, "b", 1, to(tag("b")));
        });
    Thread later =
        new Thread(
            () ->
                database.run(
                    tx -> {
                      tagged(tx, "QUAY", "b");
                      place(tx);
                    }));
    database.run(
        tx -> {
          tagged(tx, "QUAY", "a");
          place(tx);
          later.start();
          waitFor(later, 300);
        });
    waitFor(later, 5_000);
    String kept =
        database.call(
            tx ->
                tx.value(
                    "select shape_key from device_state where device_id = 'QUAY'",
                    String.class,
                    Map.of()));
    Shape both =
        new Shape(
            "tarn",
            Mode.SUPERVISED,
            new OsVersion(7, 2, 0),
            List.of(new Shape.Part("a", 1, 3), new Shape.Part("b", 1, 3)));
    assertThat(kept).isEqualTo(both.key());
  }

  @Test
  @Timeout(20)
  void aDeviceThatIsRetiredWhileAPublicationWaitsForItStaysRetired() throws Exception {
    database.run(tx -> TestDatabase.device(tx, "QUAY"));
    Thread publication =
        new Thread(
            () ->
                database.run(
                    tx -> {
                      Moves moves = Moves.ofProfile(tx, new Candidate("p", 1, to(EVERYONE)));
                      moves.apply(
                          moves.kinds().stream()
                              .map(k -> new Goal(k, k.to().key(), "goal"))
                              .toList(),
                          Optional.of("change-1"));
                    }));
    database.run(
        tx -> {
          new DeviceStates(tx).retire(List.of("QUAY"), "lost");
          publication.start();
          waitFor(publication, 300);
        });
    waitFor(publication, 5_000);
    Standing standing =
        database.call(tx -> new DeviceStates(tx).find("QUAY").orElseThrow().standing());
    assertThat(standing).isEqualTo(Standing.RETIRED);
  }

  private static void place(Tx tx) {
    Moves moves = Moves.ofDevices(tx, List.of("QUAY"));
    moves.apply(
        moves.kinds().stream().map(k -> new Goal(k, k.to().key(), "goal")).toList(),
        Optional.empty());
  }

  private static void waitFor(Thread thread, long millis) {
    try {
      thread.join(millis);
    } catch (InterruptedException e) {
      throw new IllegalStateException(e);
    }
  }

  /**
   * The statements over all devices against the decision for one, {@link Assignment#reaches}, on
   * assignments made up at random.
   */
  @Test
  void theStatementsAndTheDecisionAgreeOnWhoIsReachedAndHowNear() {
    long seed = System.nanoTime();
    Random random = new Random(seed);
    List<Target> tags = List.of(tag("red"), tag("blue"), tag("green"));
    List<Target> groups = List.of(group("quay"), group("glass"), group("dig"));
    for (int round = 0; round < 40; round++) {
      trying(
          tx -> {
            Map<String, List<Target>> standsFor = new TreeMap<>();
            organisation(tx);
            groups.forEach(
                g ->
                    tx.execute(
                        "insert into device_group (id, version, name, created_at)"
                            + " values (:g, 0, :g, now())",
                        Map.of("g", g.ref())));
            for (int i = 0; i < 9; i++) {
              String id = "D" + i;
              TestDatabase.device(tx, id);
              List<Target> stands = new ArrayList<>(List.of(EVERYONE, device(id)));
              tags.stream().filter(t -> random.nextInt(3) == 0).forEach(stands::add);
              groups.stream().filter(t -> random.nextInt(3) == 0).forEach(stands::add);
              boolean deep = random.nextBoolean();
              boolean held = random.nextBoolean();
              tx.execute(
                  "update device set unit_id = :u, person_id = cast(:p as text) where id = :d",
                  nullable("u", deep ? "VM-HAR" : "VM", "p", held ? "ines" : null, "d", id));
              stands.add(new Target(Kind.UNIT, "VM"));
              if (deep) {
                stands.add(new Target(Kind.UNIT, "VM-HAR"));
              }
              if (held) {
                stands.add(new Target(Kind.PERSON, "ines"));
              }
              for (Target t : stands) {
                if (t.kind() == Kind.TAG) {
                  tagged(tx, id, t.ref());
                } else if (t.kind() == Kind.GROUP) {
                  tx.execute(
                      "insert into group_member values (:g, :d)", Map.of("g", t.ref(), "d", id));
                }
              }
              standsFor.put(id, stands);
            }
            List<Target> all =
                standsFor.values().stream().flatMap(List::stream).distinct().toList();
            Map<String, Assignment> profiles = new TreeMap<>();
            for (int n = 0; n < 4; n++) {
              Assignment a = new Assignment(pick(all, random, 3), pick(all, random, 2));
              profiles.put("p" + n, a);
              published(tx, "p" + n, 1, a);
            }
            Map<String, String> expected = new HashMap<>();
            standsFor.forEach((id, stands) -> expected.put(id, decided(profiles, stands)));
            assertThat(layers(tx)).as("seed %d", seed).isEqualTo(expected);
            layOut(tx);
            Assignment draft = new Assignment(pick(all, random, 3), pick(all, random, 2));
            assertThat(worked(Moves.ofProfile(tx, new Candidate("p1", 2, draft))))
                .as("a publication, seed %d", seed)
                .allSatisfy(
                    (id, parts) -> {
                      Map<String, Assignment> then = new TreeMap<>(profiles);
                      then.remove("p1");
                      Set<String> wanted = new TreeSet<>();
                      Stream.of(decided(then, standsFor.get(id)).split(","))
                          .filter(p -> !p.isEmpty())
                          .forEach(wanted::add);
                      draft.reaches(standsFor.get(id)).ifPresent(n -> wanted.add("p1:2:" + n));
                      assertThat(parts).isEqualTo(String.join(",", wanted));
                    })
                .satisfies(
                    m ->
                        assertThat(m.keySet())
                            .containsAll(
                                standsFor.entrySet().stream()
                                    .filter(
                                        e ->
                                            draft.reaches(e.getValue()).isPresent()
                                                || profiles
                                                    .get("p1")
                                                    .reaches(e.getValue())
                                                    .isPresent())
                                    .map(Map.Entry::getKey)
                                    .toList()));
            return true;
          });
    }
  }

  /** Two units, one in the other, and a person. */
  private static void organisation(Tx tx) {
    tx.execute(
        "insert into unit (id, version, code, name, created_at) values ('VM', 0, 'VM', 'Trust',"
            + " now()), ('VM-HAR', 0, 'VM-HAR', 'Harbour', now())",
        Map.of());
    tx.execute(
        "insert into unit_within values ('VM', 'VM'), ('VM-HAR', 'VM-HAR'), ('VM-HAR', 'VM')",
        Map.of());
    tx.execute(
        "insert into person (id, version, name, created_at) values ('ines', 0, 'Ines', now())",
        Map.of());
  }

  private static Map<String, Object> nullable(Object... pairs) {
    Map<String, Object> out = new HashMap<>();
    for (int i = 0; i < pairs.length; i += 2) {
      out.put((String) pairs[i], pairs[i + 1]);
    }
    return out;
  }

  /** Puts every device into the shape it belongs to. */
  private static void layOut(Tx tx) {
    Moves moves = Moves.ofDevices(tx, ids(tx));
    List<Goal> goals = new ArrayList<>();
    for (Moves.Kind k : moves.kinds()) {
      new ShapeStore(tx).keep(Map.of(k.to(), "none"), Instant.parse("2026-03-01T08:00:00Z"));
      goals.add(new Goal(k, k.to().key(), "none"));
    }
    moves.apply(goals, Optional.empty());
  }

  private static String decided(Map<String, Assignment> profiles, List<Target> standsFor) {
    List<String> out = new ArrayList<>();
    profiles.forEach(
        (profile, a) -> {
          OptionalInt near = a.reaches(standsFor);
          near.ifPresent(n -> out.add(profile + ":1:" + n));
        });
    return String.join(",", out);
  }

  private static List<Target> pick(List<Target> from, Random random, int most) {
    List<Target> out = new ArrayList<>();
    for (int i = random.nextInt(most + 1); i > 0; i--) {
      Target t = from.get(random.nextInt(from.size()));
      if (!out.contains(t)) {
        out.add(t);
      }
    }
    return out;
  }
}
