package dev.pinwright.core.passcode;

import static org.assertj.core.api.Assertions.assertThat;

import dev.pinwright.core.passcode.PasscodePolicy.Demand;
import java.time.Duration;
import java.time.Instant;
import java.util.Map;
import org.junit.jupiter.api.Test;

/** How long a passcode may stay, and how long a holder has to choose another. */
class PasscodeTimesTest {
  private static final Instant MORNING = Instant.parse("2026-03-01T08:00:00Z");
  private static final PasscodePolicy POLICY =
      PasscodePolicy.read(
          Map.of(
              "required",
              "true",
              "max-age",
              "90",
              "history",
              "3",
              "grace",
              "24",
              "max-failures",
              "5"));

  @Test
  void whoIsAskedHasTheGraceAndNoLonger() {
    assertThat(POLICY.demand(true, MORNING, MORNING)).isEqualTo(Demand.NONE);
    Instant evening = MORNING.plus(Duration.ofHours(23));
    assertThat(POLICY.demand(false, MORNING, evening)).isEqualTo(Demand.GRACE);
    assertThat(POLICY.until(MORNING)).isEqualTo(MORNING.plus(Duration.ofHours(24)));
    assertThat(POLICY.demand(false, MORNING, POLICY.until(MORNING))).isEqualTo(Demand.NOW);
    PasscodePolicy plain = PasscodePolicy.read(Map.of("required", "true"));
    assertThat(plain.demand(false, MORNING, MORNING)).as("without grace").isEqualTo(Demand.NOW);
  }

  @Test
  void aPasscodeAgesAndOldOnesDoNotReturn() {
    assertThat(POLICY.aged(MORNING, MORNING.plus(Duration.ofDays(89)))).isFalse();
    assertThat(POLICY.aged(MORNING, MORNING.plus(Duration.ofDays(90)))).isTrue();
    assertThat(PasscodePolicy.read(Map.of()).aged(MORNING, Instant.MAX)).isFalse();
    assertThat(POLICY.returning(0)).hasValueSatisfying(w -> assertThat(w).contains("you have"));
    assertThat(POLICY.returning(2)).contains("Not one of your last 3 passcodes.");
    assertThat(POLICY.returning(3)).isEmpty();
    assertThat(PasscodePolicy.read(Map.of()).returning(0)).isEmpty();
  }

  @Test
  void wrongTriesEraseWhereThatIsSaid() {
    assertThat(POLICY.erases(4)).isFalse();
    assertThat(POLICY.erases(5)).isTrue();
    assertThat(PasscodePolicy.read(Map.of()).erases(1_000)).isFalse();
  }
}
