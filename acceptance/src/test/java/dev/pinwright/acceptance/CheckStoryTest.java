package dev.pinwright.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import dev.pinwright.client.model.DeviceSummary;
import dev.pinwright.client.model.Order;
import dev.pinwright.sandbox.device.Agent;
import dev.pinwright.sandbox.device.Screen;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import org.openqa.selenium.By;

/**
 * A kit hands things out together, one of them only to devices in order; a check finds a device
 * that is not, its holder is told on it, and all comes back once it is mended.
 */
class CheckStoryTest {
  private static void signIn(Rig rig, Browser b) {
    b.open(rig.consoleUrl());
    b.type("Login", "owner");
    b.type("Password", Rig.PASSWORD);
    b.press("Sign in");
    b.read("Today");
  }

  private static String told(Agent agent) {
    return agent.screen().order().map(Screen.Order::state).orElse("");
  }

  private static String brightness(Agent agent) {
    return agent.screen().noticed().getOrDefault("brightness", "");
  }

  @Test
  void aDeviceThatIsNotInOrderIsToldGoesWithoutAndGetsItBack() throws Exception {
    try (Rig rig = new Rig();
        Browser b = new Browser()) {
      Desk desk = new Desk(rig);
      String link = desk.kiosks("Kiosks", 5).getLink();
      List<Agent> tablets = rig.joinMany(2, i -> link);
      Agent tablet = tablets.get(0);
      desk.publish(desk.profile("Dim", Map.of("appearance.brightness", 20)));

      signIn(rig, b);
      b.open(rig.consoleUrl() + "/rules/kits?new=1");
      b.type("Name", "Gallery kit");
      b.press("Make kit");
      b.read("None yet.");
      b.type("Find a profile to go along", "Dim");
      b.click(By.xpath("//*[@role='option'][contains(., 'Dim')]"));
      b.choose("Who gets Dim", "only while in order");
      b.type("Goes to: find", "gallery");
      b.click(By.xpath("//*[@role='option'][contains(., 'gallery')]"));
      b.press("Rehearse and publish");
      b.read("2 devices");
      b.press("Publish to 2 devices");
      for (Agent t : tablets) {
        Rig.eventually(() -> brightness(t), "20"::equals);
      }

      b.open(rig.consoleUrl() + "/rules/checks?new=1");
      b.choose("Start from", "Encryption: Devices that say they are not encrypted.");
      b.read("It finds 0 devices");
      b.click(By.xpath("//li[contains(., 'Out of order')]//input"));
      b.keys(org.openqa.selenium.Keys.HOME, org.openqa.selenium.Keys.DELETE);
      b.click(By.cssSelector("input[type=checkbox][aria-label=Withhold]"));
      b.press("Make check");
      b.read("kits withheld at once");

      tablet.device().fault("unencrypted", true);
      tablet.checkIn(false);
      Rig.eventually(() -> told(tablet), "out-of-order"::equals);
      assertThat(tablet.screen().order().orElseThrow().reasons())
          .containsExactly("Encryption: Turn encryption on, in the settings of the device.");
      Rig.eventually(() -> brightness(tablet), ""::equals);
      assertThat(brightness(tablets.get(1))).as("the other one").isEqualTo("20");
      DeviceSummary card = desk.devices(tablet.screen().serial(), 1).get(0);
      assertThat(card.getOrder()).isEqualTo(Order.OUT_OF_ORDER);
      b.open(rig.consoleUrl() + "/devices?rule=order+is+out-of-order&card=" + card.getId());
      b.read("the device was told");
      b.read("Turn encryption on, in the settings of the device.");
      b.read("is withheld");
      b.open(rig.consoleUrl() + "/today");
      b.read("Devices that are out of order");
      b.see(By.xpath("//a[contains(@href, 'order') and contains(., '" + card.getName() + "')]"));

      tablet.device().fault("unencrypted", false);
      tablet.checkIn(false);
      Rig.eventually(() -> told(tablet), "in-order"::equals);
      Rig.eventually(() -> brightness(tablet), "20"::equals);
      assertThat(tablet.screen().order().map(Screen.Order::reasons))
          .isEqualTo(Optional.of(List.of()));
      assertThat(desk.devices(tablet.screen().serial(), 1).get(0).getOrder())
          .isEqualTo(Order.IN_ORDER);
    }
  }
}
