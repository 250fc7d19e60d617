package dev.pinwright.core.screen;

import static org.assertj.core.api.Assertions.assertThat;

import dev.pinwright.core.command.CommandState;
import dev.pinwright.core.device.Ownership;
import dev.pinwright.core.screen.Assist.Stage;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.junit.jupiter.api.Test;

/** How far an assist is, and how much of a screen is shown. */
class AssistTest {
  private static final Instant NOON = Instant.parse("2026-11-30T12:00:00Z");

  private static Assist assist(
      CommandState command, boolean watched, boolean begun, boolean ended) {
    return new Assist(
        "a",
        "d",
        "VM-HAR phone 03",
        "priya",
        Shows.WHOLE,
        false,
        command,
        "",
        NOON,
        watched ? Optional.of(NOON.plusSeconds(2)) : Optional.empty(),
        begun ? Optional.of(NOON.plusSeconds(5)) : Optional.empty(),
        ended ? Optional.of(NOON.plusSeconds(65)) : Optional.empty(),
        ended ? Optional.of("its holder") : Optional.empty());
  }

  @Test
  void theHolderIsAskedOnceSomebodyIsThereToLook() {
    assertThat(assist(CommandState.QUEUED, false, false, false).stage()).isEqualTo(Stage.ORDERED);
    assertThat(assist(CommandState.QUEUED, true, false, false).stage()).isEqualTo(Stage.WAITING);
    assertThat(assist(CommandState.DELIVERED, true, false, false).stage()).isEqualTo(Stage.ASKED);
    assertThat(assist(CommandState.DELIVERED, true, true, false).stage()).isEqualTo(Stage.ON);
  }

  @Test
  void whatWasSeenLastedAndWhatWasNotDidNot() {
    Assist seen = assist(CommandState.DONE, true, true, true);
    assertThat(seen.stage()).isEqualTo(Stage.ENDED);
    assertThat(seen.lasted()).contains(Duration.ofMinutes(1));
    assertThat(assist(CommandState.CANCELLED, true, false, true))
        .satisfies(a -> assertThat(a.stage()).isEqualTo(Stage.NOT))
        .satisfies(a -> assertThat(a.lasted()).isEmpty());
    for (CommandState state : CommandState.values()) {
      assertThat(assist(state, true, false, false).over())
          .as("nothing is to come of one that is %s", state)
          .isEqualTo(state.ended());
    }
  }

  @Test
  void ofAPersonalDeviceTheOrganisationsAppsAreShownWhateverWasAsked() {
    for (Map<String, String> filled :
        List.of(Map.<String, String>of(), Map.of("shows", "whole"), Map.of("shows", "work"))) {
      assertThat(Shows.of(Ownership.PERSONAL, filled)).isEqualTo(Shows.WORK);
    }
    assertThat(Shows.of(Ownership.CORPORATE, Map.of())).isEqualTo(Shows.WHOLE);
    assertThat(Shows.of(Ownership.CORPORATE, Map.of("shows", "work"))).isEqualTo(Shows.WORK);
  }
}
