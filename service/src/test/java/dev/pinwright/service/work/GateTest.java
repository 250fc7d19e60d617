package dev.pinwright.service.work;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.util.concurrent.CompletableFuture;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.TimeUnit;
import org.junit.jupiter.api.Test;

class GateTest {
  private final CountDownLatch leave = new CountDownLatch(1);

  @Test
  void whoFindsNoPlaceWaitsForOneAndWhatIsBeyondIsRefused() throws Exception {
    Gate gate = new Gate(1, 1, 20, "Full.");
    CompletableFuture<String> inside = entersAndStays(gate);
    CompletableFuture<String> waits = new CompletableFuture<>();
    Thread second = new Thread(() -> waits.complete(gate.pass(() -> "second")));
    second.start();
    while (second.isAlive() && second.getState() != Thread.State.TIMED_WAITING) {
      TimeUnit.MILLISECONDS.sleep(1); // until it stands in the queue
    }
    assertThat(CompletableFuture.supplyAsync(() -> gate.pass(() -> "third")))
        .failsWithin(1, TimeUnit.SECONDS)
        .withThrowableOfType(java.util.concurrent.ExecutionException.class)
        .withCauseInstanceOf(Problem.class)
        .withMessageContaining("Full.");
    assertThat(waits).isNotDone();
    leave.countDown();
    assertThat(inside).succeedsWithin(5, TimeUnit.SECONDS).isEqualTo("first");
    assertThat(waits).succeedsWithin(5, TimeUnit.SECONDS).isEqualTo("second");
  }

  @Test
  void whoeverLeavesInAngerLeavesItsPlaceToo() {
    Gate gate = new Gate(1, 1, 1, "Full.");
    assertThatThrownBy(
            () ->
                gate.pass(
                    () -> {
                      throw new IllegalStateException("broken");
                    }))
        .hasMessage("broken");
    assertThat(gate.pass(() -> "free")).isEqualTo("free");
  }

  private CompletableFuture<String> entersAndStays(Gate gate) throws InterruptedException {
    CountDownLatch in = new CountDownLatch(1);
    CompletableFuture<String> stays =
        CompletableFuture.supplyAsync(
            () ->
                gate.pass(
                    () -> {
                      in.countDown();
                      try {
                        leave.await();
                      } catch (InterruptedException e) {
                        throw new IllegalStateException(e);
                      }
                      return "first";
                    }));
    in.await();
    return stays;
  }
}
