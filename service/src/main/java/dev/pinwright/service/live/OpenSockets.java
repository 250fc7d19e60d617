package dev.pinwright.service.live;

import com.github.f4b6a3.ulid.UlidCreator;
import dev.pinwright.storage.Database;
import dev.pinwright.storage.house.NodeStore;
import java.util.Collection;
import java.util.Set;

/**
 * Which node holds which device's socket, known to every node. A node says every few seconds that
 * it is up; what a node that went without a word held counts for nothing after forty-five seconds.
 */
final class OpenSockets {
  private final Database database;
  private final String node = UlidCreator.getMonotonicUlid().toString();

  OpenSockets(Database database) {
    this.database = database;
    beat(Set.of());
  }

  /** Says that this node is up and whom it holds, and forgets those that are not. */
  void beat(Collection<String> deviceIds) {
    database.run(
        tx -> {
          NodeStore nodes = new NodeStore(tx);
          nodes.beat(node);
          nodes.holds(node, deviceIds);
        });
  }

  void opened(String deviceId) {
    database.run(tx -> new NodeStore(tx).opened(deviceId, node));
  }

  void closed(String deviceId) {
    database.run(tx -> new NodeStore(tx).closed(deviceId, node));
  }

  void leave() {
    database.run(tx -> new NodeStore(tx).leave(node));
  }
}
