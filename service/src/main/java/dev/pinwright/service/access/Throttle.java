package dev.pinwright.service.access;

import com.github.benmanes.caffeine.cache.Cache;
import com.github.benmanes.caffeine.cache.Caffeine;
import dev.pinwright.service.work.Problem;
import dev.pinwright.storage.Database;
import dev.pinwright.storage.access.TryStore;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;

/**
 * Slows down guessing: after some failures under a key within a window, every further try is
 * refused until the window has passed.
 *
 * <p>Failures are counted in the database, over all nodes; a check reads memory alone. A node that
 * has not yet seen a key fail lets one try through and learns the count from its failure, so with
 * {@code n} nodes at most {@code failuresAllowed + n - 1} tries are taken in a window.
 */
public final class Throttle {
  private static final int REMEMBERED = 100_000;

  private final Database database;
  private final Clock clock;
  private final String scope;
  private final int failuresAllowed;
  private final Duration window;
  private final Cache<String, TryStore.Count> counts;

  /**
   * @param scope what is guessed at; keys of different scopes do not meet
   */
  public Throttle(
      Database database, Clock clock, String scope, int failuresAllowed, Duration window) {
    this.database = database;
    this.clock = clock;
    this.scope = scope;
    this.failuresAllowed = failuresAllowed;
    this.window = window;
    this.counts = Caffeine.newBuilder().expireAfterWrite(window).maximumSize(REMEMBERED).build();
  }

  /**
   * @throws Problem 429 with {@code retryAfter} in seconds when there were too many failures
   */
  public void check(String key) {
    TryStore.Count count = counts.getIfPresent(key);
    Instant now = clock.instant();
    if (count != null && count.tries() >= failuresAllowed && count.until().isAfter(now)) {
      long wait = (Duration.between(now, count.until()).toMillis() + 999) / 1000;
      throw new Problem(
              429,
              "too-many-tries",
              "Too many tries",
              "Too many wrong tries; wait " + wait + " seconds.")
          .with("retryAfter", wait);
    }
  }

  /** Counts a failure. */
  public void failed(String key) {
    Instant now = clock.instant();
    TryStore.Count count =
        database.call(tx -> new TryStore(tx).failed(scope, key, now, now.plus(window)));
    counts.put(key, count);
  }
}
