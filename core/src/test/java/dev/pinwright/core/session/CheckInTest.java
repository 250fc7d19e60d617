package dev.pinwright.core.session;

import static org.assertj.core.api.Assertions.assertThat;

import dev.pinwright.core.device.Standing;
import java.util.EnumSet;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;

class CheckInTest {
  private static final Map<Subtree, String> GOAL = Map.of(Subtree.POLICY, "goal");

  private static CheckIn checkIn(Standing standing, Map<Subtree, String> told) {
    return new CheckIn(standing, true, false, false, true, false, GOAL, told);
  }

  @ParameterizedTest
  @EnumSource(Standing.class)
  void onlyADeviceThatStandsWellHasNothingToDo(Standing standing) {
    assertThat(checkIn(standing, GOAL).idle())
        .isEqualTo(EnumSet.of(Standing.SETTLED, Standing.BLOCKED).contains(standing));
  }

  @Test
  void everySubtreeHasToBeToldAndToBeAsWanted() {
    assertThat(checkIn(Standing.SETTLED, Map.of()).idle()).isFalse();
    assertThat(checkIn(Standing.SETTLED, Map.of(Subtree.POLICY, "other")).idle()).isFalse();
  }

  @Test
  void whoTellsADigestOfWhatIsItsOwnIsHeldToItAndNobodyElseIs() {
    Map<Subtree, String> goal = Map.of(Subtree.POLICY, "goal", Subtree.SELF, "own");
    assertThat(settled(goal, GOAL).idle()).isTrue();
    assertThat(settled(goal, goal).idle()).isTrue();
    assertThat(settled(goal, Map.of(Subtree.POLICY, "goal", Subtree.SELF, "other")).idle())
        .isFalse();
    assertThat(settled(GOAL, goal).idle()).as("what is wanted is being worked out").isFalse();
  }

  private static CheckIn settled(Map<Subtree, String> goal, Map<Subtree, String> told) {
    return new CheckIn(Standing.SETTLED, true, false, false, true, false, goal, told);
  }

  @Test
  void whoeverWaitsForAnythingIsAnswered() {
    Standing s = Standing.SETTLED;
    assertThat(new CheckIn(s, false, false, false, true, false, GOAL, GOAL).idle()).isFalse();
    assertThat(new CheckIn(s, true, true, false, true, false, GOAL, GOAL).idle()).isFalse();
    assertThat(new CheckIn(s, true, false, true, true, false, GOAL, GOAL).idle()).isFalse();
    assertThat(new CheckIn(s, true, false, false, false, false, GOAL, GOAL).idle()).isFalse();
    assertThat(new CheckIn(s, true, false, false, true, true, GOAL, GOAL).idle()).isFalse();
  }
}
