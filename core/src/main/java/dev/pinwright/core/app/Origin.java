package dev.pinwright.core.app;

/** Where an app comes from. */
public enum Origin {
  /** A package of the organisation's own. */
  PACKAGE,
  /** The store of a platform. */
  STORE,
  /** It comes with the OS. */
  SYSTEM,
  /** A page of the web that opens like an app. */
  WEB
}
