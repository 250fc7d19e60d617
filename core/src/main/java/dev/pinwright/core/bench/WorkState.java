package dev.pinwright.core.bench;

/** How far a piece of work of a cable is. The last two are ends. */
public enum WorkState {
  QUEUED,
  /** The cable has it and has not said how it ended. */
  GIVEN,
  DONE,
  FAILED
}
