package dev.pinwright.sandbox.link;

import java.util.concurrent.ThreadLocalRandom;

/**
 * How long to wait before trying again what failed: twice as long after each failure, up to a
 * bound, and each time by chance half of that to half more, so that a thousand devices do not come
 * back in one moment.
 */
public final class Backoff {
  private final long first;
  private final long last;
  private long next;

  /**
   * @param first what is waited after the first failure, in milliseconds, give or take a half
   * @param last what is waited at most, in milliseconds, give or take a half
   */
  public Backoff(long first, long last) {
    this.first = first;
    this.last = last;
    next = first;
  }

  /** It failed: how many milliseconds to wait now. */
  public synchronized long failed() {
    long wait = next / 2 + ThreadLocalRandom.current().nextLong(next);
    next = Math.min(next * 2, last);
    return wait;
  }

  /** It went well: the next failure is a first one. */
  public synchronized void wentWell() {
    next = first;
  }
}
