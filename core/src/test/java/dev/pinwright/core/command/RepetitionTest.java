package dev.pinwright.core.command;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.time.DayOfWeek;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalTime;
import java.time.ZoneId;
import java.util.EnumSet;
import java.util.Set;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import net.jqwik.api.constraints.IntRange;
import net.jqwik.api.constraints.LongRange;
import org.junit.jupiter.api.Test;

/** When standing orders come due. */
class RepetitionTest {
  private static final ZoneId PLUS_ONE = ZoneId.of("Etc/GMT-1");
  private static final Repetition NIGHTLY =
      new Repetition(EnumSet.allOf(DayOfWeek.class), LocalTime.of(2, 0), PLUS_ONE);

  @Test
  void nightlyIsTheNextNightInItsOwnZone() {
    assertThat(NIGHTLY.after(Instant.parse("2026-03-02T00:59:59Z")))
        .isEqualTo("2026-03-02T01:00:00Z");
    assertThat(NIGHTLY.after(Instant.parse("2026-03-02T01:00:00Z")))
        .as("never the same moment again")
        .isEqualTo("2026-03-03T01:00:00Z");
  }

  @Test
  void weeklyWaitsForItsDay() {
    Repetition mondays =
        new Repetition(Set.of(DayOfWeek.MONDAY), LocalTime.of(6, 30), ZoneId.of("UTC"));
    assertThat(mondays.after(Instant.parse("2026-03-02T06:30:00Z")))
        .as("2 March 2026 is a Monday")
        .isEqualTo("2026-03-09T06:30:00Z");
    assertThatThrownBy(() -> new Repetition(Set.of(), LocalTime.NOON, PLUS_ONE))
        .hasMessageContaining("at least one day");
  }

  @Property
  void theNextIsAlwaysLaterOnOneOfItsDaysAndWithinAWeek(
      @ForAll @LongRange(min = 0, max = 4_000_000_000L) long second,
      @ForAll Set<DayOfWeek> days,
      @ForAll @IntRange(max = 1_439) int minute) {
    if (days.isEmpty()) {
      return;
    }
    Repetition r =
        new Repetition(days, LocalTime.ofSecondOfDay(minute * 60L), ZoneId.of("Etc/GMT+3"));
    Instant now = Instant.ofEpochSecond(second);
    Instant next = r.after(now);
    assertThat(next).isAfter(now);
    assertThat(Duration.between(now, next)).isLessThanOrEqualTo(Duration.ofDays(7));
    assertThat(days).contains(next.atZone(r.zone()).getDayOfWeek());
  }
}
