package dev.pinwright.core.wipe;

/** How far a wipe is, and how much of it is known. */
public enum WipeStage {
  /** Ordered, and not with the device yet. */
  ASKED,
  /** The device has it and has not said that it begins. */
  DELIVERED,
  /** The device said that it begins; nothing proves it yet. */
  BEGUN,
  /** It is known to have happened. */
  PROVED,
  /** It did not happen. */
  FAILED,
  /** It was taken back before the device had it. */
  CANCELLED,
  /** The device was not heard in time. */
  EXPIRED,
  /** It was revoked: what it took is on its way back. */
  REVOKED,
  /** It was revoked, and everything is back. */
  RESTORED
}
