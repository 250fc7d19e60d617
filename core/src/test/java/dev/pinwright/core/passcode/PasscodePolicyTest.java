package dev.pinwright.core.passcode;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.Map;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import net.jqwik.api.constraints.IntRange;
import net.jqwik.api.constraints.StringLength;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

class PasscodePolicyTest {
  private static final PasscodePolicy SIX =
      PasscodePolicy.read(
          Map.of("required", "true", "kind", "numeric", "min-length", "6", "no-runs", "true"));

  @ParameterizedTest
  @ValueSource(strings = {"135790", "290371", "aZ9!kQ"})
  void goodPasscodesAreTaken(String passcode) {
    assertThat(SIX.objections(passcode)).isEmpty();
  }

  @ParameterizedTest
  @ValueSource(strings = {"113334", "129876", "abc135", "444719"})
  void runsUpDownAndRepeatsAreRefused(String passcode) {
    assertThat(SIX.objections(passcode))
        .containsExactly("No repeated, rising or falling runs such as 111, 123 or 987.");
  }

  @Test
  void aShortOneSaysHowShort() {
    assertThat(SIX.objections("1357")).containsExactly("At least 6 characters, this has 4.");
  }

  @Test
  void noneIsRefusedOnlyWhereOneIsRequired() {
    assertThat(SIX.objections("")).containsExactly("A passcode is required.");
    assertThat(PasscodePolicy.read(Map.of()).objections("")).isEmpty();
  }

  @Test
  void characterClassesAreCounted() {
    PasscodePolicy strict =
        PasscodePolicy.read(
            Map.of(
                "required",
                "true",
                "kind",
                "alphanumeric",
                "min-letters",
                "2",
                "min-capitals",
                "1",
                "min-digits",
                "2",
                "min-symbols",
                "1"));
    assertThat(strict.objections("1357"))
        .containsExactly(
            "Digits alone are not enough.",
            "At least 2 letters, this has 0.",
            "At least 1 capital, this has 0.",
            "At least 1 symbol, this has 0.");
    assertThat(strict.objections("Ab13!")).isEmpty();
    assertThat(strict.demand()).contains("letters and digits", "symbols: 1");
  }

  @Property
  void aStricterLengthNeverTakesWhatALaxerOneRefuses(
      @ForAll @StringLength(max = 12) String passcode,
      @ForAll @IntRange(min = 4, max = 8) int lax,
      @ForAll @IntRange(max = 4) int more) {
    if (!length(lax).objections(passcode).isEmpty()) {
      assertThat(length(lax + more).objections(passcode)).isNotEmpty();
    }
  }

  private static PasscodePolicy length(int n) {
    return PasscodePolicy.read(Map.of("required", "true", "min-length", Integer.toString(n)));
  }
}
