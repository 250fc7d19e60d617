package dev.pinwright.service.work;

import java.util.concurrent.ArrayBlockingQueue;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.RejectedExecutionException;
import java.util.concurrent.ThreadPoolExecutor;
import java.util.concurrent.TimeUnit;
import java.util.function.Supplier;

/**
 * Threads for work that waits for the database, so that whoever brings it need not wait. Work that
 * finds no thread free is kept in order, up to a bound; beyond it is refused.
 */
public final class Workers implements AutoCloseable {
  private static final long AGAIN_SECONDS = 5;

  private final ThreadPoolExecutor threads;

  /**
   * @param name of the threads
   * @param atOnce how many there are
   * @param waiting most pieces of work kept
   */
  public Workers(String name, int atOnce, int waiting) {
    threads =
        new ThreadPoolExecutor(
            atOnce,
            atOnce,
            1,
            TimeUnit.MINUTES,
            new ArrayBlockingQueue<>(waiting),
            task -> {
              Thread thread = new Thread(task, name);
              thread.setDaemon(true);
              return thread;
            });
    threads.allowCoreThreadTimeOut(true);
  }

  /**
   * Does a piece of work and answers with its result, or with what it threw; with a {@link Problem}
   * 503 when there is too much of it.
   */
  public <T> CompletableFuture<T> ask(Supplier<T> work) {
    try {
      return CompletableFuture.supplyAsync(work, threads);
    } catch (RejectedExecutionException e) {
      return CompletableFuture.failedFuture(
          new Problem(503, "busy", "Busy", "There is more to do than can be done; try again soon.")
              .with("retryAfter", AGAIN_SECONDS));
    }
  }

  @Override
  public void close() {
    threads.shutdown();
  }
}
