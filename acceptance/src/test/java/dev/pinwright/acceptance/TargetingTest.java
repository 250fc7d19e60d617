package dev.pinwright.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import dev.pinwright.client.model.Group;
import dev.pinwright.client.model.GroupMembers;
import dev.pinwright.client.model.Invitation;
import dev.pinwright.client.model.NewGroup;
import dev.pinwright.client.model.Profile;
import dev.pinwright.client.model.ProfileDraft;
import dev.pinwright.client.model.Rehearsal;
import dev.pinwright.client.model.TagList;
import dev.pinwright.client.model.TargetSpec;
import dev.pinwright.core.target.Assignment;
import dev.pinwright.core.target.Target;
import dev.pinwright.core.target.Target.Kind;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.OptionalInt;
import java.util.Random;
import java.util.TreeMap;
import java.util.stream.Collectors;
import org.junit.jupiter.api.Test;

/** Whom an assignment reaches: the statements over all devices against the decision for one. */
class TargetingTest {
  private static final int DEVICES = 8;

  @Test
  void theDatabaseAndTheDecisionAgreeOnWhoIsReachedAndHowNear() throws Exception {
    try (Rig rig = new Rig()) {
      Desk desk = new Desk(rig);
      Invitation invitation = desk.kiosks("Kiosks", DEVICES);
      Map<String, List<Target>> standsFor = new TreeMap<>();
      Random random = new Random(11);
      List<Group> groups = new ArrayList<>();
      for (String name : List.of("Quay", "Glass", "Dig")) {
        groups.add(rig.client.devices().addGroup(new NewGroup().name(name)));
      }
      for (int i = 0; i < DEVICES; i++) {
        String serial =
            rig.join(rig.unpackAutomatic("T10"), invitation.getLink()).screen().serial();
        String id =
            rig.client
                .devices()
                .listDevices(serial, null, null, null, null, null, null, null, null, null, 1)
                .getItems()
                .get(0)
                .getId();
        List<Target> targets = new ArrayList<>();
        targets.add(new Target(Kind.EVERYONE, ""));
        targets.add(new Target(Kind.DEVICE, id));
        List<String> tags = random.nextBoolean() ? List.of("red") : List.of("blue", "red");
        rig.client.devices().tagDevice(id, new TagList().tags(tags));
        tags.forEach(t -> targets.add(new Target(Kind.TAG, t)));
        for (Group g : groups) {
          if (random.nextInt(3) == 0) {
            rig.client.devices().changeGroupMembers(g.getId(), new GroupMembers().add(List.of(id)));
            targets.add(new Target(Kind.GROUP, g.getId()));
          }
        }
        standsFor.put(id, targets);
      }
      List<Target> all =
          standsFor.values().stream().flatMap(List::stream).distinct().collect(Collectors.toList());
      Map<String, Assignment> published = new HashMap<>();
      for (int n = 0; n < 8; n++) {
        Assignment a =
            new Assignment(pick(all, random, 2), pick(all.subList(1, all.size()), random, 1));
        Profile p =
            rig.client
                .rules()
                .addProfile(
                    new ProfileDraft()
                        .name("Profile " + n)
                        .settings(Map.of("appearance.brightness", 20 + n))
                        .targets(specs(a.targets()))
                        .exclusions(specs(a.exclusions())));
        published.put(p.getId(), a);
        Rehearsal rehearsal = rig.client.rules().rehearseProfile(p.getId());
        long changing = desk.publish(p).getChange().getTotal();
        assertThat(changing)
            .as("a rehearsal and the change agree")
            .isEqualTo(rehearsal.getChanging());
        for (Map.Entry<String, List<Target>> d : standsFor.entrySet()) {
          assertThat(layers(rig, d.getKey()))
              .as("after profile " + n)
              .isEqualTo(expected(published, d.getValue()));
        }
      }
      for (Group g : groups) {
        List<String> members =
            standsFor.entrySet().stream()
                .filter(d -> d.getValue().contains(new Target(Kind.GROUP, g.getId())))
                .map(Map.Entry::getKey)
                .toList();
        rig.client.devices().changeGroupMembers(g.getId(), new GroupMembers().remove(members));
        standsFor.values().forEach(t -> t.remove(new Target(Kind.GROUP, g.getId())));
      }
      for (Map.Entry<String, List<Target>> d : standsFor.entrySet()) {
        assertThat(layers(rig, d.getKey()))
            .as("after leaving every group")
            .isEqualTo(expected(published, d.getValue()));
      }
    }
  }

  private static List<Target> pick(List<Target> from, Random random, int most) {
    List<Target> out = new ArrayList<>();
    for (int i = random.nextInt(most + 1); i >= 0; i--) {
      out.add(from.get(random.nextInt(from.size())));
    }
    return out.stream().distinct().toList();
  }

  private static List<TargetSpec> specs(List<Target> targets) {
    return targets.stream()
        .map(
            t ->
                new TargetSpec()
                    .kind(TargetSpec.KindEnum.fromValue(t.kind().name().toLowerCase(Locale.ROOT)))
                    .ref(t.ref()))
        .toList();
  }

  private static Map<String, Integer> layers(Rig rig, String device) throws Exception {
    String text =
        Sql.text(
            rig,
            "select layers from shape s join device d on d.shape_key = s.key where d.id = '"
                + device
                + "'");
    Map<String, Integer> out = new TreeMap<>();
    for (String layer : text == null || text.isEmpty() ? new String[0] : text.split(",")) {
      String[] parts = layer.split(":");
      out.put(parts[0], Integer.parseInt(parts[2]));
    }
    return out;
  }

  private static Map<String, Integer> expected(
      Map<String, Assignment> published, List<Target> standsFor) {
    Map<String, Integer> out = new TreeMap<>();
    published.forEach(
        (profile, assignment) -> {
          OptionalInt nearness = assignment.reaches(standsFor);
          nearness.ifPresent(n -> out.put(profile, n));
        });
    return out;
  }
}
