package dev.pinwright.storage.house;

import dev.pinwright.storage.Tx;
import java.util.Collection;
import java.util.Map;

/** Which nodes are up and which devices hold a socket open to each. */
public final class NodeStore {
  private final Tx tx;

  public NodeStore(Tx tx) {
    this.tx = tx;
  }

  /** Says that a node is up, and forgets those that said nothing for long. */
  public void beat(String node) {
    tx.execute(
        "insert into node values (:n, now()) on conflict (id) do update set heard_at = now()",
        Map.of("n", node));
    tx.execute(
        "delete from open_socket s where not exists (select 1 from node n"
            + " where n.id = s.node_id and n.heard_at > now() - interval '45 seconds')",
        Map.of());
    tx.execute("delete from node where heard_at < now() - interval '5 minutes'", Map.of());
  }

  /**
   * Says which devices are connected to a node. The table does not outlive a crash of the database;
   * nor is every word of a device that came or went sure to have arrived.
   */
  public void holds(String node, Collection<String> deviceIds) {
    long held =
        tx.value(
            "select count(*) from open_socket where node_id = :n", Long.class, Map.of("n", node));
    if (held == deviceIds.size()) {
      return;
    }
    Map<String, Object> p = Map.of("n", node, "ids", deviceIds.toArray(String[]::new));
    tx.execute(
        "delete from open_socket where node_id = :n and device_id <> all(cast(:ids as text[]))", p);
    tx.execute(
        "insert into open_socket select unnest(cast(:ids as text[])), :n"
            + " on conflict (device_id) do update set node_id = excluded.node_id",
        p);
  }

  /** A device connected to a node. */
  public void opened(String deviceId, String node) {
    tx.execute(
        "insert into open_socket values (:d, :n)"
            + " on conflict (device_id) do update set node_id = excluded.node_id",
        Map.of("d", deviceId, "n", node));
  }

  /** A device is no longer connected to a node. */
  public void closed(String deviceId, String node) {
    tx.execute(
        "delete from open_socket where device_id = :d and node_id = :n",
        Map.of("d", deviceId, "n", node));
  }

  /** A node stops. */
  public void leave(String node) {
    tx.execute("delete from open_socket where node_id = :n", Map.of("n", node));
    tx.execute("delete from node where id = :n", Map.of("n", node));
  }
}
