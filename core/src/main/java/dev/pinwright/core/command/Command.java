package dev.pinwright.core.command;

import java.time.Instant;
import java.util.Optional;

/**
 * One instruction to one device.
 *
 * @param device the name of the device
 * @param command catalogue key
 * @param title what the catalogue calls it
 * @param reason why it ended as it did; empty where that needs no words
 */
public record Command(
    String id,
    String dispatchId,
    String deviceId,
    String device,
    String command,
    String title,
    CommandState state,
    String reason,
    Instant queuedAt,
    Optional<Instant> deliveredAt,
    Optional<Instant> endedAt,
    Instant expiresAt) {}
