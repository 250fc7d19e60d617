package dev.pinwright.sandbox.device;

import static org.assertj.core.api.Assertions.assertThat;

import dev.pinwright.catalog.Catalogue;
import dev.pinwright.core.tree.Leaf;
import dev.pinwright.core.tree.Tree;
import dev.pinwright.protocol.dm.Dm;
import java.nio.file.Path;
import java.util.Map;
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

  private static void put(SimulatedDevice device, String path, String format, String value) {
    assertThat(device.put(POLICY + path, new Leaf(format, value), true)).isEqualTo(Dm.OK);
  }

  @Test
  void itsDigestIsThatOfItsPolicySubtree() {
    SimulatedDevice tablet = unpack("T10");
    assertThat(tablet.digest()).isEqualTo(Tree.EMPTY.digest());
    put(tablet, "passcode/min-length", "int", "6");
    assertThat(tablet.digest())
        .isEqualTo(new Tree(Map.of(POLICY + "passcode/min-length", new Leaf("int", "6"))).digest());
    assertThat(tablet.delete(POLICY + "passcode")).isEqualTo(Dm.OK);
    assertThat(tablet.delete(POLICY + "passcode")).isEqualTo(Dm.NOT_FOUND);
    assertThat(tablet.digest()).isEqualTo(Tree.EMPTY.digest());
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
  void whatIsRolledBackIsAsItWas() {
    SimulatedDevice tablet = unpack("T10");
    put(tablet, "passcode/min-length", "int", "6");
    Object before = tablet.snapshot();
    put(tablet, "passcode/min-length", "int", "9");
    put(tablet, "restrictions/camera-off", "bool", "true");
    assertThat(tablet.restore(before)).isTrue();
    assertThat(tablet.screen(true).settings()).extracting(Screen.Told::value).containsExactly("6");
    assertThat(tablet.screen(true).notices("camera-gone")).isFalse();
  }

  @Test
  void factsAreReadByPathAndTellOfThePasscode() {
    SimulatedDevice phone = unpack("P5");
    Map<String, Leaf> security = phone.read(Dm.FACTS + "/security");
    assertThat(security).containsEntry(Dm.FACTS + "/security/passcode-present", flag("false"));
    phone.choosePasscode("2468");
    assertThat(phone.read(Dm.FACTS + "/security"))
        .containsEntry(Dm.FACTS + "/security/passcode-present", flag("true"));
    assertThat(phone.read(Dm.FACTS)).containsKey(Dm.FACTS + "/network/phone-number");
    assertThat(unpack("T10").read(Dm.FACTS)).doesNotContainKey(Dm.FACTS + "/network/phone-number");
    assertThat(phone.read("./DevInfo/Man").values()).containsExactly(new Leaf("chr", "Kestre"));
  }

  private static Leaf flag(String value) {
    return new Leaf("bool", value);
  }

  @Test
  void ringingGoesOnUntilItIsStoppedAndIsReportedThen() {
    SimulatedDevice phone = unpack("P5");
    assertThat(phone.exec("./Vendor/Pinwright/Operations/Ring", null, "c-9"))
        .isEqualTo(Dm.ACCEPTED);
    assertThat(phone.screen(true).ringing()).isTrue();
    assertThat(phone.state().reports).isEmpty();
    phone.stopRinging();
    phone.stopRinging();
    assertThat(phone.screen(true).ringing()).isFalse();
    assertThat(phone.state().reports).containsExactly(new State.Report("c-9", Dm.OK));
  }

  @Test
  void messagesAreShownAndPutAway() {
    SimulatedDevice phone = unpack("P5");
    for (int i = 0; i < 25; i++) {
      phone.show("notice " + i, "m-" + i);
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
    tablet.read(Dm.FACTS);
    assertThat(tablet.state().factsChanged).isFalse();
    tablet.updateOs("7.2.1");
    assertThat(tablet.state().factsChanged).isTrue();
    put(tablet, "restrictions/camera-off", "bool", "true");
    String digest = tablet.digest();
    tablet.tamper(POLICY + "restrictions/camera-off", "false");
    assertThat(tablet.digest()).isNotEqualTo(digest);
  }

  @Test
  void secretsAreNotShownOnItsScreen() {
    SimulatedDevice tablet = unpack("T10");
    put(tablet, "wifi/galleries/passphrase", "chr", "lantern over the quay");
    assertThat(tablet.screen(true).settings().toString()).doesNotContain("lantern");
  }
}
