package dev.pinwright.core.command;

import java.time.Instant;
import java.util.Optional;

/**
 * One instruction to one device.
 *
 * @param device the name of the device
 * @param command catalogue key
 * @param title what the catalogue calls it
 * @param dueAt when it is sent, or was; empty for at once
 * @param answer what the holder answered, where they were asked
 * @param readAt when the holder read it, for a message whose device tells that
 * @param reason why it ended as it did; empty where that needs no words
 * @param by login of whoever ordered it
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
    String by,
    Instant queuedAt,
    Optional<Instant> dueAt,
    Optional<Instant> deliveredAt,
    Optional<Instant> endedAt,
    Instant expiresAt,
    Optional<String> answer,
    Optional<Instant> readAt) {}
