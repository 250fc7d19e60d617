package dev.pinwright.sandbox.device;

import static org.assertj.core.api.Assertions.assertThat;

import dev.pinwright.catalog.Catalogue;
import dev.pinwright.core.session.Subtree;
import dev.pinwright.core.tree.Leaf;
import dev.pinwright.core.tree.Tree;
import dev.pinwright.protocol.dm.Dm;
import dev.pinwright.protocol.join.JoinMessages;
import java.nio.file.Path;
import java.time.DayOfWeek;
import java.time.Duration;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.ZoneId;
import java.time.format.TextStyle;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** A simulated device behaves like one. */
class SimulatedDeviceTest {
  private static final String POLICY = "./Vendor/Pinwright/Policy/";
  @TempDir Path directory;
  private Fleet fleet;

  @BeforeEach
  void start() {
    fleet = new Fleet(Catalogue.load(), directory);
  }

  @AfterEach
  void stop() {
    fleet.close();
  }

  private SimulatedDevice unpack(String model) {
    SimulatedDevice device = fleet.make(new Fleet.Wish(model, null, null, false, null)).device();
    device.state().stage = State.Stage.JOINED;
    return device;
  }

  /** One whose organisation decides everything on it. */
  private SimulatedDevice supervised(String model) {
    SimulatedDevice device = unpack(model);
    device.state().offer =
        new JoinMessages.Offer(
            "Pinwright",
            "Vellmar Museums",
            new JoinMessages.OfferedProfile("Kiosks", "corporate", "supervised", List.of(), false),
            "none",
            null,
            List.of(),
            List.of(),
            List.of(),
            List.of(),
            new JoinMessages.FirstRun(List.of(), "", "", "", false),
            "",
            "",
            "",
            "");
    return device;
  }

  private static void put(SimulatedDevice device, String path, String format, String value) {
    assertThat(device.tree().put(POLICY + path, new Leaf(format, value), true)).isEqualTo(Dm.OK);
  }

  @Test
  void itShowsWhetherItIsInOrderAndTellsWhatIsWrongWithIt() {
    SimulatedDevice tablet = supervised("T10");
    assertThat(tablet.screen(true).order()).isEmpty();
    assertThat(tablet.tree().put(Dm.COMPLIANCE_STATE, new Leaf("chr", "out-of-order"), true))
        .isEqualTo(Dm.OK);
    assertThat(tablet.tree().put(Dm.COMPLIANCE_REASONS, new Leaf("chr", "One: a.\nTwo: b."), true))
        .isEqualTo(Dm.OK);
    assertThat(tablet.screen(true).order())
        .contains(new Screen.Order("out-of-order", List.of("One: a.", "Two: b.")));
    assertThat(tablet.tree().digest(Subtree.POLICY)).isEqualTo(Tree.EMPTY.digest());
    tablet.fault("unencrypted", true);
    assertThat(tablet.tree().read(Dm.FACTS))
        .containsEntry(Dm.FACTS + "/security/encrypted", new Leaf("bool", "false"))
        .containsEntry(Dm.FACTS + "/security/tampered", new Leaf("bool", "false"));
  }

  @Test
  void itsDigestIsThatOfItsPolicySubtree() {
    SimulatedDevice tablet = unpack("T10");
    assertThat(tablet.tree().digest(Subtree.POLICY)).isEqualTo(Tree.EMPTY.digest());
    put(tablet, "passcode/min-length", "int", "6");
    assertThat(tablet.tree().digest(Subtree.POLICY))
        .isEqualTo(new Tree(Map.of(POLICY + "passcode/min-length", new Leaf("int", "6"))).digest());
    assertThat(tablet.tree().delete(POLICY + "passcode")).isEqualTo(Dm.OK);
    assertThat(tablet.tree().delete(POLICY + "passcode")).isEqualTo(Dm.NOT_FOUND);
    assertThat(tablet.tree().digest(Subtree.POLICY)).isEqualTo(Tree.EMPTY.digest());
  }

