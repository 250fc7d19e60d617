package dev.pinwright.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import dev.pinwright.sandbox.device.Agent;
import dev.pinwright.sandbox.device.Screen;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.openqa.selenium.By;
import org.openqa.selenium.WebElement;

/** An app in a browser: brought, released, assigned, seen on the device, updated, removed. */
class AppStoryTest {
  private static final String SCHEMA =
      """
      "summary":"Who is on when.","category":"staff","permissions":["network"%s],
      "configuration":{"type":"object","properties":{"house":{"type":"string","title":"House"}}}
      """;

  @Test
  void broughtReleasedAssignedUpdatedAndRemoved() throws Exception {
    try (Rig rig = new Rig();
        Browser b = new Browser()) {
      Desk desk = new Desk(rig);
      Agent tablet = rig.join(rig.unpackAutomatic("T10"), desk.kiosks("Kiosks", 3).getLink());
      String id = desk.devices(tablet.screen().serial(), 1).get(0).getId();
      String name = desk.card(id).getDevice().getName();

      b.open(rig.consoleUrl());
      b.type("Login", "owner");
      b.type("Password", Rig.PASSWORD);
      b.press("Sign in");
      b.read("1 device,");
      b.open(rig.consoleUrl() + "/apps/catalogue");
      b.read("with the OS");
      b.press("Bring a package");
      b.give(By.cssSelector("input[aria-label=Package]"), Packages.rota(1, SCHEMA.formatted("")));
      press(b, "Bring package");
      b.read("Vellmar workshop");
      b.press("Go on to Rota");
      b.read("To nobody yet");
      b.press("Release");
      b.read("No published assignment follows it");
      b.press("Release to 0 devices");
      b.read("released to all");

      b.press("Assign");
      WebElement find = b.see(By.cssSelector("[aria-label='Goes to: find']"));
      find.click();
      find.sendKeys(name);
      b.click(By.xpath("//*[@role='option'][contains(., '" + name + "')]"));
      b.press("Rehearse it");
      b.read("what version 1 would do");
      b.read("Presence (rota)");
      b.press("Publish to 1 device");
      Rig.eventually(() -> versions(tablet), List.of("1.0")::equals);

      String console = b.tab(rig.handheldUrl(tablet));
      b.click(By.id("app-vellmar.rota"));
      b.read("Version 1.0, from your organisation");
      b.switchTo(console);
      b.type("House, if wanted", "The house of {self:Name}");
      b.press("Rehearse and publish");
      b.read("what version 2 would do");
      b.press("Publish to 1 device");
      Rig.eventually(
          () -> tablet.screen().installed().get(0).config(),
          c -> c.contains("The house of " + name));

      b.open(rig.consoleUrl() + "/apps/catalogue");
      b.press("Bring a package");
      b.give(
          By.cssSelector("input[aria-label=Package]"),
          Packages.rota(2, SCHEMA.formatted(",\"camera\"")));
      press(b, "Bring package");
      b.read("It may do what the version before might not");
      b.press("Go on to Rota");
      b.press("Release");
      b.read("1.0 (1)");
      b.press("Release to 1 device");
      Rig.eventually(() -> versions(tablet), List.of("2.0")::equals);
      b.open(rig.consoleUrl() + "/devices/" + id);
      b.click(By.xpath("//*[@role='tab'][.='Apps']"));
      b.read("as wanted");

      b.open(rig.consoleUrl() + "/apps/catalogue");
      b.click(By.xpath("//td[contains(., 'Rota')]"));
      b.click(By.cssSelector("aside a[href^='/apps/assignments/']"));
      b.read("It assigns");
      b.press("Delete");
      b.read("0 change, 1 lose.");
      b.press("Yes, delete");
      Rig.eventually(() -> versions(tablet), List::isEmpty);
      assertThat(tablet.screen().runs()).containsEntry("remove", 1);
    }
  }

  /** The button of the sheet, which is called almost as the one behind it. */
  private static void press(Browser b, String name) {
    b.click(By.xpath("//button[.='" + name + "']"));
  }

  private static List<String> versions(Agent tablet) {
    return tablet.screen().installed().stream().map(Screen.Tile::version).toList();
  }
}
