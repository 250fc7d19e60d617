package dev.pinwright.core.target;

import java.util.Collection;
import java.util.List;
import java.util.OptionalInt;

/**
 * Who gets something: the targets, minus the exclusions.
 *
 * @param targets a device has to match one
 * @param exclusions a device that matches any of these is left out, however near it is targeted
 */
public record Assignment(List<Target> targets, List<Target> exclusions) {
  /** Reaches nobody. */
  public static final Assignment NOBODY = new Assignment(List.of(), List.of());

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
