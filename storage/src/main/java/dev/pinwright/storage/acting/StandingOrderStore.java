package dev.pinwright.storage.acting;

import dev.pinwright.storage.Tx;
import java.time.Instant;
import java.util.List;
import java.util.Map;

/** Commands that repeat. */
public final class StandingOrderStore {
  private static final int MOST = 50;

  private final Tx tx;

  public StandingOrderStore(Tx tx) {
    this.tx = tx;
  }

  /** Ids of those that are due. */
  public List<String> due(Instant now) {
    return tx.column(
        String.class,
        "select id from standing_order where next_at <= :now order by next_at limit :n",
        Map.of("now", now, "n", MOST));
  }
}
