package dev.pinwright.core.gateway;

/** How a connection to something outside is. */
public enum Linked {
  MISSING,
  CONNECTED,
  /** It was connected and does not answer, or not as it should. */
  FAILING;

  /**
   * As it is known.
   *
   * @param set whether somebody connected it
   * @param fault what went wrong when it was used last; empty when nothing did
   */
  public static Linked of(boolean set, String fault) {
    return !set ? MISSING : fault.isEmpty() ? CONNECTED : FAILING;
  }
}
