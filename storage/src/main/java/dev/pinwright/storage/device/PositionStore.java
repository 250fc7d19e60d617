package dev.pinwright.storage.device;

import dev.pinwright.core.Words;
import dev.pinwright.core.device.Position;
import dev.pinwright.storage.Tx;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** Where devices were. */
public final class PositionStore {
  private static final int CLEARED_AT_ONCE = 50_000;

  private final Tx tx;

  public PositionStore(Tx tx) {
    this.tx = tx;
  }

  /**
   * Keeps positions of a device; those it told before are kept once.
   *
   * @param days for how long, from when it was there
   */
  public void keep(String deviceId, List<Position> positions, int days) {
    tx.execute(
        """
        insert into device_position (device_id, at, latitude, longitude, accuracy, source, until)
        select :device, p.*, p.at + make_interval(days => :days) from unnest(cast(:at as timestamptz[]), cast(:lat as float8[]),
            cast(:lon as float8[]), cast(:accuracy as float8[]), cast(:source as text[]))
            as p(at, latitude, longitude, accuracy, source)
        on conflict do nothing
        """,
        Map.of(
            "device", deviceId,
            "days", days,
            "at", positions.stream().map(p -> p.at().toString()).toArray(String[]::new),
            "lat", positions.stream().map(Position::latitude).toArray(Double[]::new),
            "lon", positions.stream().map(Position::longitude).toArray(Double[]::new),
            "accuracy",
                positions.stream().map(p -> p.accuracy().orElse(null)).toArray(Double[]::new),
            "source", positions.stream().map(p -> Words.of(p.source())).toArray(String[]::new)));
  }

  /** Positions of a device that are still kept, within a time and before a moment, latest first. */
  public List<Position> page(
      String deviceId, Instant from, Instant to, Instant before, Instant now, int limit) {
    return tx.select(
        Position.class,
        """
        select at, latitude, longitude, accuracy, source from device_position
         where device_id = :device and at >= :from and at <= :to and at < :before
           and until > :now
         order by at desc limit :limit
        """,
        Map.of(
            "device", deviceId, "from", from, "to", to, "before", before, "now", now, "limit",
            limit));
  }

  /** How many positions are kept of a device, and the times of the first and the last. */
  public record Extent(long points, Optional<Instant> first, Optional<Instant> last) {}

  /** What is still kept of a device. */
  public Extent extent(String deviceId, Instant now) {
    return tx.select(
            Extent.class,
            "select count(*) as points, min(at) as first, max(at) as last from device_position"
                + " where device_id = :device and until > :now",
            Map.of("device", deviceId, "now", now))
        .get(0);
  }

  /** Forgets positions of a device from before a moment. */
  public void forget(String deviceId, Instant before) {
    tx.execute(
        "delete from device_position where device_id = :device and at < :before",
        Map.of("device", deviceId, "before", before));
    tx.execute(
        "delete from last_position where device_id = :device and at < :before",
        Map.of("device", deviceId, "before", before));
  }

  /**
   * Forgets positions of all devices that are no longer to be kept, so many at once.
   *
   * @return whether there may be more
   */
  public boolean forget(Instant now) {
    tx.execute("delete from last_position where until <= :now", Map.of("now", now));
    return tx.execute(
            """
            delete from device_position where ctid = any(array(
              select ctid from device_position where until <= :now limit :most))
            """,
            Map.of("now", now, "most", CLEARED_AT_ONCE))
        == CLEARED_AT_ONCE;
  }
}
