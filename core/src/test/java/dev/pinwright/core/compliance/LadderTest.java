package dev.pinwright.core.compliance;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.time.Duration;
import java.time.Instant;
import java.util.Optional;
import org.junit.jupiter.api.Test;

class LadderTest {
  private static final Instant FOUND = Instant.parse("2026-03-02T09:00:00Z");
  private static final Ladder THREE_DAYS =
      new Ladder(72, Optional.of(0), Optional.of(72), Optional.of(96));

  private static Instant after(int hours) {
    return FOUND.plus(Duration.ofHours(hours));
  }

  @Test
  void aDeviceCountsAsInOrderUntilTheGraceIsOver() {
    assertThat(THREE_DAYS.order(FOUND, FOUND)).isEqualTo(Order.IN_GRACE);
    assertThat(THREE_DAYS.order(FOUND, after(72).minusSeconds(1))).isEqualTo(Order.IN_GRACE);
    assertThat(THREE_DAYS.order(FOUND, after(72))).isEqualTo(Order.OUT_OF_ORDER);
    assertThat(THREE_DAYS.due(FOUND)).isEqualTo(after(72));
    assertThat(
            new Ladder(0, Optional.empty(), Optional.empty(), Optional.empty()).order(FOUND, FOUND))
        .as("without grace")
        .isEqualTo(Order.OUT_OF_ORDER);
  }

  @Test
  void stepsAreTakenOnceTheirTimeHasComeAndNeverWhereNoneIsSaid() {
    assertThat(Ladder.reached(THREE_DAYS.holder(), FOUND, FOUND)).isTrue();
    assertThat(Ladder.reached(THREE_DAYS.withhold(), FOUND, after(95))).isFalse();
    assertThat(Ladder.reached(THREE_DAYS.withhold(), FOUND, after(96))).isTrue();
    assertThat(Ladder.reached(Optional.empty(), FOUND, after(9_000))).isFalse();
  }

  @Test
  void whatMakesNoSenseIsRefused() {
    assertThatThrownBy(() -> new Ladder(72, Optional.empty(), Optional.empty(), Optional.of(71)))
        .hasMessageContaining("before the grace of 72 hours");
    assertThatThrownBy(() -> new Ladder(-1, Optional.empty(), Optional.empty(), Optional.empty()))
        .hasMessageContaining("from 0 to 8784");
    assertThatThrownBy(() -> new Ladder(0, Optional.of(9_000), Optional.empty(), Optional.empty()))
        .hasMessageContaining("not 9000");
  }
}
