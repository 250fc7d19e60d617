package dev.pinwright.core.organisation;

/** What can become of a device whose holder leaves. */
public enum Fate {
  /** Somebody else holds it. */
  HANDED_OVER,
  /** It stays managed where it is, held by nobody. */
  KEPT,
  /** It is no longer managed. */
  RETIRED
}
