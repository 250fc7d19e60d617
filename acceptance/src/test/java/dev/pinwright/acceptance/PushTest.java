package dev.pinwright.acceptance;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.pinwright.client.http.ApiException;
import dev.pinwright.client.model.DispatchOrder;
import dev.pinwright.sandbox.device.Agent;
import dev.pinwright.sandbox.office.MailCatcher.Letter;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** Push credentials and the wake-ups that go by them. */
class PushTest {
  private Rig rig;
  private Desk desk;
  private Gates gates;

  @BeforeEach
  void start() {
    rig = new Rig();
    desk = new Desk(rig);
    gates = new Gates(rig);
  }

  @AfterEach
  void stop() {
    rig.close();
  }

  @Test
  void aDeviceWithoutAConnectionIsWokenThroughThePushService() throws Exception {
    gates.services("tarn");
    gates.push("tarn", Gates.ACCOUNT, 365);
    Agent tablet = rig.unpackAutomatic("T10");
    rig.join(tablet, desk.kiosks("Kiosks", 1).getLink());
    String id = desk.onlyDevice();
    Rig.eventually(() -> desk.standing(id), "settled"::equals);
    tablet.saveBattery(true);
    Rig.eventually(
        () -> {
          try {
            return rig.client.house().getGateway("tarn").getPush().getDevices();
          } catch (ApiException e) {
            throw new IllegalStateException(e);
          }
        },
        n -> n == 1);
    Rig.eventually(tablet::screen, s -> !s.online());
    int[] before = {-1};
    int sessions =
        Rig.eventually(
            () -> {
              before[0] = tablet.screen().sessions();
              quiet();
              return tablet.screen().sessions();
            },
            n -> n == before[0]);
    desk.order(
        new DispatchOrder()
            .command("message")
            .targets(List.of(Desk.device(id)))
            .fields(Map.of("text", "The museum closes at five.")),
        "push-1");
    Rig.eventually(tablet::screen, s -> !s.messages().isEmpty());
    assertThat(tablet.screen().sessions()).isGreaterThan(sessions);

    tablet.offline(true);
    desk.order(
        new DispatchOrder()
            .command("message")
            .targets(List.of(Desk.device(id)))
            .fields(Map.of("text", "It opens at nine.")),
        "push-2");
    tablet.offline(false);
    Rig.eventually(tablet::screen, s -> s.messages().size() == 2);
  }

  @Test
  void aCredentialOfAnotherAccountIsRefusedWithWhatWouldHappenAndOneThatEndsIsSaid()
      throws Exception {
    gates.mail();
    gates.services("tarn");
    gates.push("tarn", Gates.ACCOUNT, 20);
    assertThatThrownBy(() -> gates.push("tarn", "somebody@vellmar.example", 365))
        .hasMessageContaining("another-account")
        .hasMessageContaining("would have to join again");
    assertThat(rig.client.house().getGateway("tarn").getPush().getState().getValue())
        .isEqualTo("lapsing");
    Rig.eventually(
        () -> rig.handheld.mail().letters().stream().map(Letter::subject).toList(),
        l -> l.contains("Push credential of tarn lapses in 19 days"));
    assertThat(rig.client.house().listNotices(null, 5).getItems()).hasSize(1);
    gates.push("tarn", Gates.ACCOUNT, 365);
    assertThat(rig.client.house().listNotices(null, 5).getItems()).isEmpty();
    assertThatThrownBy(() -> gates.push("fjell", Gates.ACCOUNT, 365))
        .hasMessageContaining("Say first where the services of Fjell are");
  }

  private static void quiet() {
    try {
      Thread.sleep(1_500);
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
      throw new IllegalStateException(e);
    }
  }
}
