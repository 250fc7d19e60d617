package dev.pinwright.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import dev.pinwright.sandbox.device.Agent;
import dev.pinwright.sandbox.device.Screen;
import java.nio.file.Files;
import java.nio.file.Path;
import org.junit.jupiter.api.Test;

/** The whole story by command line, against API and wire, with a tablet in hand. */
class StoryTest {
  @Test
  void fromTheFirstSignInToTheJournal() throws Exception {
    try (Rig rig = new Rig()) {
      Shell shell = new Shell(rig);
      assertThat(shell.run("fleet").code()).as("not signed in").isEqualTo(3);
      assertThat(shell.type("wrong\n", "signin", "--login", "owner", "--password-stdin").code())
          .isEqualTo(3);
      assertThat(
              shell
                  .type(Rig.PASSWORD + "\n", "signin", "--login", "owner", "--password-stdin")
                  .out())
          .contains("Signed in as owner");

      Path terms = Files.writeString(rig.home.resolve("terms.txt"), "Bring it back to Norhaven.");
      shell.ok("terms", "add", "Using a device", terms.toString());
      shell.ok(
          "enrollment-profile",
          "add",
          "Harbour gallery kiosks",
          "--mode",
          "supervised",
          "--platform",
          "tarn",
          "--terms",
          "1",
          "--tag",
          "gallery",
          "--name-pattern",
          "HAR {serial}");
      JsonNode invitation = shell.json("invitation", "add", "Harbour gallery kiosks");

      Agent tablet = rig.unpack("T10");
      tablet.take(invitation.path("link").asText()).join();
      Screen offer = tablet.screen();
      assertThat(offer.screen()).isEqualTo("offered");
      assertThat(offer.offer().orElseThrow().visible()).contains("Model", "Battery");
      assertThat(offer.offer().orElseThrow().terms().text()).contains("Norhaven");
      tablet.accept(null).join();
      Rig.firstRun(tablet);
      String name = "HAR " + tablet.screen().serial();
      JsonNode device =
          Rig.eventually(
              () -> shell.json("device", "show", name),
              d ->
                  !d.path("facts").isEmpty()
                      && d.at("/device/standing").asText().equals("settled"));
      assertThat(device.at("/device/model").asText()).isEqualTo("T10");
      assertThat(shell.ok("arrival", "list")).contains("done", tablet.screen().serial());

      assertThat(shell.ok("setting", "find", "photo")).contains("restrictions.camera-off");
      shell.ok("profile", "add", "Gallery tablets");
      shell.ok(
          "profile",
          "set",
          "Gallery tablets",
          "passcode.required=true",
          "passcode.kind=numeric",
          "passcode.min-length=6",
          "passcode.no-runs=true",
          "restrictions.camera-off=true",
          "appearance.lock-screen-text=Property of Vellmar Museums");
      assertThat(shell.run("profile", "set", "Gallery tablets", "passcode.min-length=99").err())
          .contains("Least length has to be a whole number from 4 to 16 characters");
      shell.ok("profile", "assign", "Gallery tablets", "--tag", "gallery");
      assertThat(shell.ok("profile", "rehearse", "Gallery tablets"))
          .contains("1 of 1 devices change: 1 gain", name, "Least length", "(none) -> 6");
      assertThat(tablet.screen().settings()).as("a rehearsal does nothing").isEmpty();

      String change = shell.json("profile", "publish", "Gallery tablets").at("/change/id").asText();
      Screen asked = Rig.eventually(tablet::screen, s -> s.screen().equals("passcode"));
      assertThat(asked.passcodeDemand()).contains("at least 6 characters");
      assertThat(asked.notices("camera-gone")).isTrue();
      JsonNode waiting =
          Rig.eventually(
              () -> shell.json("device", "show", name),
              d -> d.at("/device/standingReason").asText().contains("passcode"));
      assertThat(waiting.at("/device/standing").asText()).isEqualTo("catching-up");
      assertThat(tablet.device().choosePasscode("123456"))
          .containsExactly("No repeated, rising or falling runs such as 111, 123 or 987.");
      assertThat(tablet.device().choosePasscode("1357")).hasSize(1);
      assertThat(tablet.device().choosePasscode("135790")).isEmpty();
      tablet.checkIn(false);
      assertThat(shell.ok("change", "wait", change)).contains("1 done");
      assertThat(shell.ok("device", "settings", name))
          .contains("passcode.min-length", "Gallery tablets v1");

      assertThat(shell.run("lock", "--device", name).err()).contains("needs a reason");
      String lock =
          shell
              .json(
                  "lock",
                  "--device",
                  name,
                  "--text",
                  "Please return me",
                  "--reason",
                  "left in the cafe")
              .path("id")
              .asText();
      Screen locked = Rig.eventually(tablet::screen, s -> s.screen().equals("locked"));
      assertThat(locked.lockText()).isEqualTo("Please return me");
      assertThat(shell.ok("dispatch", "wait", lock)).contains("Lock: 1 done.");
      assertThat(shell.ok("unlock", "--device", name, "--wait")).contains("Unlock: 1 done.");
      assertThat(tablet.screen().screen()).isEqualTo("home");
      shell.ok("message", "--device", name, "--text", "The glasshouse closes at five.", "--wait");
      assertThat(tablet.screen().messages().get(0).text())
          .isEqualTo("The glasshouse closes at five.");

      shell.ok("profile", "set", "Gallery tablets", "passcode.min-length=8");
      shell.ok("profile", "publish", "Gallery tablets");
      Screen anew = Rig.eventually(tablet::screen, s -> s.screen().equals("passcode"));
      assertThat(anew.passcodeDemand()).contains("at least 8 characters");
      assertThat(tablet.device().choosePasscode("13579024")).isEmpty();
      tablet.checkIn(false);
      Rig.eventually(
          () -> shell.json("device", "show", name),
          d -> d.at("/device/standing").asText().equals("settled"));

      assertThat(
              shell.ok(
                  "device", "edit", "--where", "tag=gallery", "--add-tag", "quay", "--dry-run"))
          .contains("1 device, 1 not so already", name, "gallery, quay");
      String edit = shell.json("device", "edit", name, "--add-tag", "quay").path("id").asText();
      assertThat(shell.ok("device", "show", name)).contains("gallery, quay");
      assertThat(shell.ok("change", "undo", edit)).contains("Take back: Tag 1 device: done");
      assertThat(shell.ok("device", "show", name)).doesNotContain("quay");
      assertThat(shell.ok("profile", "delete", "Gallery tablets", "--dry-run"))
          .contains("1 of 1 devices change", "1 lose");

      String journal = shell.ok("journal", "list", "--limit", "100");
      assertThat(journal)
          .contains(
              "enrollment-profile.made",
              "invitation.made",
              "device.joined",
              "certificate.issued",
              "profile.drafted",
              "profile.published",
              "command.dispatched",
              "reason: left in the cafe")
          .doesNotContain("135790", Rig.PASSWORD);
      assertThat(shell.ok("journal", "verify")).contains("is intact");
      assertThat(shell.ok("device", "activity", name))
          .contains(
              "Joined by Harbour gallery kiosks", "lock done", "message done", "settings applied");
      shell.ok("signout");
      assertThat(shell.run("fleet").code()).isEqualTo(3);
    }
  }

