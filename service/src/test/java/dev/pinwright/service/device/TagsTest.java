package dev.pinwright.service.device;

import static dev.pinwright.service.Node.FIRST;
import static dev.pinwright.service.Node.OWNER;
import static dev.pinwright.service.Node.READER;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.pinwright.service.Node;
import dev.pinwright.service.enrollment.EnrollmentProfiles;
import dev.pinwright.service.roster.Roster;
import dev.pinwright.service.rules.Profiles;
import dev.pinwright.service.work.Json;
import dev.pinwright.service.work.Problem;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

class TagsTest {
  private Node node;
  private Tags tags;
  private String device;
  private String other;

  @BeforeEach
  void start() {
    node = new Node();
    tags = node.pinwright.tags();
    String code = node.kiosks(2);
    device = node.join(code, "AR10-0001");
    other = node.join(code, "AR10-0002");
  }

  @AfterEach
  void stop() {
    node.close();
  }

  private List<String> on(String id) {
    return node.pinwright.devices().get(READER, id).device().tags();
  }

  private void tag(String id, String... given) {
    node.pinwright.devices().tag(OWNER, id, node.version(id), List.of(given));
  }

  private Profiles.Detail assigned(String name, String tag) {
    Profiles.Detail draft =
        node.draft(
            "{\"name\":\"%s\",\"settings\":{\"passcode.min-length\":6},\"targets\":[{\"kind\":\"tag\",\"ref\":\"%s\"}]}"
                .formatted(name, tag));
    node.publish(draft);
    return draft;
  }

  private List<String> inEffect(String id) {
    return node.pinwright.devices().settings(READER, id).inEffect().stream()
        .map(s -> s.setting() + "=" + s.value())
        .toList();
  }

  private EnrollmentProfiles.Shown kiosks() {
    return node.pinwright.enrollmentProfiles().page(READER, FIRST).items().get(0);
  }

  private void expect(String serial, String... given) {
    node.pinwright
        .roster()
        .add(
            OWNER,
            Json.request(
                Json.write(Map.of("serial", serial, "tags", List.of(given))), Roster.Draft.class));
  }

  @Test
  void tagsAreCountedOverDevicesProfilesAndTheRoster() {
    tag(other, "quay");
    expect("AR10-0042-7731", "spare");
    assertThat(tags.counts(READER))
        .containsExactly(Map.entry("gallery", 1L), Map.entry("quay", 1L), Map.entry("spare", 0L));
    node.pinwright.devices().retire(OWNER, other, "dropped");
    assertThat(tags.counts(READER)).containsEntry("quay", 0L);
  }

  @Test
  void aNewNameIsTakenWhereverTheTagStandsAndDevicesKeepTheirSettings() {
    expect("AR10-0042-7731", "gallery", "spare");
    Profiles.Detail profile = assigned("Kiosk", "gallery");
    assertThat(inEffect(device)).containsExactly("passcode.min-length=6");

    tags.rename(OWNER, "gallery", " exhibition ");

    assertThat(on(device)).containsExactly("exhibition");
    assertThat(kiosks().tags()).containsExactly("exhibition");
    assertThat(node.pinwright.roster().page(READER, Roster.Filter.ALL, FIRST).items().get(0).tags())
        .containsExactly("exhibition", "spare");
    assertThat(inEffect(device)).containsExactly("passcode.min-length=6");
    assertThat(node.pinwright.profiles().get(READER, profile.id()).targets())
        .singleElement()
        .satisfies(t -> assertThat(t.ref()).isEqualTo("exhibition"));
    assertThatThrownBy(
            () ->
                node.pinwright
                    .publishing()
                    .publish(
                        OWNER,
                        profile.id(),
                        node.pinwright.profiles().get(READER, profile.id()).version(),
                        dev.pinwright.core.change.Confirmation.NONE))
        .as("a renamed tag is no change of the draft")
        .hasMessageContaining("published version already");
    tag(device);
    assertThat(inEffect(device)).as("the profile follows the new name").isEmpty();
  }

  @Test
  void twoTagsBecomeOneUnlessSettingsWouldChange() {
    tag(device, "gallery", "quay");
    tag(other, "quay");
    tags.rename(OWNER, "quay", "gallery");
    assertThat(on(device)).containsExactly("gallery");
    assertThat(on(other)).containsExactly("gallery");

    tag(other, "quay");
    assigned("Kiosk", "gallery");
    assertThatThrownBy(() -> tags.rename(OWNER, "quay", "gallery"))
        .isInstanceOfSatisfying(Problem.class, p -> assertThat(p.status()).isEqualTo(409))
        .hasMessageContaining("assigned or groups made by one of the two: Kiosk");
    assertThat(on(other)).containsExactly("quay");
  }

  @Test
  void aNameNoDeviceHasButAProfileIsAssignedByIsNotTakenUnseen() {
    tag(other, "quay");
    assigned("Quay rules", "pier");
    assertThatThrownBy(() -> tags.rename(OWNER, "quay", "pier")).hasMessageContaining("Quay rules");
    assertThat(inEffect(other)).isEmpty();
  }

  @Test
  void aTagIsTakenAwayEverywhereUnlessAProfileIsAssignedByIt() {
    expect("AR10-0042-7731", "gallery");
    tags.remove(OWNER, "gallery");
    assertThat(on(device)).isEmpty();
    assertThat(kiosks().tags()).isEmpty();
    assertThat(tags.counts(READER)).isEmpty();
    assertThatThrownBy(() -> tags.remove(OWNER, "gallery"))
        .isInstanceOfSatisfying(Problem.class, p -> assertThat(p.status()).isEqualTo(404));

    tag(device, "quay");
    assigned("Quay rules", "quay");
    assertThatThrownBy(() -> tags.remove(OWNER, "quay"))
        .hasMessageContaining("Quay rules")
        .hasMessageContaining("Take it out of them first");
  }

  @ParameterizedTest
  @ValueSource(strings = {"", " ", "a;b", "a\"b", "01234567890123456789012345678901234567890"})
  void whatCannotBeATagIsRefused(String name) {
    assertThatThrownBy(() -> tags.rename(OWNER, "gallery", name))
        .isInstanceOfSatisfying(Problem.class, p -> assertThat(p.status()).isEqualTo(400))
        .hasMessageContaining("1 to 40");
    assertThatThrownBy(() -> tags.remove(OWNER, name)).isInstanceOf(Problem.class);
  }
}
