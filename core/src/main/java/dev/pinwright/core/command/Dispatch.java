package dev.pinwright.core.command;

import java.time.Instant;
import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;

/**
 * One order of a command to many devices, and how far it is.
 *
 * @param dueAt the time it was ordered for, the earliest where it differs by zone; empty for at
 *     once
 * @param window hours in which it is delivered, where each device is
 * @param notInUse whether a device carries it out once nobody is using it
 * @param states how many commands are in each state
 * @param read how many messages were read
 * @param answers how often each answer was given, most often first
 * @param ended whether all of them are in an end
 */
public record Dispatch(
    String id,
    String command,
    String title,
    Map<String, String> fields,
    String reason,
    Instant at,
    Optional<Instant> dueAt,
    Optional<When.Window> window,
    boolean notInUse,
    Instant expiresAt,
    String actor,
    long total,
    Map<CommandState, Long> states,
    boolean ended,
    long read,
    Map<String, Long> answers) {
  public Dispatch {
    answers = Collections.unmodifiableMap(new LinkedHashMap<>(answers));
  }
}
