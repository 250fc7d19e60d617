package dev.pinwright.acceptance;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.pinwright.client.http.ApiException;
import dev.pinwright.client.model.Command;
import dev.pinwright.client.model.CommandKey;
import dev.pinwright.client.model.CommandState;
import dev.pinwright.client.model.Dispatch;
import dev.pinwright.client.model.DispatchOrder;
import dev.pinwright.client.model.Hours;
import dev.pinwright.client.model.OrderThere;
import dev.pinwright.client.model.QueueOrder;
import dev.pinwright.client.model.WaitingCommand;
import dev.pinwright.sandbox.device.Agent;
import java.time.LocalDateTime;
import java.time.LocalTime;
import java.time.OffsetDateTime;
import java.time.ZoneId;
import java.time.ZoneOffset;
import java.time.temporal.ChronoUnit;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.UUID;
import java.util.stream.Collectors;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;

/** When commands are sent, here and in other zones, and in which order. */
class WhenTest {
  private static Rig rig;
  private static Desk desk;
  private static String link;

  @BeforeAll
  static void start() throws Exception {
    rig = new Rig();
    desk = new Desk(rig);
    link = desk.kiosks("Tablets", 20).getLink();
  }

  @AfterAll
  static void stop() {
    rig.close();
  }

  private static Agent tablet() {
    return rig.join(rig.unpackAutomatic("T10"), link);
  }

  private static String id(Agent tablet) {
    return desk.devices(tablet.screen().serial(), 1).get(0).getId();
  }

  private static DispatchOrder order(CommandKey command, Agent... to) {
    return new DispatchOrder()
        .command(command)
        .reason("drill")
        .targets(Arrays.stream(to).map(a -> Desk.device(id(a))).toList());
  }

  private static Dispatch send(DispatchOrder order) throws ApiException {
    return desk.order(order, UUID.randomUUID().toString());
  }

  private static List<Command> commands(Dispatch d) {
    try {
      return rig.client.acting().getDispatchCommands(d.getId(), null, null, 20).getItems();
    } catch (ApiException e) {
      throw new IllegalStateException(e);
    }
  }

  private static CommandState state(Dispatch d) {
    return commands(d).get(0).getState();
  }

  private static String fact(Agent tablet, String key) {
    return desk.card(id(tablet)).getFacts().stream()
        .filter(f -> f.getKey().equals(key))
        .map(f -> String.valueOf(f.getValue()))
        .findFirst()
        .orElse("");
  }

  @Test
  void aTimeIsThatOfTheClockWhereEachDeviceIs() throws Exception {
    Agent east = tablet();
    Agent west = tablet();
    Agent silent = tablet();
    east.device().travel(ZoneId.of("Etc/GMT-5"));
    west.device().travel(ZoneId.of("Etc/GMT+3"));
    silent.device().travel(ZoneId.of("Etc/GMT-14"));
    for (Agent a : List.of(east, west)) {
      a.checkIn(false);
      Rig.eventually(() -> fact(a, "system/zone"), z -> z.startsWith("Etc/GMT"));
    }
    Sql.run(
        rig,
        "update device set facts = facts || '{\"system/zone\":\"Nowhere\"}' where id = '"
            + id(silent)
            + "'");
    LocalDateTime tomorrow =
        LocalDateTime.now(ZoneOffset.UTC).plusDays(1).truncatedTo(ChronoUnit.MINUTES);
    Dispatch d =
        send(
            order(CommandKey.RESTART, east, west, silent)
                .there(new OrderThere().local(tomorrow.toString()).zone("Etc/GMT+1")));
    Map<String, OffsetDateTime> due =
        commands(d).stream().collect(Collectors.toMap(Command::getDeviceId, Command::getDueAt));
    OffsetDateTime utc = tomorrow.atOffset(ZoneOffset.UTC);
    assertThat(due.get(id(east)).toInstant()).isEqualTo(utc.minusHours(5).toInstant());
    assertThat(due.get(id(west)).toInstant()).isEqualTo(utc.plusHours(3).toInstant());
    assertThat(due.get(id(silent)).toInstant())
        .as("that of the order, where a device tells none that is known")
        .isEqualTo(utc.plusHours(1).toInstant());
    assertThat(d.getDueAt().toInstant()).isEqualTo(utc.minusHours(5).toInstant());
    assertThat(commands(d)).extracting(Command::getState).containsOnly(CommandState.PLANNED);
    assertThat(rig.client.acting().cancelDispatch(d.getId()).getCancelled()).isEqualTo(3);
  }

