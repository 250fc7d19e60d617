package dev.pinwright.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import dev.pinwright.sandbox.device.Agent;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.openqa.selenium.By;
import org.openqa.selenium.Keys;
import org.openqa.selenium.WebElement;

/** The whole story in a browser: the console in one tab, the hand-held view in another. */
class BrowserStoryTest {
  private static Rig rig;
  private static Browser browser;

  @BeforeAll
  static void start() {
    rig = new Rig();
    browser = new Browser();
  }

  @AfterAll
  static void stop() {
    browser.close();
    rig.close();
  }

  @Test
  void fromTheFirstSignInToTheJournal() {
    Browser b = browser;
    b.open(rig.consoleUrl());
    b.type("Login", "owner");
    b.type("Password", "not the password");
    b.press("Sign in");
    b.read("The login or the password is wrong.");
    b.type("Password", Rig.PASSWORD);
    b.press("Sign in");
    b.read("No device has joined yet.");

    // how devices join
    b.press("Intake");
    b.press("Terms");
    b.type("Title", "Using a Vellmar Museums device");
    b.type("Text", "Bring it back to Norhaven when you leave.");
    b.press("Write version 1");
    b.read("version 1");
    b.press("Enrollment profiles");
    b.press("Write an enrollment profile");
    b.type("Name", "Harbour gallery kiosks");
    b.type("Names of devices", "HAR {serial}");
    b.type("Tags devices get", "gallery");
    b.choose("Terms to accept", "Using a Vellmar Museums device, version 1");
    b.press("Write enrollment profile");
    b.read("HAR {serial}");
    b.press("Invitations");
    b.press("Make an invitation");
    b.choose("Enrollment profile", "Harbour gallery kiosks");
    b.press("Make invitation");
    WebElement qr = b.see(By.xpath("//img[@alt='QR code of the join link']"));
    Rig.eventually(() -> (Long) b.script("return arguments[0].naturalWidth", qr), w -> w > 0);
    String link = b.see(By.cssSelector("[data-testid=link]")).getAttribute("value");

    // the holder's side
    Agent tablet = rig.unpack("T10");
    String console = b.tab(rig.handheldUrl(tablet));
    String hand = b.here();
    b.type("Join link", link);
    b.press("Go on");
    b.read("It can see");
    b.read("It never sees");
    b.read("Bring it back to Norhaven");
    b.press("Accept and join");
    Rig.eventually(tablet::screen, s -> s.screen().equals("first-run"));
    while (tablet.screen().firstRun().isPresent()) {
      int left = tablet.screen().firstRun().get().left();
      b.read(tablet.screen().firstRun().get().title());
      b.press("Go on");
      Rig.eventually(tablet::screen, s -> s.firstRun().map(f -> f.left() < left).orElse(true));
    }
    b.see(By.cssSelector("[data-screen=home]"));

    // it appears by itself, with its facts
    b.switchTo(console);
    b.press("Devices");
    String name = "HAR " + tablet.screen().serial();
    b.click(By.xpath("//td[contains(., '" + name + "')]"));
    b.read("Arbor T10, tablet");
    b.read("Wi-Fi address");

    // what devices are told
    b.press("Rules");
    b.press("Write a profile");
    b.type("Name", "Gallery tablets");
    b.press("Write profile");
    b.read("This profile says nothing yet.");
    add("passcode required", "Passcode required");
    add("kind of passcode", "Kind of passcode");
    add("least length", "Least length");
    add("runs", "No runs");
    add("photo", "Camera off");
    add("lock-screen", "Lock-screen text");
    b.type("Least length", "99");
    b.read("A whole number from 4 to 16 characters.");
    b.type("Least length", "6");
    b.type("Goes to: find", "gall");
    b.click(By.xpath("//*[@role='option'][contains(., 'gallery')]"));
    b.read("tag gallery");
    b.press("Rehearse and publish");
    b.read("1 gain settings");
    b.read(name);
    b.press("Publish to 1 device");
    Rig.eventually(tablet::screen, s -> s.notices("camera-gone"));
    b.read("1 waiting");

    // a bad passcode is refused with the reason, a good one is set
    b.switchTo(hand);
    b.read("Choose a passcode");
    b.type("New passcode", "123456");
    b.press("Set passcode");
    b.read("No repeated, rising or falling runs");
    b.type("New passcode", "135790");
    b.press("Set passcode");
    b.see(By.cssSelector("[data-screen=home]"));
    b.read("turned off");
    b.switchTo(console);
    b.read("1 of 1 done");
    b.press("Devices");
    b.click(By.xpath("//td[contains(., '" + name + "')]"));
    b.see(By.xpath("//*[@data-testid='standing'][contains(., 'settled')]"));

    // a group that fills itself, put together of what there is to choose
    b.press("Groups");
    b.press("Make a group");
    b.type("Name", "Arbor tablets");
    b.click(By.xpath("//label[contains(., 'by a rule')]"));
    b.press("As conditions");
    b.press("Add a condition");
    b.choose("What", "Model");
    b.type("Value", "t1");
    b.click(By.xpath("//li[@role='option'][contains(., 'T10')]"));
    b.read("Finds 1 device: " + name);
    b.press("In words");
    assertThat(b.see(By.cssSelector("textarea")).getAttribute("value")).isEqualTo("model is T10");
    b.press("Make group");
    b.click(By.xpath("//tr[contains(., 'Arbor tablets')]//a[.='1']"));
    b.click(By.xpath("//td[contains(., '" + name + "')]"));

    // lock, unlock, message
    order("Lock");
    b.type("Text on screen (if you like)", "Please return me to the quay");
    b.type("Reason", "left in the cafe");
    b.press("Lock 1 device");
    Rig.eventually(tablet::screen, s -> s.screen().equals("locked"));
    b.press("Commands");
    b.read("done");
    b.switchTo(hand);
    b.see(By.cssSelector("[data-screen=locked]"));
    b.read("Please return me to the quay");
    b.switchTo(console);
    order("Unlock");
    b.press("Unlock 1 device");
    Rig.eventually(tablet::screen, s -> s.screen().equals("home"));
    order("Send message");
    b.type("Message", "The glasshouse closes at five.");
    b.press("Send message: 1 device");
    b.switchTo(hand);
    b.see(By.id("message"));
    b.read("The glasshouse closes at five.");
    b.press("Put away");

    // a stricter rule makes the holder choose anew
    b.switchTo(console);
    b.press("Rules");
    b.click(By.xpath("//td[contains(., 'Gallery tablets')]"));
    b.type("Least length", "8");
    b.press("Rehearse and publish");
    b.read("1 change");
    b.press("Publish to 1 device");
    b.switchTo(hand);
    b.read("Choose a new passcode");
    b.read("at least 8 characters");
    b.type("New passcode", "13579024");
    b.press("Set passcode");
    b.see(By.cssSelector("[data-screen=home]"));

    // the journal tells all of it
    b.switchTo(console);
    b.press("Records");
    b.read("Gallery tablets version 2 published; it changes 1 device");
    b.read("reason: left in the cafe");
    b.press("Verify the chain");
    b.read("links hold");
    assertThat(b.text()).doesNotContain("135790");

    // everything is found from anywhere
    b.keys(Keys.chord(Keys.CONTROL, "k"));
    b.type("Find anything", tablet.screen().serial());
    b.click(By.xpath("//*[@role='option'][contains(., '" + name + "')]"));
    b.see(By.xpath("//h2[normalize-space()='" + name + "']"));
  }

  private void add(String words, String title) {
    browser.type("Find a setting", words);
    browser.see(By.xpath("//li/button[.//span[normalize-space()='" + title + "']]")).click();
    browser.see(By.xpath("//label[span[normalize-space()='" + title + "']]"));
  }

  private void order(String command) {
    browser.press("Act on this device");
    browser
        .see(By.xpath("//*[@role='menuitem'][span[1][normalize-space()='" + command + "']]"))
        .click();
  }
}
