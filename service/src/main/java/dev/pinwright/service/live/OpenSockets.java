package dev.pinwright.service.live;

import com.github.f4b6a3.ulid.UlidCreator;
import dev.pinwright.storage.Database;
import java.util.Map;

/**
 * Which node holds which device's socket, known to every node. A node says every few seconds that
 * it is up; what a node that went without a word held counts for nothing after forty-five seconds.
 */
final class OpenSockets {
  private final Database database;
  private final String node = UlidCreator.getMonotonicUlid().toString();

  OpenSockets(Database database) {
    this.database = database;
    beat();
  }

  /** Says that this node is up, and forgets those that are not. */
  void beat() {
    database.run(
        tx -> {
          tx.execute(
              "insert into node values (:n, now()) on conflict (id) do update set heard_at = now()",
              Map.of("n", node));
          tx.execute(
              "delete from open_socket s where not exists (select 1 from node n"
                  + " where n.id = s.node_id and n.heard_at > now() - interval '45 seconds')",
              Map.of());
          tx.execute("delete from node where heard_at < now() - interval '5 minutes'", Map.of());
        });
  }

  void opened(String deviceId) {
    database.run(
        tx ->
            tx.execute(
                "insert into open_socket values (:d, :n)"
                    + " on conflict (device_id) do update set node_id = excluded.node_id",
                Map.of("d", deviceId, "n", node)));
  }

  void closed(String deviceId) {
    database.run(
        tx ->
            tx.execute(
                "delete from open_socket where device_id = :d and node_id = :n",
                Map.of("d", deviceId, "n", node)));
  }

  void leave() {
    database.run(
        tx -> {
          tx.execute("delete from open_socket where node_id = :n", Map.of("n", node));
          tx.execute("delete from node where id = :n", Map.of("n", node));
        });
  }
}
