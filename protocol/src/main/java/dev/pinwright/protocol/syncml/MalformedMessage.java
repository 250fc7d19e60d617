package dev.pinwright.protocol.syncml;

/** A message that cannot be read. The text says what is wrong; it never repeats the content. */
public final class MalformedMessage extends Exception {
  private final Fault fault;

  /** What sort of fault. */
  public enum Fault {
    /** Not well-formed XML, or cut short. */
    NOT_XML,
    /** Has a document type declaration or an entity. */
    FORBIDDEN_XML,
    /** Over one of the bounds. */
    TOO_LARGE,
    /** XML, but not a SyncML 1.2 message. */
    NOT_SYNCML
  }

  public MalformedMessage(Fault fault, String message) {
    super(message);
    this.fault = fault;
  }

  public Fault fault() {
    return fault;
  }
}
