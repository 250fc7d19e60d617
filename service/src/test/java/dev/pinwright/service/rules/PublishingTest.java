package dev.pinwright.service.rules;

import static dev.pinwright.service.Node.FIRST;
import static dev.pinwright.service.Node.OWNER;
import static dev.pinwright.service.Node.READER;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.pinwright.core.Words;
import dev.pinwright.core.change.Confirmation;
import dev.pinwright.core.change.Rehearsal;
import dev.pinwright.core.change.Thresholds;
import dev.pinwright.service.Node;
import dev.pinwright.service.change.Changes;
import dev.pinwright.service.work.Json;
import dev.pinwright.service.work.Page;
import dev.pinwright.service.work.Problem;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** From a draft over its rehearsal to devices that are told. */
class PublishingTest {
  private static final String LENGTH_6 =
      "{\"name\":\"Gallery\",\"settings\":{\"passcode.min-length\":6},"
          + "\"targets\":[{\"kind\":\"tag\",\"ref\":\"gallery\"}]}";
  private Node node;
  private String code;

  @BeforeEach
  void start() {
    node = new Node();
    code = node.kiosks(100);
  }

  @AfterEach
  void stop() {
    node.close();
  }

  private Publishing publishing() {
    return node.pinwright.publishing();
  }

  private Profiles profiles() {
    return node.pinwright.profiles();
  }

  private Profiles.Detail change(Profiles.Detail before, String json) {
    Profiles.Detail now = profiles().get(OWNER, before.id());
    return profiles()
        .change(OWNER, now.id(), now.version(), Json.request(json, Profiles.Draft.class));
  }

  private String standing(String device) {
    return Words.of(node.pinwright.devices().get(READER, device).device().standing());
  }

  @Test
  void whatIsRehearsedIsWhatIsDone() {
    for (int i = 0; i < 3; i++) {
      node.join(code, "AR10-000" + i);
    }
    Profiles.Detail draft = node.draft(LENGTH_6);
    Rehearsal rehearsal = publishing().rehearse(READER, draft.id());
    assertThat(rehearsal.gain()).isEqualTo(3);
    assertThat(rehearsal.effects()).hasSize(1);
    assertThat(rehearsal.effects().get(0).steps())
        .extracting(Rehearsal.Step::setting)
        .containsExactly("passcode.min-length");
    Publishing.Published published = node.publish(draft);
    assertThat(published.version()).isEqualTo(1);
    assertThat(published.change().total()).isEqualTo(rehearsal.changing());
  }

  @Test
  void aRehearsalChangesNothing() {
    String device = node.join(code, "AR10-0001");
    Profiles.Detail draft = node.draft(LENGTH_6);
    publishing().rehearse(READER, draft.id());
    assertThat(node.pinwright.devices().settings(READER, device).inEffect()).isEmpty();
    assertThat(profiles().get(READER, draft.id()).state()).isEqualTo("draft");
  }

  @Test
  void everyDeviceBehindAnEffectCanBeListed() {
    for (int i = 0; i < 12; i++) {
      node.join(code, "AR10-00%02d".formatted(i));
    }
    Profiles.Detail draft = node.draft(LENGTH_6);
    Rehearsal.Effect effect = publishing().rehearse(READER, draft.id()).effects().get(0);
    assertThat(effect.examples()).hasSize(5);
    List<String> names = new ArrayList<>();
    String after = "";
    do {
      Page<Rehearsal.Named> page =
          publishing().devices(READER, draft.id(), effect.id(), new Page.Request(after, 5));
      page.items().forEach(d -> names.add(d.name()));
      after = page.next().orElse("");
    } while (!after.isEmpty());
    assertThat(names).hasSize(12).doesNotHaveDuplicates().isSorted();
    assertThatThrownBy(() -> publishing().devices(READER, draft.id(), "0123456789abcdef", FIRST))
        .hasMessageContaining("rehearse again");
  }

  @Test
  void fromSomeNumberOnTheNumberHasToBeSaid() {
    for (int i = 0; i < Thresholds.USUAL.number(); i++) {
      node.join(code, "AR10-00%02d".formatted(i));
    }
    Profiles.Detail draft = node.draft(LENGTH_6);
    assertThatThrownBy(() -> node.publish(draft))
        .isInstanceOfSatisfying(Problem.class, p -> assertThat(p.status()).isEqualTo(409))
        .hasMessageContaining("changes 25 devices");
    assertThatThrownBy(
            () ->
                publishing()
                    .publish(OWNER, draft.id(), draft.version(), Confirmation.of(Optional.of(24L))))
        .isInstanceOf(Problem.class);
    assertThat(
            publishing()
                .publish(OWNER, draft.id(), draft.version(), Confirmation.of(Optional.of(25L)))
                .change()
                .total())
        .isEqualTo(25);
  }

  @Test
  void aDraftSavedMeanwhileIsNotPublishedUnseen() {
    Profiles.Detail draft = node.draft(LENGTH_6);
    change(draft, "{\"settings\":{\"passcode.min-length\":9}}");
    assertThatThrownBy(() -> node.publish(draft))
        .isInstanceOfSatisfying(Problem.class, p -> assertThat(p.status()).isEqualTo(412));
  }

  @Test
  void theSameDraftIsPublishedOnce() {
    Profiles.Detail draft = node.draft(LENGTH_6);
    node.publish(draft);
    Profiles.Detail again = profiles().get(OWNER, draft.id());
    assertThatThrownBy(() -> node.publish(again)).hasMessageContaining("published version already");
  }

