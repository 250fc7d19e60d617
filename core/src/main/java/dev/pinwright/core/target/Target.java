package dev.pinwright.core.target;

import dev.pinwright.core.Words;

/**
 * Whom an assignment reaches, or leaves out.
 *
 * @param kind what sort of target
 * @param ref id of the group or device, or the tag itself; empty for everyone
 */
public record Target(Kind kind, String ref) {
  /** Kinds of target, from far to near; {@link #nearness()} orders them for merging. */
  public enum Kind {
    EVERYONE,
    TAG,
    GROUP,
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

  /** How near this target is to a device: 5 device, 3 group or tag, 1 everyone. */
  public int nearness() {
    return switch (kind) {
      case EVERYONE -> 1;
      case TAG, GROUP -> 3;
      case DEVICE -> 5;
    };
  }
}
