package dev.pinwright.storage;

import dev.pinwright.core.policy.KitPart;
import dev.pinwright.core.target.Assignment;
import dev.pinwright.core.target.Target;
import dev.pinwright.core.target.Target.Kind;
import dev.pinwright.storage.change.Moves;
import dev.pinwright.storage.change.Moves.Goal;
import dev.pinwright.storage.shape.ShapeStore;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.BeforeEach;

/** What tests of moves put on file and ask for. */
abstract class MovesOnFile {
  static final Target EVERYONE = new Target(Kind.EVERYONE, "");
  static Database database;

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
              List.of(
                  "assignment",
                  "profile",
                  "device_tag",
                  "group_member",
                  "device_group",
                  "change_device",
                  "change_move")) {
            tx.execute("delete from " + table, Map.of());
          }
          tx.execute("delete from device", Map.of());
        });
  }

  static Assignment to(Target... targets) {
    return new Assignment(List.of(targets), List.of());
  }

  static Target tag(String tag) {
    return new Target(Kind.TAG, tag);
  }

  static Target device(String id) {
    return new Target(Kind.DEVICE, id);
  }

  static Target group(String id) {
    return new Target(Kind.GROUP, id);
  }

  static void published(Tx tx, String profile, int version, Assignment assignment) {
    tx.execute(
        """
        insert into profile (id, version, name, description, draft, draft_changed,
                             published_version, created_at, changed_at)
        values (:p, 0, :p, '', '{}', false, :v, now(), now())
        """,
        Map.of("p", profile, "v", version));
    new ShapeStore(tx).assign(profile, assignment, List.of());
  }

  /** Lets two profiles go along with a kit, the second only with devices that are in order. */
  static void kept(Tx tx, String kit, Assignment assignment, String first, String second) {
    new ShapeStore(tx)
        .assign(kit, assignment, List.of(new KitPart(first, false), new KitPart(second, true)));
  }

  static void tagged(Tx tx, String device, String tag) {
    tx.execute("insert into device_tag values (:d, :t)", Map.of("d", device, "t", tag));
  }

  /** The layers each device would have, by device. */
  static Map<String, String> layers(Tx tx) {
    return worked(Moves.ofDevices(tx, ids(tx)));
  }

  static Map<String, String> worked(Moves moves) {
    Map<String, String> out = new HashMap<>();
    for (Moves.Kind k : moves.kinds()) {
      String parts = k.to().text().substring(k.to().text().lastIndexOf('|') + 1);
      moves.devices(List.of(k), "", "", 1_000).forEach(d -> out.put(d.id(), parts));
    }
    return out;
  }

  static List<String> ids(Tx tx) {
    return tx.column(String.class, "select id from device", Map.of());
  }

  static <T> T trying(Function<Tx, T> work) {
    return database.rehearse(work);
  }

  /** Puts every device into the shape it belongs to. */
  static void layOut(Tx tx) {
    Moves moves = Moves.ofDevices(tx, ids(tx));
    List<Goal> goals = new ArrayList<>();
    for (Moves.Kind k : moves.kinds()) {
      new ShapeStore(tx)
          .keep(
              Map.of(k.to(), new ShapeStore.Digests("none", "")),
              Instant.parse("2026-03-01T08:00:00Z"));
      goals.add(new Goal(k, k.to().key(), "none", ""));
    }
    moves.apply(goals, Optional.empty());
  }
}
