package dev.pinwright.core.gateway;

import dev.pinwright.core.Lapse;
import dev.pinwright.core.Words;
import java.time.Instant;
import java.util.Optional;

/**
 * The right to wake a platform's devices through its push service.
 *
 * @param account vendor account it was signed under
 * @param topic what devices are subscribed under; it belongs to the account
 */
public record PushCredential(String account, String topic, Instant expiresAt) {
  /** When it ends. */
  public Lapse lapse() {
    return new Lapse(expiresAt);
  }

  /**
   * Why another credential cannot take this one's place; empty when it can.
   *
   * @param devices how many devices are subscribed under this one
   */
  public Optional<String> objection(PushCredential next, long devices) {
    if (next.account().equals(account) && next.topic().equals(topic)) {
      return Optional.empty();
    }
    return Optional.of(
        "this credential was signed under "
            + next.account()
            + ", the one in use under "
            + account
            + "; taking it would cut off "
            + Words.counted(devices, "device")
            + ", which would have to join again. Sign the request under "
            + account);
  }
}
