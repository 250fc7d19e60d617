package dev.pinwright.core.organisation;

import dev.pinwright.core.Versioned;
import java.util.List;
import java.util.Optional;

/**
 * A place on the map. {@code latitude} and {@code longitude} in degrees (WGS 84), both or neither.
 *
 * @param outline its corners, each longitude and latitude; none where it has no outline
 * @param largePackages when large packages come in there; empty for at any time
 * @param devices managed devices that belong there
 */
public record Site(
    String id,
    int version,
    String name,
    String address,
    Optional<Double> latitude,
    Optional<Double> longitude,
    List<List<Double>> outline,
    Optional<LargePackages> largePackages,
    long devices)
    implements Versioned {}
