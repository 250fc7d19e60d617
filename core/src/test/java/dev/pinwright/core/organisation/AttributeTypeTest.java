package dev.pinwright.core.organisation;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatIllegalArgumentException;

import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class AttributeTypeTest {
  private static final List<String> ROOMS = List.of("Quay hall", "Tower");

  @ParameterizedTest
  @CsvSource({
    "TEXT, ' by the door ', by the door",
    "NUMBER, 12.50, 12.5",
    "NUMBER, 1e3, 1000",
    "DATE, 2026-05-01, 2026-05-01",
    "CHOICE, quay HALL, Quay hall"
  })
  void aValueIsKeptInOneForm(AttributeType type, String typed, String kept) {
    assertThat(type.read(typed, ROOMS)).isEqualTo(kept);
  }

  @ParameterizedTest
  @CsvSource({
    "NUMBER, twelve, not a number such as 12.5",
    "DATE, 1.5.2026, not a day such as 2026-05-01",
    "CHOICE, Cellar, 'not one of Quay hall, Tower'"
  })
  void whatCannotBeSaysWhatWouldBeRight(AttributeType type, String typed, String words) {
    assertThatIllegalArgumentException()
        .isThrownBy(() -> type.read(typed, ROOMS))
        .withMessageContaining(words);
  }

  @Test
  void aTextHasABound() {
    assertThatIllegalArgumentException()
        .isThrownBy(() -> AttributeType.TEXT.read("x".repeat(201), List.of()))
        .withMessageContaining("at most 200");
  }
}
