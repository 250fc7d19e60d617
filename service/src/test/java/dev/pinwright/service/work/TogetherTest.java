package dev.pinwright.service.work;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.CopyOnWriteArrayList;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.stream.Collectors;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;

@Timeout(30)
class TogetherTest {
  private final ExecutorService threads = Executors.newCachedThreadPool();
  private final List<List<Integer>> looks = new CopyOnWriteArrayList<>();
  private final CountDownLatch first = new CountDownLatch(1);
  private final CountDownLatch goOn = new CountDownLatch(1);

  @AfterEach
  void stop() {
    threads.shutdownNow();
  }

  /** Twice a number; nothing for odd ones. The first look waits to be let go on. */
  private Map<Integer, Integer> twice(List<Integer> keys) {
    looks.add(keys);
    if (looks.size() == 1) {
      first.countDown();
      try {
        goOn.await();
      } catch (InterruptedException e) {
        throw new IllegalStateException(e);
      }
    }
    if (keys.contains(-1)) {
      throw new IllegalStateException("nothing is found for -1");
    }
    return keys.stream()
        .filter(k -> k % 2 == 0)
        .distinct()
        .collect(Collectors.toMap(k -> k, k -> 2 * k));
  }

  private List<CompletableFuture<Optional<Integer>>> askWhileTheFirstLooks(
      Together<Integer, Integer> together, int... keys) throws Exception {
    List<CompletableFuture<Optional<Integer>>> asked = new ArrayList<>();
    asked.add(together.ask(100));
    first.await();
    for (int k : keys) {
      asked.add(together.ask(k));
    }
    goOn.countDown();
    return asked;
  }

  private Together<Integer, Integer> together(int most) {
    return new Together<>(most, threads, this::twice);
  }

  @Test
  void whoAsksDuringALookIsAnsweredByTheNextOneWithAllOthers() throws Exception {
    var asked = askWhileTheFirstLooks(together(10), 2, 3, 4, 2);
    assertThat(asked.stream().map(CompletableFuture::join))
        .containsExactly(
            Optional.of(200), Optional.of(4), Optional.empty(), Optional.of(8), Optional.of(4));
    assertThat(looks).containsExactly(List.of(100), List.of(2, 3, 4, 2));
  }

  @Test
  void noLookIsForMoreThanTheMost() throws Exception {
    askWhileTheFirstLooks(together(2), 2, 4, 6).forEach(CompletableFuture::join);
    assertThat(looks).containsExactly(List.of(100), List.of(2, 4), List.of(6));
  }

  @Test
  void aLookThatFailsFailsForThoseItWasForAlone() throws Exception {
    Together<Integer, Integer> together = together(10);
    var asked = askWhileTheFirstLooks(together, 2, -1);
    assertThat(asked.get(0).join()).contains(200);
    for (var failed : asked.subList(1, 3)) {
      assertThatThrownBy(failed::join).hasRootCauseMessage("nothing is found for -1");
    }
    assertThat(together.ask(6).join()).contains(12);
  }

  @Test
  void manyAskingAtOnceAreAllAnswered() throws Exception {
    goOn.countDown();
    Together<Integer, Integer> together = together(5);
    List<CompletableFuture<Optional<Integer>>> asked = new ArrayList<>();
    for (int i = 0; i < 2_000; i++) {
      int key = 2 * i;
      asked.add(
          CompletableFuture.supplyAsync(() -> together.ask(key), threads).thenCompose(a -> a));
    }
    for (int i = 0; i < asked.size(); i++) {
      assertThat(asked.get(i).get()).contains(4 * i);
    }
    assertThat(looks).allMatch(l -> l.size() <= 5);
  }
}
