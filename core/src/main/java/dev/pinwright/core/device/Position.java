package dev.pinwright.core.device;

import java.time.Instant;
import java.util.Optional;

/**
 * Where a device was.
 *
 * @param at when
 * @param latitude in degrees (WGS 84), -90 to 90
 * @param longitude in degrees (WGS 84), -180 to 180
 * @param accuracy radius in metres that it is within with 68 %; empty where it does not say
 * @param source how it knows
 */
public record Position(
    Instant at, double latitude, double longitude, Optional<Double> accuracy, Source source) {

  /** How a device knows where it is. */
  public enum Source {
    SATELLITE,
    WIFI,
    NETWORK
  }

  public Position {
    if (!(Math.abs(latitude) <= 90 && Math.abs(longitude) <= 180)) {
      throw new IllegalArgumentException(
          "a latitude is from -90 to 90 degrees and a longitude from -180 to 180, not "
              + latitude
              + ", "
              + longitude);
    }
    if (accuracy.filter(a -> !(a >= 0 && a <= 100_000_000)).isPresent()) {
      throw new IllegalArgumentException(
          "an accuracy is a radius in metres, not " + accuracy.get());
    }
  }
}
