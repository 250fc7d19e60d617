package dev.pinwright.core.file;

/** What a file is for; told from what is in it. */
public enum FileKind {
  /** PNG (ISO/IEC 15948) or JPEG (ISO/IEC 10918). */
  PICTURE(10 << 20, "a picture"),
  /** Certificates in PEM or DER (RFC 7468, RFC 5280), or with their key in PKCS#12 (RFC 7292). */
  CERTIFICATE(1 << 20, "a certificate"),
  /** TrueType or OpenType (ISO/IEC 14496-22). */
  FONT(20 << 20, "a font"),
  /** PDF (ISO 32000), EPUB (ISO/IEC 23736) or plain text. */
  DOCUMENT(200 << 20, "a document"),
  /** Text that begins with {@code #!} and the program to run it with. */
  SCRIPT(256 << 10, "a script"),
  /** A package of an app, see {@code docs/packages.md}. */
  PACKAGE(1L << 30, "a package");

  /** Bytes of the largest file of any kind. */
  public static final long MOST = PACKAGE.most;

  private final long most;
  private final String words;

  FileKind(long most, String words) {
    this.most = most;
    this.words = words;
  }

  /** Bytes of the largest file of this kind. */
  public long most() {
    return most;
  }

  /** One of them, for people: {@code a picture}. */
  public String words() {
    return words;
  }
}
