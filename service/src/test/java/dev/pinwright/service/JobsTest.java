package dev.pinwright.service;

import static org.awaitility.Awaitility.await;

import java.time.Duration;
import java.util.Map;
import org.junit.jupiter.api.Test;

class JobsTest {
  @Test
  void whatANodeWasAtWhenItDiedIsTakenUpSoon() {
    try (Node node = new Node()) {
      node.database()
          .run(
              tx ->
                  tx.execute(
                      "update scheduled_tasks set picked = true, picked_by = 'gone',"
                          + " last_heartbeat = now() - interval '25 seconds'",
                      Map.of()));
      await()
          .atMost(Duration.ofSeconds(40))
          .until(
              () ->
                  !node.database()
                      .call(
                          tx ->
                              tx.any(
                                  "select 1 from scheduled_tasks where picked_by = 'gone'",
                                  Map.of())));
    }
  }
}
