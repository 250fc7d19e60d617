package dev.pinwright.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import dev.pinwright.client.model.AppDetail;
import dev.pinwright.client.model.CommandKey;
import dev.pinwright.client.model.Dispatch;
import dev.pinwright.client.model.DispatchOrder;
import dev.pinwright.client.model.Invitation;
import dev.pinwright.client.model.Profile;
import dev.pinwright.client.model.Published;
import dev.pinwright.sandbox.device.Agent;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;

/** The service is killed in the middle of things and started again. */
class CrashTest {
  private static final int DEVICES = 60;

  @Test
  void aKillInTheMiddleOfAPublicationAndADispatchLosesNothingAndRepeatsNothing() throws Exception {
    try (Rig rig = new Rig()) {
      rig.server.close();
      ServiceProcess service = new ServiceProcess(rig);
      try {
        Desk desk = new Desk(rig);
        Invitation invitation = desk.kiosks("Kiosks", DEVICES);
        List<Agent> agents = rig.joinMany(DEVICES, i -> invitation.getLink());
        Profile profile = desk.profile("Baseline", Desk.BASELINE, Desk.everyone());
        Published published = desk.publish(profile);
        DispatchOrder order =
            new DispatchOrder()
                .command(CommandKey.MESSAGE)
                .fields(Map.of("text", "hello"))
                .targets(List.of(Desk.everyone()))
                .confirmDevices((long) DEVICES);
        Dispatch dispatch = desk.order(order, "crash-1");
        Rig.eventually(
            () -> agents.stream().filter(a -> !a.screen().settings().isEmpty()).count(),
            n -> n > 5);
        service.kill();
        long reached = agents.stream().filter(a -> !a.screen().messages().isEmpty()).count();
        assertThat(reached).as("killed in the middle").isLessThan(DEVICES);

        service = new ServiceProcess(rig);
        assertThat(desk.order(order, "crash-1").getId())
            .as("the same order under the same key is the same dispatch")
            .isEqualTo(dispatch.getId());
        Rig.eventually(
            () -> desk.change(published.getChange().getId()).getDone(), n -> n == DEVICES);
        Dispatch end = Rig.eventually(() -> desk.dispatch(dispatch.getId()), Dispatch::getEnded);
        assertThat(end.getStates()).isEqualTo(Map.of("done", (long) DEVICES));
        assertThat(agents)
            .allSatisfy(
                a -> {
                  assertThat(a.screen().runs()).isEqualTo(Map.of("message", 1));
                  assertThat(a.screen().settings()).hasSize(Desk.BASELINE.size());
                });
        assertThat(rig.client.records().verifyJournal().getIntact()).isTrue();
      } finally {
        service.kill();
      }
    }
  }

  @Test
  void aKillInTheMiddleOfInstallationsLetsEachEndOnce() throws Exception {
    try (Rig rig = new Rig()) {
      rig.server.close();
      ServiceProcess service = new ServiceProcess(rig);
      try {
        Desk desk = new Desk(rig);
        Invitation invitation = desk.kiosks("Kiosks", DEVICES);
        List<Agent> agents = rig.joinMany(DEVICES, i -> invitation.getLink());
        Rig.eventually(
            () -> desk.fleet().getByStanding().getOrDefault("settled", 0L), n -> n == DEVICES);
        AppDetail app =
            desk.bring(Packages.of("vellmar.guide", "Guide", 1, 3_000_000, "", Packages.WORKSHOP));
        desk.release(app, 1);
        Published published =
            desk.publish(desk.assignment(app, "required", Desk.everyone(), Map.of()));
        Rig.eventually(() -> installed(agents), n -> n > 3);
        service.kill();
        assertThat(installed(agents)).as("killed in the middle").isLessThan(DEVICES);

        service = new ServiceProcess(rig);
        Rig.eventually(
            () -> desk.change(published.getChange().getId()).getDone(), n -> n == DEVICES);
        assertThat(agents)
            .allSatisfy(a -> assertThat(a.screen().runs()).isEqualTo(Map.of("install", 1)));
        assertThat(installed(agents)).isEqualTo(DEVICES);
        assertThat(
                Sql.text(
                    rig,
                    "select count(*) || ' ' || count(distinct id) || ' ' || max(tries)"
                        + " from app_attempt where state = 'done'"))
            .isEqualTo(DEVICES + " " + DEVICES + " 1");
        assertThat(Sql.text(rig, "select count(*) from activity where text = 'Guide installed'"))
            .as("said once of each")
            .isEqualTo(String.valueOf(DEVICES));
      } finally {
        service.kill();
      }
    }
  }

  private static long installed(List<Agent> agents) {
    return agents.stream().filter(a -> !a.screen().installed().isEmpty()).count();
  }
}
