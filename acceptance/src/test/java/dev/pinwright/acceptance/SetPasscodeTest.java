package dev.pinwright.acceptance;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.pinwright.client.http.ApiException;
import dev.pinwright.client.model.Command;
import dev.pinwright.client.model.CommandKey;
import dev.pinwright.client.model.CommandState;
import dev.pinwright.client.model.Dispatch;
import dev.pinwright.client.model.DispatchOrder;
import dev.pinwright.client.model.EnrollmentProfile;
import dev.pinwright.client.model.EnrollmentProfileDraft;
import dev.pinwright.client.model.Intent;
import dev.pinwright.client.model.InvitationDraft;
import dev.pinwright.client.model.Mode;
import dev.pinwright.client.model.ProposalDraft;
import dev.pinwright.sandbox.device.Agent;
import java.util.Map;
import java.util.UUID;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;

/**
 * Another passcode, which nobody reads again; the SIM and the biometrics locked and let in again.
 */
class SetPasscodeTest {
  private static final String GOOD = "Quay-9182-blue";
  private static Rig rig;
  private static Desk desk;
  private static Agent phone;
  private static String id;

  @BeforeAll
  static void start() throws Exception {
    rig = new Rig();
    desk = new Desk(rig);
    desk.publish(
        desk.profile(
            "Passcode",
            Map.of("passcode.required", true, "passcode.min-length", 8),
            Desk.everyone()));
    EnrollmentProfile p =
        desk.enrollment(new EnrollmentProfileDraft().name("Phones").mode(Mode.SUPERVISED));
    phone =
        rig.join(
            rig.unpackAutomatic("P5"),
            rig.client
                .intake()
                .addInvitation(new InvitationDraft().profileId(p.getId()).uses(3))
                .getLink());
    id = desk.onlyDevice();
    Rig.eventually(() -> desk.standing(id), "settled"::equals);
  }

  @AfterAll
  static void stop() {
    rig.close();
  }

  private static DispatchOrder order(CommandKey command, Map<String, String> fields) {
    return new DispatchOrder()
        .command(command)
        .fields(fields)
        .reason("forgotten")
        .targets(java.util.List.of(Desk.device(id)));
  }

  private static Command ended(CommandKey command, Map<String, String> fields) throws ApiException {
    Dispatch d = desk.order(order(command, fields), UUID.randomUUID().toString());
    Rig.eventually(() -> desk.dispatch(d.getId()), Dispatch::getEnded);
    return rig.client.acting().getDispatchCommands(d.getId(), null, null, 1).getItems().get(0);
  }

  @Test
  void itHasToBeWhatIsAskedAndIsKeptSealed() throws Exception {
    assertThat(
            rig.client
                .acting()
                .rehearseDispatch(order(CommandKey.SET_PASSCODE, Map.of()))
                .getDemands())
        .singleElement()
        .asString()
        .contains("at least 8 characters");
    assertThatThrownBy(() -> ended(CommandKey.SET_PASSCODE, Map.of("passcode", "12345")))
        .hasMessageContaining("/fields/passcode");
    Command set = ended(CommandKey.SET_PASSCODE, Map.of("passcode", GOOD));
    assertThat(set.getState()).isEqualTo(CommandState.DONE);
    assertThat(phone.device().unlock(GOOD)).isTrue();
    assertThat(phone.device().unlock("Quay-9182-red")).isFalse();
    assertThat(desk.dispatch(set.getDispatchId()).getFields())
        .isEqualTo(Map.of("passcode", "••••"));
    assertThat(
            Sql.text(rig, "select count(*) from dispatch where fields::text like '%" + GOOD + "%'"))
        .isEqualTo("0");
    assertThatThrownBy(
            () ->
                rig.client
                    .rules()
                    .propose(
                        new ProposalDraft()
                            .intent(
                                new Intent()
                                    .order(
                                        order(CommandKey.SET_PASSCODE, Map.of("passcode", GOOD))))))
        .hasMessageContaining("holds no secrets");
  }

  @Test
  void whatALockTurnsOffIsTurnedOnAgain() throws Exception {
    ended(CommandKey.LOCK, Map.of());
    assertThat(phone.screen().biometricsOff()).isTrue();
    ended(CommandKey.RETURN_BIOMETRICS, Map.of());
    assertThat(phone.screen().biometricsOff()).isFalse();
    assertThat(phone.screen().screen()).as("it stays locked").isEqualTo("locked");
    ended(CommandKey.UNLOCK, Map.of());
    ended(CommandKey.LOCK_SIM, Map.of());
    assertThat(phone.screen().simLocked()).isTrue();
    ended(CommandKey.UNLOCK_SIM, Map.of());
    assertThat(phone.screen().simLocked()).isFalse();
  }
}
