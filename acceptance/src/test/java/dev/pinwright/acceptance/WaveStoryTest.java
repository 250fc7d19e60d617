package dev.pinwright.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import dev.pinwright.client.model.Profile;
import dev.pinwright.sandbox.device.Agent;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.openqa.selenium.By;

/** A publication begun wave by wave in the console, stopped, let go on, and taken back. */
class WaveStoryTest {
  private static final int TABLETS = 6;

  private static long bright(List<Agent> tablets) {
    return tablets.stream()
        .filter(t -> t.screen().noticed().getOrDefault("brightness", "").equals("60"))
        .count();
  }

  @Test
  void itReachesSomeFirstAndAllWhenItIsLetGoOn() throws Exception {
    try (Rig rig = new Rig();
        Browser b = new Browser()) {
      Desk desk = new Desk(rig);
      String link = desk.kiosks("Kiosks", TABLETS).getLink();
      List<Agent> tablets = rig.joinMany(TABLETS, i -> link);
      Profile profile =
          desk.profile("Gallery", Map.of("appearance.brightness", 60), Desk.tag("gallery"));
      b.open(rig.consoleUrl());
      b.type("Login", "owner");
      b.type("Password", Rig.PASSWORD);
      b.press("Sign in");
      b.read("Today");
      b.open(rig.consoleUrl() + "/rules/profiles/" + profile.getId());
      b.press("Rehearse and publish");
      b.read("gain settings");
      b.click(By.xpath("//label[contains(., 'wave by wave')]"));
      b.press("Take wave 3 out");
      b.press("Take wave 2 out");
      b.type("Wave 1: devices", "1");
      b.press("Begin the first wave of 6 devices");
      b.read("Version 1 spreads: wave 1 of 2");
      b.press("Stop here");
      b.read("Version 1 stopped: wave 1 of 2");
      b.read("Stopped by owner");
      assertThat(bright(tablets)).isLessThan(TABLETS);

      String late =
          rig.join(rig.unpackAutomatic("T10"), desk.kiosks("More", 1).getLink()).screen().serial();
      assertThat(desk.devices(late, 1)).hasSize(1);
      b.press("Let everybody have it now");
      Rig.eventually(() -> bright(tablets), n -> n == TABLETS);
      assertThat(rig.client.rules().getProfileWaves(profile.getId()).getSpreading()).isNull();
      b.read("7 devices");
    }
  }
}
