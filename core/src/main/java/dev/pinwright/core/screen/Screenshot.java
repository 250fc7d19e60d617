package dev.pinwright.core.screen;

import java.time.Duration;
import java.time.Instant;

/**
 * A picture of a device's screen, taken with its holder's consent.
 *
 * @param id that of the command that ordered it
 * @param device the name of the device
 * @param actor login of whoever ordered it
 * @param until when it is gone
 */
public record Screenshot(
    String id,
    String deviceId,
    String device,
    String actor,
    String reason,
    Shows shows,
    Instant takenAt,
    Instant until,
    String mediaType,
    int bytes) {
  /** The command, as the catalogue calls it. */
  public static final String COMMAND = "screenshot";

  /** How long one is kept. */
  public static final Duration KEPT = Duration.ofDays(7);

  /** Bytes of the largest that is taken in. */
  public static final int MOST_BYTES = 8 * 1024 * 1024;
}
