package dev.pinwright.service.secret;

import dev.pinwright.service.work.Gate;
import org.springframework.security.crypto.argon2.Argon2PasswordEncoder;

/**
 * Argon2id (RFC 9106) for secrets people choose: 19 MiB, two passes. As many are worked on at once
 * as there are cores; some wait, and what is beyond is refused.
 */
public final class Passwords {
  private static final Argon2PasswordEncoder ENCODER =
      new Argon2PasswordEncoder(16, 32, 1, 19 * 1024, 2);

  /** Hash of a password nobody has, so that an unknown login takes as long as a known one. */
  private static final String NOBODY = ENCODER.encode(Vault.randomText());

  private static final Gate GATE =
      new Gate(
          Math.max(2, Runtime.getRuntime().availableProcessors()),
          16,
          5,
          "Many passwords are being checked; try again in a few seconds.");

  private Passwords() {}

  /** Hashes. */
  public static String hash(String password) {
    return GATE.pass(() -> ENCODER.encode(password));
  }

  /** Whether the password is the one hashed. */
  public static boolean matches(String password, String hash) {
    return GATE.pass(() -> ENCODER.matches(password, hash));
  }

  /** Takes the time of {@link #matches} and is never true. */
  public static boolean matchesNobody(String password) {
    return GATE.pass(() -> ENCODER.matches(password, NOBODY)) && false;
  }
}
