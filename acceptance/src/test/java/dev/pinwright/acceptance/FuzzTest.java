package dev.pinwright.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;

/** A small part of what {@link Fuzz} does; all of it is {@code ./pinwright benchmark fuzz}. */
class FuzzTest {
  @Test
  @Timeout(240)
  void whateverIsSentIsAnsweredWithWords() {
    Fuzz fuzz = new Fuzz(2_500, 9);
    fuzz.run();
    assertThat(fuzz.faults()).isEmpty();
    assertThat(fuzz.refused()).as("refused with words").isGreaterThan(900);
    assertThat(fuzz.taken()).as("taken").isGreaterThan(150);
  }
}
