package dev.pinwright.core.gateway;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.OptionalInt;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class PushCredentialTest {
  private static final Instant END = Instant.parse("2026-12-13T10:00:00Z");
  private static final PushCredential HELD =
      new PushCredential("it@vellmar.example", "tarn.abc", END);

  @ParameterizedTest
  @CsvSource({
    "61, -1", "60, 60", "31, 60", "30, 30", "14, 14", "8, 14", "7, 7", "2, 7", "1, 1", "0, 1",
    "-1, 0"
  })
  void aNoticeIsDueWhenSoManyDaysAreLeft(int daysLeft, int due) {
    Instant now = END.minus(Duration.ofDays(daysLeft)).minusSeconds(1);
    assertThat(HELD.daysLeft(now)).isEqualTo(daysLeft);
    assertThat(HELD.noticeDue(now, OptionalInt.empty()))
        .isEqualTo(due < 0 ? OptionalInt.empty() : OptionalInt.of(due));
  }

  @Test
  void lookedAtEveryHourItIsSaidOnceForEachStep() {
    List<Integer> said = new ArrayList<>();
    OptionalInt told = OptionalInt.empty();
    for (Instant now = END.minus(Duration.ofDays(90));
        now.isBefore(END.plus(Duration.ofDays(3)));
        now = now.plus(Duration.ofHours(1))) {
      OptionalInt due = HELD.noticeDue(now, told);
      if (due.isPresent()) {
        said.add(due.getAsInt());
        told = due;
      }
    }
    assertThat(said).containsExactly(60, 30, 14, 7, 1, 0);
  }

  @Test
  void oneOfTheSameAccountTakesItsPlaceAndAnotherDoesNot() {
    assertThat(
            HELD.objection(
                new PushCredential("it@vellmar.example", "tarn.abc", END.plusSeconds(9)), 148))
        .isEqualTo(Optional.empty());
    assertThat(HELD.objection(new PushCredential("bo@vellmar.example", "tarn.xyz", END), 148))
        .hasValueSatisfying(
            why ->
                assertThat(why)
                    .contains("bo@vellmar.example", "cut off 148 devices", "have to join again"));
  }
}
