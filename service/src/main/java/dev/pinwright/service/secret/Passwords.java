package dev.pinwright.service.secret;

import com.github.benmanes.caffeine.cache.Cache;
import com.github.benmanes.caffeine.cache.Caffeine;
import dev.pinwright.core.Sha256;
import dev.pinwright.service.work.Gate;
import java.time.Duration;
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

  /** Goes into the digests in {@link #RIGHT}; of this process and nowhere else. */
  private static final String PEPPER = Vault.randomText();

  /** Digests of what {@link #sharedMatches} found right lately. */
  private static final Cache<String, Boolean> RIGHT =
      Caffeine.newBuilder().maximumSize(1_000).expireAfterWrite(Duration.ofMinutes(10)).build();

  private Passwords() {}

  /** Hashes. */
  public static String hash(String password) {
    return GATE.pass(() -> ENCODER.encode(password));
  }

  /** Whether the password is the one hashed. */
  public static boolean matches(String password, String hash) {
    return GATE.pass(() -> ENCODER.matches(password, hash));
  }

  /**
   * Whether a secret is the one hashed, where many say the same one, as a cart of devices its
   * passphrase. What was right is right for ten minutes more without the work; what was wrong is
   * worked out each time.
   */
  public static boolean sharedMatches(String secret, String hash) {
    String said = Sha256.hex(String.join("\n", PEPPER, hash, secret));
    if (RIGHT.getIfPresent(said) != null) {
      return true;
    }
    boolean right = matches(secret, hash);
    if (right) {
      RIGHT.put(said, true);
    }
    return right;
  }

  /** Takes the time of {@link #matches} and is never true. */
  public static boolean matchesNobody(String password) {
    return GATE.pass(() -> ENCODER.matches(password, NOBODY)) && false;
  }
}
