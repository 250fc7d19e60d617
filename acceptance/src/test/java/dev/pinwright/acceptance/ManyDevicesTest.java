package dev.pinwright.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import dev.pinwright.client.model.Change;
import dev.pinwright.client.model.Invitation;
import dev.pinwright.client.model.Published;
import dev.pinwright.sandbox.device.Agent;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.CompletableFuture;
import org.junit.jupiter.api.Test;

/** A thousand devices join, settle after a publication and stay connected. */
class ManyDevicesTest {
  private static final int DEVICES = Integer.getInteger("devices", 1_000);
  private static final int AT_ONCE = 40;

  @Test
  void aThousandDevicesJoinSettleAndStay() throws Exception {
    try (Rig rig = new Rig()) {
      Desk desk = new Desk(rig);
      Invitation invitation = desk.kiosks("Kiosks", DEVICES);
      long start = System.nanoTime();
      List<CompletableFuture<?>> batch = new ArrayList<>();
      for (int i = 0; i < DEVICES; i++) {
        Agent a = rig.unpackAutomatic("T10");
        batch.add(a.take(invitation.getLink()).thenCompose(x -> a.accept(null)));
        if (batch.size() == AT_ONCE) {
          CompletableFuture.allOf(batch.toArray(CompletableFuture[]::new)).join();
          batch.clear();
        }
      }
      Rig.eventually(() -> fleet(rig), f -> f.getOnline() == DEVICES);
      System.out.printf(
          "%d devices joined in %.1f s%n", DEVICES, (System.nanoTime() - start) / 1e9);
      Rig.eventually(
          () -> fleet(rig), f -> f.getByStanding().getOrDefault("settled", 0L) == DEVICES);

      start = System.nanoTime();
      Published published = desk.publish(desk.profile("Baseline", Desk.BASELINE, Desk.everyone()));
      assertThat(published.getChange().getTotal()).isEqualTo(DEVICES);
      Rig.eventually(
          () -> rig.fleet.all().stream().anyMatch(a -> a.screen().cameraOff()), any -> any);
      assertThat((System.nanoTime() - start) / 1e9).as("seconds to the first device").isLessThan(3);

      long slowest = 0;
      Change change;
      long end = System.nanoTime() + 180_000_000_000L;
      do {
        long asked = System.nanoTime();
        desk.devices("", 100);
        slowest = Math.max(slowest, System.nanoTime() - asked);
        Thread.sleep(200);
        change = desk.change(published.getChange().getId());
      } while (change.getDone() < DEVICES && System.nanoTime() < end);
      System.out.printf(
          "%d devices settled in %.1f s; slowest page of 100 devices meanwhile %d ms%n",
          change.getDone(), (System.nanoTime() - start) / 1e9, slowest / 1_000_000);
      assertThat(change.getDone()).isEqualTo(DEVICES);
      assertThat(fleet(rig).getOnline()).isEqualTo(DEVICES);
      assertThat(Sql.text(rig, "select count(*) from shape"))
          .as("shapes, not devices")
          .isEqualTo("2");
    }
  }

  private static dev.pinwright.client.model.Fleet fleet(Rig rig) {
    try {
      return rig.client.devices().getFleet();
    } catch (dev.pinwright.client.http.ApiException e) {
      throw new IllegalStateException(e);
    }
  }
}
