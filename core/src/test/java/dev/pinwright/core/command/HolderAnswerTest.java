package dev.pinwright.core.command;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import org.junit.jupiter.api.Test;

/** What holders' devices answer, and what that means. */
class HolderAnswerTest {
  private static final List<String> DAYS = HolderAnswer.choices(" Monday\n\nTuesday \nMonday");

  @Test
  void noIsAnAnswerToo() {
    assertThat(HolderAnswer.of(List.of(), 200, "")).contains("yes");
    assertThat(HolderAnswer.of(List.of(), 304, "")).contains("no");
    assertThat(HolderAnswer.of(List.of(), 214, "")).contains("no");
    assertThat(HolderAnswer.of(List.of(), 406, "")).as("it could not be asked").isEmpty();
  }

  @Test
  void aChoiceIsToldByItsNumber() {
    assertThat(DAYS).containsExactly("Monday", "Tuesday");
    assertThat(HolderAnswer.of(DAYS, 200, " 2 ")).contains("Tuesday");
    assertThat(HolderAnswer.of(DAYS, 200, "3")).isEmpty();
    assertThat(HolderAnswer.of(DAYS, 200, "Tuesday")).isEmpty();
    assertThat(HolderAnswer.of(DAYS, 214, "")).as("the holder put it away").isEmpty();
  }
}
