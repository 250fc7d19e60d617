package dev.pinwright.service.acting;

import static dev.pinwright.service.Node.FIRST;
import static dev.pinwright.service.Node.OWNER;
import static dev.pinwright.service.Node.READER;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.tuple;

import dev.pinwright.core.change.Thresholds;
import dev.pinwright.core.command.Command;
import dev.pinwright.core.command.CommandState;
import dev.pinwright.core.command.Dispatch;
import dev.pinwright.core.group.DeviceGroup;
import dev.pinwright.service.Node;
import dev.pinwright.service.device.Groups;
import dev.pinwright.service.work.Json;
import dev.pinwright.service.work.Page;
import dev.pinwright.service.work.Problem;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
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
    return node.pinwright
        .commandHistory()
        .page(READER, CommandHistory.Filter.ofDispatch(d.id(), ""), FIRST)
        .items();
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
    DispatchOrder counted =
        Json.request(refresh(GALLERY + ",\"confirmDevices\":1"), DispatchOrder.class);
    assertThat(dispatches.order(OWNER, counted, "monday").id())
        .as("told another number meanwhile")
        .isEqualTo(first.id());
  }

  @Test
  void whatWasOrderedIsFoundOverAllDevicesAndWrittenAsASheet() {
    String one = node.join(code, "AR10-0001");
    node.join(code, "AR10-0002");
    Instant before = Instant.now();
    Dispatch all = node.order(refresh(GALLERY));
    Dispatch lock =
        node.order("{\"command\":\"lock\",\"reason\":\"=drill\",\"serials\":[\"AR10-0001\"]}");
    dispatches.cancel(OWNER, lock.id());
    CommandHistory history = node.pinwright.commandHistory();
    assertThat(history.page(READER, asked("", "", "", ""), FIRST).items())
        .extracting(Command::dispatchId)
        .containsExactly(lock.id(), all.id(), all.id());
    assertThat(history.page(READER, asked("lock", "", "", ""), FIRST).items())
        .extracting(Command::state, Command::by)
        .containsExactly(tuple(CommandState.CANCELLED, OWNER.login()));
    assertThat(history.page(READER, asked("", "queued", "", ""), FIRST).items()).hasSize(2);
    assertThat(history.page(READER, asked("", "", "somebody", ""), FIRST).items()).isEmpty();
    assertThat(history.page(READER, asked("", "", "", "0002"), FIRST).items()).hasSize(1);
    assertThat(history.page(READER, CommandHistory.Filter.ofDevice(one), FIRST).items()).hasSize(2);
    assertThat(history.page(READER, since(before.minusSeconds(1)), FIRST).items()).hasSize(3);
    assertThat(history.page(READER, since(Instant.now().plusSeconds(5)), FIRST).items()).isEmpty();
    assertThatThrownBy(() -> history.page(READER, asked("fly", "", "", ""), FIRST))
        .hasMessageContaining("no command fly");
    assertThatThrownBy(() -> history.page(READER, asked("", "gone", "", ""), FIRST))
        .hasMessageContaining("queued");
    assertThat(history.sheet(READER, asked("", "", "", "")).lines())
        .hasSize(4)
        .first()
        .asString()
        .startsWith("ordered,device,command,state");
    assertThat(history.sheet(READER, asked("lock", "", "", "")))
        .as("no formula")
        .contains("Lock,cancelled")
        .contains("'=drill");
    Page.Request two = new Page.Request("", 2);
    Page<Command> first = history.page(READER, asked("", "", "", ""), two);
    assertThat(
            history
                .page(
                    READER, asked("", "", "", ""), new Page.Request(first.next().orElseThrow(), 2))
                .items())
        .hasSize(1);
  }

  private static CommandHistory.Filter asked(
      String command, String state, String by, String words) {
    return new CommandHistory.Filter("", "", command, state, by, words, Optional.empty());
  }

  private static CommandHistory.Filter since(Instant at) {
    return new CommandHistory.Filter("", "", "", "", "", "", Optional.of(at));
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
