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

  /** Keeps positions of a device; those it told before are kept once. */
  public void keep(String deviceId, List<Position> positions) {
    tx.execute(
        """
        insert into device_position (device_id, at, latitude, longitude, accuracy, source)
        select :device, p.* from unnest(cast(:at as timestamptz[]), cast(:lat as float8[]),
            cast(:lon as float8[]), cast(:accuracy as float8[]), cast(:source as text[])) as p
        on conflict do nothing
        """,
        Map.of(
            "device", deviceId,
            "at", positions.stream().map(p -> p.at().toString()).toArray(String[]::new),
            "lat", positions.stream().map(Position::latitude).toArray(Double[]::new),
            "lon", positions.stream().map(Position::longitude).toArray(Double[]::new),
            "accuracy",
                positions.stream().map(p -> p.accuracy().orElse(null)).toArray(Double[]::new),
            "source", positions.stream().map(p -> Words.of(p.source())).toArray(String[]::new)));
  }

  /** Positions of a device within a time and before a moment, the latest first. */
  public List<Position> page(String deviceId, Instant from, Instant to, Instant before, int limit) {
    return tx.select(
        Position.class,
        """
        select at, latitude, longitude, accuracy, source from device_position
         where device_id = :device and at >= :from and at <= :to and at < :before
         order by at desc limit :limit
        """,
        Map.of("device", deviceId, "from", from, "to", to, "before", before, "limit", limit));
  }

  /** How many positions are kept of a device, and the times of the first and the last. */
  public record Extent(long points, Optional<Instant> first, Optional<Instant> last) {}

  /** What is kept of a device. */
  public Extent extent(String deviceId) {
    return tx.select(
            Extent.class,
            "select count(*) as points, min(at) as first, max(at) as last from device_position"
                + " where device_id = :device",
            Map.of("device", deviceId))
        .get(0);
  }

  /** Forgets positions of a device from before a moment. */
  public void forget(String deviceId, Instant before) {
    tx.execute(
        "delete from device_position where device_id = :device and at < :before",
        Map.of("device", deviceId, "before", before));
  }

  /**
   * Forgets positions of all devices from before a moment, so many at once.
   *
   * @return whether there may be more
   */
  public boolean forget(Instant before) {
    return tx.execute(
            """
            delete from device_position where ctid = any(array(
              select ctid from device_position where at < :before limit :most))
            """,
            Map.of("before", before, "most", CLEARED_AT_ONCE))
        == CLEARED_AT_ONCE;
  }
}
