package dev.pinwright.core;

import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.util.HexFormat;

/** SHA-256 (FIPS 180-4). */
public final class Sha256 {
  private Sha256() {}

  /** Lower-case hex of the hash of a text's UTF-8 bytes, 64 characters. */
  public static String hex(String text) {
    return hex(text.getBytes(StandardCharsets.UTF_8));
  }

  /** Lower-case hex of the hash of bytes, 64 characters. */
  public static String hex(byte[] bytes) {
    try {
      return HexFormat.of().formatHex(MessageDigest.getInstance("SHA-256").digest(bytes));
    } catch (NoSuchAlgorithmException e) {
      throw new IllegalStateException(e);
    }
  }
}
