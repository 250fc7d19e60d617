package dev.pinwright.core;

/** Something that is written wrong, with the place it is at. */
public final class Fault extends IllegalArgumentException {
  private static final long serialVersionUID = 1L;

  private final String pointer;

  /**
   * @param pointer a JSON pointer (RFC 6901) into what was written
   * @param message a sentence that says what would be right
   */
  public Fault(String pointer, String message) {
    super(message);
    this.pointer = pointer;
  }

  /** What somebody found wrong, at the place it is at and as a sentence. */
  public static Fault at(String pointer, IllegalArgumentException wrong) {
    String words = String.valueOf(wrong.getMessage());
    String sentence = Character.toUpperCase(words.charAt(0)) + words.substring(1);
    return new Fault(pointer, sentence.endsWith(".") ? sentence : sentence + ".");
  }

  /** A JSON pointer into what was written. */
  public String pointer() {
    return pointer;
  }
}
