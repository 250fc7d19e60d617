package dev.pinwright.core.command;

import java.time.DayOfWeek;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalTime;
import java.time.ZoneId;
import java.time.ZonedDateTime;
import java.util.EnumSet;
import java.util.Set;

/**
 * When a standing order repeats: on some days of every week, at a time of a zone.
 *
 * @param days at least one
 * @param time to the minute; where clocks are put forward over it, the first moment after
 */
public record Repetition(Set<DayOfWeek> days, LocalTime time, ZoneId zone) {
  private static final int WEEK = 7;

  /**
   * @throws IllegalArgumentException without a day
   */
  public Repetition {
    if (days.isEmpty()) {
      throw new IllegalArgumentException(
          "a standing order repeats on at least one day of the week");
    }
    days = EnumSet.copyOf(days);
  }

  /** The next moment after one. */
  public Instant after(Instant moment) {
    ZonedDateTime now = moment.atZone(zone);
    for (int i = 0; i <= WEEK; i++) {
      LocalDate day = now.toLocalDate().plusDays(i);
      ZonedDateTime at = day.atTime(time).atZone(zone);
      if (days.contains(day.getDayOfWeek()) && at.toInstant().isAfter(moment)) {
        return at.toInstant();
      }
    }
    throw new IllegalStateException("a week without one of its days");
  }
}
