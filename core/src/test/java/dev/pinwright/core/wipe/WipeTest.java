package dev.pinwright.core.wipe;

import static org.assertj.core.api.Assertions.assertThat;

import dev.pinwright.core.command.CommandState;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import org.junit.jupiter.api.Test;

/** What happened to a wipe, and what is known by that. */
class WipeTest {
  private static final Instant AT = Instant.parse("2026-03-02T09:00:00Z");

  private static Wipe wipe(
      WipeKind kind,
      CommandState command,
      boolean delivered,
      boolean begun,
      boolean proved,
      boolean denied,
      boolean revoked,
      boolean restored) {
    return new Wipe(
        "w",
        "d",
        "Lantern 1",
        kind,
        "stolen",
        "ada",
        Optional.empty(),
        false,
        command,
        "",
        AT,
        when(delivered),
        when(begun),
        when(proved),
        proved ? Optional.of(kind == WipeKind.WORK ? Proof.READ : Proof.BLANK) : Optional.empty(),
        when(denied),
        when(revoked),
        revoked ? Optional.of("bo") : Optional.empty(),
        when(restored),
        List.of("App Rota"),
        List.of());
  }

  private static Optional<Instant> when(boolean happened) {
    return happened ? Optional.of(AT) : Optional.empty();
  }

  private static Wipe at(WipeKind kind, CommandState command) {
    return wipe(
        kind, command, command == CommandState.DELIVERED, false, false, false, false, false);
  }

  @Test
  void whatADeviceSaysIsNotWhatIsProved() {
    assertThat(at(WipeKind.DEVICE, CommandState.QUEUED).stage()).isEqualTo(WipeStage.ASKED);
    assertThat(at(WipeKind.DEVICE, CommandState.DELIVERED).stage()).isEqualTo(WipeStage.DELIVERED);
    Wipe begun = wipe(WipeKind.DEVICE, CommandState.DONE, true, true, false, false, false, false);
    assertThat(begun.stage()).isEqualTo(WipeStage.BEGUN);
    assertThat(begun.provable()).isTrue();
    assertThat(begun.keepsEmpty()).isTrue();
    Wipe proved = wipe(WipeKind.DEVICE, CommandState.DONE, true, true, true, false, false, false);
    assertThat(proved.stage()).isEqualTo(WipeStage.PROVED);
    assertThat(proved.provable()).as("once").isFalse();
  }

  @Test
  void aBlankDeviceProvesWhatItHadNoTimeToSay() {
    assertThat(at(WipeKind.DEVICE, CommandState.DELIVERED).provable()).isTrue();
    assertThat(
            wipe(WipeKind.DEVICE, CommandState.EXPIRED, true, false, false, false, false, false)
                .provable())
        .isTrue();
    assertThat(at(WipeKind.DEVICE, CommandState.EXPIRED).provable())
        .as("it never had it: somebody else erased it")
        .isFalse();
    assertThat(at(WipeKind.DEVICE, CommandState.QUEUED).provable()).isFalse();
    assertThat(at(WipeKind.WORK, CommandState.DELIVERED).provable()).isFalse();
  }

  @Test
  void whoeverSaysItErasesItselfAndSpeaksOnIsNotErased() {
    Wipe begun = wipe(WipeKind.DEVICE, CommandState.DONE, true, true, false, false, false, false);
    assertThat(begun.deniedBySession(true)).as("it says so in this session").isFalse();
    assertThat(begun.deniedBySession(false)).isTrue();
    Wipe work = wipe(WipeKind.WORK, CommandState.DONE, true, true, false, false, false, false);
    assertThat(work.deniedBySession(false)).as("it is to be heard again").isFalse();
    Wipe denied = wipe(WipeKind.DEVICE, CommandState.DONE, true, true, false, true, false, false);
    assertThat(denied.stage()).isEqualTo(WipeStage.FAILED);
    assertThat(denied.keepsEmpty()).isFalse();
  }

  @Test
  void theWorkPartAloneCanBeRevokedAndOnlyOnceItIsGone() {
    assertThat(at(WipeKind.WORK, CommandState.QUEUED).notRevocable())
        .hasValueSatisfying(why -> assertThat(why).contains("cancel it instead"));
    assertThat(at(WipeKind.WORK, CommandState.DELIVERED).notRevocable()).isEmpty();
    Wipe gone = wipe(WipeKind.WORK, CommandState.DONE, true, true, true, false, false, false);
    assertThat(gone.notRevocable()).isEmpty();
    Wipe back = wipe(WipeKind.WORK, CommandState.DONE, true, true, true, false, true, false);
    assertThat(back.stage()).isEqualTo(WipeStage.REVOKED);
    assertThat(back.notRevocable()).contains("it is revoked already");
    assertThat(back.keepsEmpty()).isFalse();
    Wipe erased = wipe(WipeKind.DEVICE, CommandState.DONE, true, true, true, false, false, false);
    assertThat(erased.notRevocable())
        .hasValueSatisfying(why -> assertThat(why).contains("cannot be brought back"));
    assertThat(at(WipeKind.WORK, CommandState.FAILED).notRevocable()).contains("nothing was wiped");
  }

  @Property
  void aDeviceIsLeftEmptyOnlyWhileNothingIsToComeBack(
      @ForAll WipeKind kind,
      @ForAll CommandState command,
      @ForAll boolean begun,
      @ForAll boolean proved,
      @ForAll boolean denied,
      @ForAll boolean revoked,
      @ForAll boolean restored) {
    Wipe w = wipe(kind, command, true, begun, proved, denied, revoked, restored);
    if (w.keepsEmpty()) {
      assertThat(revoked || restored).isFalse();
      assertThat(begun || proved || command == CommandState.DONE).isTrue();
    }
    if (restored) {
      assertThat(w.stage()).isEqualTo(WipeStage.RESTORED);
    }
    assertThat(w.provable() && w.notRevocable().isEmpty()).as("never both").isFalse();
  }
}
