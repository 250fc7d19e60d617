package dev.pinwright.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import dev.pinwright.client.model.Invitation;
import dev.pinwright.client.model.Published;
import dev.pinwright.sandbox.device.Agent;
import java.util.List;
import org.junit.jupiter.api.Test;

/** Hundreds of devices join, settle after a publication and stay connected. */
class ManyDevicesTest {
  private static final int DEVICES = 300;

  @Test
  void hundredsOfDevicesJoinSettleAndStay() throws Exception {
    try (Rig rig = new Rig()) {
      Desk desk = new Desk(rig);
      Invitation invitation = desk.kiosks("Kiosks", DEVICES);
      List<Agent> agents = rig.joinMany(DEVICES, i -> invitation.getLink());
      Rig.eventually(() -> desk.fleet(), f -> f.getOnline() == DEVICES);
      Rig.eventually(
          () -> desk.fleet(), f -> f.getByStanding().getOrDefault("settled", 0L) == DEVICES);

      Published published = desk.publish(desk.profile("Baseline", Desk.BASELINE, Desk.everyone()));
      assertThat(published.getChange().getTotal()).isEqualTo(DEVICES);
      Rig.eventually(() -> desk.change(published.getChange().getId()), c -> c.getDone() == DEVICES);
      assertThat(agents).allMatch(a -> a.screen().notices("camera-gone"));
      assertThat(desk.fleet().getOnline()).isEqualTo(DEVICES);
      assertThat(Sql.text(rig, "select count(*) from shape"))
          .as("shapes, not devices")
          .isEqualTo("2");
    }
  }
}
