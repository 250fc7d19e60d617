package dev.pinwright.service.rules;

import static dev.pinwright.service.Node.OWNER;
import static dev.pinwright.service.Node.READER;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.pinwright.core.change.Confirmation;
import dev.pinwright.service.Node;
import dev.pinwright.service.change.Changes;
import dev.pinwright.service.device.DeviceEdits;
import dev.pinwright.service.work.Json;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** A publication is taken back in one step: what was published before it is published again. */
class UndoTest {
  private Node node;
  private String device;
  private Profiles.Detail profile;
  private Changes.Change first;

  @BeforeEach
  void start() {
    node = new Node();
    device = node.join(node.kiosks(1), "AR10-0001");
    profile =
        node.draft(
            "{\"name\":\"P\",\"settings\":{\"passcode.min-length\":6},"
                + "\"targets\":[{\"kind\":\"tag\",\"ref\":\"gallery\"}]}");
    first = node.publish(profile).change();
  }

  @AfterEach
  void stop() {
    node.close();
  }

  private Changes.Change second() {
    Profiles.Detail now = node.pinwright.profiles().get(OWNER, profile.id());
    Profiles.Detail draft =
        node.pinwright
            .profiles()
            .change(
                OWNER,
                now.id(),
                now.version(),
                Json.request("{\"settings\":{\"passcode.min-length\":9}}", Profiles.Draft.class));
    return node.publish(draft).change();
  }

  private Changes.Change undo(Changes.Change change) {
    return node.pinwright.undo().undo(OWNER, change.id(), Confirmation.NONE);
  }

  private String inEffect() {
    return node.pinwright.devices().settings(READER, device).inEffect().stream()
        .map(s -> s.setting() + "=" + s.value())
        .toList()
        .toString();
  }

  @Test
  void whatWasPublishedBeforeIsPublishedAgainAndTheDraftStays() {
    Changes.Change second = second();
    assertThat(inEffect()).isEqualTo("[passcode.min-length=9]");
    DeviceEdits.Rehearsed r = node.pinwright.undo().rehearse(OWNER, second.id());
    assertThat(r.changing()).isEqualTo(1);
    assertThat(r.settings().orElseThrow().change()).isEqualTo(1);
    assertThat(inEffect()).as("a rehearsal does nothing").isEqualTo("[passcode.min-length=9]");

    assertThat(second.undoable()).isTrue();
    assertThatThrownBy(() -> undo(first)).hasMessageContaining("published again since");
    Changes.Change back = undo(second);
    assertThat(back.title()).isEqualTo("Take back: Publish P, version 2, version 3");
    assertThat(inEffect()).isEqualTo("[passcode.min-length=6]");
    assertThatThrownBy(() -> undo(second)).hasMessageContaining("taken back already");
    Profiles.Detail now = node.pinwright.profiles().get(OWNER, profile.id());
    assertThat(now.publishedVersion()).contains(3);
    assertThat(now.settings().get("passcode.min-length").asInt()).as("the draft").isEqualTo(9);
    assertThat(now.draftChanged()).isTrue();

    undo(back);
    assertThat(inEffect()).as("and back again").isEqualTo("[passcode.min-length=9]");
    assertThat(node.pinwright.profiles().get(OWNER, profile.id()).draftChanged()).isFalse();
  }

  @Test
  void theFirstPublicationGoesToNobodyOnceTakenBack() {
    undo(first);
    assertThat(inEffect()).isEqualTo("[]");
    Profiles.Detail now = node.pinwright.profiles().get(OWNER, profile.id());
    assertThat(now.targets()).as("the draft").hasSize(1);
    assertThat(now.draftChanged()).isTrue();
    assertThat(node.pinwright.changes().page(READER, Node.FIRST).items().get(1).undoable())
        .isFalse();
  }
}
