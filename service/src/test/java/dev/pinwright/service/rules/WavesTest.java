package dev.pinwright.service.rules;

import static dev.pinwright.service.Node.FIRST;
import static dev.pinwright.service.Node.OWNER;
import static dev.pinwright.service.Node.READER;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.pinwright.core.change.Confirmation;
import dev.pinwright.core.change.WaveVerb;
import dev.pinwright.service.Node;
import dev.pinwright.service.change.Changes;
import dev.pinwright.service.device.Groups;
import dev.pinwright.service.work.Json;
import dev.pinwright.service.work.Page;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** A publication spreads wave by wave, stops by itself, goes on or is taken back. */
class WavesTest {
  private static final int DEVICES = 12;
  private Node node;
  private Waves waves;
  private String code;
  private final List<String> devices = new ArrayList<>();
  private Profiles.Detail profile;

  @BeforeEach
  void start() {
    node = new Node();
    waves = node.pinwright.waves();
    code = node.kiosks(40);
    for (int i = 0; i < DEVICES; i++) {
      devices.add(node.join(code, "AR10-%04d".formatted(i)));
    }
    profile =
        node.draft(
            "{\"name\":\"Dim\",\"settings\":{\"appearance.brightness\":20},"
                + "\"targets\":[{\"kind\":\"tag\",\"ref\":\"gallery\"}]}");
    node.publish(profile);
    settle();
  }

  @AfterEach
  void stop() {
    node.close();
  }

  private void settle() {
    node.sql("update device_state set reported_digest = desired_digest, standing = 'settled'");
  }

  private Profiles.Detail brighter(int brightness) {
    Profiles.Detail now = node.pinwright.profiles().get(OWNER, profile.id());
    return node.pinwright
        .profiles()
        .change(
            OWNER,
            now.id(),
            now.version(),
            Json.request(
                "{\"settings\":{\"appearance.brightness\":%d}}".formatted(brightness),
                Profiles.Draft.class));
  }

  private void spread(Profiles.Detail draft, String plan) {
    node.pinwright
        .publishing()
        .publish(
            OWNER,
            draft.id(),
            draft.version(),
            Confirmation.NONE,
            Optional.of(Json.request(plan, Waves.Spec.class)));
  }

  private static final String PLAN =
      "{\"steps\":[{\"devices\":3},{\"share\":50}],\"hold\":60,\"bound\":20}";

  private long with(int brightness) {
    return devices.stream()
        .filter(
            d ->
                node.pinwright.devices().settings(READER, d).inEffect().stream()
                    .anyMatch(s -> s.value().asInt() == brightness))
        .count();
  }

  private Waves.Shown shown() {
    return waves.get(READER, profile.id()).orElseThrow();
  }

  private void pass(int minutes) {
    node.clock.pass(Duration.ofMinutes(minutes));
    waves.follow();
  }

  private List<String> changes() {
    return node.pinwright.changes().page(OWNER, FIRST).items().stream()
        .map(Changes.Change::title)
        .toList();
  }

  @Test
  void itReachesMoreAndMoreAndAtLastAll() {
    spread(brighter(50), PLAN);
    long first = with(50);
    assertThat(first).isBetween(1L, 8L);
    assertThat(with(20)).isEqualTo(DEVICES - first);
    assertThat(shown().waves())
        .extracting(Waves.Step::words, Waves.Step::begun)
        .containsExactly(
            org.assertj.core.groups.Tuple.tuple("about 3 devices", true),
            org.assertj.core.groups.Tuple.tuple("50 %", false),
            org.assertj.core.groups.Tuple.tuple("everybody", false));
    assertThat(changes()).first().isEqualTo("Publish Dim, version 2: wave 1 of 3");
    assertThat(devices)
        .as("since when a device stands as it does")
        .allSatisfy(
            d ->
                assertThat(node.pinwright.devices().get(READER, d).standingSince())
                    .isBeforeOrEqualTo(node.clock.instant()));
    pass(59);
    assertThat(shown().at()).as("held an hour").isZero();
    pass(2);
    assertThat(shown().at()).as("nobody was heard of").isZero();
    settle();
    pass(1);
    assertThat(shown().at()).isEqualTo(1);
    long second = with(50);
    assertThat(second).isBetween(Math.max(first, 2L), 11L);
    String late = node.join(code, "AR10-0900");
    assertThat(node.pinwright.devices().settings(READER, late).inEffect()).hasSize(1);
    settle();
    pass(61);
    assertThat(waves.get(READER, profile.id())).as("it went to everybody").isEmpty();
    assertThat(with(50)).isEqualTo(DEVICES);
    assertThat(changes()).first().isEqualTo("Publish Dim, version 2: wave 3 of 3");
  }

  @Test
  void itStopsByItselfWhenTooManyFailAndSaysSo() {
    spread(brighter(50), PLAN);
    String moved = " where desired_digest <> reported_digest";
    node.sql(
        "update device_state set standing = 'blocked',"
            + " refused = './Vendor/Pinwright/Policy/documents/rules/file=12'"
            + moved);
    pass(0);
    assertThat(shown().stopped()).as("who turned down something else").isFalse();
    node.sql(
        "update device_state set refused = './Vendor/Pinwright/Policy/appearance/brightness=12'"
            + moved);
    pass(0);
    assertThat(shown().stopped()).isTrue();
    assertThat(shown().reason()).endsWith("devices failed");
    long reached = with(50);
    settle();
    pass(600);
    assertThat(with(50)).as("it waits for somebody").isEqualTo(reached);
    node.pinwright.notices().lookAround();
    assertThat(node.pinwright.notices().page(OWNER, new Page.Request("", 9)).items())
        .extracting(n -> n.title())
        .containsExactly("The waves of Dim stopped");
    waves.act(OWNER, profile.id(), WaveVerb.GO_ON, 0);
    waves.follow();
    assertThat(shown().at()).isEqualTo(1);
    node.pinwright.notices().lookAround();
    assertThat(node.pinwright.notices().page(OWNER, new Page.Request("", 9)).items()).isEmpty();
  }

