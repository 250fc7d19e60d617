package dev.pinwright.core.change;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.pinwright.core.change.WavePlan.Decision;
import dev.pinwright.core.change.WavePlan.Step;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.stream.IntStream;
import org.junit.jupiter.api.Test;

class WavePlanTest {
  private static final Instant BEGUN = Instant.parse("2026-03-02T09:00:00Z");
  private static final WavePlan PLAN =
      new WavePlan(List.of(devices(5), share(5), group("g1"), share(25)), 60, 10);

  private static Step devices(int n) {
    return new Step(Optional.of(n), Optional.empty(), Optional.empty());
  }

  private static Step share(int percent) {
    return new Step(Optional.empty(), Optional.of(percent), Optional.empty());
  }

  private static Step group(String id) {
    return new Step(Optional.empty(), Optional.empty(), Optional.of(id));
  }

  @Test
  void eachWaveReachesThoseBeforeItToo() {
    assertThat(PLAN.waves()).isEqualTo(5);
    assertThat(PLAN.wave(0, 1_000, "s")).isEqualTo(new Wave("s", 50, List.of()));
    assertThat(PLAN.wave(1, 1_000, "s")).isEqualTo(new Wave("s", 500, List.of()));
    assertThat(PLAN.wave(2, 1_000, "s")).isEqualTo(new Wave("s", 500, List.of("g1")));
    assertThat(PLAN.wave(3, 1_000, "s")).isEqualTo(new Wave("s", 2_500, List.of("g1")));
    assertThat(PLAN.wave(4, 1_000, "s")).isEqualTo(new Wave("s", Wave.ALL, List.of()));
    assertThat(PLAN.wave(0, 3, "s").reach()).as("fewer than a handful").isEqualTo(Wave.ALL);
    assertThat(PLAN.wave(1, 20, "s").reach()).as("a share is no step back").isEqualTo(2_500);
  }

  @Test
  void aShareIsAboutThatManyAndTheSameOnesEveryTime() {
    Wave quarter = new Wave("salt", 2_500, List.of());
    long reached =
        IntStream.range(0, 20_000).filter(i -> quarter.reached("D" + i, List.of())).count();
    assertThat(reached).isBetween(4_700L, 5_300L);
    Wave more = new Wave("salt", 5_000, List.of());
    assertThat(IntStream.range(0, 2_000).mapToObj(i -> "D" + i))
        .allMatch(d -> !quarter.reached(d, List.of()) || more.reached(d, List.of()));
    assertThat(new Wave("salt", 0, List.of("g1")).reached("D1", List.of("g0", "g1"))).isTrue();
    assertThat(new Wave("salt", 0, List.of("g1")).reached("D1", List.of("g0"))).isFalse();
  }

  private static Decision decide(long done, long total, long failed, long reached, int minutes) {
    return PLAN.decide(
        BEGUN,
        new Progress(done, total - done, 0, 0),
        total,
        failed,
        reached,
        BEGUN.plus(Duration.ofMinutes(minutes)));
  }

  @Test
  void itGoesOnWhenItWasHeldAndHalfOfThemHaveItAndStopsWhenTooManyFail() {
    assertThat(decide(5, 5, 0, 5, 59)).isEqualTo(Decision.WAIT);
    assertThat(decide(5, 5, 0, 5, 60)).isEqualTo(Decision.NEXT);
    assertThat(decide(2, 5, 0, 5, 600)).as("most were not heard").isEqualTo(Decision.WAIT);
    assertThat(decide(0, 0, 0, 0, 60)).as("nobody had to change").isEqualTo(Decision.NEXT);
    assertThat(decide(0, 5, 2, 20, 0)).as("a tenth").isEqualTo(Decision.WAIT);
    assertThat(decide(0, 5, 3, 20, 0)).isEqualTo(Decision.STOP);
  }

  @Test
  void whatMakesNoSenseIsRefused() {
    assertThatThrownBy(() -> new WavePlan(List.of(), 60, 5)).hasMessageContaining("1 to 10 steps");
    assertThatThrownBy(() -> new WavePlan(List.of(share(5)), -1, 5)).hasMessageContaining("held");
    assertThatThrownBy(() -> new WavePlan(List.of(share(5)), 1, 101)).hasMessageContaining("bound");
    assertThatThrownBy(() -> share(100)).hasMessageContaining("1 to 99");
    assertThatThrownBy(() -> devices(0)).hasMessageContaining("at least one");
    assertThatThrownBy(() -> new Step(Optional.of(5), Optional.of(5), Optional.empty()))
        .hasMessageContaining("one of the three");
  }
}
