package dev.pinwright.acceptance;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.pinwright.client.http.ApiException;
import dev.pinwright.client.model.CommandKey;
import dev.pinwright.client.model.DispatchOrder;
import dev.pinwright.client.model.PlatformKey;
import dev.pinwright.client.model.Reason;
import dev.pinwright.sandbox.device.Agent;
import dev.pinwright.sandbox.office.MailCatcher.Letter;
import java.time.Duration;
import java.util.List;
import java.util.Map;
import java.util.concurrent.atomic.AtomicInteger;
import org.awaitility.Awaitility;
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
    gates.services(PlatformKey.TARN);
    gates.push(PlatformKey.TARN, Gates.ACCOUNT, 365);
    Agent tablet = rig.unpackAutomatic("T10");
    rig.join(tablet, desk.kiosks("Kiosks", 1).getLink());
    String id = desk.onlyDevice();
    Rig.eventually(() -> desk.standing(id), "settled"::equals);
    tablet.saveBattery(true);
    Rig.eventually(
        () -> {
          try {
            return rig.client.house().getGateway(PlatformKey.TARN).getPush().getDevices();
          } catch (ApiException e) {
            throw new IllegalStateException(e);
          }
        },
        n -> n == 1);
    Rig.eventually(tablet::screen, s -> !s.online());
    AtomicInteger before = new AtomicInteger(-1);
    Awaitility.await("nothing is said any more")
        .during(Duration.ofMillis(1_500))
        .atMost(Duration.ofSeconds(60))
        .until(() -> tablet.screen().sessions(), n -> before.getAndSet(n) == n);
    int sessions = before.get();
    desk.order(
        new DispatchOrder()
            .command(CommandKey.MESSAGE)
            .targets(List.of(Desk.device(id)))
            .fields(Map.of("text", "The museum closes at five.")),
        "push-1");
    Rig.eventually(tablet::screen, s -> !s.messages().isEmpty());
    Rig.eventually(() -> tablet.screen().sessions(), n -> n > sessions);

    tablet.offline(true);
    desk.order(
        new DispatchOrder()
            .command(CommandKey.MESSAGE)
            .targets(List.of(Desk.device(id)))
            .fields(Map.of("text", "It opens at nine.")),
        "push-2");
    tablet.offline(false);
    Rig.eventually(tablet::screen, s -> s.messages().size() == 2);

    rig.client.devices().retireDevice(id, new Reason().reason("sold"));
    assertThat(Rig.eventually(tablet::screen, s -> !s.managed()).reason())
        .as("it is woken a last time")
        .contains("no longer managed (sold)");
  }

  @Test
  void aCredentialOfAnotherAccountIsRefusedWithWhatWouldHappenAndOneThatEndsIsSaid()
      throws Exception {
    gates.mail();
    gates.services(PlatformKey.TARN);
    gates.push(PlatformKey.TARN, Gates.ACCOUNT, 20);
    assertThatThrownBy(() -> gates.push(PlatformKey.TARN, "somebody@vellmar.example", 365))
        .hasMessageContaining("another-account")
        .hasMessageContaining("would have to join again");
    assertThat(rig.client.house().getGateway(PlatformKey.TARN).getPush().getState().getValue())
        .isEqualTo("lapsing");
    Rig.eventually(
        () -> rig.handheld.mail().letters().stream().map(Letter::subject).toList(),
        l -> l.contains("Push credential of tarn lapses in 19 days"));
    assertThat(rig.client.house().listNotices(null, 5).getItems()).hasSize(1);
    gates.push(PlatformKey.TARN, Gates.ACCOUNT, 365);
    assertThat(rig.client.house().listNotices(null, 5).getItems()).isEmpty();
    assertThatThrownBy(() -> gates.push(PlatformKey.FJELL, Gates.ACCOUNT, 365))
        .hasMessageContaining("Say first where the services of Fjell are");
  }
}
