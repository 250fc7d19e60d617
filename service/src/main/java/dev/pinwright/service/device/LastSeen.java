package dev.pinwright.service.device;

import dev.pinwright.storage.Database;
import java.time.Instant;
import java.util.Map;
import java.util.TreeMap;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.Executors;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.TimeUnit;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * When devices were last heard, written in one statement a second instead of one per check-in. A
 * node that dies loses at most that second.
 */
public final class LastSeen implements AutoCloseable {
  private static final Logger LOG = LoggerFactory.getLogger(LastSeen.class);
  private final Database database;
  private final Map<String, Instant> heard = new ConcurrentHashMap<>();
  private final ScheduledExecutorService timer =
      Executors.newSingleThreadScheduledExecutor(
          r -> {
            Thread t = new Thread(r, "last-seen");
            t.setDaemon(true);
            return t;
          });

  public LastSeen(Database database) {
    this.database = database;
    timer.scheduleWithFixedDelay(this::write, 1, 1, TimeUnit.SECONDS);
  }

  /** Notes that a device was heard. */
  public void heard(String deviceId, Instant at) {
    heard.put(deviceId, at);
  }

  private void write() {
    Map<String, Instant> batch = new TreeMap<>();
    heard.forEach(
        (id, at) -> {
          if (heard.remove(id, at)) {
            batch.put(id, at);
          }
        });
    if (batch.isEmpty()) {
      return;
    }
    try {
      database.run(
          tx ->
              tx.execute(
                  """
                  update device d set last_seen = b.at
                    from unnest(cast(:ids as text[]), cast(:ats as timestamptz[])) as b(id, at)
                   where d.id = b.id and (d.last_seen is null or d.last_seen < b.at)
                  """,
                  Map.of(
                      "ids", batch.keySet().toArray(String[]::new),
                      "ats",
                          batch.values().stream().map(Instant::toString).toArray(String[]::new))));
    } catch (RuntimeException e) {
      batch.forEach(heard::putIfAbsent);
      LOG.warn("last-seen times held back: {}", e.getMessage());
    }
  }

  @Override
  public void close() {
    timer.shutdown();
    write();
  }
}
