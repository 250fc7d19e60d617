package dev.pinwright.core.gateway;

import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.OptionalInt;

/**
 * The right to wake a platform's devices through its push service.
 *
 * @param account vendor account it was signed under
 * @param topic what devices are subscribed under; it belongs to the account
 */
public record PushCredential(String account, String topic, Instant expiresAt) {
  /** Days before the end on which somebody is told, most first. */
  public static final List<Integer> NOTICE_DAYS = List.of(60, 30, 14, 7, 1);

  /** Whole days left; 0 on the last day, negative once it has ended. */
  public long daysLeft(Instant now) {
    return Math.floorDiv(Duration.between(now, expiresAt).toSeconds(), 86_400L);
  }

  /**
   * The notice that is due: the smallest of {@link #NOTICE_DAYS} that the days left have come down
   * to, 0 when it has ended; empty when it was given already.
   *
   * @param told the notice given last; empty when none was
   */
  public OptionalInt noticeDue(Instant now, OptionalInt told) {
    long left = daysLeft(now);
    int due =
        left < 0 ? 0 : NOTICE_DAYS.stream().filter(d -> left <= d).min(Integer::compare).orElse(-1);
    return due < 0 || told.isPresent() && told.getAsInt() <= due
        ? OptionalInt.empty()
        : OptionalInt.of(due);
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
            + devices
            + (devices == 1 ? " device, which" : " devices, which")
            + " would have to join again. Sign the request under "
            + account);
  }
}
