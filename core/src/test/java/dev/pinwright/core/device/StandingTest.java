package dev.pinwright.core.device;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatIllegalArgumentException;

import dev.pinwright.core.device.Standing.Evidence;
import java.time.Duration;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.Test;

class StandingTest {
  private static final Optional<Duration> HEARD = Optional.empty();
  private static final Optional<String> NOTHING = Optional.empty();

  private static Standing.Judgement heard(
      boolean matches, boolean stuck, Optional<String> holderMust, int refused) {
    return Standing.judge(
        new Evidence(HEARD, matches, false, stuck, holderMust, refused, 0, List.of()));
  }

  @Test
  void aDeviceIsSettledOnlyWhenNothingIsLeftToDo() {
    assertThat(heard(true, false, NOTHING, 0)).isEqualTo(said(Standing.SETTLED, ""));
    assertThat(heard(true, false, Optional.of("choose a passcode"), 2))
        .isEqualTo(said(Standing.CATCHING_UP, "the holder has to choose a passcode"));
    assertThat(heard(true, false, NOTHING, 2))
        .isEqualTo(said(Standing.BLOCKED, "the device refused 2 settings"));
    assertThat(heard(true, false, NOTHING, 1).reason()).isEqualTo("the device refused 1 setting");
    assertThat(heard(false, false, NOTHING, 0))
        .isEqualTo(said(Standing.CATCHING_UP, "a change is on its way"));
    assertThat(heard(false, true, NOTHING, 0).reason())
        .isEqualTo("the device could not apply its settings and gave no reason");
  }

  @Test
  void appsOnTheirWayAreAwaitedAndWhatFailsBlocks() {
    assertThat(apps(2, List.of("Rota could not be installed: no room")).standing())
        .isEqualTo(Standing.CATCHING_UP);
    assertThat(apps(1, List.of()).reason()).isEqualTo("an app is on its way");
    assertThat(apps(0, List.of("Rota could not be installed: no room")))
        .isEqualTo(said(Standing.BLOCKED, "Rota could not be installed: no room"));
    assertThat(apps(0, List.of("Rota is missing", "Ticket Scan is missing", "More")).reason())
        .isEqualTo("Rota is missing; 2 more apps fail");
  }

  private static Standing.Judgement apps(int coming, List<String> failing) {
    return Standing.judge(new Evidence(HEARD, true, false, false, NOTHING, 0, coming, failing));
  }

  private static Standing.Judgement said(Standing standing, String reason) {
    return new Standing.Judgement(standing, reason);
  }

  @Test
  void whatHeldAndHoldsNoLongerHasDrifted() {
    assertThat(Standing.judge(Evidence.ofDigest(false, true)).standing())
        .isEqualTo(Standing.DRIFTED);
    assertThat(Standing.judge(Evidence.ofDigest(false, false)).standing())
        .isEqualTo(Standing.CATCHING_UP);
    assertThat(Standing.judge(Evidence.ofDigest(true, true)).standing())
        .isEqualTo(Standing.SETTLED);
  }

  @Test
  void silenceIsSaidInDaysWhateverWasKnownBefore() {
    assertThat(Standing.judge(Evidence.ofSilence(Duration.ofDays(7))))
        .isEqualTo(said(Standing.SILENT, "not heard of for 7 days"));
    assertThat(Standing.judge(Evidence.ofSilence(Duration.ofDays(1))).reason()).endsWith("1 day");
  }

  @Test
  void versionsAreComparedByNumberNotByText() {
    assertThat(OsVersion.parse("10.0").atLeast(OsVersion.parse("9.9.9"))).isTrue();
    assertThat(OsVersion.parse("7")).isEqualTo(OsVersion.parse("7.0.0")).hasToString("7.0");
    assertThatIllegalArgumentException()
        .isThrownBy(() -> OsVersion.parse("seven"))
        .withMessageContaining("such as 7.2.1");
  }
}
