package dev.pinwright.service.access;

import com.github.benmanes.caffeine.cache.Cache;
import com.github.benmanes.caffeine.cache.Caffeine;
import dev.pinwright.core.Words;
import dev.pinwright.service.work.Problem;
import dev.pinwright.storage.Database;
import dev.pinwright.storage.access.TryStore;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;

/**
 * Slows down guessing: after some tries under a key within a window, every further one is refused
 * until the window has passed.
 *
 * <p>Tries are counted in the database, over all nodes, before they are made: of two hundred at the
 * same time as many are made as are allowed. A key that is known to be over costs nothing more.
 * Whoever is right does not come here, or is forgiven: nobody is kept out by what others got wrong.
 */
public final class Throttle {
  private static final int REMEMBERED = 100_000;

  private final Database database;
  private final Clock clock;
  private final String scope;
  private final int triesAllowed;
  private final Duration window;
  private final Cache<String, TryStore.Count> counts;

  /**
   * @param scope what is guessed at; keys of different scopes do not meet
   */
  public Throttle(Database database, Clock clock, String scope, int triesAllowed, Duration window) {
    this.database = database;
    this.clock = clock;
    this.scope = scope;
    this.triesAllowed = triesAllowed;
    this.window = window;
    this.counts = Caffeine.newBuilder().expireAfterWrite(window).maximumSize(REMEMBERED).build();
  }

  /**
   * How often something was tried.
   *
   * @param over whether that is more often than allowed
   * @param first whether this was the first in its window
   */
  public record Tries(boolean over, boolean first, Instant until) {}

  /**
   * Counts a try before it is made.
   *
   * @throws Problem 429 with {@code retryAfter} in seconds when there were too many
   */
  public void trying(String key) {
    Tries tries = count(key);
    if (tries.over()) {
      throw tooMany(tries);
    }
  }

  /** Counts a try. */
  public Tries count(String key) {
    Instant now = clock.instant();
    TryStore.Count known = counts.getIfPresent(key);
    if (known != null && known.tries() > triesAllowed && known.until().isAfter(now)) {
      return new Tries(true, false, known.until());
    }
    TryStore.Count count =
        database.call(tx -> new TryStore(tx).tried(scope, key, now, now.plus(window)));
    counts.put(key, count);
    return new Tries(count.tries() > triesAllowed, count.tries() == 1, count.until());
  }

  /** Forgets the tries under a key, whose owner was right. */
  public void right(String key) {
    counts.invalidate(key);
    database.run(tx -> new TryStore(tx).forget(scope, key));
  }

  /** What is said to whoever tried too often. */
  public Problem tooMany(Tries tries) {
    long millis = Duration.between(clock.instant(), tries.until()).toMillis();
    long wait = Math.max(1, (millis + 999) / 1000);
    return new Problem(
            429,
            "too-many-tries",
            "Too many tries",
            "That was tried too often; wait "
                + (wait > 120
                    ? Words.counted((wait + 59) / 60, "minute")
                    : Words.counted(wait, "second"))
                + ".")
        .with("retryAfter", wait);
  }
}
