package dev.pinwright.acceptance;

import java.nio.file.Path;
import org.openqa.selenium.By;

/** Takes the pictures of {@code docs/screenshots} from a running demo; see the script there. */
public final class Screenshots {
  private Screenshots() {}

  /** Arguments: console address, hand-held address, password, directory. */
  public static void main(String[] args) {
    String console = args[0];
    String handheld = args[1];
    Path to = Path.of(args[3]);
    try (Browser b = new Browser()) {
      b.open(console);
      b.see(By.name("login"));
      b.picture(to.resolve("sign-in.png"));
      b.type("Login", "owner");
      b.type("Password", args[2]);
      b.press("Sign in");
      b.read("Today");
      b.read("settled");
      b.picture(to.resolve("today.png"));
      b.open(console + "/devices");
      b.read("connected now");
      b.see(By.xpath("//td[contains(., 'HAR AR10')]")).click();
      b.read("Facts read");
      b.picture(to.resolve("devices.png"));
      b.press("Settings");
      b.read("from");
      b.picture(to.resolve("device-settings.png"));
      b.open(console + "/intake/arrivals");
      b.read("Let in");
      b.picture(to.resolve("arrivals.png"));
      b.open(console + "/intake/profiles?new=1");
      b.read("Lowest OS version");
      b.picture(to.resolve("enrollment-profile.png"));
      b.open(console + "/intake/invitations");
      b.see(By.xpath("//td[contains(., 'Glasshouse')]")).click();
      b.see(By.xpath("//img[@alt='QR code of the join link']"));
      b.picture(to.resolve("invitation.png"));
      b.open(console + "/rules/profiles");
      b.see(By.xpath("//td[contains(., 'Baseline')]")).click();
      b.read("Least length");
      b.picture(to.resolve("profile.png"));
      b.type("Least length", "8");
      b.press("Rehearse and publish");
      b.read("stay as they are");
      b.picture(to.resolve("rehearsal.png"));
      b.open(console + "/records/journal");
      b.press("Verify the chain");
      b.read("links hold");
      b.picture(to.resolve("journal.png"));
      b.open(console + "/devices");
      b.read("connected now");
      b.press("Use the dark ground");
      b.see(By.xpath("//td[contains(., 'GLA AR8')]")).click();
      b.press("Activity");
      b.read("applied");
      b.picture(to.resolve("devices-dark.png"));
      b.open(handheld);
      b.read("Unpack");
      b.picture(to.resolve("hand-held-shelf.png"));
      b.see(By.xpath("//a[contains(@class, 'home')]")).click();
      b.see(By.cssSelector("[data-screen='home']"));
      b.picture(to.resolve("hand-held.png"));
    }
  }
}
