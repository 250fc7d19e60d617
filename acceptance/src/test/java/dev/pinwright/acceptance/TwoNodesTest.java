package dev.pinwright.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import dev.pinwright.client.PinwrightClient;
import dev.pinwright.client.http.ApiException;
import dev.pinwright.client.model.CommandKey;
import dev.pinwright.client.model.DispatchOrder;
import dev.pinwright.client.model.EnrollmentProfileDraft;
import dev.pinwright.client.model.Invitation;
import dev.pinwright.client.model.InvitationDraft;
import dev.pinwright.client.model.Mode;
import dev.pinwright.client.model.Reason;
import dev.pinwright.client.model.Sequence;
import dev.pinwright.sandbox.device.Agent;
import dev.pinwright.server.Server;
import java.time.Clock;
import java.util.List;
import java.util.Map;
import java.util.UUID;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** Two services on one database: any of them serves any device. */
class TwoNodesTest {
  private static final int DEVICES = 400;
  private Rig rig;
  private Desk desk;
  private Server second;
  private int secondDevices;
  private PinwrightClient secondClient;

  @BeforeEach
  void start() {
    rig = new Rig();
    desk = new Desk(rig);
    int console = Rig.freePort();
    secondDevices = Rig.freePort();
    second = new Server(rig.settings(console, secondDevices), Clock.systemUTC());
    secondClient = new PinwrightClient("http://127.0.0.1:" + console, rig.token);
  }

  @AfterEach
  void stop() {
    second.close();
    rig.close();
  }

  private Invitation counting(int uses) throws Exception {
    String profile =
        desk.enrollment(
                new EnrollmentProfileDraft()
                    .name("Counted")
                    .mode(Mode.SUPERVISED)
                    .namePattern("Kiosk {seq:3}"))
            .getId();
    return rig.client.intake().addInvitation(new InvitationDraft().profileId(profile).uses(uses));
  }

  private String atSecond(String link) {
    return link.replace(":" + rig.devicePort + "/", ":" + secondDevices + "/");
  }

  @Test
  void hundredsOfDevicesJoinBothNodesAtOnceAndNoNumberIsDoubledOrSkipped() throws Exception {
    Invitation invitation = counting(DEVICES);
    String link = invitation.getLink();
    rig.joinMany(DEVICES, i -> i % 2 == 0 ? link : atSecond(link));
    assertThat(Sql.text(rig, "select count(distinct name) from device"))
        .isEqualTo(String.valueOf(DEVICES));
    List<Sequence> sequences = rig.client.intake().listSequences(null, 10).getItems();
    assertThat(sequences)
        .singleElement()
        .satisfies(
            s -> {
              assertThat(s.getLast()).isEqualTo(DEVICES);
              assertThat(s.getDevices()).isEqualTo(DEVICES);
              assertThat(s.getMissing()).isEmpty();
              assertThat(s.getDoubled()).isEmpty();
            });
  }

  @Test
  void whatIsOrderedAtOneNodeWakesADeviceThatIsConnectedToTheOther() throws Exception {
    Invitation invitation = counting(2);
    Agent here = rig.join(rig.unpackAutomatic("T10"), invitation.getLink());
    Agent there = rig.join(rig.unpackAutomatic("T10"), atSecond(invitation.getLink()));
    for (Agent agent : List.of(here, there)) {
      Rig.eventually(agent::screen, s -> s.online());
      secondClient
          .acting()
          .addDispatch(
              new DispatchOrder()
                  .command(CommandKey.MESSAGE)
                  .fields(Map.of("text", "The ferry leaves early."))
                  .serials(List.of(agent.screen().serial())),
              UUID.randomUUID().toString());
      Rig.eventually(agent::screen, s -> !s.messages().isEmpty());
    }
    for (PinwrightClient client : List.of(rig.client, secondClient)) {
      Rig.eventually(() -> online(client), n -> n == 2); // every node knows of all sockets
    }
    secondClient
        .devices()
        .retireDevice(
            desk.devices(here.screen().serial(), 1).get(0).getId(), new Reason().reason("broken"));
    Rig.eventually(() -> online(rig.client), n -> n == 1);
  }

  private static long online(PinwrightClient client) {
    try {
      return client.devices().getFleet().getOnline();
    } catch (ApiException e) {
      throw new IllegalStateException(e);
    }
  }
}
