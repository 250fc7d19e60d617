package dev.pinwright.acceptance;

import java.nio.file.Path;
import org.openqa.selenium.By;

/** Takes the pictures of {@code docs/screenshots} from a running demo; see the script there. */
public final class Screenshots {
  private static final String SHEET =
      """
      Serial;Inventory;Unit;Holder
      AR10-2001-3300;VM-00901;vm-lig;
      ar10-2002-1219 ;VM-00902;VM-LIG;
      AR10-2003-9138;VM-00903;VM-LIH;
      AR10-2001-3300;VM-00904;VM-LIG;
      AR10-2005-4976;VM-00905;VM-LIG;nobody
      """;
  private static final String FILL =
      """
      const area = document.querySelector('textarea');
      Object.getOwnPropertyDescriptor(HTMLTextAreaElement.prototype, 'value').set
          .call(area, arguments[0]);
      area.dispatchEvent(new Event('input', {bubbles: true}));
      """;

  private Screenshots() {}

  /** Arguments: console address, hand-held address, password, directory. */
  public static void main(String[] args) {
    String console = args[0];
    String handheld = args[1];
    Path to = Path.of(args[3]);
    try (Browser b = new Browser()) {
      b.open(console);
      b.see(By.name("login"));
      b.type("Login", "owner");
      b.type("Password", args[2]);
      b.press("Sign in");
      b.read("Today");
      b.read("settled");
      b.picture(to.resolve("today.png"));
      b.open(console + "/devices");
      b.read("connected now");
      b.open(console + "/devices?q=har+kiosk");
      b.click(By.xpath("//td[contains(., 'VM-HAR kiosk 003')]"));
      b.read("Facts read");
      b.picture(to.resolve("devices.png"));
      b.press("Settings");
      b.read("from");
      b.picture(to.resolve("device-settings.png"));
      b.open(console + "/intake/arrivals");
      b.read("asked");
      b.picture(to.resolve("arrivals.png"));
      b.open(console + "/intake/profiles");
      b.click(By.xpath("//td[contains(., 'Gallery kiosks')]"));
      b.read("Lowest OS version");
      b.read("Scan the code");
      b.see(By.xpath("//ul[@aria-label='Names as they would be']/li"));
      b.picture(to.resolve("enrollment-profile.png"));
      b.open(console + "/intake/roster?new=sheet");
      b.read("Or paste it here");
      b.script(FILL, SHEET);
      b.press("Check the sheet");
      b.read("faulty");
      b.see(By.cssSelector("[data-testid='faulty'] td"));
      b.picture(to.resolve("roster-sheet.png"));
      b.open(console + "/apps");
      b.click(By.xpath("//td[contains(., 'Gallery Guide')]"));
      b.read("Signed by");
      b.picture(to.resolve("apps.png"));
      b.open(console + "/intake/bench");
      b.click(By.xpath("//td[contains(., 'Textile Mill tablets')]"));
      b.read("VM-TEX tablet 01");
      b.picture(to.resolve("bench.png"));
      b.open(console + "/rules/profiles");
      b.click(By.xpath("//td[contains(., 'Gallery kiosks')]"));
      b.read("Apps in the kiosk");
      b.picture(to.resolve("profile.png"));
      b.open(console + "/rules/proposals");
      b.click(By.xpath("//td[contains(., 'Publish Gallery tablets')]"));
      b.read("What it would do now");
      b.picture(to.resolve("proposal.png"));
      b.open(console + "/rules/checks");
      b.click(By.xpath("//td[contains(., 'Encryption')]"));
      b.read("What follows, from when it is found");
      b.picture(to.resolve("checks.png"));
      b.open(console + "/devices/map");
      b.read("not at their site");
      b.see(By.cssSelector(".map-many"));
      b.picture(to.resolve("map.png"));
      b.open(console + "/devices/lost?state=open");
      b.click(By.cssSelector("td a"));
      b.read("What happened, ");
      b.read("GPX");
      b.picture(to.resolve("lost.png"));
      b.open(console + "/devices/wipes");
      b.click(By.xpath("//td[contains(., 'Whole device')]"));
      b.read("Proved blank");
      b.picture(to.resolve("wipes.png"));
      b.open(console + "/records/journal");
      b.press("Verify the chain");
      b.read("links hold");
      b.picture(to.resolve("journal.png"));
      b.open(console + "/devices?q=har+kiosk");
      b.press("Use the dark ground");
      b.click(By.xpath("//td[contains(., 'VM-HAR kiosk 003')]"));
      b.press("Act on this device");
      b.press("Look at the screen together");
      b.type("Reason", "a visitor says that it is stuck");
      b.press("Look at the screen together: 1 device");
      b.see(By.cssSelector("[aria-label='Lasts']"));
      b.see(By.cssSelector("[data-testid='screen'] canvas"));
      b.script("return new Promise((f) => setTimeout(f, 1500))");
      b.picture(to.resolve("screen-dark.png"));
      b.press("End");
      b.press("Use the light ground");
      b.phone();
      b.open(console + "/devices?standing=blocked");
      b.read("blocked");
      b.picture(to.resolve("phone.png"));
      b.desk();
      b.open(handheld);
      b.read("Unpack");
      b.click(By.xpath("//a[contains(@class, 'kiosk')]"));
      b.see(By.cssSelector("[data-screen='kiosk']"));
      b.picture(to.resolve("hand-held.png"));
    }
  }
}
