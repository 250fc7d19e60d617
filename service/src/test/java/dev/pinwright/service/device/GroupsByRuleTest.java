package dev.pinwright.service.device;

import static dev.pinwright.service.Node.OWNER;
import static dev.pinwright.service.Node.READER;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.pinwright.core.group.DeviceGroup;
import dev.pinwright.core.organisation.Unit;
import dev.pinwright.service.Node;
import dev.pinwright.service.device.Groups.Draft;
import dev.pinwright.service.group.Membership;
import dev.pinwright.service.organisation.Attributes;
import dev.pinwright.service.organisation.Sites;
import dev.pinwright.service.organisation.Units;
import dev.pinwright.service.work.Json;
import dev.pinwright.service.work.Problem;
import java.time.Clock;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Random;
import org.assertj.core.api.InstanceOfAssertFactories;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** Who is in a group by a rule follows from what is so, whatever changes it. */
class GroupsByRuleTest {
  private Node node;
  private Groups groups;
  private String device;

  @BeforeEach
  void start() {
    node = new Node();
    groups = node.pinwright.groups();
    device = node.join(node.kiosks(3), "AR10-0001");
  }

  @AfterEach
  void stop() {
    node.close();
  }

  private DeviceGroup byRule(String name, String rule) {
    return groups.add(OWNER, Draft.byRule(name, rule));
  }

  private List<String> in() {
    return node.pinwright.devices().get(READER, device).groups().stream()
        .map(DeviceGroup.Inner::name)
        .toList();
  }

  private Draft around(String name, String... inside) {
    return new Draft(
        name, Optional.empty(), Optional.of(List.of(inside)), Optional.empty(), Optional.empty());
  }

  private String inEffect() {
    return node.pinwright.devices().settings(READER, device).inEffect().stream()
        .map(s -> s.setting() + "=" + s.value())
        .toList()
        .toString();
  }

  private void tag(String... tags) {
    node.pinwright.devices().tag(OWNER, device, node.version(device), List.of(tags));
  }

  private void place(String unit, String site) {
    node.pinwright
        .devices()
        .place(OWNER, device, node.version(device), new Devices.Placement(unit, site, null));
  }

  @Test
  void membersAndTheirSettingsFollowTagsPlacesNamesAndAttributes() {
    Unit har = node.pinwright.units().add(OWNER, new Units.Draft("VM-HAR", "Harbour", null));
    Unit gla = node.pinwright.units().add(OWNER, new Units.Draft("VM-GLA", "Glasshouse", null));
    node.pinwright
        .attributes()
        .add(
            OWNER,
            Json.request(
                "{\"name\":\"Shelf\",\"kind\":\"device\",\"type\":\"number\"}",
                Attributes.Draft.class));
    DeviceGroup spare = byRule("Spare", "tag has spare");
    byRule("Harbour", "unit in VM-HAR");
    byRule("High", "attribute Shelf > 3");
    byRule("Quay", "name is quay");
    node.publish(
        node.draft(
            "{\"name\":\"P\",\"settings\":{\"passcode.min-length\":6},\"targets\":"
                + "[{\"kind\":\"group\",\"ref\":\""
                + spare.id()
                + "\"}]}"));
    assertThat(in()).isEmpty();

    tag("spare");
    assertThat(in()).containsExactly("Spare");
    assertThat(inEffect()).isEqualTo("[passcode.min-length=6]");
    place(har.id(), null);
    node.pinwright.attributes().set(OWNER, "device", device, Map.of("Shelf", "4"));
    node.pinwright.devices().rename(OWNER, device, node.version(device), "quay");
    assertThat(in()).containsExactly("Harbour", "High", "Quay", "Spare");

    tag();
    place(gla.id(), null);
    node.pinwright.attributes().set(OWNER, "device", device, Map.of("Shelf", "2"));
    node.pinwright.devices().rename(OWNER, device, node.version(device), "ridge");
    assertThat(in()).isEmpty();
    assertThat(inEffect()).isEqualTo("[]");
    assertThat(node.pinwright.devices().activity(READER, device, Node.FIRST).items())
        .extracting("text")
        .contains("Came into the group Spare", "Left the group Spare");

    node.pinwright
        .units()
        .move(
            OWNER,
            gla.id(),
            gla.version(),
            new Units.Move(har.id(), Optional.empty(), Optional.empty()));
    assertThat(in()).as("its unit was moved below the harbour").containsExactly("Harbour");
    node.pinwright.devices().retire(OWNER, device, "broken");
    assertThat(groups.page(READER, "", Node.FIRST).items()).extracting("devices").containsOnly(0L);
  }

