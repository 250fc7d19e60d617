package dev.pinwright.service.rules;

import static dev.pinwright.service.Node.OWNER;
import static dev.pinwright.service.Node.READER;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.pinwright.service.Node;
import dev.pinwright.service.rules.ProfileFiles.File;
import dev.pinwright.service.shape.ProfileContent;
import dev.pinwright.service.work.Json;
import dev.pinwright.service.work.Problem;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** Versions of a profile put back, copies of it, and profiles as files. */
class ProfileFilesTest {
  private Node node;
  private Profiles profiles;
  private Profiles.Detail first;

  @BeforeEach
  void start() {
    node = new Node();
    profiles = node.pinwright.profiles();
    node.join(node.kiosks(1), "AR10-0001");
    first =
        node.draft(
            "{\"name\":\"Galleries\",\"description\":\"in the rooms\","
                + "\"settings\":{\"passcode.min-length\":6,\"wifi[staff].network\":\"Vellmar-Staff\","
                + "\"wifi[staff].passphrase\":\"lantern over the quay\"},"
                + "\"targets\":[{\"kind\":\"tag\",\"ref\":\"gallery\"}]}");
    node.publish(first);
  }

  @AfterEach
  void stop() {
    node.close();
  }

  private Profiles.Detail change(String settings) {
    Profiles.Detail now = profiles.get(OWNER, first.id());
    return profiles.change(
        OWNER,
        now.id(),
        now.version(),
        Json.request("{\"settings\":" + settings + "}", Profiles.Draft.class));
  }

  private String secret(String profile) {
    return node.sql(
        tx ->
            ProfileContent.load(Profiles.row(tx, profile).draft, node.vault())
                .settings()
                .get("wifi[staff].passphrase")
                .text());
  }

  @Test
  void whatAVersionSaidIsPutBackIntoTheDraftWithItsSecrets() {
    node.publish(change("{\"passcode.min-length\":9}"));
    Profiles.Detail now = profiles.get(OWNER, first.id());
    assertThat(now.settings()).doesNotContainKey("wifi[staff].network");
    assertThatThrownBy(() -> profiles.restore(OWNER, now.id(), now.version(), 7))
        .isInstanceOf(Problem.class)
        .hasMessageContaining("7");
    assertThatThrownBy(() -> profiles.restore(OWNER, now.id(), now.version() - 1, 1))
        .isInstanceOf(Problem.class);
    Profiles.Detail back = profiles.restore(OWNER, now.id(), now.version(), 1);
    assertThat(back.settings()).isEqualTo(first.settings());
    assertThat(back.targets()).extracting("ref").containsExactly("gallery");
    assertThat(back.draftChanged()).as("it is still to be published").isTrue();
    assertThat(back.publishedVersion()).contains(2);
    assertThat(secret(back.id())).isEqualTo("lantern over the quay");
    assertThat(node.pinwright.publishing().rehearse(OWNER, back.id()).changing()).isEqualTo(1);
  }

  @Test
  void aCopySaysTheSameUnderAnotherNameAndIsADraft() {
    Profiles.Detail copy = profiles.copy(OWNER, first.id(), "At night");
    assertThat(copy.settings()).isEqualTo(first.settings());
    assertThat(copy.description()).isEqualTo("in the rooms");
    assertThat(copy.state()).isEqualTo("draft");
    assertThat(secret(copy.id())).isEqualTo("lantern over the quay");
    assertThatThrownBy(() -> profiles.copy(OWNER, first.id(), "At night"))
        .hasMessageContaining("already");
  }

  @Test
  void aFileHoldsWhatItSaysButNoSecretAndIsReadAgain() {
    ProfileFiles files = node.pinwright.profileFiles();
    File file = files.write(READER, first.id());
    String json = Json.write(file);
    assertThat(json)
        .contains("pinwright-profile/1", "Vellmar-Staff", "in the rooms")
        .doesNotContain("lantern", "gallery");
    assertThat(file.secretsLeftOut().orElseThrow()).containsExactly("wifi[staff].passphrase");
    assertThatThrownBy(() -> files.read(OWNER, file)).hasMessageContaining("already");
    Profiles.Detail read =
        files.read(OWNER, Json.request(json.replace("Galleries", "Elsewhere"), File.class));
    assertThat(read.settings()).containsOnlyKeys("passcode.min-length", "wifi[staff].network");
    assertThat(read.targets()).isEmpty();

    assertThatThrownBy(() -> files.read(OWNER, Json.request("{\"name\":\"x\"}", File.class)))
        .hasMessageContaining("pinwright-profile/1");
    assertThatThrownBy(
            () ->
                files.read(
                    OWNER,
                    Json.request(
                        "{\"format\":\"pinwright-profile/1\",\"name\":\"Odd\",\"settings\":"
                            + "{\"passcode.min-length\":99,\"no.such\":true}}",
                        File.class)))
        .hasMessageContaining("There is no setting no.such.")
        .hasMessageContaining("4 to 16");
  }
}
