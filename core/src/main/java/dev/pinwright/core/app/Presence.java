package dev.pinwright.core.app;

/** What an app is to the devices it is assigned to; where assignments disagree, the first wins. */
public enum Presence {
  /** Removed where it is, kept out where it is not. */
  FORBIDDEN,
  /** Installs by itself. */
  REQUIRED,
  /** Waits on the shelf until the holder picks it. */
  OFFERED
}
