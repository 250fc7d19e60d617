package dev.pinwright.service.device;

import dev.pinwright.storage.Tx;
import java.time.Instant;
import java.util.Map;

/** What happened to one device, as lines for people. */
public final class Activity {
  /** One line. */
  public record Line(long id, Instant at, String kind, String text) {}

  private Activity() {}

  /** Adds a line in the transaction of what it tells. */
  public static void add(Tx tx, String deviceId, Instant at, String kind, String text) {
    tx.execute(
        "insert into activity (device_id, at, kind, text) values (:d, :at, :kind, :text)",
        Map.of("d", deviceId, "at", at, "kind", kind, "text", text));
  }
}
