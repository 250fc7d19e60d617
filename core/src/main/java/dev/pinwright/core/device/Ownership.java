package dev.pinwright.core.device;

/** Whose device it is. On a personal device far less may be known or done. */
public enum Ownership {
  CORPORATE,
  PERSONAL
}
