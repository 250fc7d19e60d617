package dev.pinwright.core.command;

import java.util.EnumSet;
import java.util.Set;

/** Where a command is. The last four are ends; nothing leaves an end. */
public enum CommandState {
  /** Committed, and not to be sent before its time, or before its hours come round again. */
  PLANNED,
  /** Committed, not yet with the device. */
  QUEUED,
  /** The device has it and has not finished. */
  DELIVERED,
  DONE,
  FAILED,
  EXPIRED,
  CANCELLED;

  /** Whether this is an end. */
  public boolean ended() {
    return next().isEmpty();
  }

  /** States that may follow. */
  public Set<CommandState> next() {
    return switch (this) {
      case PLANNED -> EnumSet.of(QUEUED, EXPIRED, CANCELLED);
      case QUEUED -> EnumSet.of(PLANNED, DELIVERED, DONE, FAILED, EXPIRED, CANCELLED);
      case DELIVERED -> EnumSet.of(DONE, FAILED, EXPIRED);
      case DONE, FAILED, EXPIRED, CANCELLED -> EnumSet.noneOf(CommandState.class);
    };
  }

  /** States from which a step to one is allowed. */
  public static Set<CommandState> before(CommandState state) {
    return EnumSet.copyOf(
        EnumSet.allOf(CommandState.class).stream().filter(s -> s.mayBecome(state)).toList());
  }

  /** Whether the step is allowed. A step to the same state never is. */
  public boolean mayBecome(CommandState state) {
    return next().contains(state);
  }
}