  @Test
  void itAsksItsHolderForAPasscodeUntilOneIsGoodEnough() {
    SimulatedDevice tablet = unpack("T10");
    assertThat(tablet.screen(true).screen()).isEqualTo("home");
    put(tablet, "passcode/required", "bool", "true");
    put(tablet, "passcode/min-length", "int", "6");
    assertThat(tablet.screen(true).screen()).isEqualTo("passcode");
    assertThat(tablet.choosePasscode("1357")).hasSize(1);
    assertThat(tablet.asksForPasscode()).isTrue();
    assertThat(tablet.choosePasscode("135790")).isEmpty();
    assertThat(tablet.screen(true).screen()).isEqualTo("home");
    put(tablet, "passcode/min-length", "int", "8");
    assertThat(tablet.screen(true).screen()).as("a stricter policy").isEqualTo("passcode");
  }

  @Test
  void aHolderMayGoOnForTheGraceAndIsThenMadeToChoose() {
    SimulatedDevice tablet = unpack("T10");
    put(tablet, "passcode/required", "bool", "true");
    put(tablet, "passcode/history", "int", "2");
    assertThat(tablet.choosePasscode("1357")).isEmpty();
    put(tablet, "passcode/grace", "int", "2");
    put(tablet, "passcode/min-length", "int", "6");
    Screen asked = tablet.screen(true);
    assertThat(asked.screen()).isEqualTo("home");
    assertThat(asked.passcodeUntil()).isPresent();
    assertThat(tablet.tree().read("./Vendor/Pinwright/Facts/security"))
        .containsKey("./Vendor/Pinwright/Facts/security/passcode-due");
    tablet.state().passcodeAsked -= Duration.ofHours(3).toMillis();
    assertThat(tablet.screen(true).screen()).isEqualTo("passcode");
    assertThat(tablet.choosePasscode("135790")).isEmpty();
    assertThat(tablet.choosePasscode("135790")).contains("That is the passcode you have.");
    assertThat(tablet.screen(true).passcodeUntil()).isEmpty();
    put(tablet, "passcode/max-age", "int", "30");
    tablet.state().passcodeAt -= Duration.ofDays(31).toMillis();
    assertThat(tablet.asksForPasscode()).as("too old").isTrue();
  }

  @Test
  void wrongPasscodesEraseItWhereThatIsSaid() {
    SimulatedDevice tablet = supervised("T10");
    tablet.choosePasscode("135790");
    put(tablet, "passcode/max-failures", "int", "3");
    for (int i = 0; i < 2; i++) {
      assertThat(tablet.unlock("000000")).isFalse();
    }
    assertThat(tablet.erasesItself()).isFalse();
    assertThat(tablet.unlock("000000")).isFalse();
    assertThat(tablet.erasesItself()).isTrue();
  }

  @Test
  void itsBrowserItsHoursAndItsHomeScreenFollowItsRules() {
    SimulatedDevice tablet = supervised("T10");
    assertThat(tablet.open("https://dice.example")).isEmpty();
    put(tablet, "web/categories", "chr", "[\"gambling\"]");
    assertThat(tablet.open("https://dice.example")).isPresent();
    assertThat(tablet.open("https://vellmar.example")).isEmpty();
    put(tablet, "shortcuts/hours/title", "chr", "Opening hours");
    put(tablet, "shortcuts/hours/address", "chr", "https://vellmar.example/opening-hours");
    put(tablet, "restrictions/hotspot-off", "bool", "true");
    put(tablet, "restrictions/camera-off", "bool", "false");
    Screen s = tablet.screen(true);
    assertThat(s.shortcuts())
        .containsExactly(
            new Screen.Shortcut("Opening hours", "https://vellmar.example/opening-hours"));
    assertThat(s.turnedOff()).containsExactly("No hotspot");
    DayOfWeek other = LocalDate.now(ZoneId.systemDefault()).getDayOfWeek().plus(2);
    String day = other.getDisplayName(TextStyle.SHORT, Locale.ENGLISH);
    put(tablet, "hours/open", "chr", day + " 10:00-11:00");
    assertThat(tablet.screen(true).screen()).isEqualTo("resting");
  }

