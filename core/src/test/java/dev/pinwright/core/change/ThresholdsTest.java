package dev.pinwright.core.change;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.util.Optional;
import org.junit.jupiter.api.Test;

/** The more devices a change is about, the more is asked. */
class ThresholdsTest {
  private static final Thresholds SET =
      new Thresholds(25, Optional.of(100L), Optional.of(500L), Optional.of(5L), new Runaway(10));

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
  void wipesAreAskedForSooner() {
    assertThat(SET.askedOfWipes(1).missing(given(null, null)))
        .as("one device is not counted, but wants a reason")
        .contains(Thresholds.Missing.REASON);
    assertThat(SET.askedOfWipes(1).missing(given(null, "stolen"))).isEmpty();
    assertThat(SET.askedOfWipes(2).missing(given(null, "stolen")))
        .contains(Thresholds.Missing.NUMBER);
    assertThat(SET.askedOfWipes(5).missing(given(5L, "stolen")))
        .contains(Thresholds.Missing.SECOND_PERSON);
    assertThat(Thresholds.USUAL.askedOfWipes(400).second())
        .as("nobody is asked for where one person looks after everything")
        .isFalse();
  }

  @Test
  void theLimitOfAnHourCountsWhatWasOrderedBefore() {
    Runaway ten = new Runaway(10);
    assertThat(ten.objection(0, 10)).isEmpty();
    assertThat(ten.objection(0, 11))
        .contains("One person alone may wipe or release 10 devices in an hour.");
    assertThat(ten.objection(1, 10))
        .contains(
            "1 device was wiped or released in the last hour; one person alone may do so with 10"
                + " devices.");
    assertThatThrownBy(() -> new Runaway(-1)).hasMessageContaining("from 0 to");
  }

  @Test
  void easingIsTold() {
    Thresholds higher =
        new Thresholds(25, Optional.empty(), Optional.empty(), Optional.of(5L), new Runaway(11));
    Thresholds never =
        new Thresholds(25, Optional.empty(), Optional.empty(), Optional.empty(), new Runaway(10));
    assertThat(SET.easedBy(higher)).isTrue();
    assertThat(SET.easedBy(never)).isTrue();
    assertThat(never.easedBy(SET)).as("stricter").isFalse();
    assertThat(SET.easedBy(SET)).isFalse();
  }

  @Test
  void whatIsBlankIsNoReasonAndWhatIsOutOfBoundsNoThreshold() {
    assertThat(given(1L, "  ").reason()).isEmpty();
    assertThatThrownBy(() -> given(1L, "x".repeat(301))).hasMessageContaining("300");
    assertThatThrownBy(
            () ->
                new Thresholds(
                    0, Optional.empty(), Optional.empty(), Optional.empty(), Runaway.USUAL))
        .hasMessageContaining("from 1 to");
  }
}
