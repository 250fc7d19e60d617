package dev.pinwright.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import dev.pinwright.client.PinwrightClient;
import dev.pinwright.client.http.ApiException;
import dev.pinwright.client.model.DispatchOrder;
import dev.pinwright.client.model.EnrollmentProfileDraft;
import dev.pinwright.client.model.Invitation;
import dev.pinwright.client.model.InvitationDraft;
import dev.pinwright.client.model.Reason;
import dev.pinwright.client.model.Sequence;
import dev.pinwright.sandbox.device.Agent;
import dev.pinwright.server.Server;
import java.time.Clock;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.UUID;
import java.util.concurrent.CompletableFuture;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** Two services on one database: any of them serves any device. */
class TwoNodesTest {
  private static final int DEVICES = 2_000;
  private static final int AT_ONCE = 40;
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
                    .mode("supervised")
                    .namePattern("Kiosk {seq:3}"))
            .getId();
    return rig.client.intake().addInvitation(new InvitationDraft().profileId(profile).uses(uses));
  }

  private String atSecond(String link) {
    return link.replace(":" + rig.devicePort + "/", ":" + secondDevices + "/");
  }

  @Test
  void twoThousandDevicesJoinBothNodesAtOnceAndNoNumberIsDoubledOrSkipped() throws Exception {
    Invitation invitation = counting(DEVICES);
    List<Agent> agents = new ArrayList<>();
    for (int i = 0; i < DEVICES; i++) {
      agents.add(rig.unpackAutomatic("T10"));
    }
    long start = System.nanoTime();
    for (int i = 0; i < DEVICES; i += AT_ONCE) {
      CompletableFuture<?>[] joining = new CompletableFuture<?>[AT_ONCE];
      for (int k = 0; k < AT_ONCE; k++) {
        String link = invitation.getLink();
        Agent agent = agents.get(i + k);
        joining[k] =
            agent.take(k % 2 == 0 ? link : atSecond(link)).thenCompose(x -> agent.accept(null));
      }
      CompletableFuture.allOf(joining).join();
    }
    System.out.printf(
        "%,d devices joined two nodes over the wire with one sequence in %.1f s%n",
        DEVICES, (System.nanoTime() - start) / 1e9);

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
    assertThat(agents.stream().filter(a -> a.screen().managed())).hasSize(DEVICES);
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
                  .command("message")
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
