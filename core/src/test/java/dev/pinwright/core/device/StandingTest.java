package dev.pinwright.core.device;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatIllegalArgumentException;

import dev.pinwright.core.device.Standing.Evidence;
import org.junit.jupiter.api.Test;

class StandingTest {
  @Test
  void aDeviceIsSettledOnlyWhenNothingIsLeftToDo() {
    assertThat(Standing.judge(new Evidence(true, false, false, 0)).standing())
        .isEqualTo(Standing.SETTLED);
    assertThat(Standing.judge(new Evidence(true, false, true, 0)).reason())
        .isEqualTo("the holder has to choose a passcode");
    assertThat(Standing.judge(new Evidence(true, false, false, 2)))
        .isEqualTo(new Standing.Judgement(Standing.BLOCKED, "the device refused 2 settings"));
    assertThat(Standing.judge(new Evidence(false, true, false, 0)).standing())
        .isEqualTo(Standing.DRIFTED);
    assertThat(Standing.judge(new Evidence(false, false, false, 0)).standing())
        .isEqualTo(Standing.CATCHING_UP);
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
