package dev.pinwright.core.organisation;

import dev.pinwright.core.Versioned;
import java.util.Optional;

/**
 * A place on the map. {@code latitude} and {@code longitude} in degrees (WGS 84), both or neither.
 *
 * @param devices managed devices that belong there
 */
public record Site(
    String id,
    int version,
    String name,
    String address,
    Optional<Double> latitude,
    Optional<Double> longitude,
    long devices)
    implements Versioned {}
