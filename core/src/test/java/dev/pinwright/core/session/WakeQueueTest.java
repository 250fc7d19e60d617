package dev.pinwright.core.session;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.List;
import java.util.stream.IntStream;
import org.junit.jupiter.api.Test;

class WakeQueueTest {
  private final WakeQueue queue = new WakeQueue();

  private static List<String> devices(int first, int last) {
    return IntStream.rangeClosed(first, last).mapToObj(i -> "d" + i).toList();
  }

  @Test
  void allAreWokenOnceInTheOrderTheyCame() {
    queue.add(devices(1, 50));
    queue.add(devices(30, 60));
    List<String> woken = new ArrayList<>();
    for (List<String> next = queue.next(20, true); !next.isEmpty(); next = queue.next(20, true)) {
      assertThat(next).hasSizeLessThanOrEqualTo(20);
      woken.addAll(next);
    }
    assertThat(woken).containsExactlyElementsOf(devices(1, 60));
  }

  @Test
  void whatConcernsFewGoesBeforeWhatConcernsMany() {
    queue.add(devices(1, 5_000));
    queue.add("lost");
    queue.add(devices(4_990, 4_992));
    assertThat(queue.next(6, true)).containsExactly("lost", "d4990", "d4991", "d4992", "d1", "d2");
    queue.addAmongMany(List.of("d5001"));
    queue.add("d5");
    assertThat(queue.next(2, true)).containsExactly("d5", "d3");
    queue.add("d6");
    queue.addAmongMany(List.of("d6"));
    assertThat(queue.next(3, true)).as("it does not come twice").containsExactly("d6", "d4", "d7");
  }

  @Test
  void manyWaitWhileThoseBeforeThemAreNotAttendedTo() {
    queue.add(devices(1, 100));
    queue.add("lost");
    assertThat(queue.next(20, false)).containsExactly("lost");
    assertThat(queue.next(20, false)).isEmpty();
    assertThat(queue.next(20, true)).containsExactlyElementsOf(devices(1, 20));
  }
}
