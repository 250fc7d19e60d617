package dev.pinwright.storage;

import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * Rows that are found by their {@code name}, of which capitals do not count, and listed by it.
 *
 * @param <R> an entity with a name and an id
 */
public final class ByName<R> {
  private final Tx tx;
  private final Class<R> type;

  public ByName(Tx tx, Class<R> type) {
    this.tx = tx;
    this.type = type;
  }

  /** Rows by name in small letters, then id. */
  public List<R> page(After after, int limit) {
    Map<String, Object> p = new HashMap<>(after.parameters(limit));
    p.remove("limit");
    return tx.list(
        type,
        "from "
            + type.getSimpleName()
            + " where lower(name) > :key or lower(name) = :key and id > :id"
            + " order by lower(name), id",
        p,
        limit);
  }

  /** The row of this name. */
  public Optional<R> find(String name) {
    return tx
        .list(
            type,
            "from " + type.getSimpleName() + " where lower(name) = lower(:n)",
            Map.of("n", name),
            1)
        .stream()
        .findFirst();
  }
}
