package dev.pinwright.service.device;

import static dev.pinwright.service.Node.OWNER;
import static dev.pinwright.service.Node.READER;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.pinwright.core.device.Standing;
import dev.pinwright.service.Node;
import dev.pinwright.service.organisation.People;
import dev.pinwright.service.organisation.Units;
import java.util.List;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** A new device in the place of an old one. */
class ReplacementTest {
  private Node node;
  private Devices devices;
  private String old;
  private String fresh;

  @BeforeEach
  void start() {
    node = new Node();
    devices = node.pinwright.devices();
    String code = node.kiosks(9);
    old = node.join(code, "AR10-0001");
    fresh = node.join(code, "AR10-0002");
  }

  @AfterEach
  void stop() {
    node.close();
  }

  private void replace(String id, String by) {
    node.pinwright.replacement().replace(OWNER, id, new Replacement.Order(by, "broken screen"));
  }

  @Test
  void itTakesOverNamePlaceHolderGroupsTagsAndTheirSettings() {
    String unit = node.pinwright.units().add(OWNER, new Units.Draft("VM", "Trust", null)).id();
    String ines =
        node.pinwright
            .people()
            .add(OWNER, new People.Draft("Ines Orrin", "ines", null, null, null))
            .id();
    devices.rename(OWNER, old, node.version(old), "Quay door");
    devices.place(OWNER, old, node.version(old), new Devices.Placement(unit, null, ines));
    devices.tag(OWNER, old, node.version(old), List.of("quay"));
    String group = node.pinwright.groups().add(OWNER, Groups.Draft.picked("Doors")).id();
    node.pinwright.groups().members(OWNER, group, Groups.Members.of(List.of(old), List.of()));
    node.publish(
        node.draft(
            "{\"name\":\"Doors\",\"settings\":{\"passcode.min-length\":8},"
                + "\"targets\":[{\"kind\":\"group\",\"ref\":\""
                + group
                + "\"}]}"));

    replace(old, fresh);

    Devices.Detail now = devices.get(READER, fresh);
    assertThat(now.device().name()).isEqualTo("Quay door");
    assertThat(now.device().unit()).hasValue("VM");
    assertThat(now.device().person()).hasValue("Ines Orrin");
    assertThat(now.device().tags()).contains("quay");
    assertThat(now.groups()).extracting(g -> g.name()).containsExactly("Doors");
    assertThat(devices.settings(READER, fresh).inEffect())
        .extracting(e -> e.setting())
        .containsExactly("passcode.min-length");
    Devices.Detail gone = devices.get(READER, old);
    assertThat(gone.device().standing()).isEqualTo(Standing.RETIRED);
    assertThat(gone.device().name()).isEqualTo("Quay door (replaced)");
    assertThat(node.pinwright.people().holders(READER, fresh)).hasSize(1);
  }

  @Test
  void whatCannotBeIsRefusedAndNothingMoves() {
    assertThatThrownBy(() -> replace(old, old)).hasMessageContaining("its own place");
    assertThatThrownBy(() -> replace(old, "nowhere")).hasMessageContaining("no device");
    assertThatThrownBy(
            () ->
                node.pinwright.replacement().replace(OWNER, old, new Replacement.Order(fresh, " ")))
        .hasMessageContaining("Say why");
    replace(old, fresh);
    assertThatThrownBy(() -> replace(old, fresh)).hasMessageContaining("is retired");
  }

  @Test
  void aNameThatIsTakenGetsANumberAsItDoesOnJoining() {
    devices.rename(OWNER, old, node.version(old), "Quay door");
    assertThat(devices.rename(OWNER, fresh, node.version(fresh), "quay door").device().name())
        .isEqualTo("quay door (2)");
    assertThat(devices.rename(OWNER, old, node.version(old), "Quay door").device().name())
        .isEqualTo("Quay door");
  }
}
