package dev.pinwright.core.gateway;

import static org.assertj.core.api.Assertions.assertThat;

import dev.pinwright.core.gateway.SetUpStep.State;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.Test;

class SetUpStepTest {
  private static SetUpStep step(boolean done, Optional<String> attention, List<String> first) {
    return SetUpStep.of(
        "push tarn", "Push", done, attention, "make a request", first, "no waking", "/house");
  }

  @Test
  void whatComesFirstBlocksOnlyWhatIsNotDone() {
    assertThat(step(false, Optional.empty(), List.of()).state()).isEqualTo(State.MISSING);
    assertThat(step(false, Optional.empty(), List.of("services tarn")))
        .satisfies(
            s -> {
              assertThat(s.state()).isEqualTo(State.BLOCKED);
              assertThat(s.blockedBy()).containsExactly("services tarn");
            });
    assertThat(step(true, Optional.empty(), List.of("services tarn")))
        .satisfies(
            s -> {
              assertThat(s.state()).isEqualTo(State.DONE);
              assertThat(s.blockedBy()).isEmpty();
            });
  }

  @Test
  void whatNeedsAttentionSaysWhyInPlaceOfItsDetail() {
    SetUpStep lapsing = step(true, Optional.of("lapses in 19 days"), List.of());
    assertThat(lapsing.state()).isEqualTo(State.ATTENTION);
    assertThat(lapsing.detail()).isEqualTo("lapses in 19 days");
  }
}
