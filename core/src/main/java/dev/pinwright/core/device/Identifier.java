package dev.pinwright.core.device;

import java.util.Locale;

/**
 * What a device is known by before it has a record: normalised and checked when built.
 *
 * @param kind serial number, IMEI or the organisation's own asset number
 * @param value normalised value, see {@link #of}
 */
public record Identifier(Kind kind, String value) {
  /** Kinds of identifier. */
  public enum Kind {
    SERIAL,
    IMEI,
    ASSET
  }

  /**
   * Normalises and checks. Serials and asset numbers: spaces removed, upper case, 3 to 40 letters,
   * digits, {@code - . / _}. IMEI: spaces, hyphens and slashes removed, 15 digits with a right
   * check digit (3GPP TS 23.003, annex B).
   *
   * @throws IllegalArgumentException saying what is wrong and what would be right
   */
  public static Identifier of(Kind kind, String raw) {
    return new Identifier(kind, kind == Kind.IMEI ? imei(raw) : plain(kind, raw));
  }

  private static String plain(Kind kind, String raw) {
    String value = raw.replaceAll("[\\s\\u00a0]+", "").toUpperCase(Locale.ROOT);
    if (!value.matches("[A-Z0-9._/-]{3,40}")) {
      throw new IllegalArgumentException(
          (kind == Kind.SERIAL ? "serial number" : "asset number")
              + " '"
              + shorten(raw)
              + "' has to be 3 to 40 letters, digits, '-', '.', '/' or '_'");
    }
    return value;
  }

  private static String imei(String raw) {
    String digits = raw.replaceAll("[\\s\\u00a0/-]+", "");
    if (!digits.matches("\\d{15}")) {
      throw new IllegalArgumentException("IMEI '" + shorten(raw) + "' has to be 15 digits");
    }
    int right = checkDigit(digits.substring(0, 14));
    if (digits.charAt(14) - '0' != right) {
      throw new IllegalArgumentException(
          "IMEI " + digits + " has a wrong check digit: it would have to end in " + right);
    }
    return digits;
  }

  /** The check digit (Luhn) of the first 14 digits of an IMEI, 3GPP TS 23.003, B.2. */
  public static int checkDigit(String first14) {
    int sum = 0;
    for (int i = 0; i < first14.length(); i++) {
      int digit = first14.charAt(i) - '0';
      int weighed = i % 2 == 1 ? digit * 2 : digit;
      sum += weighed / 10 + weighed % 10;
    }
    return (10 - sum % 10) % 10;
  }

  private static String shorten(String raw) {
    return raw.length() > 48 ? raw.substring(0, 48) + "…" : raw;
  }
}
