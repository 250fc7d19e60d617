package dev.pinwright.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import dev.pinwright.client.model.Profile;
import dev.pinwright.sandbox.device.Agent;
import dev.pinwright.sandbox.device.Screen;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.openqa.selenium.By;
import org.openqa.selenium.Keys;
import org.openqa.selenium.WebElement;

/** A kiosk in a browser: laid out by hand, kept on the device, left by a code. */
class KioskStoryTest {
  @Test
  void laidOutOnADrawingAndLeftByACodeWithTheNetworkOff() throws Exception {
    try (Rig rig = new Rig();
        Browser b = new Browser()) {
      Desk desk = new Desk(rig);
      Agent tablet = rig.join(rig.unpackAutomatic("T10"), desk.kiosks("Kiosks", 3).getLink());
      String id = desk.devices(tablet.screen().serial(), 1).get(0).getId();
      Profile profile =
          desk.profile(
              "Quay kiosks", Map.of("kiosk.mode", "home", "kiosk.columns", 2), Desk.device(id));

      b.open(rig.consoleUrl());
      b.type("Login", "owner");
      b.type("Password", Rig.PASSWORD);
      b.press("Sign in");
      b.read("1 device,");
      b.open(rig.consoleUrl() + "/rules/profiles/" + profile.getId());
      b.click(By.cssSelector("[aria-label='Add Web']"));
      b.click(By.cssSelector("[aria-label='Add Photos']"));
      WebElement web = b.see(By.cssSelector("[aria-label='Web, row 1, column 1']"));
      WebElement dock = b.see(By.cssSelector("[aria-label=Dock] > div"));
      b.drag(web, dock);
      b.see(By.cssSelector("[aria-label='Web, dock, column 1']"));
      b.see(By.cssSelector("[aria-label='Photos, row 1, column 2']")).sendKeys(Keys.ARROW_LEFT);
      b.see(By.cssSelector("[aria-label='Photos, row 1, column 1']"));
      b.press("Rehearse and publish");
      b.press("Publish to 1 device");
      Screen.KioskView kiosk =
          Rig.eventually(tablet::screen, s -> s.screen().equals("kiosk")).kiosk().orElseThrow();
      assertThat(kiosk.dock()).extracting(Screen.App::name).containsExactly("Web");
      assertThat(kiosk.rows().get(0).get(0)).map(Screen.App::name).contains("Photos");
      assertThat(kiosk.rows()).hasSize(1);

      b.open(rig.consoleUrl() + "/devices/" + id);
      b.read("In its kiosk");
      tablet.offline(true);
      b.press("Show exit code");
      String code =
          b.see(By.cssSelector("[aria-label='Exit code'] .font-mono")).getText().replace(" ", "");
      assertThat(code).matches("\\d{6}");
      String console = b.tab(rig.handheldUrl(tablet));
      b.press("Photos");
      b.see(By.id("kiosk-app"));
      b.press("Home");
      b.click(By.id("kiosk-corner"));
      b.type("Exit code", code.equals("000000") ? "111111" : "000000");
      b.press("Leave");
      b.read("That is not the code.");
      b.type("Exit code", code);
      b.press("Leave");
      b.read("The kiosk comes back at");
      tablet.offline(false);
      b.switchTo(console);
      b.read("Out of its kiosk");
      b.press("Activity");
      b.read("Its kiosk was left by a code typed on it");
      assertThat(List.of(tablet.screen().screen())).containsExactly("home");
    }
  }
}
