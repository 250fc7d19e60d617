package dev.pinwright.core.app;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatIllegalArgumentException;

import org.junit.jupiter.api.Test;

class AppVersionTest {
  @Test
  void whatItBeginsWithIsComparedByNumbersNotByLetters() {
    assertThat(AppVersion.of("4.10-beta").orElseThrow())
        .isGreaterThan(AppVersion.parse("4.9"))
        .isEqualTo(AppVersion.parse("4.10.0"))
        .isLessThan(AppVersion.parse("4.10.0.1"))
        .hasToString("4.10");
    assertThat(AppVersion.parse("0.0")).isEqualTo(AppVersion.parse("0"));
    assertThat(AppVersion.of("next")).isEmpty();
  }

  @Test
  void whatIsAskedForIsNumbersWithDotsBetweenThem() {
    for (String none : new String[] {"", "four", "4.2-beta", ".4"}) {
      assertThatIllegalArgumentException()
          .isThrownBy(() -> AppVersion.parse(none))
          .withMessageContaining("numbers with dots between them");
    }
  }
}
