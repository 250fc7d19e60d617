package dev.pinwright.protocol.pki;

/** A certificate request that is not signed; the text says what would be right. */
public final class CsrRefused extends Exception {
  private final Reason reason;

  /** What sort of fault. */
  public enum Reason {
    UNREADABLE,
    WRONG_NAME,
    WEAK_KEY,
    BAD_SIGNATURE
  }

  public CsrRefused(Reason reason, String message) {
    super(message);
    this.reason = reason;
  }

  public Reason reason() {
    return reason;
  }
}
