package dev.pinwright.core.lost;

/** How a case stands. The last two are ends. */
public enum CaseState {
  /** The device is being looked for. */
  OPEN,
  /** It was found, and put back as it was. */
  FOUND,
  /** It was given up. */
  WRITTEN_OFF
}
