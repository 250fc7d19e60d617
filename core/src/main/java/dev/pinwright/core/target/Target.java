package dev.pinwright.core.target;

import dev.pinwright.core.Words;

/**
 * Whom an assignment reaches, or leaves out.
 *
 * @param kind what sort of target
 * @param ref id of the unit, group, person or device, or the tag itself; empty for everyone
 */
public record Target(Kind kind, String ref) {
  /** Kinds of target, from far to near; {@link #nearness()} orders them for merging. */
  public enum Kind {
    EVERYONE,
    UNIT,
    TAG,
    GROUP,
    PERSON,
    DEVICE
  }

  public Target {
    if ((kind == Kind.EVERYONE) != ref.isEmpty()) {
      throw new IllegalArgumentException(
          kind == Kind.EVERYONE
              ? "everyone needs no reference"
              : "a " + Words.of(kind) + " has to be named");
    }
  }

  /**
   * How near this target is to a device: 5 device, 4 person, 3 group or tag, 2 unit, 1 everyone.
   */
  public int nearness() {
    return switch (kind) {
      case EVERYONE -> 1;
      case UNIT -> 2;
      case TAG, GROUP -> 3;
      case PERSON -> 4;
      case DEVICE -> 5;
    };
  }
}
