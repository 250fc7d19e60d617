package dev.pinwright.core.device;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.Test;

class DriftTest {
  private static final Instant NOW = Instant.parse("2026-11-28T12:00:00Z");

  private static Instant ago(long minutes) {
    return NOW.minus(Duration.ofMinutes(minutes));
  }

  @Test
  void whatHappensNowAndThenIsPutRightAtOnce() {
    assertThat(Drift.waits(List.of(), NOW)).isEmpty();
    assertThat(Drift.waits(List.of(ago(1), ago(2)), NOW)).isEmpty();
  }

  @Test
  void whatHappensAgainAndAgainWaitsEverLonger() {
    assertThat(Drift.waits(List.of(ago(1), ago(2), ago(3)), NOW))
        .isEqualTo(Optional.of(NOW.plus(Duration.ofMinutes(9))));
    assertThat(Drift.waits(List.of(ago(10), ago(11), ago(12)), NOW)).isEmpty();
    assertThat(Drift.waits(List.of(ago(10), ago(20), ago(21), ago(22)), NOW))
        .isEqualTo(Optional.of(NOW.plus(Duration.ofMinutes(10))));
  }

  @Test
  void aDeviceThatIsMeddledWithAllDayIsPutRightAFewTimesAndNeverGivenUp() {
    List<Instant> right = new ArrayList<>();
    for (int minute = 0; minute < 3 * 24 * 60; minute++) {
      Instant now = NOW.plus(Duration.ofMinutes(minute));
      List<Instant> counted =
          right.stream()
              .filter(t -> t.isAfter(now.minus(Drift.COUNTED)))
              .limit(Drift.MOST)
              .toList();
      if (Drift.waits(counted, now).isEmpty()) {
        right.add(0, now);
      }
    }
    assertThat(right.size()).isBetween(12, 40);
  }

  @Test
  void itSaysWhenItIsTriedNext() {
    assertThat(Drift.left(Instant.parse("2026-11-28T14:10:31Z")).reason())
        .endsWith("first heard after 2026-11-28 14:10 UTC");
  }
}
