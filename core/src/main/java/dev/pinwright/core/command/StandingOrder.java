package dev.pinwright.core.command;

import dev.pinwright.core.Versioned;
import java.time.DayOfWeek;
import java.time.Instant;
import java.util.List;
import java.util.Optional;

/**
 * A command that repeats.
 *
 * @param command catalogue key
 * @param title what the catalogue calls the command
 * @param whom whom it is for, in words
 * @param days of every week, Monday first
 * @param time {@code HH:MM} in the zone
 * @param minutes how long each of its commands waits for a device: with the time, a window
 * @param nextAt when it is ordered next; empty while it is paused
 * @param lastDispatch the dispatch it became last
 * @param fault why it could not be ordered the last time; empty when it could
 */
public record StandingOrder(
    String id,
    int version,
    String name,
    String command,
    String title,
    String whom,
    List<DayOfWeek> days,
    String time,
    String zone,
    long minutes,
    boolean paused,
    Optional<Instant> nextAt,
    Optional<Instant> lastAt,
    Optional<String> lastDispatch,
    String fault,
    String madeBy)
    implements Versioned {
  public StandingOrder {
    days = List.copyOf(days);
  }
}
