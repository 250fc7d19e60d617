package dev.pinwright.protocol.dm;

import static org.assertj.core.api.Assertions.assertThat;

import dev.pinwright.protocol.dm.Processes.Process;
import java.util.List;
import org.junit.jupiter.api.Test;

/** How a laptop says what runs on it. */
class ProcessesTest {
  @Test
  void theBusiestComeFirstAndComeBackAsTheyWere() {
    List<Process> some =
        List.of(
            new Process(812, "Object Records", "ines.brack", 14.5, 310),
            new Process(400, "init", "system", 0.1, 12));
    assertThat(Processes.read(Processes.write(List.of(some.get(1), some.get(0))))).contains(some);
  }

  @Test
  void whatIsNoProcessIsLeftOutAndWhatIsNoListIsNone() {
    String odd =
        """
        [{"number":1,"name":"a","cpu":-4,"memory":"much"},{"number":"x","name":"b"},{"name":"c"},
         {"number":2,"name":" "},{"number":3,"name":"d\\u0000\\u200b"}]
        """;
    assertThat(Processes.read(odd).orElseThrow())
        .extracting(Process::number, Process::cpu, Process::memory)
        .contains(org.assertj.core.groups.Tuple.tuple(1L, 0.0, 0.0))
        .hasSize(2);
    assertThat(Processes.read("{}")).isEmpty();
    assertThat(Processes.read("[")).isEmpty();
    assertThat(Processes.read("")).isEmpty();
  }
}
