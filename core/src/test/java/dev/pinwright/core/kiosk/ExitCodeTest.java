package dev.pinwright.core.kiosk;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Instant;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class ExitCodeTest {
  /** The secret of RFC 6238, appendix B: the digits 1 to 0, twice. */
  private static final String SECRET =
      ExitCode.secret("12345678901234567890".getBytes(java.nio.charset.StandardCharsets.US_ASCII));

  @ParameterizedTest
  @CsvSource({
    "59, 287082",
    "1111111109, 081804",
    "1111111111, 050471",
    "1234567890, 005924",
    "2000000000, 279037"
  })
  void codesAreThoseOfTheStandard(long second, String code) {
    assertThat(ExitCode.at(SECRET, Instant.ofEpochSecond(second))).isEqualTo(code);
  }

  @ParameterizedTest
  @CsvSource({"f, MY", "fo, MZXQ", "foo, MZXW6", "foob, MZXW6YQ", "fooba, MZXW6YTB"})
  void secretsAreInBaseThirtyTwo(String bytes, String text) {
    assertThat(ExitCode.secret(bytes.getBytes(java.nio.charset.StandardCharsets.US_ASCII)))
        .isEqualTo(text);
  }

  @Test
  void aCodeIsTakenOneStepEitherWayAndNoFarther() {
    Instant now = Instant.ofEpochSecond(1_000_000_010);
    String code = ExitCode.at(SECRET, now);
    assertThat(ExitCode.opens(SECRET, code, now.minusSeconds(30), 0)).isPresent();
    assertThat(ExitCode.opens(SECRET, code, now.plusSeconds(30), 0)).isPresent();
    assertThat(ExitCode.opens(SECRET, code, now.plusSeconds(60), 0)).isEmpty();
    assertThat(ExitCode.opens(SECRET, code, now.minusSeconds(60), 0)).isEmpty();
  }

  @Test
  void aCodeIsTakenOnceAndNoneBeforeItAfterwards() {
    Instant now = Instant.ofEpochSecond(1_000_000_010);
    long used = ExitCode.opens(SECRET, ExitCode.at(SECRET, now), now, 0).orElseThrow();
    assertThat(ExitCode.opens(SECRET, ExitCode.at(SECRET, now), now, used)).isEmpty();
    assertThat(ExitCode.opens(SECRET, ExitCode.at(SECRET, now.minusSeconds(30)), now, used))
        .isEmpty();
    assertThat(ExitCode.opens(SECRET, ExitCode.at(SECRET, now.plusSeconds(30)), now, used))
        .contains(used + 1);
  }

  @Test
  void aCodeIsTheCurrentOneForThirtySeconds() {
    assertThat(ExitCode.until(Instant.ofEpochSecond(59))).isEqualTo(Instant.ofEpochSecond(60));
    assertThat(ExitCode.until(Instant.ofEpochSecond(60))).isEqualTo(Instant.ofEpochSecond(90));
  }
}