  @Test
  void aLaptopShowsItsSignInWindow() {
    SimulatedDevice laptop = unpack("Note 14");
    assertThat(laptop.screen(true).screen()).isEqualTo("home");
    put(laptop, "signin/banner", "chr", "This laptop belongs to Vellmar Museums.");
    put(laptop, "accounts/desk/login", "chr", "desk");
    Screen s = laptop.screen(true);
    assertThat(s.screen()).isEqualTo("sign-in");
    assertThat(s.signIn().orElseThrow().banner()).startsWith("This laptop belongs");
    assertThat(laptop.signIn("somebody")).isPresent();
    assertThat(laptop.signIn("desk")).isEmpty();
    assertThat(laptop.screen(true).signedIn()).contains("desk");
    laptop.signOut();
    assertThat(laptop.screen(true).screen()).isEqualTo("sign-in");
  }

  @Test
  void whatIsRolledBackIsAsItWas() {
    SimulatedDevice tablet = unpack("T10");
    put(tablet, "passcode/min-length", "int", "6");
    Object before = tablet.tree().snapshot();
    put(tablet, "passcode/min-length", "int", "9");
    put(tablet, "restrictions/camera-off", "bool", "true");
    assertThat(tablet.tree().restore(before)).isTrue();
    assertThat(tablet.screen(true).settings())
        .extracting(Screen.Told::value)
        .containsExactly("6 characters");
    assertThat(tablet.screen(true).notices("camera-gone")).isFalse();
  }

  @Test
  void factsAreReadByPathAndTellOfThePasscode() {
    SimulatedDevice phone = unpack("P5");
    Map<String, Leaf> security = phone.tree().read(Dm.FACTS + "/security");
    assertThat(security).containsEntry(Dm.FACTS + "/security/passcode-present", flag("false"));
    phone.choosePasscode("2468");
    assertThat(phone.tree().read(Dm.FACTS + "/security"))
        .containsEntry(Dm.FACTS + "/security/passcode-present", flag("true"));
    assertThat(phone.tree().read(Dm.FACTS)).containsKey(Dm.FACTS + "/network/phone-number");
    assertThat(unpack("T10").tree().read(Dm.FACTS))
        .doesNotContainKey(Dm.FACTS + "/network/phone-number");
    assertThat(phone.tree().read("./DevInfo/Man").values())
        .containsExactly(new Leaf("chr", "Kestre"));
  }

  private static Leaf flag(String value) {
    return new Leaf("bool", value);
  }

  @Test
  void ringingGoesOnUntilItIsStoppedAndIsReportedThen() {
    SimulatedDevice phone = unpack("P5");
    assertThat(phone.tree().exec("./Vendor/Pinwright/Operations/Ring", null, "c-9"))
        .isEqualTo(Dm.ACCEPTED);
    assertThat(phone.screen(true).ringing()).isTrue();
    assertThat(phone.state().reports).isEmpty();
    phone.stopRinging();
    phone.stopRinging();
    assertThat(phone.screen(true).ringing()).isFalse();
    assertThat(phone.state().reports).containsExactly(State.Report.of("c-9", Dm.OK));
  }

  @Test
  void messagesAreShownAndPutAway() {
    SimulatedDevice phone = unpack("P5");
    for (int i = 0; i < 25; i++) {
      phone.tree().show("notice " + i, "m-" + i);
    }
    assertThat(phone.screen(true).messages()).hasSize(20).noneMatch(Screen.Message::read);
    assertThat(phone.screen(true).messages().get(0).text()).isEqualTo("notice 24");
    phone.readMessages();
    assertThat(phone.screen(true).messages()).allMatch(Screen.Message::read);
  }

  @Test
  void itsBatteryDrainsAndIsChargedBeforeItIsEmpty() {
    SimulatedDevice phone = unpack("P5");
    phone.state().battery = 8.02;
    phone.state().charging = false;
    phone.live();
    phone.live();
    assertThat(phone.screen(true).charging()).isTrue();
    for (int i = 0; i < 300; i++) {
      phone.live();
    }
    assertThat(phone.screen(true).battery()).isGreaterThan(90);
    assertThat(phone.screen(true).charging()).isFalse();
  }

