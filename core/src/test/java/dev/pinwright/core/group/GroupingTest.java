package dev.pinwright.core.group;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatIllegalArgumentException;

import dev.pinwright.core.compliance.Order;
import dev.pinwright.core.device.Mode;
import dev.pinwright.core.device.OsVersion;
import dev.pinwright.core.device.Ownership;
import dev.pinwright.core.device.Standing;
import dev.pinwright.core.group.Grouping.Definition;
import dev.pinwright.core.query.Device;
import dev.pinwright.core.query.DeviceQuery;
import java.time.Instant;
import java.util.Arrays;
import java.util.Collections;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.junit.jupiter.api.Test;

class GroupingTest {
  private static final Device TABLET =
      new Device(
          "D1",
          Map.of(DeviceQuery.Field.PLATFORM, "tarn"),
          Mode.SUPERVISED,
          Ownership.CORPORATE,
          OsVersion.parse("7.0"),
          Standing.SETTLED,
          Instant.EPOCH,
          Optional.empty(),
          false,
          Set.of(),
          Set.of("spare"),
          Set.of("stale"),
          Set.of(),
          Map.of(),
          Map.of(),
          Map.of(),
          Set.of(),
          Order.IN_ORDER,
          Optional.empty());

  private static Definition rule(String id, DeviceQuery rule, String... asked) {
    return new Definition(id, Optional.of(rule), Set.of(), Set.of(asked));
  }

  private static Definition around(String id, String... inside) {
    return new Definition(id, Optional.empty(), Set.of(inside), Set.of());
  }

  @Test
  void membershipFollowsThroughGroupsInsideAndGroupsAskedFor() {
    List<Definition> all =
        Arrays.asList(
            around("all tablets", "old tablets", "picked"),
            rule("not spare", DeviceQuery.not(new DeviceQuery.Tagged("spare"))),
            rule("old tablets", new DeviceQuery.Tagged("spare")),
            rule(
                "elsewhere",
                DeviceQuery.not(new DeviceQuery.InGroup("all tablets")),
                "all tablets"));
    for (int i = 0; i < 20; i++) {
      Collections.shuffle(all);
      Grouping grouping = new Grouping(all);
      assertThat(grouping.of(TABLET, Set.of())).containsExactly("all tablets", "old tablets");
      assertThat(grouping.following(List.of("old tablets")).stream().map(Definition::id))
          .containsExactly("old tablets", "all tablets", "elsewhere");
    }
    assertThat(new Grouping(all).of(TABLET.in(Set.of("elsewhere")), Set.of("picked")))
        .as("what it says it is in counts for nothing")
        .containsExactly("all tablets", "old tablets", "picked");
  }

  @Test
  void aCircleIsFoundWithTheWayRoundIt() {
    List<Definition> round =
        List.of(
            around("a", "b"),
            rule("b", DeviceQuery.ALL, "c"),
            around("c", "d", "a"),
            around("d"),
            around("e", "a"));
    assertThat(Grouping.circle(round)).containsExactly("a", "b", "c", "a");
    assertThatIllegalArgumentException().isThrownBy(() -> new Grouping(round));
    assertThat(Grouping.circle(List.of(around("a", "a")))).containsExactly("a", "a");
    assertThat(Grouping.circle(round.subList(1, 5))).isEmpty();
  }
}
