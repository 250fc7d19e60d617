package dev.pinwright.storage.screen;

import dev.pinwright.core.Words;
import dev.pinwright.core.screen.Screenshot;
import dev.pinwright.core.screen.Shows;
import dev.pinwright.storage.Tx;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** Pictures of screens. */
public final class ScreenshotStore {
  private static final String SCREENSHOT =
      """
      select s.command_id as id, s.device_id, d.name as device, o.actor, o.reason, s.shows,
             s.taken_at, s.until, s.media_type, length(s.picture) as bytes
        from screenshot s join command c on c.id = s.command_id
        join dispatch o on o.id = c.dispatch_id join device d on d.id = s.device_id
      """;

  private final Tx tx;

  public ScreenshotStore(Tx tx) {
    this.tx = tx;
  }

  /**
   * A picture as it was handed in.
   *
   * @param id that of the command
   * @param sha256 in lower-case hexadecimal
   */
  public record Taken(
      String id, String deviceId, Shows shows, String sha256, String mediaType, byte[] picture) {}

  /** Keeps a picture; false when there is one of this command. */
  public boolean keep(Taken taken, Instant now) {
    return tx.execute(
            """
            insert into screenshot
              (command_id, device_id, shows, taken_at, until, sha256, media_type, picture)
            values (:id, :device, :shows, :now, :until, :sha256, :type, :picture)
            on conflict do nothing
            """,
            Map.of(
                "id", taken.id(),
                "device", taken.deviceId(),
                "shows", Words.of(taken.shows()),
                "now", now,
                "until", now.plus(Screenshot.KEPT),
                "sha256", taken.sha256(),
                "type", taken.mediaType(),
                "picture", taken.picture()))
        > 0;
  }

  /** Those of a device that are not too old, the newest first. */
  public List<Screenshot> ofDevice(String deviceId, Instant now, int limit) {
    return tx.select(
        Screenshot.class,
        SCREENSHOT
            + " where s.device_id = :d and s.until > :now order by s.command_id desc limit :limit",
        Map.of("d", deviceId, "now", now, "limit", limit));
  }

  /** One that is not too old. */
  public Optional<Screenshot> find(String id, Instant now) {
    return tx
        .select(
            Screenshot.class,
            SCREENSHOT + " where s.command_id = :id and s.until > :now",
            Map.of("id", id, "now", now))
        .stream()
        .findFirst();
  }

  /** What is to be seen on one. */
  public byte[] picture(String id) {
    return tx.value(
        "select picture from screenshot where command_id = :id", byte[].class, Map.of("id", id));
  }

  /** Whether this picture was handed in for a command. */
  public boolean has(String id, String sha256) {
    return tx.value(
            "select count(*) from screenshot where command_id = :id and sha256 = :sha256",
            Long.class,
            Map.of("id", id, "sha256", sha256))
        > 0;
  }

  /** Throws one away; false when there is none. */
  public boolean delete(String id) {
    return tx.execute("delete from screenshot where command_id = :id", Map.of("id", id)) > 0;
  }

  /** Throws away what is too old. */
  public int tidy(Instant now) {
    return tx.execute("delete from screenshot where until <= :now", Map.of("now", now));
  }
}
