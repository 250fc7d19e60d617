package dev.pinwright.service.device;

import dev.pinwright.storage.Database;
import dev.pinwright.storage.device.DeviceStates;
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
      if (!database.call(tx -> new DeviceStates(tx).heard(batch))) {
        batch.forEach(heard::putIfAbsent);
      }
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
