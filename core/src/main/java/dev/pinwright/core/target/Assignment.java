package dev.pinwright.core.target;

import java.time.Instant;
import java.util.Collection;
import java.util.List;
import java.util.OptionalInt;

/**
 * Who gets something: the targets, minus the exclusions, as long as it holds.
 *
 * @param targets a device has to match one
 * @param exclusions a device that matches any of these is left out, however near it is targeted
 * @param window when it holds; whoever works out whom it reaches asks {@link #at} first
 */
public record Assignment(List<Target> targets, List<Target> exclusions, Window window) {
  /** Reaches nobody. */
  public static final Assignment NOBODY = new Assignment(List.of(), List.of());

  /** One that holds for ever. */
  public Assignment(List<Target> targets, List<Target> exclusions) {
    this(targets, exclusions, Window.ALWAYS);
  }

  /** What it is at a moment: itself, or nobody's. */
  public Assignment at(Instant now) {
    return window.holds(now) ? this : NOBODY;
  }

  /** What it is once it has begun, seen from a moment: nobody's where it is over by then. */
  public Assignment begun(Instant now) {
    return window.begins(now) ? this : at(now);
  }

  public Assignment {
    targets = List.copyOf(targets);
    exclusions = List.copyOf(exclusions);
  }

  /**
   * The nearness with which this reaches a device, or empty when it does not.
   *
   * @param standsFor every target the device stands for: everyone, its groups, its tags, itself
   */
  public OptionalInt reaches(Collection<Target> standsFor) {
    if (exclusions.stream().anyMatch(standsFor::contains)) {
      return OptionalInt.empty();
    }
    return targets.stream().filter(standsFor::contains).mapToInt(Target::nearness).max();
  }
}
