package dev.pinwright.storage.access;

import dev.pinwright.storage.Tx;
import java.time.Instant;
import java.util.Map;

/** Tries at secrets, counted over all nodes. */
public final class TryStore {
  private final Tx tx;

  public TryStore(Tx tx) {
    this.tx = tx;
  }

  /** How often something was tried in the window that ends at {@code until}. */
  public record Count(int tries, Instant until) {}

  /**
   * Counts a try.
   *
   * @param until the end of the window it begins, where none is under way
   */
  public Count tried(String scope, String key, Instant now, Instant until) {
    return tx.select(
            Count.class,
            """
            insert into failed_try as f (scope, key, tries, until)
            values (:scope, :key, 1, :until)
            on conflict (scope, key) do update
              set tries = case when f.until <= :now then 1 else f.tries + 1 end,
                  until = case when f.until <= :now then excluded.until else f.until end
            returning tries, until
            """,
            Map.of("scope", scope, "key", key, "now", now, "until", until))
        .get(0);
  }

  /** Forgets the tries under a key. */
  public void forget(String scope, String key) {
    tx.execute(
        "delete from failed_try where scope = :scope and key = :key",
        Map.of("scope", scope, "key", key));
  }

  /** Forgets tries whose window has passed. */
  public void tidy(Instant now) {
    tx.execute("delete from failed_try where until < :now", Map.of("now", now));
  }
}
