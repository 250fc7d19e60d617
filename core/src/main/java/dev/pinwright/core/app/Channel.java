package dev.pinwright.core.app;

/** For whom a version is released. */
public enum Channel {
  /** For assignments that follow early releases. */
  EARLY,
  /** For all that follow releases. */
  ALL
}
