package dev.pinwright.storage.acting;

import dev.pinwright.storage.After;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.row.MessageTemplateRow;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** Words that are used again. */
public final class MessageTemplateStore {
  private final Tx tx;

  public MessageTemplateStore(Tx tx) {
    this.tx = tx;
  }

  /** Templates by name in small letters, then id. */
  public List<MessageTemplateRow> page(After after, int limit) {
    Map<String, Object> p = new HashMap<>(after.parameters(limit));
    p.remove("limit");
    return tx.list(
        MessageTemplateRow.class,
        "from MessageTemplateRow where lower(name) > :key or lower(name) = :key and id > :id"
            + " order by lower(name), id",
        p,
        limit);
  }

  /** The row of this name; capitals do not count. */
  public Optional<MessageTemplateRow> byName(String name) {
    return tx
        .list(
            MessageTemplateRow.class,
            "from MessageTemplateRow where lower(name) = lower(:n)",
            Map.of("n", name),
            1)
        .stream()
        .findFirst();
  }
}
