package dev.pinwright.storage.access;

import dev.pinwright.storage.Tx;
import java.util.Map;
import java.util.TreeMap;

/** How each account likes its lists. */
public final class LayoutStore {
  private final Tx tx;

  public LayoutStore(Tx tx) {
    this.tx = tx;
  }

  private record Layout(String list, String content) {}

  /** The layouts of an account, as JSON by list. */
  public Map<String, String> of(String accountId) {
    Map<String, String> out = new TreeMap<>();
    tx.select(
            Layout.class,
            "select list, cast(content as text) as content from list_layout"
                + " where account_id = :a",
            Map.of("a", accountId))
        .forEach(l -> out.put(l.list(), l.content()));
    return out;
  }

  /** Keeps the layout of one list. */
  public void keep(String accountId, String list, String content) {
    tx.execute(
        "insert into list_layout (account_id, list, content)"
            + " values (:a, :l, cast(:c as jsonb))"
            + " on conflict (account_id, list) do update set content = excluded.content",
        Map.of("a", accountId, "l", list, "c", content));
  }
}
