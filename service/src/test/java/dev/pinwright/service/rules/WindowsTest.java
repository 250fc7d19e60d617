package dev.pinwright.service.rules;

import static dev.pinwright.service.Node.FIRST;
import static dev.pinwright.service.Node.OWNER;
import static dev.pinwright.service.Node.READER;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.pinwright.core.change.Rehearsal;
import dev.pinwright.core.policy.ProfileKind;
import dev.pinwright.service.Node;
import dev.pinwright.service.change.Changes;
import dev.pinwright.service.work.Json;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** A profile reaches whom it is assigned to from one moment until another. */
class WindowsTest {
  private Node node;
  private String code;
  private String device;

  @BeforeEach
  void start() {
    node = new Node();
    code = node.kiosks(5);
    device = node.join(code, "AR10-0001");
  }

  @AfterEach
  void stop() {
    node.close();
  }

  private Instant in(int hours) {
    return node.clock.instant().plus(Duration.ofHours(hours));
  }

  private Profiles.Detail draft(String window) {
    return node.draft(
        "{\"name\":\"Night\",\"settings\":{\"appearance.brightness\":20},"
            + "\"targets\":[{\"kind\":\"tag\",\"ref\":\"gallery\"}],\"window\":"
            + window
            + "}");
  }

  private String inEffect() {
    return node.pinwright.devices().settings(READER, device).inEffect().stream()
        .map(s -> s.setting() + "=" + s.value())
        .toList()
        .toString();
  }

  private List<String> changes() {
    return node.pinwright.changes().page(OWNER, FIRST).items().stream()
        .map(Changes.Change::title)
        .toList();
  }

  private void pass(int hours) {
    node.clock.pass(Duration.ofHours(hours));
    node.pinwright.publishing().followWindows();
  }

  @Test
  void itBeginsAndEndsByItselfEachAsAChange() {
    Profiles.Detail night = draft("{\"from\":\"%s\",\"until\":\"%s\"}".formatted(in(2), in(10)));
    Rehearsal r = node.pinwright.publishing().rehearse(OWNER, night.id());
    assertThat(r.gain()).as("what it will do once it begins").isEqualTo(1);
    assertThat(r.begins()).contains(in(2));
    assertThat(node.publish(night).change().total()).isZero();
    assertThat(inEffect()).isEqualTo("[]");
    pass(1);
    assertThat(inEffect()).as("an hour early").isEqualTo("[]");
    pass(1);
    assertThat(inEffect()).isEqualTo("[appearance.brightness=20]");
    assertThat(changes()).first().isEqualTo("Night begins");
    pass(7);
    assertThat(changes()).as("nothing happens in between").hasSize(2);
    node.join(code, "AR10-0002");
    pass(1);
    assertThat(inEffect()).isEqualTo("[]");
    assertThat(changes()).first().isEqualTo("Night ends");
    assertThat(node.pinwright.changes().page(OWNER, FIRST).items().get(0).total()).isEqualTo(2);
    pass(100);
    assertThat(changes()).hasSize(3);
  }

  @Test
  void whoeverComesBeforeItBeginsOrAfterItEndedDoesNotGetIt() {
    node.publish(draft("{\"from\":\"%s\"}".formatted(in(2))));
    device = node.join(code, "AR10-0002");
    assertThat(inEffect()).isEqualTo("[]");
    assertThat(
            node.pinwright
                .profiles()
                .get(
                    OWNER,
                    node.pinwright
                        .profiles()
                        .page(OWNER, ProfileKind.PROFILE, "Night", FIRST)
                        .items()
                        .get(0)
                        .id())
                .window()
                .from())
        .contains(in(2));
    pass(3);
    assertThat(inEffect()).isEqualTo("[appearance.brightness=20]");
    device = node.join(code, "AR10-0003");
    assertThat(inEffect()).isEqualTo("[appearance.brightness=20]");
  }

  @Test
  void oneInForceThatIsToBeginLaterIsRehearsedAsWhatItDoesNow() {
    Profiles.Detail night = draft("{}");
    node.publish(night);
    assertThat(inEffect()).isEqualTo("[appearance.brightness=20]");
    Profiles.Detail now = node.pinwright.profiles().get(OWNER, night.id());
    Profiles.Detail later =
        node.pinwright
            .profiles()
            .change(
                OWNER,
                now.id(),
                now.version(),
                Json.request(
                    "{\"window\":{\"from\":\"%s\"}}".formatted(in(5)), Profiles.Draft.class));
    assertThat(later.draftChanged()).isTrue();
    assertThat(node.pinwright.publishing().rehearse(OWNER, night.id()).lose()).isEqualTo(1);
    node.publish(later);
    assertThat(inEffect()).isEqualTo("[]");
    pass(6);
    assertThat(inEffect()).isEqualTo("[appearance.brightness=20]");
    assertThat(node.pinwright.publishing().versions(OWNER, night.id(), FIRST).items())
        .extracting(v -> v.window().from().isPresent())
        .containsExactly(true, false);
  }

  @Test
  void anEndBeforeTheBeginningIsRefused() {
    assertThatThrownBy(() -> draft("{\"from\":\"%s\",\"until\":\"%s\"}".formatted(in(5), in(2))))
        .hasMessageContaining("end has to come after the beginning");
    assertThatThrownBy(() -> draft("{\"from\":\"tomorrow\"}")).isInstanceOf(RuntimeException.class);
  }

  @Test
  void whoHasItIsCountedByHowTheyStand() {
    Profiles.Detail night = draft("{\"from\":\"%s\"}".formatted(in(2)));
    node.publish(night);
    assertThat(node.pinwright.profiles().standing(OWNER, night.id()).inForce()).isFalse();
    assertThat(node.pinwright.profiles().standing(OWNER, night.id()).standings()).isEmpty();
    pass(3);
    node.join(code, "AR10-0002");
    node.sql("update device_state set standing = 'blocked' where device_id = '" + device + "'");
    node.sql(
        "insert into refusal values ('"
            + device
            + "',"
            + " './Vendor/Pinwright/Policy/appearance/brightness', 'int', 'x', 405, 'cannot', now()),"
            + " ('"
            + device
            + "', './Vendor/Pinwright/Policy/passcode/min-length', 'int', 'y', 405,"
            + " 'cannot', now())");
    Profiles.Standing s = node.pinwright.profiles().standing(OWNER, night.id());
    assertThat(s.inForce()).isTrue();
    assertThat(s.standings()).containsEntry("blocked", 1L).hasSize(2);
    assertThat(s.withheld())
        .as("what another profile says is not of this one")
        .containsExactly(
            new Profiles.Withheld("appearance.brightness", "Screen brightness", "cannot", 1));
  }

  @Test
  void oneThatIsOverReachesNobody() {
    Profiles.Detail past = draft("{\"until\":\"%s\"}".formatted(in(-1)));
    assertThat(node.pinwright.publishing().rehearse(OWNER, past.id()).changing()).isZero();
    node.publish(past);
    assertThat(inEffect()).isEqualTo("[]");
  }
}
