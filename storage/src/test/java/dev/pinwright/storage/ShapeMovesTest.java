package dev.pinwright.storage;

import static org.assertj.core.api.Assertions.assertThat;

import dev.pinwright.core.Words;
import dev.pinwright.core.target.Assignment;
import dev.pinwright.core.target.Target;
import dev.pinwright.core.target.Target.Kind;
import dev.pinwright.storage.ShapeMoves.Candidate;
import dev.pinwright.storage.ShapeMoves.Settled;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.OptionalInt;
import java.util.Random;
import java.util.TreeMap;
import java.util.concurrent.CopyOnWriteArrayList;
import java.util.function.Function;
import java.util.stream.Collectors;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;

/** Where devices belong, worked out by statements over all of them. */
class ShapeMovesTest {
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
    new ShapeMoves(tx).store(profile, assignment);
  }

  private static void tagged(Tx tx, String device, String tag) {
    tx.execute("insert into device_tag values (:d, :t)", Map.of("d", device, "t", tag));
  }

  /** The layers each device would have, by device. */
  private static Map<String, String> layers(Tx tx) {
    ShapeMoves moves = new ShapeMoves(tx);
    moves.begin(false);
    moves.affect(ids(tx));
    moves.work(null);
    return worked(tx);
  }

  private static Map<String, String> worked(Tx tx) {
    return tx.rows("select device_id, layers from move", Map.of()).stream()
        .collect(Collectors.toMap(r -> (String) r[0], r -> (String) r[1]));
  }

  private static List<String> ids(Tx tx) {
    return tx.rows("select id, 1 from device", Map.of()).stream().map(r -> (String) r[0]).toList();
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
          ShapeMoves moves = new ShapeMoves(tx);
          moves.begin(true);
          moves.affectReachedBy(candidate);
          moves.work(candidate);
          assertThat(worked(tx))
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
          ShapeMoves moves = new ShapeMoves(tx);
          moves.begin(false);
          moves.affect(ids(tx));
          moves.work(null);
          assertThat(moves.kinds())
              .extracting(ShapeMoves.Kind::mode, ShapeMoves.Kind::devices)
              .containsExactly(
                  org.assertj.core.groups.Tuple.tuple("supervised", 20L),
                  org.assertj.core.groups.Tuple.tuple("standard", 10L));
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
          ShapeMoves moves = new ShapeMoves(tx);
          moves.begin(false);
          moves.affect(ids(tx));
          moves.work(null);
          List<String> seen = new ArrayList<>();
          String afterName = "";
          String afterId = "";
          while (true) {
            List<Object[]> page = moves.devices(moves.kinds(), afterName, afterId, 7);
            if (page.isEmpty()) {
              break;
            }
            page.forEach(r -> seen.add((String) r[1]));
            afterName = (String) page.get(page.size() - 1)[1];
            afterId = (String) page.get(page.size() - 1)[0];
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
          TestDatabase.device(tx, "NEW");
          TestDatabase.device(tx, "HAS");
          TestDatabase.device(tx, "SAME");
          tx.execute("update device set desired_digest = 'goal' where id = 'SAME'", Map.of());
          tx.execute("update device set reported_digest = 'goal' where id = 'HAS'", Map.of());
          ShapeMoves moves = new ShapeMoves(tx);
          moves.begin(true);
          moves.affect(ids(tx));
          moves.work(null);
          List<Settled> goals =
              moves.kinds().stream().map(k -> new Settled(k, "shape", "goal")).toList();
          assertThat(moves.apply(goals, "change-1")).isEqualTo(2);
          Map<String, String> after =
              tx
                  .rows(
                      "select id, standing || '|' || shape_key || '|' || coalesce(change_id, '')"
                          + " from device",
                      Map.of())
                  .stream()
                  .collect(Collectors.toMap(r -> (String) r[0], r -> (String) r[1]));
          assertThat(after)
              .containsEntry("NEW", "catching-up|shape|change-1")
              .containsEntry("HAS", "settled|shape|change-1")
              .containsEntry("SAME", "settled|shape|");
          return true;
        });
  }

  @Test
  void whatWasWorkedOutIsGoneWhenTheTransactionEnds() {
    database.run(
        tx -> {
          TestDatabase.device(tx, "QUAY");
          layers(tx);
        });
    long left =
        database.call(
            tx -> {
              ShapeMoves moves = new ShapeMoves(tx);
              moves.begin(false);
              return tx.value(
                  "select (select count(*) from move) + (select count(*) from moving)",
                  Long.class,
                  Map.of());
            });
    assertThat(left).isZero();
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
                      new ShapeMoves(tx).begin(true);
                      order.add("rules");
                    }));
    database.run(
        tx -> {
          new ShapeMoves(tx).begin(false);
          database.run(
              other -> {
                new ShapeMoves(other).begin(false);
                order.add("another single move");
              });
          rules.start();
          waitFor(rules, 300);
          order.add("single move");
        });
    waitFor(rules, 5_000);
    assertThat(order).containsExactly("another single move", "single move", "rules");
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
    Random random = new Random(11);
    List<Target> tags = List.of(tag("red"), tag("blue"), tag("green"));
    List<Target> groups = List.of(group("quay"), group("glass"), group("dig"));
    for (int round = 0; round < 40; round++) {
      trying(
          tx -> {
            Map<String, List<Target>> standsFor = new TreeMap<>();
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
            assertThat(layers(tx)).isEqualTo(expected);
            return true;
          });
    }
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

  @Test
  void wordsForTargetsAreThoseOfTheTables() {
    assertThat(ShapeMoves.kinds(to(EVERYONE, tag("a"), group("g"), device("d"))))
        .containsExactly("everyone", "tag", "group", "device")
        .allSatisfy(w -> assertThat(Words.parse(Kind.class, w)).isNotNull());
  }
}
