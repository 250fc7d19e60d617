package dev.pinwright.core.kiosk;

import java.nio.ByteBuffer;
import java.security.GeneralSecurityException;
import java.time.Duration;
import java.time.Instant;
import java.util.Locale;
import java.util.Optional;
import java.util.stream.Stream;
import javax.crypto.Mac;
import javax.crypto.spec.SecretKeySpec;

/**
 * Codes that leave a kiosk without a network: time-based one-time passwords (RFC 6238) of six
 * digits, by HMAC-SHA-1, a new one every thirty seconds; the one before and the one after are taken
 * too, since clocks differ. Each is taken once.
 */
public final class ExitCode {
  /** How long a code is the current one. */
  public static final Duration STEP = Duration.ofSeconds(30);

  private static final String DIGITS = "ABCDEFGHIJKLMNOPQRSTUVWXYZ234567";
  private static final int MODULUS = 1_000_000;

  private ExitCode() {}

  /** A secret in base 32 (RFC 4648, 6), without padding. */
  public static String secret(byte[] random) {
    StringBuilder out = new StringBuilder();
    int bits = 0;
    int kept = 0;
    for (byte b : random) {
      bits = bits << 8 | b & 0xff;
      kept += 8;
      while (kept >= 5) {
        kept -= 5;
        out.append(DIGITS.charAt(bits >> kept & 31));
      }
      bits &= (1 << kept) - 1;
    }
    return kept == 0 ? out.toString() : out.append(DIGITS.charAt(bits << 5 - kept & 31)).toString();
  }

  private static byte[] bytes(String secret) {
    ByteBuffer out = ByteBuffer.allocate(secret.length() * 5 / 8);
    int bits = 0;
    int kept = 0;
    for (char c : secret.toUpperCase(Locale.ROOT).toCharArray()) {
      int digit = DIGITS.indexOf(c);
      if (digit < 0) {
        throw new IllegalArgumentException("a secret is in base 32");
      }
      bits = bits << 5 | digit;
      kept += 5;
      if (kept >= 8) {
        kept -= 8;
        out.put((byte) (bits >> kept));
        bits &= (1 << kept) - 1;
      }
    }
    return out.array();
  }

  /** The code at a time: six digits. */
  public static String at(String secret, Instant when) {
    return code(secret, step(when));
  }

  /** When the code of a time stops being the current one. */
  public static Instant until(Instant when) {
    return Instant.ofEpochSecond((step(when) + 1) * STEP.toSeconds());
  }

  /**
   * Which step's code it is, when a code is taken at a time.
   *
   * @param used the last step whose code was taken; it and those before it are spent (RFC 6238,
   *     5.2)
   */
  public static Optional<Long> opens(String secret, String code, Instant when, long used) {
    long now = step(when);
    return Stream.of(now, now - 1, now + 1)
        .filter(step -> step > used && code(secret, step).equals(code))
        .findFirst();
  }

  private static long step(Instant when) {
    return Math.floorDiv(when.getEpochSecond(), STEP.toSeconds());
  }

  private static String code(String secret, long step) {
    byte[] hash;
    try {
      Mac mac = Mac.getInstance("HmacSHA1");
      mac.init(new SecretKeySpec(bytes(secret), "HmacSHA1"));
      hash = mac.doFinal(ByteBuffer.allocate(Long.BYTES).putLong(step).array());
    } catch (GeneralSecurityException e) {
      throw new IllegalStateException(e);
    }
    // dynamic truncation (RFC 4226, 5.3)
    int number = ByteBuffer.wrap(hash).getInt(hash[hash.length - 1] & 0xf) & Integer.MAX_VALUE;
    return String.format(Locale.ROOT, "%06d", number % MODULUS);
  }
}