  @Test
  void anUpdateAndTamperingShowAtTheNextCheckIn() {
    SimulatedDevice tablet = unpack("T10");
    tablet.tree().read(Dm.FACTS);
    assertThat(tablet.state().factsChanged).isFalse();
    tablet.updateOs("7.2.1");
    assertThat(tablet.state().factsChanged).isTrue();
    put(tablet, "restrictions/camera-off", "bool", "true");
    String digest = tablet.tree().digest(Subtree.POLICY);
    tablet.tamper(POLICY + "restrictions/camera-off", "false");
    assertThat(tablet.tree().digest(Subtree.POLICY)).isNotEqualTo(digest);
  }

  @Test
  void secretsAreNotShownOnItsScreen() {
    SimulatedDevice tablet = unpack("T10");
    put(tablet, "wifi/galleries/passphrase", "chr", "lantern over the quay");
    assertThat(tablet.screen(true).settings().toString()).doesNotContain("lantern");
  }

  @Test
  void itsBrowserGoesThroughTheTunnelAndByTheProxyItWasTold() {
    SimulatedDevice tablet = supervised("T10");
    put(tablet, "vpn/museum/server", "chr", "tunnel.vellmar.example");
    put(tablet, "vpn/museum/networks", "chr", "[\"10.20.0.0/16\"]");
    put(tablet, "proxy/web/host", "chr", "proxy.vellmar.example:3128");
    put(tablet, "proxy/web/except", "chr", "[\"vellmar.example\"]");
    String tunnel = "Through the tunnel to tunnel.vellmar.example.";
    String proxy = "By way of the proxy proxy.vellmar.example:3128.";
    assertThat(tablet.way("https://10.20.3.4/x")).containsExactly(tunnel, proxy);
    assertThat(tablet.way("https://10.21.3.4/x")).containsExactly(proxy);
    assertThat(tablet.way("https://tickets.vellmar.example/")).isEmpty();
    put(tablet, "vpn/museum/networks", "chr", "[]");
    assertThat(tablet.way("tickets.vellmar.example")).containsExactly(tunnel);
    put(tablet, "vpn/museum/apps", "chr", "[\"system.camera\"]");
    put(tablet, "proxy/web/network", "chr", "Vellmar-Devices");
    assertThat(tablet.way("https://10.20.3.4/x")).isEmpty();
    tablet.joinNetwork("Vellmar-Devices");
    assertThat(tablet.way("https://10.20.3.4/x")).containsExactly(proxy);
  }

  @Test
  void nothingGoesOutBesideATunnelThatIsAlwaysOn() {
    SimulatedDevice tablet = supervised("T10");
    put(tablet, "vpn/museum/server", "chr", "tunnel.vellmar.example");
    assertThat(tablet.open("https://vellmar.example/")).isEmpty();
    tablet.fault("tunnel-down", true);
    assertThat(tablet.open("https://vellmar.example/")).as("it may go beside it").isEmpty();
    assertThat(tablet.way("https://vellmar.example/"))
        .containsExactly("Without the tunnel to tunnel.vellmar.example, which does not answer.");
    put(tablet, "vpn/museum/always", "bool", "true");
    assertThat(tablet.open("https://vellmar.example/"))
        .hasValue(
            "Nothing goes out but through the tunnel to tunnel.vellmar.example, which does not"
                + " answer.");
    tablet.fault("tunnel-down", false);
    assertThat(tablet.open("https://vellmar.example/")).isEmpty();
    put(tablet, "vpn/museum/networks", "chr", "[\"10.20.0.0/16\"]");
    assertThat(tablet.open("https://10.20.3.4/")).isEmpty();
    assertThat(tablet.open("https://vellmar.example/"))
        .hasValue(
            "Nothing goes out but through the tunnel to tunnel.vellmar.example, and"
                + " vellmar.example is not behind it.");
    put(tablet, "vpn/museum/apps", "chr", "[\"system.camera\"]");
    assertThat(tablet.open("https://vellmar.example/")).as("the browser has no part").isEmpty();
  }

