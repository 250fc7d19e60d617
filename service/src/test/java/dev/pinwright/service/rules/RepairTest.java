package dev.pinwright.service.rules;

import static dev.pinwright.service.Node.OWNER;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatIllegalStateException;

import dev.pinwright.core.device.DeviceState;
import dev.pinwright.core.tree.Tree;
import dev.pinwright.service.Node;
import dev.pinwright.service.device.Devices;
import dev.pinwright.service.group.Membership;
import dev.pinwright.service.shape.Shapes;
import dev.pinwright.storage.device.DeviceStates;
import java.time.Clock;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** Devices whose rows disagree with what their targets say, whatever the cause. */
class RepairTest {
  private Node node;
  private Shapes shapes;
  private String device;
  private DeviceState right;

  @BeforeEach
  void start() {
    node = new Node();
    shapes = shapes();
    device = node.join(node.kiosks(10), "AR10-0001");
    node.publish(
        node.draft(
            "{\"name\":\"Gallery\",\"settings\":{\"passcode.min-length\":6},"
                + "\"targets\":[{\"kind\":\"tag\",\"ref\":\"gallery\"}]}"));
    right = state();
  }

  @AfterEach
  void stop() {
    node.close();
  }

  private Shapes shapes() {
    return new Shapes(
        node.pinwright.catalogue().catalog(),
        node.vault(),
        new Membership(Clock.systemUTC()),
        Clock.systemUTC());
  }

  private DeviceState state() {
    return node.sql(tx -> new DeviceStates(tx).find(device).orElseThrow());
  }

  private Optional<Tree> kept() {
    return node.sql(tx -> shapes().tree(tx, right.desired()));
  }

  private long repaired() {
    return node.sql(tx -> shapes().repair(tx));
  }

  @Test
  void whereEverythingIsRightNothingIsDone() {
    assertThat(repaired()).isZero();
    assertThat(state()).isEqualTo(right);
  }

  @Test
  void aDeviceInAnotherShapeThanItsTargetsSayIsPutRight() {
    node.sql("delete from device_tag");
    assertThat(repaired()).isEqualTo(1);
    assertThat(node.pinwright.devices().settings(OWNER, device).inEffect()).isEmpty();
    node.sql("insert into device_tag values ('" + device + "', 'gallery')");
    assertThat(repaired()).isEqualTo(1);
    assertThat(state().desired()).isEqualTo(right.desired());
    assertThat(state().shapeKey()).isEqualTo(right.shapeKey());
  }

  @Test
  void aDeviceThatWantsAnotherTreeThanItsShapeIsPutRight() {
    node.sql(
        "update device_state set desired_digest = '"
            + Tree.EMPTY.digest()
            + "', standing = 'settled'");
    assertThat(repaired()).isEqualTo(1);
    assertThat(state().desired()).isEqualTo(right.desired());
    assertThat(node.pinwright.devices().settings(OWNER, device).inEffect())
        .extracting(Devices.InEffect::setting)
        .containsExactly("passcode.min-length");
  }

  @Test
  void aTreeThatWasLostIsCompiledAgainAndNeverTakenForTheEmptyOne() {
    node.sql("delete from desired_tree");
    Tree again = node.sql(tx -> shapes().desired(tx, right));
    assertThat(again.digest()).isEqualTo(right.desired());
    assertThat(kept()).contains(again);
    node.sql("delete from desired_tree");
    assertThat(repaired()).isEqualTo(1);
    assertThat(kept()).contains(again);
  }

  @Test
  void aGoalNobodyKnowsIsRefusedUntilItIsPutRight() {
    node.sql("update device_state set desired_digest = 'nobody-knows'");
    assertThatIllegalStateException()
        .isThrownBy(() -> node.sql(tx -> shapes.desired(tx, state())))
        .withMessageContaining("not on file");
    assertThat(repaired()).isEqualTo(1);
    assertThat(state().desired()).isEqualTo(right.desired());
  }

  @Test
  void whatADeviceRefusedIsStillLeftOut() {
    DeviceState refusing =
        node.sql(
            tx -> {
              var leaf = shapes.desired(tx, right).leaves().entrySet().iterator().next();
              DeviceState s =
                  shapes.retargeted(tx, right, right.refused().and(leaf.getKey(), leaf.getValue()));
              new DeviceStates(tx).put(s);
              return s;
            });
    assertThat(repaired()).isZero();
    assertThat(state().desired()).isEqualTo(refusing.desired()).isNotEqualTo(right.desired());
    assertThat(List.of(state().refused())).containsExactly(refusing.refused());
  }
}
