package dev.pinwright.storage;

import static org.assertj.core.api.Assertions.assertThat;

import dev.pinwright.core.target.Assignment;
import dev.pinwright.core.target.Target;
import dev.pinwright.core.target.Target.Kind;
import dev.pinwright.storage.change.Moves;
import dev.pinwright.storage.change.Moves.Candidate;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.OptionalInt;
import java.util.Random;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;

/** The statements over all devices, held against the decision for one. */
class MovesAgreeTest extends MovesOnFile {
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
