package dev.pinwright.service.secret;

import dev.pinwright.service.work.Problem;
import java.util.concurrent.Semaphore;
import java.util.concurrent.TimeUnit;
import java.util.function.Supplier;
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

  private static final int MOST_WAITING = 16;
  private static final long PATIENCE_SECONDS = 5;
  private static final Semaphore GATE =
      new Semaphore(Math.max(2, Runtime.getRuntime().availableProcessors()), true);

  private Passwords() {}

  private static <T> T gated(Supplier<T> work) {
    boolean in = false;
    try {
      in =
          GATE.getQueueLength() < MOST_WAITING
              && GATE.tryAcquire(PATIENCE_SECONDS, TimeUnit.SECONDS);
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
    }
    if (!in) {
      throw new Problem(
              503, "busy", "Busy", "Many passwords are being checked; try again in a few seconds.")
          .with("retryAfter", PATIENCE_SECONDS);
    }
    try {
      return work.get();
    } finally {
      GATE.release();
    }
  }

  /** Hashes. */
  public static String hash(String password) {
    return gated(() -> ENCODER.encode(password));
  }

  /** Whether the password is the one hashed. */
  public static boolean matches(String password, String hash) {
    return gated(() -> ENCODER.matches(password, hash));
  }

  /** Takes the time of {@link #matches} and is never true. */
  public static boolean matchesNobody(String password) {
    return gated(() -> ENCODER.matches(password, NOBODY)) && false;
  }
}
