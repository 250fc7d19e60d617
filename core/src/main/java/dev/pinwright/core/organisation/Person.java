package dev.pinwright.core.organisation;

import dev.pinwright.core.Versioned;
import java.time.Instant;
import java.util.Optional;

/**
 * Somebody who holds devices.
 *
 * @param login that of the staff directory, where there is one
 * @param unit the code of their unit
 * @param site the name of their site
 * @param devices managed devices they hold
 * @param leftAt since when the staff directory has not got them any more
 */
public record Person(
    String id,
    int version,
    String name,
    Optional<String> login,
    Optional<String> mail,
    Optional<String> unitId,
    Optional<String> unit,
    Optional<String> siteId,
    Optional<String> site,
    long devices,
    Optional<Instant> leftAt)
    implements Versioned {}
