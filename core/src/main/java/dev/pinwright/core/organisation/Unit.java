package dev.pinwright.core.organisation;

import dev.pinwright.core.Versioned;
import java.util.Optional;

/**
 * A unit of the organisation tree.
 *
 * @param depth how many units are above it
 * @param devices managed devices in it and below
 * @param people people in it and below
 */
public record Unit(
    String id,
    int version,
    String code,
    String name,
    Optional<String> parentId,
    int depth,
    long devices,
    long people)
    implements Versioned {}
