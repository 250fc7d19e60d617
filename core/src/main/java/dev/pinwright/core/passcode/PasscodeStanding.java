package dev.pinwright.core.passcode;

import java.time.Instant;
import java.util.Map;
import java.util.Optional;

/** Where the holder of a device is with its passcode, as the device told last. */
public enum PasscodeStanding {
  /** It is as it is asked for. */
  GOOD,
  /** It is not, and the holder may still go on with it. */
  IN_GRACE,
  /** It is not, and the time to choose another is over. */
  OVERDUE;

  /** The fact that tells whether it is good. */
  public static final String COMPLIANT = "security/passcode-compliant";

  /** The fact that tells until when another has to be chosen. */
  public static final String DUE = "security/passcode-due";

  /**
   * Reads it from facts.
   *
   * @return empty for a device that never told
   */
  public static Optional<PasscodeStanding> of(Map<String, String> facts, Instant now) {
    return switch (facts.getOrDefault(COMPLIANT, "")) {
      case "true" -> Optional.of(GOOD);
      case "false" ->
          Optional.of(
              facts.getOrDefault(DUE, "").compareTo(now.toString()) > 0 ? IN_GRACE : OVERDUE);
      default -> Optional.empty();
    };
  }
}
