package dev.pinwright.core;

/** Something whose changes are counted, so that nobody overwrites what they have not seen. */
public interface Versioned {
  /** How often it was changed. */
  int version();
}