  @Test
  void theCommandLineHelpsAndCompletes() throws Exception {
    try (Rig rig = new Rig()) {
      Shell shell = new Shell(rig);
      assertThat(shell.ok("--help"))
          .contains("Examples:", "pinwright profile rehearse", "Exit codes");
      assertThat(shell.ok("lock", "--help")).contains("--reason", "pinwright lock --device");
      assertThat(shell.ok("generate-completion")).contains("_complete_pinwright");
      assertThat(shell.run("no-such-noun").code()).isEqualTo(2);
      assertThat(shell.run("device", "show", "nobody").code()).isEqualTo(3);
      Shell.Ran unreachable = new ShellAt("http://127.0.0.1:" + Rig.freePort()).run("fleet");
      assertThat(unreachable.code()).isEqualTo(4);
      assertThat(unreachable.err()).contains("cannot be reached");
    }
  }

  private record ShellAt(String address) {
    Shell.Ran run(String... args) {
      java.io.StringWriter out = new java.io.StringWriter();
      java.io.StringWriter err = new java.io.StringWriter();
      int code =
          dev.pinwright.cli.Main.run(
              java.util.Map.of("PINWRIGHT_ADDRESS", address, "PINWRIGHT_TOKEN", "x"),
              new java.io.PrintWriter(out, true),
              new java.io.PrintWriter(err, true),
              args);
      return new Shell.Ran(code, out.toString(), err.toString());
    }
  }
}
