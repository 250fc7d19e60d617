package dev.pinwright.core;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.OptionalInt;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class LapseTest {
  private static final Instant END = Instant.parse("2026-12-13T10:00:00Z");
  private static final Lapse LAPSE = new Lapse(END);

  @ParameterizedTest
  @CsvSource({
    "61, -1", "60, 60", "31, 60", "30, 30", "14, 14", "8, 14", "7, 7", "2, 7", "1, 1", "0, 1",
    "-1, 0"
  })
  void aNoticeIsDueWhenSoManyDaysAreLeft(int daysLeft, int due) {
    Instant now = END.minus(Duration.ofDays(daysLeft)).minusSeconds(1);
    assertThat(LAPSE.daysLeft(now)).isEqualTo(daysLeft);
    assertThat(LAPSE.noticeDue(now, OptionalInt.empty()))
        .isEqualTo(due < 0 ? OptionalInt.empty() : OptionalInt.of(due));
  }

  @Test
  void lookedAtEveryHourItIsSaidOnceForEachStep() {
    List<Integer> said = new ArrayList<>();
    OptionalInt told = OptionalInt.empty();
    for (Instant now = END.minus(Duration.ofDays(90));
        now.isBefore(END.plus(Duration.ofDays(3)));
        now = now.plus(Duration.ofHours(1))) {
      OptionalInt due = LAPSE.noticeDue(now, told);
      if (due.isPresent()) {
        said.add(due.getAsInt());
        told = due;
      }
    }
    assertThat(said).containsExactly(60, 30, 14, 7, 1, 0);
  }

  @ParameterizedTest
  @CsvSource({"2, lapses in 2 days", "1, lapses in 1 day", "0, lapses today", "-1, has lapsed"})
  void itIsSaidInDays(int daysLeft, String words) {
    assertThat(LAPSE.words(END.minus(Duration.ofDays(daysLeft)).minusSeconds(1))).isEqualTo(words);
  }
}