  @Test
  void itsMailboxesAreSetUpAndWhosePasswordNobodySaidAsksForIt() {
    SimulatedDevice tablet = supervised("T10");
    put(tablet, "mail/desk/address", "chr", "desk@vellmar.example");
    put(tablet, "mail/desk/server-in", "chr", "mail.vellmar.example:993");
    put(tablet, "mail/desk/attachments-off", "bool", "true");
    assertThat(tablet.screen(true).provided().mailboxes())
        .containsExactly(
            new Screen.Mailbox(
                "desk@vellmar.example", "mail.vellmar.example:993", "", "", "", true, true));
    put(tablet, "mail/desk/secret", "chr", "mail password");
    assertThat(tablet.screen(true).provided().mailboxes().get(0).asksPassword()).isFalse();
  }

  @Test
  void itSleepsWhenNobodyTouchesItAndWhenItsLidIsClosed() {
    SimulatedDevice laptop = supervised("Note 14");
    put(laptop, "power/sleep-battery", "int", "5");
    put(laptop, "power/lid", "chr", "sleep");
    laptop.wake();
    assertThat(laptop.screen(true).screen()).isNotEqualTo("asleep");
    laptop.state().touchedAt -= Duration.ofMinutes(6).toMillis();
    assertThat(laptop.screen(true).screen()).isEqualTo("asleep");
    laptop.wake();
    laptop.lid(true);
    assertThat(laptop.screen(true).screen()).isEqualTo("asleep");
    laptop.lid(false);
    assertThat(laptop.screen(true).screen()).isNotEqualTo("asleep");
    put(laptop, "power/lid", "chr", "off");
    laptop.lid(true);
    assertThat(laptop.state().goingOff).isTrue();
  }

  @Test
  void itIsOnInItsHoursAndRestartsInTheNightOfItsDay() {
    SimulatedDevice tablet = supervised("T10");
    put(tablet, "power/on-hours", "chr", "Tue-Sun 08:30-18:30");
    put(tablet, "power/restart-day", "chr", "wed");
    put(tablet, "power/charge-most", "int", "80");
    Power power = new Power(tablet.state(), new Obedience(tablet.state()));
    assertThat(power.most()).isEqualTo(80);
    LocalDateTime tuesday = LocalDateTime.parse("2026-06-02T18:00");
    assertThat(power.due(tuesday, 1)).isEqualTo(Power.Due.NOTHING);
    assertThat(power.due(tuesday.plusHours(1), 1)).isEqualTo(Power.Due.SWITCH_OFF);
    tablet.state().off = true;
    assertThat(power.due(tuesday.plusHours(9), 1)).as("off").isEqualTo(Power.Due.NOTHING);
    assertThat(power.due(tuesday.plusHours(15), 1)).isEqualTo(Power.Due.SWITCH_ON);
    tablet.state().off = false;
    LocalDateTime night = tuesday.plusDays(7).plusHours(9);
    assertThat(power.due(night, 1)).isEqualTo(Power.Due.SWITCH_OFF);
    assertThat(power.due(night, 1)).as("somebody had it on").isEqualTo(Power.Due.RESTART);
    assertThat(power.due(night, 1)).as("once a night").isEqualTo(Power.Due.NOTHING);
  }

  @Test
  void itHoldsTheCertificatesItWasGiven() {
    SimulatedDevice tablet = supervised("T10");
    String root = "a".repeat(64);
    tablet.tree().hasFile(root, Optional.of("Vellmar root"));
    put(tablet, "certificates/house/file", "chr", "sha256:" + root);
    put(tablet, "certificates/house/kept", "bool", "true");
    assertThat(tablet.screen(true).provided().certificates())
        .containsExactly(new Screen.Certificate("Vellmar root", false, true));
  }
}
