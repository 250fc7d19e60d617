package dev.pinwright.service.acting;

import static dev.pinwright.service.Node.FIRST;
import static dev.pinwright.service.Node.OWNER;
import static dev.pinwright.service.Node.READER;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.pinwright.core.change.Thresholds;
import dev.pinwright.core.command.Command;
import dev.pinwright.core.command.CommandState;
import dev.pinwright.core.command.Dispatch;
import dev.pinwright.core.group.DeviceGroup;
import dev.pinwright.service.Node;
import dev.pinwright.service.device.Groups;
import dev.pinwright.service.work.Json;
import dev.pinwright.service.work.Problem;
import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** Orders of a command, and the commands they become. */
class DispatchesTest {
  private Node node;
  private String code;
  private Dispatches dispatches;

  @BeforeEach
  void start() {
    node = new Node();
    code = node.kiosks(100);
    dispatches = node.pinwright.dispatches();
  }

  @AfterEach
  void stop() {
    node.close();
  }

  private static String refresh(String whom) {
    return "{\"command\":\"refresh\"," + whom + "}";
  }

  private static final String GALLERY = "\"targets\":[{\"kind\":\"tag\",\"ref\":\"gallery\"}]";

  private List<Command> commands(Dispatch d) {
    return dispatches.commands(READER, d.id(), "", "", FIRST).items();
  }

  @Test
  void aDeviceThatIsMeantTwiceGetsOneCommand() {
    String one = node.join(code, "AR10-0001");
    node.join(code, "AR10-0002");
    DeviceGroup group = node.pinwright.groups().add(OWNER, Groups.Draft.picked("Quay"));
    node.pinwright.groups().members(OWNER, group.id(), Groups.Members.of(List.of(one), List.of()));
    Dispatch d =
        node.order(
            refresh(
                "\"targets\":[{\"kind\":\"tag\",\"ref\":\"gallery\"},{\"kind\":\"group\",\"ref\":\""
                    + group.id()
                    + "\"}],\"serials\":[\" ar10-0001 \"],\"matching\":{\"q\":\"arbor\"}"));
    assertThat(d.total()).isEqualTo(2);
    assertThat(commands(d)).extracting(Command::state).containsOnly(CommandState.QUEUED);
  }

  @Test
  void theSameOrderUnderTheSameKeyIsTheSameDispatch() {
    node.join(code, "AR10-0001");
    DispatchOrder order = Json.request(refresh(GALLERY), DispatchOrder.class);
    Dispatch first = dispatches.order(OWNER, order, "monday");
    assertThat(dispatches.order(OWNER, order, "monday").id()).isEqualTo(first.id());
    assertThat(dispatches.order(OWNER, order, "tuesday").id()).isNotEqualTo(first.id());
    DispatchOrder other = Json.request(refresh("\"serials\":[\"AR10-0001\"]"), DispatchOrder.class);
    assertThatThrownBy(() -> dispatches.order(OWNER, other, "monday"))
        .hasMessageContaining("used for another order");
  }

  @Test
  void whoCannotCarryItOutFailsAtOnceWithTheReason() {
    node.join(code, "AR10-0001");
    String personal =
        node.invite(
            "{\"name\":\"Own\",\"ownership\":\"personal\",\"mode\":\"work-profile\","
                + "\"tags\":[\"gallery\"]}",
            1);
    node.join(personal, "AR10-0002");
    String lock = "{\"command\":\"restart\",\"reason\":\"drill\"," + GALLERY + "}";
    Dispatches.Preview preview =
        dispatches.rehearse(OWNER, Json.request(lock, DispatchOrder.class));
    assertThat(preview.able()).isEqualTo(1);
    assertThat(preview.unable()).hasSize(1);
    Dispatch d = node.order(lock);
    assertThat(commands(d))
        .extracting(Command::state)
        .containsExactlyInAnyOrder(CommandState.QUEUED, CommandState.FAILED);
    assertThat(commands(d).stream().filter(c -> c.state() == CommandState.FAILED).findFirst())
        .hasValueSatisfying(
            c -> assertThat(c.reason()).isEqualTo(preview.unable().get(0).reason()));
  }

  @Test
  void fromSomeNumberOnTheNumberHasToBeSaid() {
    for (int i = 0; i < Thresholds.USUAL.number(); i++) {
      node.join(code, "AR10-00%02d".formatted(i));
    }
    assertThatThrownBy(() -> node.order(refresh(GALLERY)))
        .hasMessageContaining("goes to 25 devices");
    assertThat(node.order(refresh(GALLERY + ",\"confirmDevices\":25")).total()).isEqualTo(25);
  }

  @Test
  void anOrderThatReachesNobodyOrSomebodyUnknownIsRefused() {
    assertThatThrownBy(() -> node.order(refresh(GALLERY))).hasMessageContaining("no device");
    assertThatThrownBy(() -> node.order(refresh("\"serials\":[\"AR10-9999\"]")))
        .hasMessageContaining("asset number AR10-9999");
    assertThatThrownBy(() -> node.order(refresh(GALLERY + ",\"expiresInMinutes\":0")))
        .hasMessageContaining("from 1 minute to 90 days");
  }

  @Test
  void whatIsQueuedCanBeCancelledAndWhatIsDeliveredCannot() {
    List<String> devices = new ArrayList<>();
    for (int i = 0; i < 3; i++) {
      devices.add(node.join(code, "AR10-000" + i));
    }
    Dispatch d = node.order(refresh(GALLERY));
    Command delivered = commands(d).get(0);
    node.sql("update command set state = 'delivered' where id = '" + delivered.id() + "'");
    assertThatThrownBy(() -> dispatches.cancelCommand(OWNER, delivered.id()))
        .hasMessageContaining("is delivered");
    assertThat(dispatches.cancel(OWNER, d.id())).isEqualTo(2);
    assertThat(dispatches.get(READER, d.id()).states())
        .containsEntry(CommandState.CANCELLED, 2L)
        .containsEntry(CommandState.DELIVERED, 1L);
    assertThat(dispatches.get(READER, d.id()).ended()).isFalse();
  }

  @Test
  void aRetiredDeviceIsNotMeantAnyMore() {
    String device = node.join(code, "AR10-0001");
    Dispatch before = node.order(refresh(GALLERY));
    node.pinwright.devices().retire(OWNER, device, "dropped into Lake Orre");
    assertThat(commands(before))
        .extracting(Command::state, Command::reason)
        .containsExactly(
            org.assertj.core.groups.Tuple.tuple(CommandState.CANCELLED, "the device was retired"));
    assertThatThrownBy(() -> node.order(refresh(GALLERY))).hasMessageContaining("no device");
    assertThatThrownBy(() -> node.order(refresh("\"matching\":{}"))).isInstanceOf(Problem.class);
  }
}
