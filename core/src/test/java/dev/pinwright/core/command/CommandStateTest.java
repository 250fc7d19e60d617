package dev.pinwright.core.command;

import static org.assertj.core.api.Assertions.assertThat;

import org.junit.jupiter.api.Test;

class CommandStateTest {
  @Test
  void aFailureIsToldInTheDevicesWords() {
    assertThat(DeviceAnswer.of(500, "no such speaker"))
        .isEqualTo(new DeviceAnswer(CommandState.FAILED, "the device said: no such speaker"));
    assertThat(DeviceAnswer.of(500, "").reason()).contains("failed while carrying it out");
    assertThat(DeviceAnswer.of(200, "fine").state()).isEqualTo(CommandState.DONE);
  }

  @Test
  void nothingLeavesAnEnd() {
    for (CommandState s : CommandState.values()) {
      for (CommandState to : CommandState.values()) {
        assertThat(s.ended() && s.mayBecome(to)).isFalse();
        assertThat(s.mayBecome(s)).isFalse();
      }
    }
  }

  @Test
  void onlyAQueuedCommandCanBeCancelled() {
    assertThat(CommandState.QUEUED.mayBecome(CommandState.CANCELLED)).isTrue();
    assertThat(CommandState.DELIVERED.mayBecome(CommandState.CANCELLED)).isFalse();
  }

  @Test
  void everyAnswerOfADeviceHasAStateAndWords() {
    assertThat(DeviceAnswer.of(202)).isEqualTo(new DeviceAnswer(CommandState.DELIVERED, ""));
    assertThat(DeviceAnswer.of(200)).isEqualTo(new DeviceAnswer(CommandState.DONE, ""));
    assertThat(DeviceAnswer.of(425).reason()).isEqualTo("the device denied permission");
    assertThat(DeviceAnswer.of(499))
        .isEqualTo(new DeviceAnswer(CommandState.FAILED, "the device answered 499"));
  }
}
