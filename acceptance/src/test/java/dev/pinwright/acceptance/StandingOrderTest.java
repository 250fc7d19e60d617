package dev.pinwright.acceptance;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.pinwright.client.PinwrightClient;
import dev.pinwright.client.http.ApiException;
import dev.pinwright.client.model.CommandKey;
import dev.pinwright.client.model.DayOfWeek;
import dev.pinwright.client.model.Dispatch;
import dev.pinwright.client.model.DispatchOrder;
import dev.pinwright.client.model.StandingOrder;
import dev.pinwright.client.model.StandingOrderDraft;
import dev.pinwright.client.model.Thresholds;
import dev.pinwright.client.model.ThresholdsDraft;
import dev.pinwright.sandbox.device.Agent;
import java.util.List;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;

/** Commands that repeat. */
class StandingOrderTest {
  private static Rig rig;
  private static Desk desk;

  @BeforeAll
  static void start() throws Exception {
    rig = new Rig();
    desk = new Desk(rig);
  }

  @AfterAll
  static void stop() {
    rig.close();
  }

  private static StandingOrderDraft daily(String name, CommandKey command) {
    return new StandingOrderDraft()
        .name(name)
        .order(
            new DispatchOrder()
                .command(command)
                .reason("a fresh start")
                .targets(List.of(Desk.everyone())))
        .days(List.of(DayOfWeek.values()))
        .time("02:30")
        .zone("UTC");
  }

  private static void due(Rig rig, StandingOrder o) throws Exception {
    Sql.run(
        rig,
        "update standing_order set next_at = now() - interval '3 days' where id = '"
            + o.getId()
            + "'");
  }

  private static StandingOrder now(Rig rig, StandingOrder o) {
    try {
      return rig.client.acting().getStandingOrder(o.getId());
    } catch (ApiException e) {
      throw new IllegalStateException(e);
    }
  }

  @Test
  void itIsOrderedOnceForWhoeverIsThereByThen() throws Exception {
    Agent first = rig.join(rig.unpackAutomatic("T10"), desk.kiosks("First", 3).getLink());
    StandingOrder o =
        rig.client.acting().addStandingOrder(daily("Nightly refresh", CommandKey.REFRESH));
    assertThat(o.getNextAt()).isNotNull();
    assertThat(o.getWhom()).isEqualTo("1 device");
    assertThatThrownBy(
            () ->
                rig.client.acting().addStandingOrder(daily("nightly REFRESH", CommandKey.REFRESH)))
        .hasMessageContaining("called nightly REFRESH already");
    rig.join(rig.unpackAutomatic("T10"), desk.kiosks("Second", 3).getLink());
    due(rig, o);
    StandingOrder done = Rig.eventually(() -> now(rig, o), s -> s.getLastDispatch() != null);
    assertThat(done.getNextAt()).as("missed three times, ordered once").isAfter(done.getLastAt());
    Dispatch d = desk.dispatch(done.getLastDispatch());
    assertThat(d.getTotal()).as("who joined meanwhile is meant too").isEqualTo(2);
    assertThat(d.getActor()).isEqualTo("owner");
    Rig.eventually(() -> desk.dispatch(d.getId()), Dispatch::getEnded);
    assertThat(first.screen().managed()).isTrue();
    StandingOrder paused =
        rig.client
            .acting()
            .changeStandingOrder(
                o.getId(),
                Desk.onVersion(now(rig, o).getVersion()),
                daily("Nightly refresh", CommandKey.REFRESH).paused(true));
    assertThat(paused.getNextAt()).isNull();
    rig.client.acting().deleteStandingOrder(o.getId(), Desk.onVersion(paused.getVersion()));
    assertThat(rig.client.acting().listStandingOrders(null, 10).getItems())
        .extracting(StandingOrder::getName)
        .doesNotContain("Nightly refresh");
  }

  @Test
  void itDoesNotGrowPastWhatOnePersonMayDo() throws Exception {
    try (Rig house = new Rig()) {
      house.another("eskil", "operator");
      Desk of = new Desk(house);
      house.join(house.unpackAutomatic("T10"), of.kiosks("Third", 3).getLink());
      house.join(house.unpackAutomatic("T10"), of.kiosks("Fourth", 3).getLink());
      StandingOrder o =
          house.client.acting().addStandingOrder(daily("Growing", CommandKey.RESTART));
      Thresholds before = house.client.house().getThresholds();
      Thresholds tight =
          house
              .client
              .house()
              .setThresholds(
                  Desk.onVersion(before.getVersion()),
                  new ThresholdsDraft().number(1L).reason(1L).second(2L));
      due(house, o);
      StandingOrder held = Rig.eventually(() -> now(house, o), s -> !s.getFault().isEmpty());
      assertThat(held.getFault()).contains("only when a second person agrees");
      assertThat(held.getLastDispatch()).isNull();
      assertThat(held.getNextAt()).as("it is tried again the next day").isNotNull();
      house
          .client
          .house()
          .setThresholds(
              Desk.onVersion(tight.getVersion()), new ThresholdsDraft().number(before.getNumber()));
      due(house, o);
      StandingOrder done = Rig.eventually(() -> now(house, o), s -> s.getLastDispatch() != null);
      assertThat(done.getFault()).isEmpty();
      house.client.acting().deleteStandingOrder(o.getId(), Desk.onVersion(done.getVersion()));
    }
  }

  @Test
  void whoMadeItHasToBeAllowedToStill() throws Exception {
    PinwrightClient tova = rig.another("tova", "helpdesk");
    StandingOrder o = tova.acting().addStandingOrder(daily("Tova's", CommandKey.REFRESH));
    Sql.run(rig, "update account set disabled_at = now() where login = 'tova'");
    due(rig, o);
    StandingOrder failed = Rig.eventually(() -> now(rig, o), s -> !s.getFault().isEmpty());
    assertThat(failed.getFault()).contains("needs the role helpdesk");
    assertThat(failed.getLastDispatch()).isNull();
  }

  @Test
  void whatWipesDoesNotRepeatAndBadTimesAreSaid() throws Exception {
    assertThatThrownBy(() -> rig.client.acting().addStandingOrder(daily("Wipe", CommandKey.WIPE)))
        .hasMessageContaining("does not repeat");
    assertThatThrownBy(
            () ->
                rig.client
                    .acting()
                    .addStandingOrder(daily("X", CommandKey.REFRESH).days(List.of())))
        .hasMessageContaining("at least one day");
    assertThatThrownBy(
            () -> rig.client.acting().addStandingOrder(daily("X", CommandKey.REFRESH).time("2 am")))
        .hasMessageContaining("like 02:30");
    assertThatThrownBy(
            () ->
                rig.client
                    .acting()
                    .addStandingOrder(daily("X", CommandKey.REFRESH).zone("Mars/Base")))
        .hasMessageContaining("a zone like");
  }
}
