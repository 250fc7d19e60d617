package dev.pinwright.storage;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.tuple;

import dev.pinwright.core.change.Rehearsal;
import dev.pinwright.core.device.Mode;
import dev.pinwright.core.device.OsVersion;
import dev.pinwright.core.device.Standing;
import dev.pinwright.core.policy.Shape;
import dev.pinwright.core.target.Assignment;
import dev.pinwright.storage.change.Moves;
import dev.pinwright.storage.change.Moves.Candidate;
import dev.pinwright.storage.change.Moves.Goal;
import dev.pinwright.storage.device.DeviceStates;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.CopyOnWriteArrayList;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;

/** Where devices belong, worked out by statements over all of them. */
class MovesTest extends MovesOnFile {
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
          List<Goal> goals =
              moves.kinds().stream().map(k -> new Goal(k, "shape", "goal", "")).toList();
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
                      "select d.change_id || ' ' || device_id || ' ' || to_shape"
                          + " from change_device d join change_move m"
                          + " on m.change_id = d.change_id and m.nr = d.move order by 1",
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
                              .map(k -> new Goal(k, k.to().key(), "goal", ""))
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
        moves.kinds().stream().map(k -> new Goal(k, k.to().key(), "goal", "")).toList(),
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
}
