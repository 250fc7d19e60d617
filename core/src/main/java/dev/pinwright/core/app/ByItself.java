package dev.pinwright.core.app;

/** What becomes by itself of a version that is found at an address that is followed. */
public enum ByItself {
  /** It is brought, and somebody releases it. */
  NONE,
  /** It is released early. */
  EARLY,
  /** It is released to all. */
  ALL
}
