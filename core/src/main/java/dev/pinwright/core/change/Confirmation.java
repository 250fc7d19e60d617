package dev.pinwright.core.change;

import java.util.Optional;

/**
 * What somebody gave so that a change may be done.
 *
 * @param number of devices, as typed
 * @param reason why, in words; never blank
 * @param agreedBy login of the second person who saw what it would do and agreed; no reason is
 *     asked then, and the number is that which they saw
 */
public record Confirmation(
    Optional<Long> number, Optional<String> reason, Optional<String> agreedBy) {
  /** Characters of the longest reason. */
  public static final int LONGEST_REASON = 300;

  /** Nothing. */
  public static final Confirmation NONE =
      new Confirmation(Optional.empty(), Optional.empty(), Optional.empty());

  public Confirmation {
    reason = reason.map(String::strip).filter(r -> !r.isEmpty());
    if (reason.filter(r -> r.length() > LONGEST_REASON).isPresent()) {
      throw new IllegalArgumentException("a reason has at most 300 characters");
    }
  }

  /** A number that was typed, and no more. */
  public static Confirmation of(Optional<Long> number) {
    return new Confirmation(number, Optional.empty(), Optional.empty());
  }

  /** As it is said behind what was done: {@code ; agreed by bo; reason: …}. */
  public String words() {
    return agreedBy.map(by -> "; agreed by " + by).orElse("")
        + reason.map(r -> "; reason: " + r).orElse("");
  }
}
