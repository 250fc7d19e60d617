package dev.pinwright.sandbox.device;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatIllegalArgumentException;

import dev.pinwright.catalog.Catalogue;
import dev.pinwright.core.device.Identifier;
import dev.pinwright.core.session.Subtree;
import dev.pinwright.core.tree.Leaf;
import dev.pinwright.protocol.dm.Dm;
import java.nio.file.Path;
import java.util.List;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class FleetTest {
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

  private static Fleet.Wish wish(String model) {
    return new Fleet.Wish(model, null, null, false, null);
  }

  @Test
  void madeUpNumbersAreSoundAndDifferent() {
    Screen one = fleet.make(wish("P5")).screen();
    Screen two = fleet.make(wish("P5")).screen();
    assertThat(one.serial()).isNotEqualTo(two.serial());
    assertThat(Identifier.of(Identifier.Kind.IMEI, one.imei().orElseThrow()).value())
        .startsWith("00440123");
    assertThat(fleet.make(wish("T10")).screen().imei()).as("no cellular radio").isEmpty();
    assertThat(one.screen()).isEqualTo("new");
  }

  @Test
  void whatDoesNotExistIsRefusedWithWhatDoes() {
    assertThatIllegalArgumentException()
        .isThrownBy(() -> fleet.make(wish("T99")))
        .withMessageContaining("T10");
    assertThatIllegalArgumentException()
        .isThrownBy(() -> fleet.make(new Fleet.Wish("T10", "99.0", null, false, null)))
        .withMessageContaining("tarn has no version 99.0");
    fleet.make(new Fleet.Wish("T10", null, "AR10-1", false, null));
    assertThatIllegalArgumentException()
        .isThrownBy(() -> fleet.make(new Fleet.Wish("T10", null, "ar10-1", false, null)))
        .withMessageContaining("already");
  }

  @Test
  void devicesObeyTheirCapabilitySheets() {
    SimulatedDevice tablet = fleet.make(wish("T10")).device();
    SimulatedDevice laptop = fleet.make(wish("Note 14")).device();
    Leaf on = new Leaf("bool", "true");
    assertThat(tablet.tree().put(POLICY + "passcode/required", on, false)).isEqualTo(Dm.OK);
    assertThat(tablet.tree().put(POLICY + "passcode/required", on, false)).isEqualTo(Dm.EXISTS);
    assertThat(tablet.tree().put(POLICY + "no/such", on, false)).isEqualTo(Dm.NOT_SUPPORTED);
    assertThat(laptop.tree().put(POLICY + "restrictions/store-off", on, false))
        .isEqualTo(Dm.NOT_ALLOWED);
    assertThat(laptop.tree().exec("./Vendor/Pinwright/Operations/Ring", null, "c"))
        .isEqualTo(Dm.NOT_SUPPORTED);
    tablet.refuseAlways(List.of(POLICY + "passcode/kind"));
    assertThat(tablet.tree().put(POLICY + "passcode/kind", new Leaf("chr", "numeric"), false))
        .isEqualTo(Dm.NOT_SUPPORTED);
  }

  @Test
  void anOperationWithAKnownCorrelatorRunsOnce() {
    SimulatedDevice tablet = fleet.make(wish("T10")).device();
    for (int i = 0; i < 3; i++) {
      assertThat(tablet.tree().exec("./LAWMO/Operations/FullyLock", "{\"text\":\"Hi\"}", "c-1"))
          .isEqualTo(Dm.OK);
      assertThat(tablet.tree().show("hello", "c-2")).isEqualTo(Dm.OK);
    }
    Screen s = tablet.screen(true);
    assertThat(s.runs()).containsEntry("lock", 1).containsEntry("message", 1);
    assertThat(s.lockText()).isEqualTo("Hi");
    assertThat(s.messages()).hasSize(1);
  }

  @Test
  void aPasscodeUnlocksAndTheWrongOneDoesNot() {
    SimulatedDevice tablet = fleet.make(wish("T10")).device();
    assertThat(tablet.choosePasscode("135790")).isEmpty();
    tablet.tree().exec("./LAWMO/Operations/FullyLock", null, "c");
    assertThat(tablet.unlock("000000")).isFalse();
    assertThat(tablet.unlock("135790")).isTrue();
  }

  @Test
  void devicesAreTheSameAfterARestart() {
    Agent agent = fleet.make(wish("T10"));
    agent.device().tree().put(POLICY + "passcode/min-length", new Leaf("int", "6"), false);
    agent.device().choosePasscode("135790");
    Screen before = agent.screen();
    fleet.close();
    fleet = new Fleet(Catalogue.load(), directory);
    Screen after = fleet.find(before.id()).orElseThrow().screen();
    assertThat(after.serial()).isEqualTo(before.serial());
    assertThat(after.settings()).isEqualTo(before.settings());
    assertThat(after.passcodeSet()).isTrue();
    assertThat(fleet.find(before.id()).orElseThrow().device().tree().digest(Subtree.POLICY))
        .isEqualTo(agent.device().tree().digest(Subtree.POLICY));
  }
}
