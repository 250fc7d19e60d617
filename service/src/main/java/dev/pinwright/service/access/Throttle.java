package dev.pinwright.service.access;

import com.github.benmanes.caffeine.cache.Cache;
import com.github.benmanes.caffeine.cache.Caffeine;
import dev.pinwright.service.Problem;
import java.time.Duration;
import java.util.concurrent.atomic.AtomicInteger;

/**
 * Slows down guessing: after some failures under a key within a window, every further try is
 * refused until the window has passed. Kept per node, bounded in size.
 */
public final class Throttle {
  private final int failuresAllowed;
  private final Duration window;
  private final Cache<String, AtomicInteger> failures;

  public Throttle(int failuresAllowed, Duration window) {
    this.failuresAllowed = failuresAllowed;
    this.window = window;
    this.failures = Caffeine.newBuilder().expireAfterWrite(window).maximumSize(100_000).build();
  }

  /**
   * @throws Problem 429 with {@code retryAfter} in seconds when there were too many failures
   */
  public void check(String key) {
    AtomicInteger count = failures.getIfPresent(key);
    if (count != null && count.get() >= failuresAllowed) {
      throw new Problem(
              429,
              "too-many-tries",
              "Too many tries",
              "Too many wrong tries; wait " + window.toSeconds() + " seconds.")
          .with("retryAfter", window.toSeconds());
    }
  }

  /** Counts a failure. */
  public void failed(String key) {
    failures.get(key, k -> new AtomicInteger()).incrementAndGet();
  }
}
