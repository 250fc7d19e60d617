package dev.pinwright.core.command;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.Optional;
import org.junit.jupiter.api.Test;

/** How a device says that a script ended. */
class ScriptEndTest {
  @Test
  void anExitCodeAndWhatWasWritten() {
    ScriptEnd well = ScriptEnd.read("0\nfree: 12 GB\n\tof 64").orElseThrow();
    assertThat(well.output()).isEqualTo("free: 12 GB\n\tof 64");
    assertThat(well.answer()).isEqualTo(new DeviceAnswer(CommandState.DONE, ""));
    assertThat(ScriptEnd.read("3").orElseThrow().answer())
        .isEqualTo(new DeviceAnswer(CommandState.FAILED, "the script ended with 3"));
    ScriptEnd stopped = ScriptEnd.read("stopped\r\nhalf").orElseThrow();
    assertThat(stopped.exit()).isEqualTo(Optional.empty());
    assertThat(stopped.output()).isEqualTo("half");
    assertThat(stopped.answer().reason()).contains("too long");
  }

  @Test
  void ofMuchTheEndIsKeptAndNothingThatCannotBe() {
    String much = "1\n" + "x".repeat(ScriptEnd.MOST_OUTPUT) + "the end";
    assertThat(ScriptEnd.read(much).orElseThrow().output())
        .hasSize(ScriptEnd.MOST_OUTPUT)
        .endsWith("xthe end");
    assertThat(ScriptEnd.read("0\na\u0000b\u001b[31mc\ud800d\r\n").orElseThrow().output())
        .isEqualTo("ab[31mcd\n");
  }

  @Test
  void whatIsNoEndIsNone() {
    for (String said : new String[] {"", "done", "-1\nx", "12345678901", " 0"}) {
      assertThat(ScriptEnd.read(said)).as(said).isEmpty();
    }
  }
}