  @Test
  void aRehearsalSaysWhoComesAndGoesAndAChangeDoesExactlyThat() {
    String other = node.join(node.invite("{\"name\":\"Plain\"}", 2), "AR10-0002");
    DeviceGroup gallery = byRule("Gallery", "tag has gallery");
    node.publish(
        node.draft(
            "{\"name\":\"P\",\"settings\":{\"passcode.min-length\":6},\"targets\":"
                + "[{\"kind\":\"group\",\"ref\":\""
                + gallery.id()
                + "\"}]}"));
    Draft turned = Draft.byRule("Gallery", "not tag has gallery");
    Groups.Rehearsed r = groups.rehearse(OWNER, Optional.of(gallery.id()), turned);
    assertThat(r.entering()).isEqualTo(1);
    assertThat(r.leaving()).isEqualTo(1);
    assertThat(r.settings().orElseThrow().changing()).isEqualTo(2);
    assertThat(in()).as("a rehearsal keeps nothing").containsExactly("Gallery");

    assertThatThrownBy(() -> groups.change(OWNER, gallery.id(), gallery.version() + 1, turned))
        .isInstanceOf(Problem.class);
    DeviceGroup now = groups.change(OWNER, gallery.id(), gallery.version(), turned);
    assertThat(now.rule()).contains("not tag has gallery");
    assertThat(in()).isEmpty();
    assertThat(inEffect()).isEqualTo("[]");
    assertThat(node.pinwright.devices().settings(READER, other).inEffect()).hasSize(1);

    DeviceGroup picked = groups.change(OWNER, now.id(), now.version(), Draft.picked("Gallery"));
    assertThat(picked.devices()).isZero();
    groups.members(OWNER, picked.id(), Groups.Members.of(List.of(device), List.of()));
    assertThat(in()).containsExactly("Gallery");
  }

  @Test
  void groupsLieInsideGroupsButNotInACircle() {
    DeviceGroup picked = groups.add(OWNER, Draft.picked("Picked"));
    DeviceGroup gallery = byRule("Gallery", "tag has gallery");
    DeviceGroup all = groups.add(OWNER, around("All", picked.id(), gallery.id()));
    DeviceGroup rest = byRule("Rest", "not group has All");
    assertThat(in()).containsExactly("All", "Gallery");
    assertThat(all.inside()).extracting("name").containsExactly("Gallery", "Picked");

    tag("none");
    assertThat(in()).containsExactly("Rest");
    groups.members(OWNER, picked.id(), Groups.Members.of(List.of(device), List.of()));
    assertThat(in()).containsExactly("All", "Picked");

    assertThatThrownBy(
            () ->
                groups.change(
                    OWNER,
                    gallery.id(),
                    gallery.version(),
                    Draft.byRule("Gallery", "group has Rest")))
        .hasMessageContaining("A group cannot follow from itself")
        .asInstanceOf(InstanceOfAssertFactories.type(Problem.class))
        .satisfies(p -> assertThat(p.status()).isEqualTo(409))
        .satisfies(
            p ->
                assertThat(p.extras().get("circle").toString()).contains("All", "Rest", "Gallery"));
    assertThatThrownBy(
            () -> groups.members(OWNER, rest.id(), Groups.Members.of(List.of(device), List.of())))
        .hasMessageContaining("follows from its rule");
    assertThatThrownBy(() -> groups.delete(OWNER, all.id())).hasMessageContaining("Rest");
    groups.delete(OWNER, rest.id());
    groups.delete(OWNER, all.id());
    assertThat(in()).containsExactly("Picked");
  }

  @Test
  void timeMovesDevicesToo() {
    node.sql("update device_state set last_seen = '" + node.clock.instant() + "'");
    byRule("Heard", "seen within 7 days");
    DeviceGroup quiet = byRule("Quiet", "not seen within 7 days");
    assertThat(in()).containsExactly("Heard");
    node.clock.pass(Duration.ofDays(8));
    groups.followTime();
    assertThat(in()).containsExactly("Quiet");
    assertThat(groups.get(READER, quiet.id()).devices()).isEqualTo(1);
  }

