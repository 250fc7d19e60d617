package dev.pinwright.acceptance;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.pinwright.client.http.ApiException;
import dev.pinwright.client.model.JournalEntry;
import dev.pinwright.client.model.RecoveryKey;
import dev.pinwright.client.model.RecoveryKeyKnown;
import dev.pinwright.client.model.RecoveryKeyWanted;
import dev.pinwright.sandbox.device.Agent;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.openqa.selenium.By;

/** A laptop hands in the key its disk opens with; who sees it says why, and it makes another. */
class RecoveryKeyTest {
  private static RecoveryKeyKnown known(Rig rig, String id) {
    try {
      return rig.client.devices().getRecoveryKey(id);
    } catch (ApiException e) {
      throw new IllegalStateException(e);
    }
  }

  private static String held(Agent laptop) {
    return laptop.screen().recoveryKey().orElse("");
  }

  @Test
  void isKeptSealedShownWithAReasonAndMadeAnew() throws Exception {
    try (Rig rig = new Rig();
        Browser b = new Browser()) {
      Desk desk = new Desk(rig);
      Agent laptop = rig.join(rig.unpackAutomatic("Note 14"), desk.kiosks("Laptops", 3).getLink());
      String id = desk.devices(laptop.screen().serial(), 1).get(0).getId();
      assertThat(known(rig, id).getNumber()).isNull();
      assertThatThrownBy(
              () -> rig.client.devices().showRecoveryKey(id, new RecoveryKeyWanted().reason("x")))
          .hasMessageContaining("has not handed in a key");
      desk.publish(
          desk.profile(
              "Disks",
              Map.of("encryption.required", true, "encryption.escrow", true),
              Desk.device(id)));
      Rig.eventually(() -> known(rig, id).getNumber(), Integer.valueOf(1)::equals);
      String first = held(laptop);
      assertThat(first).matches("(\\d{6}-){7}\\d{6}");

      b.open(rig.consoleUrl());
      b.type("Login", "owner");
      b.type("Password", Rig.PASSWORD);
      b.press("Sign in");
      b.read("Today");
      b.open(rig.consoleUrl() + "/devices/" + id);
      b.read("The key its disk opens with is kept here");
      b.press("Show the key");
      b.type("Why it has to be seen", "Ines forgot her passcode");
      b.press("Show it");
      assertThat(b.see(By.cssSelector("[data-testid='recovery-key']")).getText()).isEqualTo(first);

      Rig.eventually(() -> known(rig, id).getNumber(), Integer.valueOf(2)::equals);
      assertThat(held(laptop)).as("it made another").isNotEqualTo(first);
      RecoveryKey second =
          rig.client.devices().showRecoveryKey(id, new RecoveryKeyWanted().reason("to compare"));
      assertThat(second.getKey()).isEqualTo(held(laptop));
      assertThat(rig.client.records().listJournal("device:" + id, null, null, 50).getItems())
          .extracting(JournalEntry::getSummary)
          .anyMatch(
              s -> s.contains("Recovery key 1") && s.endsWith("reason: Ines forgot her passcode"))
          .noneMatch(s -> s.contains(first));

      assertThatThrownBy(
              () -> rig.client.devices().showRecoveryKey(id, new RecoveryKeyWanted().reason(" ")))
          .hasMessageContaining("why it has to be seen");
    }
  }
}
