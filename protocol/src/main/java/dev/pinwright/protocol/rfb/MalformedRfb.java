package dev.pinwright.protocol.rfb;

/** What the other end said is not the protocol; the connection is to be closed. */
public final class MalformedRfb extends Exception {
  private static final long serialVersionUID = 1L;

  MalformedRfb(String message) {
    super(message);
  }
}
