package dev.pinwright.core.gateway;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Instant;
import java.util.Optional;
import org.junit.jupiter.api.Test;

class PushCredentialTest {
  private static final Instant END = Instant.parse("2026-12-13T10:00:00Z");
  private static final PushCredential HELD =
      new PushCredential("it@vellmar.example", "tarn.abc", END);

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
