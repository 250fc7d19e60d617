package dev.pinwright.core.session;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.stream.IntStream;
import org.junit.jupiter.api.Test;

class WakeQueueTest {
  private static final Instant NOW = Instant.parse("2027-02-01T09:00:00Z");

  private final WakeQueue queue = new WakeQueue();

  private static List<String> devices(int first, int last) {
    return IntStream.rangeClosed(first, last).mapToObj(i -> "d" + i).toList();
  }

  private void over(List<String> devices) {
    devices.forEach(queue::over);
  }

  @Test
  void allAreWokenOnceInTheOrderTheyCame() {
    queue.add(devices(1, 50));
    queue.add(devices(30, 60));
    List<String> woken = new ArrayList<>();
    for (List<String> next = queue.next(20, NOW); !next.isEmpty(); next = queue.next(20, NOW)) {
      assertThat(next).hasSizeLessThanOrEqualTo(20);
      woken.addAll(next);
      over(next);
    }
    assertThat(woken).containsExactlyElementsOf(devices(1, 60));
  }

  @Test
  void whatConcernsFewGoesBeforeWhatConcernsMany() {
    queue.add(devices(1, 5_000));
    queue.add("lost");
    queue.add(devices(4_990, 4_992));
    assertThat(queue.next(6, NOW)).containsExactly("lost", "d4990", "d4991", "d4992", "d1", "d2");
    queue.addAmongMany(List.of("d5001"));
    queue.add("d5");
    assertThat(queue.next(2, NOW)).containsExactly("d5", "d3");
    queue.add("d6");
    queue.addAmongMany(List.of("d6"));
    assertThat(queue.next(3, NOW)).as("it does not come twice").containsExactly("d6", "d4", "d7");
  }

  @Test
  void manyWaitForTheSessionsOfThoseBeforeThem() {
    queue.add(devices(1, 100));
    List<String> first = queue.next(100, NOW);
    assertThat(first).containsExactlyElementsOf(devices(1, WakeQueue.AT_ONCE));
    assertThat(queue.next(100, NOW)).isEmpty();
    queue.add("lost");
    assertThat(queue.next(100, NOW)).containsExactly("lost");
    over(devices(1, 3));
    assertThat(queue.next(100, NOW)).as("one for one, and one waits for the lost one").hasSize(2);
    over(first);
    over(first);
    assertThat(queue.next(100, NOW)).hasSize(WakeQueue.AT_ONCE - 3);
  }

  @Test
  void whoNeverComesIsWaitedForSoLongOnly() {
    queue.add(devices(1, 100));
    queue.next(10, NOW);
    queue.next(100, NOW.plusSeconds(1));
    Instant early = NOW.plus(WakeQueue.PATIENCE);
    int next = WakeQueue.AT_ONCE + 1;
    assertThat(queue.next(100, early.minusMillis(1))).isEmpty();
    assertThat(queue.next(100, early)).containsExactlyElementsOf(devices(next, next + 9));
  }

  @Test
  void whoIsWokenAgainIsWaitedForAnew() {
    queue.add(devices(1, 200));
    queue.next(100, NOW);
    Instant later = NOW.plusSeconds(1);
    queue.add("d1");
    assertThat(queue.next(100, later)).containsExactly("d1");
    Instant early = NOW.plus(WakeQueue.PATIENCE);
    assertThat(queue.next(100, early)).as("all but d1 are given up").hasSize(WakeQueue.AT_ONCE - 1);
  }
}
