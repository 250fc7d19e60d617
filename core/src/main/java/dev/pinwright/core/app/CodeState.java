package dev.pinwright.core.app;

import java.time.Instant;

/** What has become of a printed configuration code. */
public enum CodeState {
  /** Apps can read it. */
  OPEN,
  /** Its time is over. */
  LAPSED,
  /** It was taken back. */
  REVOKED;

  /** How one is at a time. */
  public static CodeState of(Instant until, boolean revoked, Instant now) {
    return revoked ? REVOKED : until.isAfter(now) ? OPEN : LAPSED;
  }
}
