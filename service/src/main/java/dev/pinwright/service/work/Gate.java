package dev.pinwright.service.work;

import java.util.concurrent.Semaphore;
import java.util.concurrent.TimeUnit;
import java.util.function.Supplier;

/**
 * Lets so many do something at once, in the order they came; some wait, what is beyond is refused.
 * What costs a lot is kept by it from taking from everybody else what they need a little of.
 */
public final class Gate {
  private final Semaphore places;
  private final int mostWaiting;
  private final int patienceSeconds;
  private final String busy;

  /**
   * @param atOnce how many are inside
   * @param mostWaiting how many wait for that
   * @param patienceSeconds how long each waits
   * @param busy a sentence for who is refused
   */
  public Gate(int atOnce, int mostWaiting, int patienceSeconds, String busy) {
    places = new Semaphore(atOnce, true);
    this.mostWaiting = mostWaiting;
    this.patienceSeconds = patienceSeconds;
    this.busy = busy;
  }

  /**
   * Does the work inside.
   *
   * @throws Problem 503 busy, with {@code retryAfter}, when there is no place
   */
  public <T> T pass(Supplier<T> work) {
    if (!enters()) {
      throw new Problem(503, "busy", "Busy", busy).with("retryAfter", patienceSeconds);
    }
    try {
      return work.get();
    } finally {
      places.release();
    }
  }

  private boolean enters() {
    try {
      return places.getQueueLength() < mostWaiting
          && places.tryAcquire(patienceSeconds, TimeUnit.SECONDS);
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
      return false;
    }
  }
}
