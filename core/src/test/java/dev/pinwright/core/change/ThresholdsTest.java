package dev.pinwright.core.change;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.util.Optional;
import org.junit.jupiter.api.Test;

/** The more devices a change is about, the more is asked. */
class ThresholdsTest {
  private static final Thresholds SET = new Thresholds(25, Optional.of(100L), Optional.of(500L));

  private static Confirmation given(Long number, String reason) {
    return new Confirmation(
        Optional.ofNullable(number), Optional.ofNullable(reason), Optional.empty());
  }

  @Test
  void harmGrowsWhatIsAsked() {
    assertThat(SET.asked(24)).isEqualTo(Thresholds.Asked.NOTHING);
    assertThat(SET.asked(25).missing(Confirmation.NONE)).contains(Thresholds.Missing.NUMBER);
    assertThat(SET.asked(25).missing(given(25L, null))).isEmpty();
    assertThat(SET.asked(100).missing(given(100L, null))).contains(Thresholds.Missing.REASON);
    assertThat(SET.asked(100).missing(given(99L, "new rooms"))).contains(Thresholds.Missing.NUMBER);
    assertThat(SET.asked(100).missing(given(100L, "new rooms"))).isEmpty();
    assertThat(SET.asked(500).missing(given(500L, "new rooms")))
        .contains(Thresholds.Missing.SECOND_PERSON);
  }

  @Test
  void whoeverAgreedHasSeenItAll() {
    Confirmation agreed = new Confirmation(Optional.of(500L), Optional.empty(), Optional.of("bo"));
    assertThat(SET.asked(500).missing(agreed)).isEmpty();
    assertThat(SET.asked(501).missing(agreed))
        .as("one more came in since they saw it")
        .contains(Thresholds.Missing.NUMBER);
    assertThat(agreed.words()).isEqualTo("; agreed by bo");
  }

  @Test
  void oneWhoIsAloneIsNeverAskedForAnother() {
    assertThat(Thresholds.USUAL.asked(40_000).missing(given(40_000L, null))).isEmpty();
  }

  @Test
  void whatIsBlankIsNoReasonAndWhatIsOutOfBoundsNoThreshold() {
    assertThat(given(1L, "  ").reason()).isEmpty();
    assertThatThrownBy(() -> given(1L, "x".repeat(301))).hasMessageContaining("300");
    assertThatThrownBy(() -> new Thresholds(0, Optional.empty(), Optional.empty()))
        .hasMessageContaining("from 1 to");
  }
}
