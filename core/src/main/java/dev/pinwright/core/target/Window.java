package dev.pinwright.core.target;

import java.time.Instant;
import java.util.Optional;

/**
 * When an assignment holds.
 *
 * @param from the moment it begins; empty for at once
 * @param until the moment it is over; empty for never
 */
public record Window(Optional<Instant> from, Optional<Instant> until) {
  /** For ever. */
  public static final Window ALWAYS = new Window(Optional.empty(), Optional.empty());

  public Window {
    if (from.isPresent() && until.isPresent() && !from.get().isBefore(until.get())) {
      throw new IllegalArgumentException("an end has to come after the beginning");
    }
  }

  /** Whether it holds at a moment. */
  public boolean holds(Instant now) {
    return !begins(now) && until.filter(u -> !now.isBefore(u)).isEmpty();
  }

  /** Whether it is yet to begin. */
  public boolean begins(Instant now) {
    return from.filter(now::isBefore).isPresent();
  }
}
