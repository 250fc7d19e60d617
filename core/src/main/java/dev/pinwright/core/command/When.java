package dev.pinwright.core.command;

import dev.pinwright.core.Fault;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.LocalTime;
import java.time.ZoneId;
import java.time.ZonedDateTime;
import java.util.Optional;

/**
 * When the commands of an order are sent.
 *
 * @param at from this moment on, everywhere; at once without
 * @param local from this time on as clocks show it where each device is
 * @param window only at these hours where each device is, every night anew until it is delivered
 * @param zone of devices that do not tell theirs
 * @param notInUse whether a device carries it out once nobody is using it
 */
public record When(
    Optional<Instant> at,
    Optional<LocalDateTime> local,
    Optional<Window> window,
    ZoneId zone,
    boolean notInUse) {
  private static final Duration FURTHEST = Duration.ofDays(366);

  /**
   * Hours of every day: from a time until another, which is on the next day where it is earlier.
   */
  public record Window(LocalTime from, LocalTime to) {
    /**
     * Hours of every day.
     *
     * @throws Fault when it lasts no time
     */
    public Window {
      if (from.equals(to)) {
        throw new Fault("/there/window", "A window lasts from one time until another.");
      }
    }
  }

  /**
   * When a command is sent.
   *
   * @param from from this moment on
   * @param until not after this one, where it has to be another night then
   */
  public record Slot(Instant from, Optional<Instant> until) {}

  /** At once, wherever a device is. */
  public static When now(ZoneId zone) {
    return new When(Optional.empty(), Optional.empty(), Optional.empty(), zone, false);
  }

  /** Whether it is another moment in another zone. */
  public boolean differs() {
    return local.isPresent() || window.isPresent();
  }

  /**
   * The first slot in a zone.
   *
   * @throws Fault when what was asked for is over, more than a year ahead, or two things at once
   */
  public Slot first(ZoneId there, Instant now) {
    if (at.isPresent() && local.isPresent()) {
      throw new Fault(
          "/there/local", "Say one time: everywhere at once, or as clocks show it there.");
    }
    Optional<Instant> asked = at.or(() -> local.map(l -> l.atZone(there).toInstant()));
    if (asked.filter(t -> t.isAfter(now.plus(FURTHEST))).isPresent()
        || at.filter(t -> !t.isAfter(now)).isPresent()
        || local.filter(l -> !l.isAfter(LocalDateTime.ofInstant(now, zone))).isPresent()) {
      throw new Fault(
          at.isPresent() ? "/at" : "/there/local",
          "A command is ordered for a time within a year from now.");
    }
    // where it is later already than it is here, it is due
    return slot(there, asked.filter(t -> t.isAfter(now)).orElse(now));
  }

  /** The first slot in a zone that is not over at a moment. */
  public Slot slot(ZoneId there, Instant moment) {
    if (window.isEmpty()) {
      return new Slot(moment, Optional.empty());
    }
    LocalTime from = window.get().from();
    LocalTime to = window.get().to();
    LocalDate day = moment.atZone(there).toLocalDate().minusDays(1);
    while (true) {
      ZonedDateTime begins = day.atTime(from).atZone(there);
      ZonedDateTime ends = (to.isAfter(from) ? day : day.plusDays(1)).atTime(to).atZone(there);
      if (ends.toInstant().isAfter(moment)) {
        Instant begun = begins.toInstant();
        return new Slot(begun.isAfter(moment) ? begun : moment, Optional.of(ends.toInstant()));
      }
      day = day.plusDays(1);
    }
  }

  /** The zone of a name a device told; the one of the order where it is none. */
  public ZoneId there(String told) {
    return ZoneId.getAvailableZoneIds().contains(told) ? ZoneId.of(told) : zone;
  }
}
