package dev.pinwright.core.license;

/** How it is with one license. */
public enum LicenseState {
  /** The store was asked to give it, or is about to be. */
  ASKED,
  /** The store has given it. */
  HELD,
  /** The store was asked to take it back, or is about to be. */
  RETURNING
}
