package dev.pinwright.core.wipe;

import static org.assertj.core.api.Assertions.assertThat;

import dev.pinwright.core.access.Role;
import dev.pinwright.core.catalog.CommandSpec;
import dev.pinwright.core.catalog.CommandSpec.Danger;
import dev.pinwright.core.device.Mode;
import dev.pinwright.core.device.Ownership;
import java.time.Duration;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import org.junit.jupiter.api.Test;

/** What is said to be lost before it is. */
class AtStakeTest {
  private static CommandSpec command(String key, Danger danger) {
    return new CommandSpec(
        key,
        key,
        "",
        CommandSpec.Delivery.EXEC,
        "./LAWMO/Operations/Wipe",
        List.of(),
        true,
        danger,
        "",
        "",
        Duration.ofDays(1),
        Role.OPERATOR,
        Set.of(Mode.values()),
        Set.of(Ownership.values()),
        Optional.empty());
  }

  private static final AtStake SOME = new AtStake(40, 3, 40, 12, 1, 2);

  @Test
  void aWholeDeviceLosesWhatNobodySaved() {
    assertThat(SOME.losses(command("wipe", Danger.WIPES)))
        .containsExactly(
            "All of them have apps of the organisation, which go with what is in them.",
            "12 of 40 have told of no backup in the last seven days.",
            "1 of 40 has a disk that no key on file opens.",
            "2 of 40 were not heard of for a week: it happens once they are, or not at all.");
  }

  @Test
  void theHoldersOwnStaysWhereTheWorkPartGoes() {
    assertThat(SOME.losses(command("wipe-work", Danger.WIPES)))
        .contains("3 of 40 are the holder’s own: what is theirs on it stays as it is.")
        .noneMatch(l -> l.contains("backup"));
    assertThat(new AtStake(1, 1, 1, 1, 0, 0).losses(command("release", Danger.WIPES)))
        .containsExactly(
            "It has apps of the organisation, which go with what is in them.",
            "It is the holder’s own: what is theirs on it stays as it is.");
  }

  @Test
  void whatWipesNothingLosesNothing() {
    assertThat(SOME.losses(command("lock", Danger.DISTURBS))).isEmpty();
    assertThat(AtStake.NOTHING.losses(command("wipe", Danger.WIPES))).isEmpty();
  }
}