  @Test
  void whatARuleNamesStaysAndMayGetAnotherName() {
    var quay =
        node.pinwright
            .sites()
            .add(OWNER, Json.request("{\"name\":\"Norhaven quay\"}", Sites.Draft.class));
    place(null, quay.id());
    DeviceGroup g = byRule("Quay", "site is \"norhaven quay\" and tag has gallery");
    node.pinwright.tags().rename(OWNER, "gallery", "rooms");
    node.pinwright
        .sites()
        .change(
            OWNER,
            quay.id(),
            quay.version(),
            Json.request("{\"name\":\"Pier\"}", Sites.Draft.class));
    assertThat(groups.get(READER, g.id()).rule()).contains("site is Pier and tag has rooms");
    tag("rooms", "new");
    assertThat(in()).containsExactly("Quay");
    assertThatThrownBy(() -> node.pinwright.sites().delete(OWNER, quay.id(), quay.version() + 1))
        .hasMessageContaining("1 rule of a group");
    assertThatThrownBy(() -> node.pinwright.tags().remove(OWNER, "rooms"))
        .hasMessageContaining("Quay");
    assertThatThrownBy(() -> node.pinwright.tags().rename(OWNER, "new", "rooms"))
        .hasMessageContaining("Quay");
    assertThatThrownBy(() -> node.invite("{\"name\":\"Into\",\"groups\":[\"" + g.id() + "\"]}", 1))
        .hasMessageContaining("takes its devices by a rule");
  }

  @Test
  void aRuleThatIsNoneSaysWhere() {
    assertThatThrownBy(() -> byRule("Bad", "platform is tarn and site is Nowhere"))
        .asInstanceOf(InstanceOfAssertFactories.type(Problem.class))
        .satisfies(p -> assertThat(p.extras()).containsEntry("column", 30));
  }

  @Test
  void aRuleThatCannotBeReadAnyMoreKeepsItsDevices() {
    byRule("Gallery", "tag has gallery");
    node.sql("update device_group set rule = 'attribute gone is 3'");
    tag("none");
    groups.repair();
    assertThat(in()).containsExactly("Gallery");
  }

  @Test
  void aGroupThatWentAstrayIsPutRight() {
    byRule("Gallery", "tag has gallery");
    node.sql("delete from group_member");
    groups.repair();
    assertThat(in()).containsExactly("Gallery");
  }

  /** Few devices are decided here, many by statements: after either nothing is astray. */
  @Test
  void howeverManyChangeNothingGoesAstray() {
    long seed = System.nanoTime();
    Random random = new Random(seed);
    node.sql(
        "insert into device (id, name, platform, kind, maker, model, os_version, os_level, ownership,"
            + " mode, serial, enrolled_at) select 'D' || n, 'device ' || n,"
            + " case n % 2 when 0 then 'tarn' else 'fjell' end, 'tablet', 'Arbor', 'T10',"
            + " '7.' || n % 3, '7.0', 'corporate', 'supervised', 'S' || n, now()"
            + " from generate_series(1, 300) n");
    node.sql(
        "insert into device_state (device_id, desired_digest, standing)"
            + " select id, 'none', 'settled' from device where id like 'D%'");
    DeviceGroup picked = groups.add(OWNER, Draft.picked("Picked"));
    DeviceGroup old = byRule("Old", "os < 7.2 and tag has a");
    groups.add(OWNER, around("Both", picked.id(), old.id()));
    byRule("Neither", "not (group has Both or find 1) or tag has b");
    byRule("Tarn", "platform is tarn and not group has Neither");
    Membership membership = new Membership(Clock.systemUTC());
    for (int round = 0; round < 12; round++) {
      List<String> changed = new ArrayList<>();
      int many = round % 2 == 0 ? 40 : 260;
      for (int i = 0; i < many; i++) {
        changed.add("D" + (1 + random.nextInt(300)));
      }
      String[] ids = changed.toArray(String[]::new);
      String tag = random.nextBoolean() ? "a" : "b";
      boolean out = random.nextInt(3) == 0;
      node.sql(
          tx -> {
            tx.execute(
                out
                    ? "delete from device_tag where device_id = any(cast(:ids as text[]))"
                    : "insert into device_tag select distinct w, '"
                        + tag
                        + "' from unnest(cast(:ids as text[])) w on conflict do nothing",
                Map.of("ids", ids));
            tx.execute(
                "insert into group_pick select distinct '"
                    + picked.id()
                    + "', w from unnest((cast(:ids as text[]))[1:5]) w on conflict do nothing",
                Map.of("ids", ids));
            return membership.follow(tx, List.of(ids));
          });
      assertThat(node.sql(membership::astray)).as("seed %d, round %d", seed, round).isEmpty();
    }
    assertThat(groups.page(READER, "", Node.FIRST).items())
        .as("seed %d", seed)
        .allSatisfy(g -> assertThat(g.devices()).isBetween(1L, 299L));
  }
}
