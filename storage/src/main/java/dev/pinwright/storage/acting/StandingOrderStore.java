package dev.pinwright.storage.acting;

import dev.pinwright.storage.After;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.row.StandingOrderRow;
import java.time.Instant;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** Commands that repeat. */
public final class StandingOrderStore {
  private static final int MOST = 50;

  private final Tx tx;

  public StandingOrderStore(Tx tx) {
    this.tx = tx;
  }

  /** Standing orders by name in small letters, then id. */
  public List<StandingOrderRow> page(After after, int limit) {
    Map<String, Object> p = new HashMap<>(after.parameters(limit));
    p.remove("limit");
    return tx.list(
        StandingOrderRow.class,
        "from StandingOrderRow where lower(name) > :key or lower(name) = :key and id > :id"
            + " order by lower(name), id",
        p,
        limit);
  }

  /** The row of this name; capitals do not count. */
  public Optional<StandingOrderRow> byName(String name) {
    return tx
        .list(
            StandingOrderRow.class,
            "from StandingOrderRow where lower(name) = lower(:n)",
            Map.of("n", name),
            1)
        .stream()
        .findFirst();
  }

  /** Ids of those that are due. */
  public List<String> due(Instant now) {
    return tx.column(
        String.class,
        "select id from standing_order where next_at <= :now order by next_at limit :n",
        Map.of("now", now, "n", MOST));
  }
}