  @Test
  void versionsTellWhatWasPublishedWhen() {
    Profiles.Detail draft = node.draft(LENGTH_6);
    node.publish(draft);
    node.publish(change(draft, "{\"settings\":{\"passcode.min-length\":9}}"));
    assertThat(publishing().versions(READER, draft.id(), FIRST).items())
        .extracting(v -> v.number() + ": " + v.settings().get("passcode.min-length"))
        .containsExactly("2: 9", "1: 6");
  }

  @Test
  void aDeviceIsToldWhereItsValueComesFromAndWhatItOverruled() {
    String device = node.join(code, "AR10-0001");
    node.publish(node.draft(LENGTH_6));
    node.publish(
        node.draft(
            "{\"name\":\"Everyone\",\"settings\":{\"passcode.min-length\":4},"
                + "\"targets\":[{\"kind\":\"everyone\"}]}"));
    assertThat(node.pinwright.devices().settings(READER, device).inEffect())
        .singleElement()
        .satisfies(
            s -> {
              assertThat(s.value().asInt()).as("the stricter").isEqualTo(6);
              assertThat(s.from()).extracting(f -> f.profile()).containsExactly("Gallery");
              assertThat(s.overruled()).extracting(o -> o.value().asInt()).containsExactly(4);
            });
  }

  @Test
  void equallyNearProfilesThatDisagreeAreAConflictTheLaterWins() {
    node.join(code, "AR10-0001");
    node.publish(text("First", "Bring it back to the quay"));
    Rehearsal rehearsal =
        publishing().rehearse(READER, text("Second", "Bring it back to the ridge").id());
    assertThat(rehearsal.conflicts())
        .singleElement()
        .satisfies(
            c -> {
              assertThat(c.wins()).isEqualTo("Second");
              assertThat(c.loses()).containsExactly("First");
            });
  }

  private Profiles.Detail text(String name, String text) {
    return node.draft(
        "{\"name\":\""
            + name
            + "\",\"settings\":{\"appearance.lock-screen-text\":\""
            + text
            + "\"},\"targets\":[{\"kind\":\"tag\",\"ref\":\"gallery\"}]}");
  }

  @Test
  void deletingAProfileTakesWhatItSaysFromItsDevicesAsOneChange() {
    String device = node.join(code, "AR10-0001");
    Profiles.Detail draft = node.draft(LENGTH_6);
    node.publish(draft);
    int version = profiles().get(OWNER, draft.id()).version();
    assertThat(publishing().rehearseDeletion(READER, draft.id()).lose()).isEqualTo(1);
    assertThat(node.pinwright.devices().settings(READER, device).inEffect()).hasSize(1);
    publishing().delete(OWNER, draft.id(), version, Confirmation.NONE);
    assertThat(node.pinwright.devices().settings(READER, device).inEffect()).isEmpty();
    assertThatThrownBy(() -> profiles().get(OWNER, draft.id())).isInstanceOf(Problem.class);
    Changes.Change change =
        node.pinwright.changes().page(READER, new Page.Request("", 1)).items().get(0);
    assertThat(change.title()).isEqualTo("Delete Gallery");
    assertThat(change.total()).isEqualTo(1);
    assertThat(change.profile()).isEmpty();
  }

  @Test
  void whoeverDeletesHasToHaveSeenTheProfileAsItIs() {
    Profiles.Detail draft = node.draft(LENGTH_6);
    change(draft, "{\"description\":\"for the quay\"}");
    assertThatThrownBy(
            () -> publishing().delete(OWNER, draft.id(), draft.version(), Confirmation.NONE))
        .isInstanceOfSatisfying(Problem.class, p -> assertThat(p.status()).isEqualTo(412));
  }

  @Test
  void aTargetHasToExist() {
    assertThatThrownBy(
            () ->
                node.draft("{\"name\":\"X\",\"targets\":[{\"kind\":\"group\",\"ref\":\"none\"}]}"))
        .hasMessageContaining("There is no group none");
    assertThatThrownBy(() -> node.draft("{\"name\":\"X\",\"targets\":[{\"kind\":\"galaxy\"}]}"))
        .isInstanceOf(Problem.class);
  }

  @Test
  void aChangeCountsWhoHasItWhoWaitsAndWhoWasMovedOn() {
    List<String> devices = new ArrayList<>();
    for (int i = 0; i < 4; i++) {
      devices.add(node.join(code, "AR10-000" + i));
    }
    String change = node.publish(node.draft(LENGTH_6)).change().id();
    node.sql(
        "update device_state set standing = 'settled' where device_id = '" + devices.get(0) + "'");
    node.sql(
        "update device_state set standing = 'blocked' where device_id = '" + devices.get(1) + "'");
    node.sql(
        "update device_state set change_id = 'later' where device_id = '" + devices.get(2) + "'");
    Changes.Change c = node.pinwright.changes().get(READER, change);
    assertThat(List.of(c.total(), c.done(), c.waiting(), c.failed(), c.overtaken()))
        .containsExactly(4L, 1L, 1L, 1L, 1L);
  }

  @Test
  void aTagBringsItsProfilesAndTakesThemAway() {
    String device = node.join(code, "AR10-0001");
    node.publish(node.draft(LENGTH_6));
    node.pinwright.devices().tag(OWNER, device, node.version(device), List.of("staff"));
    assertThat(node.pinwright.devices().settings(READER, device).inEffect()).isEmpty();
    node.pinwright.devices().tag(OWNER, device, node.version(device), List.of("staff", "gallery"));
    assertThat(node.pinwright.devices().settings(READER, device).inEffect()).hasSize(1);
    assertThat(standing(device)).isEqualTo("catching-up");
  }
}
