package dev.pinwright.storage;

import static org.assertj.core.api.Assertions.assertThat;

import dev.pinwright.core.change.Wave;
import dev.pinwright.core.policy.KitPart;
import dev.pinwright.core.target.Assignment;
import dev.pinwright.core.target.Target;
import dev.pinwright.core.target.Target.Kind;
import dev.pinwright.storage.change.Moves;
import dev.pinwright.storage.change.Moves.Candidate;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Random;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.stream.Collectors;
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
            Assignment kit = new Assignment(pick(all, random, 3), pick(all, random, 2));
            published(tx, "k", 1, kit);
            kept(tx, "k", kit, "p0", "p1");
            Set<String> inOrder = new TreeSet<>();
            standsFor.keySet().stream().filter(id -> random.nextBoolean()).forEach(inOrder::add);
            tx.execute(
                "update device_state set withheld = device_id <> all(:ids)",
                Map.of("ids", inOrder.toArray(String[]::new)));
            Map<String, String> expected = new HashMap<>();
            standsFor.forEach(
                (id, stands) ->
                    expected.put(id, decided(profiles, kit, inOrder.contains(id), stands)));
            assertThat(layers(tx)).as("seed %d", seed).isEqualTo(expected);
            layOut(tx);
            Assignment draft = new Assignment(pick(all, random, 3), pick(all, random, 2));
            assertThat(worked(Moves.ofProfile(tx, new Candidate("p1", 2, draft))))
                .as("a publication, seed %d", seed)
                .allSatisfy(
                    (id, parts) -> {
                      Map<String, Assignment> then = new TreeMap<>(profiles);
                      then.put("p1", draft);
                      assertThat(parts)
                          .isEqualTo(
                              decided(then, kit, inOrder.contains(id), standsFor.get(id))
                                  .replace("p1:1:", "p1:2:"));
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
            Wave wave =
                new Wave("salt" + random.nextInt(), random.nextInt(Wave.ALL + 1), List.of("quay"));
            Map<String, String> reached = new HashMap<>();
            standsFor.forEach(
                (id, stands) -> {
                  boolean in =
                      wave.reached(
                          id, stands.contains(group("quay")) ? List.of("quay") : List.of());
                  String whole = decided(profiles, kit, inOrder.contains(id), stands);
                  reached.put(id, in ? whole : whole.replace("p2:1:", "p2:0:"));
                });
            tx.execute(
                "insert into spreading (profile_id, version, before, plan, salt, devices, step, reach,"
                    + " groups, state, begun_at, changes) values ('p2', 1, 0, '{}', :salt, 9, 0,"
                    + " :reach, array['quay'], 'going', now(), '{}')",
                Map.of("salt", wave.salt(), "reach", wave.reach()));
            assertThat(layers(tx)).as("while p2 spreads, seed %d", seed).isEqualTo(reached);
            Map<String, String> about =
                worked(
                    Moves.ofProfile(
                        tx,
                        new Candidate("p2", 1, profiles.get("p2"), List.of(), Optional.of(wave))));
            about.values().removeIf(parts -> !parts.contains("p2:1:"));
            assertThat(about.keySet())
                .as("whom the wave is about, seed %d", seed)
                .isEqualTo(
                    standsFor.keySet().stream()
                        .filter(
                            id ->
                                wave.reached(
                                        id,
                                        standsFor.get(id).contains(group("quay"))
                                            ? List.of("quay")
                                            : List.of())
                                    && profiles.get("p2").reaches(standsFor.get(id)).isPresent())
                        .collect(Collectors.toSet()));
            tx.execute("delete from spreading", Map.of());
            Assignment other = new Assignment(pick(all, random, 3), pick(all, random, 2));
            Candidate second =
                new Candidate(
                    "k", 2, other, List.of(new KitPart("p1", false), new KitPart("p2", true)));
            Map<String, String> then = new HashMap<>();
            standsFor.forEach(
                (id, stands) -> {
                  if (names(kit, stands) || names(other, stands)) {
                    then.put(
                        id,
                        decided(profiles, other, inOrder.contains(id), stands, "p1", "p2")
                            .replace("k:1:", "k:2:"));
                  }
                });
            assertThat(worked(Moves.ofKit(tx, second)))
                .as("a kit that takes others along, seed %d", seed)
                .isEqualTo(then);
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

  private static String decided(
      Map<String, Assignment> profiles, Assignment kit, boolean inOrder, List<Target> standsFor) {
    return decided(profiles, kit, inOrder, standsFor, "p0", "p1");
  }

  /**
   * @param parts what goes along with the kit; the second only where a device is in order
   */
  private static String decided(
      Map<String, Assignment> profiles,
      Assignment kit,
      boolean inOrder,
      List<Target> standsFor,
      String... parts) {
    Map<String, Integer> near = new TreeMap<>();
    profiles.forEach((profile, a) -> a.reaches(standsFor).ifPresent(n -> near.put(profile, n)));
    kit.reaches(standsFor)
        .ifPresent(
            n -> {
              near.put("k", n);
              near.merge(parts[0], n, Math::max);
              if (inOrder) {
                near.merge(parts[1], n, Math::max);
              }
            });
    return near.entrySet().stream()
        .map(e -> e.getKey() + ":1:" + e.getValue())
        .collect(Collectors.joining(","));
  }

  /** Whether a device is named at all, be it to be left out. */
  private static boolean names(Assignment a, List<Target> standsFor) {
    return Stream.concat(a.targets().stream(), a.exclusions().stream())
        .anyMatch(standsFor::contains);
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
