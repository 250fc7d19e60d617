package dev.pinwright.service.work;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.util.List;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.CountDownLatch;
import java.util.stream.IntStream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;

@Timeout(30)
class WorkersTest {

  @Test
  void workWaitsForAThreadUpToABoundAndIsRefusedInWordsBeyond() throws Exception {
    CountDownLatch begun = new CountDownLatch(1);
    CountDownLatch goOn = new CountDownLatch(1);
    try (Workers workers = new Workers("test", 1, 2)) {
      CompletableFuture<Integer> first =
          workers.ask(
              () -> {
                begun.countDown();
                try {
                  goOn.await();
                } catch (InterruptedException e) {
                  throw new IllegalStateException(e);
                }
                return 1;
              });
      begun.await();
      List<CompletableFuture<Integer>> waiting =
          IntStream.of(2, 3).mapToObj(i -> workers.ask(() -> i)).toList();
      assertThatThrownBy(() -> workers.ask(() -> 4).join())
          .hasCauseInstanceOf(Problem.class)
          .cause()
          .isInstanceOfSatisfying(
              Problem.class,
              p -> {
                assertThat(p.status()).isEqualTo(503);
                assertThat(p.extras()).containsKey("retryAfter");
              });
      goOn.countDown();
      assertThat(first.join()).isEqualTo(1);
      assertThat(waiting).extracting(CompletableFuture::join).containsExactly(2, 3);
      assertThat(workers.ask(() -> 5).join()).as("there is room again").isEqualTo(5);
    }
  }

  @Test
  void whatWorkThrowsIsTheAnswer() {
    try (Workers workers = new Workers("test", 1, 2)) {
      assertThatThrownBy(
              () ->
                  workers
                      .ask(
                          () -> {
                            throw Problem.conflict("no", "It cannot be.");
                          })
                      .join())
          .hasRootCauseMessage("It cannot be.");
    }
  }
}