  @Test
  void somebodyStopsItOrGoesOnAtOnceWhereTheySawIt() {
    spread(brighter(50), PLAN);
    assertThat(waves.act(OWNER, profile.id(), WaveVerb.STOP, 0).orElseThrow().reason())
        .isEqualTo("Stopped by owner");
    settle();
    pass(600);
    assertThat(shown().at()).isZero();
    assertThat(waves.act(OWNER, profile.id(), WaveVerb.NEXT, 0).orElseThrow().at()).isEqualTo(1);
    assertThatThrownBy(() -> waves.act(OWNER, profile.id(), WaveVerb.NEXT, 0))
        .hasMessageContaining("It is at wave 2 by now");
    assertThat(waves.act(OWNER, profile.id(), WaveVerb.NEXT, 1)).isEmpty();
    assertThat(with(50)).isEqualTo(DEVICES);
    assertThatThrownBy(() -> waves.act(OWNER, profile.id(), WaveVerb.NEXT, 2))
        .hasMessageContaining("wave of profile");
  }

  @Test
  void theFirstWaveReachesSomebodyHoweverFewItIsOf() {
    for (int round = 0; round < 8; round++) {
      int brightness = 30 + round;
      spread(brighter(brightness), "{\"steps\":[{\"devices\":1}],\"hold\":0}");
      assertThat(with(brightness)).as("round " + round).isBetween(1L, DEVICES - 1L);
      settle();
      pass(1);
    }
  }

  @Test
  void itIsTakenBackFromWhomItHasReached() {
    spread(brighter(50), PLAN);
    assertThat(with(50)).isPositive();
    String change = node.pinwright.changes().page(OWNER, FIRST).items().get(0).id();
    node.pinwright.undo().undo(OWNER, change, Confirmation.NONE);
    assertThat(with(20)).isEqualTo(DEVICES);
    assertThat(waves.get(READER, profile.id())).isEmpty();
  }

  @Test
  void aFirstVersionSpreadsByAGroupAndWhoeverIsNotInItHasNothing() {
    String group = node.pinwright.groups().add(OWNER, Groups.Draft.picked("Brave")).id();
    node.pinwright
        .groups()
        .members(OWNER, group, Groups.Members.of(devices.subList(0, 4), List.of()));
    Profiles.Detail quiet =
        node.draft(
            "{\"name\":\"Quiet\",\"settings\":{\"passcode.min-length\":6},"
                + "\"targets\":[{\"kind\":\"everyone\"}]}");
    spread(quiet, "{\"steps\":[{\"group\":\"%s\"}],\"hold\":0}".formatted(group));
    assertThat(with(6)).isEqualTo(4);
    assertThatThrownBy(() -> node.pinwright.groups().delete(OWNER, group))
        .hasMessageContaining("the waves of Quiet");
    node.pinwright
        .groups()
        .members(OWNER, group, Groups.Members.of(devices.subList(4, 5), List.of()));
    assertThat(with(6)).as("who comes into the group is reached").isEqualTo(5);
    settle();
    pass(1);
    assertThat(with(6)).isEqualTo(DEVICES);
  }

  @Test
  void whatCannotSpreadIsRefusedInWords() {
    Profiles.Detail draft = brighter(50);
    assertThatThrownBy(() -> spread(draft, "{}")).hasMessageContaining("1 to 10 steps");
    assertThatThrownBy(() -> spread(draft, "{\"steps\":[{}]}"))
        .hasMessageContaining("one of the three");
    assertThatThrownBy(() -> spread(draft, "{\"steps\":[{\"group\":\"nowhere\"}]}"))
        .hasMessageContaining("nowhere");
    Profiles.Detail now = node.pinwright.profiles().get(OWNER, profile.id());
    Profiles.Detail elsewhere =
        node.pinwright
            .profiles()
            .change(
                OWNER,
                now.id(),
                now.version(),
                Json.request("{\"targets\":[{\"kind\":\"everyone\"}]}", Profiles.Draft.class));
    assertThatThrownBy(() -> spread(elsewhere, PLAN)).hasMessageContaining("Publish that first");
    Profiles.Detail kit =
        node.draft("{\"kind\":\"kit\",\"name\":\"Kit\",\"targets\":[{\"kind\":\"everyone\"}]}");
    assertThatThrownBy(() -> spread(kit, PLAN)).hasMessageContaining("A kit goes to all at once");
    Profiles.Detail back =
        node.pinwright
            .profiles()
            .change(
                OWNER,
                elsewhere.id(),
                elsewhere.version(),
                Json.request(
                    "{\"targets\":[{\"kind\":\"tag\",\"ref\":\"gallery\"}]}",
                    Profiles.Draft.class));
    spread(back, PLAN);
    assertThatThrownBy(() -> spread(brighter(70), PLAN)).hasMessageContaining("still spreads");
    node.publish(node.pinwright.profiles().get(OWNER, profile.id()));
    assertThat(with(70)).as("to all at once ends the waves").isEqualTo(DEVICES);
    assertThat(waves.get(READER, profile.id())).isEmpty();
  }
}
