package dev.pinwright.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import dev.pinwright.client.http.ApiException;
import dev.pinwright.client.model.CommandKey;
import dev.pinwright.client.model.DispatchOrder;
import dev.pinwright.client.model.Profile;
import dev.pinwright.client.model.Standing;
import dev.pinwright.sandbox.device.Agent;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;

/** Something on a device changes a setting back, however often it is put right. */
class MeddledTest {
  private static final String BRIGHTNESS = "./Vendor/Pinwright/Policy/appearance/brightness";
  private static final int AT_ONCE = 3;

  @Test
  void isPutRightAFewTimesThenLeftForLaterAndSaid() throws Exception {
    try (Rig rig = new Rig()) {
      Desk desk = new Desk(rig);
      Agent tablet = rig.join(rig.unpackAutomatic("T10"), desk.kiosks("Kiosks", 3).getLink());
      String id = desk.devices(tablet.screen().serial(), 1).get(0).getId();
      Profile profile = desk.profile("Dim", Map.of("appearance.brightness", 20), Desk.device(id));
      desk.publish(profile);
      Rig.eventually(() -> desk.card(id).getDevice().getStanding(), Standing.SETTLED::equals);

      tablet.device().meddle(BRIGHTNESS, "100");
      tablet.checkIn(false);
      Rig.eventually(
          () -> desk.card(id).getDevice().getStandingReason(), r -> r.contains("again and again"));
      assertThat(desk.card(id).getDevice().getStanding()).isEqualTo(Standing.DRIFTED);
      int sessions = tablet.screen().sessions();
      Thread.sleep(2_000);
      assertThat(tablet.screen().sessions())
          .as("the two are not at it for ever")
          .isEqualTo(sessions);
      assertThat(putRight(rig, id)).isEqualTo(AT_ONCE);

      tablet.checkIn(false);
      Rig.eventually(() -> tablet.screen().sessions(), n -> n > sessions);
      assertThat(putRight(rig, id)).as("too early still").isEqualTo(AT_ONCE);
      assertThat(desk.card(id).getDevice().getStanding()).isEqualTo(Standing.DRIFTED);

      desk.order(
          new DispatchOrder().command(CommandKey.REFRESH).targets(List.of(Desk.device(id))),
          "put it right");
      Rig.eventually(() -> putRight(rig, id), n -> n == AT_ONCE + 1);

      tablet.device().meddle(BRIGHTNESS, "");
      desk.publish(desk.change(profile, Map.of("appearance.brightness", 40)));
      Rig.eventually(() -> desk.card(id).getDevice().getStanding(), Standing.SETTLED::equals);
      assertThat(tablet.device().tree().read(BRIGHTNESS).get(BRIGHTNESS).value()).isEqualTo("40");
    }
  }

  private static long putRight(Rig rig, String id) {
    try {
      return rig.client.devices().getDeviceActivity(id, null, 200).getItems().stream()
          .filter(line -> line.getKind().equals("drifted"))
          .count();
    } catch (ApiException e) {
      throw new IllegalStateException(e);
    }
  }
}
