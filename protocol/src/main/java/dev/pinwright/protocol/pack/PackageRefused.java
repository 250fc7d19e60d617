package dev.pinwright.protocol.pack;

/** What is wrong with a package, in a sentence that says what would be right. */
public final class PackageRefused extends Exception {
  private static final long serialVersionUID = 1;

  public PackageRefused(String message) {
    super(message);
  }
}
