package dev.pinwright.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import dev.pinwright.cli.Main;
import dev.pinwright.client.model.AttributeDraft;
import dev.pinwright.client.model.AttributeKind;
import dev.pinwright.client.model.Invitation;
import dev.pinwright.client.model.TargetKind;
import dev.pinwright.client.model.TargetSpec;
import dev.pinwright.sandbox.device.Agent;
import java.io.PrintWriter;
import java.io.StringWriter;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.openqa.selenium.By;

/** Tags and attributes, from the sheet an administrator works on to the devices that follow. */
class FieldsTest {
  @TempDir Path home;
  private Rig rig;
  private Desk desk;
  private final List<Agent> tablets = new ArrayList<>();

  @BeforeEach
  void start() throws Exception {
    rig = new Rig();
    desk = new Desk(rig);
    desk.terms();
    Invitation invitation = desk.kiosks("Kiosks", 5);
    for (int i = 0; i < 3; i++) {
      tablets.add(rig.join(rig.unpackAutomatic("T10"), invitation.getLink()));
    }
    for (AttributeDraft draft :
        List.of(
            new AttributeDraft()
                .name("Mount")
                .kind(AttributeKind.DEVICE)
                .type("choice")
                .choices(List.of("wall", "stand")),
            new AttributeDraft().name("Lease ends").kind(AttributeKind.DEVICE).type("date"))) {
      rig.client.organisation().addAttribute(draft);
    }
  }

  @AfterEach
  void stop() {
    rig.close();
  }

  private String pinwright(String... args) {
    StringWriter out = new StringWriter();
    StringWriter err = new StringWriter();
    Main.run(
        Map.of(
            "PINWRIGHT_ADDRESS", rig.consoleUrl(),
            "PINWRIGHT_TOKEN", rig.token,
            "PINWRIGHT_SIGNIN", home.resolve("signin.json").toString()),
        new PrintWriter(out, true),
        new PrintWriter(err, true),
        args);
    return out + err.toString();
  }

  private String serial(int i) {
    return tablets.get(i).screen().serial();
  }

  @Test
  void aSheetIsWrittenWorkedOnAndTakenInAndDevicesFollow() throws Exception {
    desk.publish(
        desk.profile(
            "On the quay",
            Map.of("restrictions.camera-off", true),
            new TargetSpec().kind(TargetKind.TAG).ref("quay")));
    Path sheet = home.resolve("devices.csv");
    assertThat(pinwright("device", "export", sheet.toString())).contains("Written to");
    String rows = Files.readString(sheet);
    assertThat(rows).startsWith("identifier,name,tags,Lease ends,Mount");

    Files.writeString(
        sheet,
        "identifier,tags,Mount,Lease ends\n"
            + (serial(0) + ",quay;gallery,wall,2027-01-31\n")
            + (serial(1) + ",gallery,stand,2028-01-31\n"));
    assertThat(pinwright("device", "import", sheet.toString()))
        .contains("2 rows: 2 would be changed.", "Other settings would go to 1 device:")
        .contains("Nothing is saved yet; add --save");
    assertThat(tablets.get(0).screen().notices("camera-gone")).isFalse();
    assertThat(pinwright("device", "import", sheet.toString(), "--save"))
        .contains("Other settings go to 1 device: 1 gain");
    Rig.eventually(() -> tablets.get(0).screen().notices("camera-gone"), off -> off);
    assertThat(tablets.get(1).screen().notices("camera-gone")).isFalse();

    String first = desk.devices(serial(0), 1).get(0).getName();
    assertThat(pinwright("device", "list", "--attribute", "Mount=wall")).contains(first);
    assertThat(pinwright("device", "list", "--attribute", "Lease ends<2026-12-31"))
        .doesNotContain(first);
    assertThat(pinwright("device", "list", "--attribute", "Colour=red"))
        .contains("There is no attribute 'Colour' on a device; there are Lease ends, Mount.");
    assertThat(pinwright("ring", "--where", "attribute=Mount=wall")).contains("sent to 1 device.");
    Rig.eventually(() -> tablets.get(0).screen().ringing(), r -> r);
    assertThat(tablets.get(1).screen().ringing()).isFalse();

    assertThat(pinwright("tag", "rename", "quay", "harbour")).contains("Tag quay is now harbour.");
    assertThat(pinwright("tag", "remove", "harbour")).contains("On the quay");
    assertThat(pinwright("device", "tag", serial(0), "gallery")).contains("gallery");
    Rig.eventually(() -> tablets.get(0).screen().notices("camera-gone"), off -> !off);
  }

  @Test
  void theConsoleFiltersByAttributesAndKeepsTagsTidy() {
    pinwright("attribute", "set", "device", serial(0), "Mount=wall", "Lease ends=2027-01-31");
    pinwright("attribute", "set", "device", serial(1), "Mount=stand");
    String first = desk.devices(serial(0), 1).get(0).getName();
    String second = desk.devices(serial(1), 1).get(0).getName();
    try (Browser b = new Browser()) {
      b.open(rig.consoleUrl());
      b.type("Login", "owner");
      b.type("Password", Rig.PASSWORD);
      b.press("Sign in");
      b.read("Today");
      b.press("Devices");
      b.press("Attributes");
      b.read("Lease ends");
      // who comes from the list of attributes finds the list of devices whole
      b.press("All devices");
      b.read(second);
      b.press("Filter");
      b.choose("Attribute", "Mount");
      b.choose("Mount", "wall");
      b.press("Ask");
      b.see(By.xpath("//*[contains(., 'Mount is wall')]"));
      Rig.eventually(b::text, t -> t.contains(first) && !t.contains(second));
      b.choose("Attribute", "Lease ends");
      b.choose("How Lease ends has to be", "after");
      b.script(
          "const f = document.querySelector('input[type=date]');"
              + "Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, 'value').set"
              + ".call(f, '2027-02-01'); f.dispatchEvent(new Event('input', {bubbles: true}));");
      b.press("Ask");
      b.read("No device matches.");
      b.press("Do not filter by Lease ends after 2027-02-01");
      b.read(first);

      b.press("Tags");
      b.click(By.xpath("//td[contains(., 'gallery')]"));
      b.read("3 devices");
      b.type("Name", "on show");
      b.press("Rename");
      b.see(By.xpath("//td[contains(., 'on show')]"));
      assertThat(desk.devices("", 1).get(0).getTags()).containsExactly("on show");
    }
  }
}
