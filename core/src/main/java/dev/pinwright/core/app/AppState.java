package dev.pinwright.core.app;

/** How a device is with an app. */
public enum AppState {
  /** It is as it should be. */
  AS_WANTED,
  /** It may be picked by the holder. */
  ON_SHELF,
  /** It should be there and is not, and is about to be sent for. */
  MISSING,
  /** Another version is there than should be. */
  OLD,
  /** It is being installed, updated or removed. */
  UNDER_WAY,
  /** It could not be installed, updated or removed. */
  FAILING,
  /** Nobody assigned it; it is the holder's, or the OS's. */
  NOT_ASSIGNED
}
