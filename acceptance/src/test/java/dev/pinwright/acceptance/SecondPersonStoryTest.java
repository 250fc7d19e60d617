package dev.pinwright.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import dev.pinwright.client.model.NewAccount;
import dev.pinwright.client.model.ThresholdsDraft;
import dev.pinwright.sandbox.device.Agent;
import java.awt.image.BufferedImage;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import javax.imageio.ImageIO;
import org.junit.jupiter.api.Test;
import org.openqa.selenium.By;

/** A picture is stored and given to devices, which takes two people, each in a browser. */
class SecondPersonStoryTest {
  private static void signIn(Rig rig, Browser b, String login, String password) {
    b.open(rig.consoleUrl());
    b.type("Login", login);
    b.type("Password", password);
    b.press("Sign in");
    b.read("Today");
  }

  private static By row(String title) {
    return By.xpath("//li/button[.//span[normalize-space()='" + title + "']]");
  }

  @Test
  void oneProposesAWallpaperAndAnotherAgreesToWhatTheySee() throws Exception {
    Path quay = Files.createTempDirectory("pinwright-test").resolve("Quay.png");
    ImageIO.write(new BufferedImage(480, 640, BufferedImage.TYPE_INT_RGB), "png", quay.toFile());
    try (Rig rig = new Rig();
        Browser b = new Browser()) {
      Desk desk = new Desk(rig);
      String link = desk.kiosks("Kiosks", 5).getLink();
      List<Agent> tablets = rig.joinMany(2, i -> link);
      rig.client
          .access()
          .addAccount(
              new NewAccount()
                  .login("bo")
                  .name("Bo")
                  .role("operator")
                  .password("first password of Bo"));
      rig.client
          .house()
          .setThresholds("\"0\"", new ThresholdsDraft().number(1L).reason(1L).second(2L));
      var profile =
          desk.profile("Gallery", Map.of("appearance.brightness", 70), Desk.tag("gallery"));

      signIn(rig, b, "bo", "first password of Bo");
      b.open(rig.consoleUrl() + "/rules/files?new=1");
      b.give(By.cssSelector("input[type=file]"), quay);
      b.press("Store file");
      b.read("PNG, 480 × 640 pixels");
      b.open(rig.consoleUrl() + "/rules/profiles/" + profile.getId());
      b.type("Find a setting", "own picture");
      b.click(row("Own picture as wallpaper"));
      b.press("Choose a picture …");
      b.click(row("Quay.png"));
      b.press("Rehearse and publish");
      b.read("This is done only once somebody else has agreed");
      b.type("A word to whoever agrees", "the new season");
      b.press("Ask a second person");
      b.press("Follow it");
      b.read("You proposed this; somebody else has to agree to it.");
      assertThat(tablets).noneMatch(t -> t.screen().noticed().containsKey("wallpaper-picture"));

      try (Browser other = new Browser()) {
        signIn(rig, other, "owner", Rig.PASSWORD);
        other.read("bo asks for a second person’s word: Publish Gallery");
        other.press("bo asks for a second person’s word: Publish Gallery");
        other.read("the new season");
        other.read("Own picture as wallpaper");
        other.press("Agree, for 2 devices");
        other.read("Done by owner");
      }
      Rig.eventually(
          () ->
              tablets.stream()
                  .filter(t -> t.screen().noticed().containsKey("wallpaper-picture"))
                  .count(),
          n -> n == 2);
      b.read("Done by owner");
      b.open(rig.consoleUrl() + "/rules/profiles/" + profile.getId());
      b.read("2 devices");
    }
  }
}
