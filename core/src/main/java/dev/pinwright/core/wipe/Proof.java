package dev.pinwright.core.wipe;

/** How it is known that a wipe happened. */
public enum Proof {
  /** The blank device showed its maker's certificate (IEEE 802.1AR) and said so. */
  BLANK,
  /** The device asked to join anew, by its maker's certificate. */
  JOINED,
  /** The device was read, and nothing of the organisation's was left. */
  READ
}
