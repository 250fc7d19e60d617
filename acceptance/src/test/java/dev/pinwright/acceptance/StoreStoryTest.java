package dev.pinwright.acceptance;

import dev.pinwright.client.model.PlatformKey;
import dev.pinwright.core.license.Licensing;
import dev.pinwright.sandbox.device.Agent;
import dev.pinwright.sandbox.device.Screen;
import java.nio.file.Files;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.openqa.selenium.By;
import org.openqa.selenium.WebElement;

/** A store's app in a browser: bought in the portal, read, short, installed, updated, removed. */
class StoreStoryTest {
  private static final String READER = "lumen.reader";

  @Test
  void boughtReadAssignedShortInstalledUpdatedAndRemoved() throws Exception {
    try (Rig rig = new Rig();
        Browser b = new Browser()) {
      Desk desk = new Desk(rig);
      Gates gates = new Gates(rig);
      gates.services(PlatformKey.TARN);
      gates.store(PlatformKey.TARN);
      gates.sell(
          PlatformKey.TARN,
          Packages.of(READER, "Lumen Reader", 1, 20_000, "", Packages.WORKSHOP),
          Licensing.BY_DEVICE);
      String link = desk.kiosks("Kiosks", 3).getLink();
      Agent first = rig.join(rig.unpackAutomatic("T10"), link);
      Agent second = rig.join(rig.unpackAutomatic("T10"), link);

      b.open(rig.consoleUrl());
      b.type("Login", "owner");
      b.type("Password", Rig.PASSWORD);
      b.press("Sign in");
      b.read("2 devices");
      String console = b.tab("http://127.0.0.1:" + rig.handheld.port() + "/store.html");
      String store = b.here();
      buy(b, 1);
      b.read("Tollen: 0 of 1 in use");

      read(rig, b, console, "1 license");
      b.open(rig.consoleUrl() + "/apps/catalogue");
      b.click(By.xpath("//td[contains(., 'Lumen Reader')]"));
      b.read("From the store of tarn, one license per device");
      b.press("Assign");
      WebElement find = b.see(By.cssSelector("[aria-label='Goes to: find']"));
      find.click();
      find.sendKeys("gallery");
      b.click(By.xpath("//*[@role='option'][contains(., 'gallery')]"));
      b.press("Rehearse it");
      b.read("Lumen Reader is 1 license short:");
      b.read("2 devices would need one, 1 is free");
      b.press("Publish to 2 devices");
      Rig.eventually(() -> versions(first), List.of("1.0")::equals);
      Rig.eventually(
          () -> desk.standing(desk.devices(second.screen().serial(), 1).get(0).getId()),
          "blocked"::equals);
      b.open(rig.consoleUrl() + "/apps/licenses");
      b.click(By.xpath("//td[contains(., 'Lumen Reader')]"));
      b.read("1 device without.");

      b.switchTo(store);
      buy(b, 1);
      b.read("Tollen: 1 of 2 in use");
      read(rig, b, console, "2 licenses");
      Rig.eventually(() -> versions(second), List.of("1.0")::equals);
      b.tab(rig.handheldUrl(second));
      b.click(By.id("app-" + READER));
      b.read("Version 1.0, from your organisation");

      gates
          .vendor(PlatformKey.TARN)
          .store()
          .update(
              Files.readAllBytes(
                  Packages.of(READER, "Lumen Reader", 2, 20_000, "", Packages.WORKSHOP)));
      read(rig, b, console, "1 new version");
      b.open(rig.consoleUrl() + "/apps/catalogue");
      b.click(By.xpath("//td[contains(., 'Lumen Reader')]"));
      b.press("Release");
      b.press("Release to 2 devices");
      Rig.eventually(() -> versions(first), List.of("2.0")::equals);
      Rig.eventually(() -> versions(second), List.of("2.0")::equals);

      b.click(By.cssSelector("aside a[href^='/apps/assignments/']"));
      b.read("It assigns");
      b.press("Delete");
      b.read("0 change, 2 lose.");
      b.press("Yes, delete");
      Rig.eventually(() -> versions(first), List::isEmpty);
      Rig.eventually(
          () -> gates.vendor(PlatformKey.TARN).store().bought().get(0).names(),
          names -> names.isEmpty());
    }
  }

  private static void buy(Browser b, int number) {
    WebElement many = b.see(By.cssSelector("[aria-label='How many licenses of Lumen Reader']"));
    many.clear();
    many.sendKeys(String.valueOf(number));
    b.see(By.cssSelector("[aria-label='Place for Lumen Reader']")).sendKeys("Tollen");
    b.press("Buy");
  }

  /** What the store says is read in the console. */
  private static void read(Rig rig, Browser b, String console, String brought) {
    b.switchTo(console);
    b.open(rig.consoleUrl() + "/house/gateways?open=tarn");
    b.press("Read now");
    b.read(brought);
  }

  private static List<String> versions(Agent tablet) {
    return tablet.screen().installed().stream().map(Screen.Tile::version).toList();
  }
}