  @Test
  void whatIsForTheNightWaitsForItAndForTheNextOne() throws Exception {
    Agent tablet = tablet();
    tablet.device().travel(ZoneOffset.UTC);
    Agent away = tablet();
    away.offline(true);
    LocalTime now = LocalTime.now(ZoneOffset.UTC).truncatedTo(ChronoUnit.MINUTES);
    OrderThere over = hours(now.plusHours(2), now.plusHours(4));
    Dispatch later = send(order(CommandKey.RESTART, tablet).there(over));
    assertThat(state(later)).isEqualTo(CommandState.PLANNED);
    assertThat(later.getWindow().getFrom()).isEqualTo(now.plusHours(2).toString());
    tablet.checkIn(false);
    assertThat(state(later)).isEqualTo(CommandState.PLANNED);

    OrderThere inside = hours(now.minusHours(1), now.plusHours(2));
    Dispatch tonight = send(order(CommandKey.RESTART, tablet).there(inside));
    Rig.eventually(() -> state(tonight), CommandState.DONE::equals);

    Dispatch missed = send(order(CommandKey.RESTART, away).there(inside));
    assertThat(state(missed)).isEqualTo(CommandState.QUEUED);
    Sql.run(
        rig, "update command set until_at = now() where dispatch_id = '" + missed.getId() + "'");
    Sql.run(
        rig,
        "update dispatch set window_from = '"
            + now.plusHours(2)
            + "', window_to = '"
            + now.plusHours(4)
            + "' where id = '"
            + missed.getId()
            + "'");
    Rig.eventually(() -> state(missed), CommandState.PLANNED::equals);
    assertThat(commands(missed).get(0).getDueAt()).isAfter(OffsetDateTime.now().plusMinutes(100));
  }

  private static OrderThere hours(LocalTime from, LocalTime to) {
    return new OrderThere().window(new Hours().from(from.toString()).to(to.toString())).zone("UTC");
  }

  @Test
  void whatIsNotToDisturbWaitsUntilNobodyUsesIt() throws Exception {
    Agent tablet = tablet();
    tablet.device().use(true);
    Dispatch d = send(order(CommandKey.RESTART, tablet).notInUse(true));
    Rig.eventually(() -> state(d), CommandState.DELIVERED::equals);
    assertThat(tablet.screen().runs()).doesNotContainKey("restart");
    tablet.device().use(false);
    tablet.checkIn(false);
    Rig.eventually(() -> state(d), CommandState.DONE::equals);
    assertThat(tablet.screen().runs()).containsEntry("restart", 1);
    assertThatThrownBy(
            () ->
                send(
                    order(CommandKey.MESSAGE, tablet)
                        .fields(Map.of("text", "Hello"))
                        .notInUse(true)))
        .hasMessageContaining("for whoever is using it");
  }

  @Test
  void whatCannotBeATimeIsNotOne() {
    Agent tablet = tablet();
    for (OrderThere wrong :
        List.of(
            new OrderThere().local("tomorrow"),
            new OrderThere().local("2020-01-01T00:00"),
            new OrderThere().local("2026-02-30T00:00"),
            new OrderThere().zone("Nowhere/Else").local("2026-12-01T00:00"),
            hours(LocalTime.NOON, LocalTime.NOON),
            new OrderThere().window(new Hours().from("25:00").to("05:00")))) {
      assertThatThrownBy(() -> send(order(CommandKey.RESTART, tablet).there(wrong)))
          .as(wrong.toString())
          .isInstanceOfSatisfying(ApiException.class, e -> assertThat(e.getCode()).isEqualTo(400));
    }
  }

  @Test
  void aQueueIsPutInOrderAndCleared() throws Exception {
    Agent tablet = tablet();
    String id = id(tablet);
    Rig.eventually(() -> desk.standing(id), "settled"::equals);
    tablet.offline(true);
    for (CommandKey key :
        List.of(CommandKey.RING, CommandKey.LOCK, CommandKey.RESTART, CommandKey.UNLOCK)) {
      send(order(key, tablet));
    }
    List<WaitingCommand> queue = rig.client.acting().getQueue(id).getItems();
    assertThat(queue).extracting(WaitingCommand::getCommand).startsWith(CommandKey.RING);
    List<WaitingCommand> arranged =
        rig.client
            .acting()
            .arrangeQueue(
                id, new QueueOrder().commands(List.of(queue.get(3).getId(), queue.get(1).getId())))
            .getItems();
    assertThat(arranged)
        .extracting(WaitingCommand::getCommand)
        .containsExactly(CommandKey.UNLOCK, CommandKey.LOCK, CommandKey.RING, CommandKey.RESTART);
    assertThatThrownBy(
            () ->
                rig.client.acting().arrangeQueue(id, new QueueOrder().commands(List.of("nothing"))))
        .hasMessageContaining("does not wait for this device");
    assertThatThrownBy(
            () -> rig.client.acting().arrangeQueue(id, new QueueOrder().commands(List.of())))
        .hasMessageContaining("which commands come first");
    tablet.offline(false);
    Rig.eventually(() -> tablet.screen().screen(), "locked"::equals);

    tablet.offline(true);
    send(order(CommandKey.RING, tablet));
    send(order(CommandKey.RESTART, tablet));
    int waiting = rig.client.acting().getQueue(id).getItems().size();
    assertThat(rig.client.acting().clearQueue(id).getCancelled()).isEqualTo(waiting);
    assertThat(rig.client.acting().getQueue(id).getItems()).isEmpty();
  }
}
