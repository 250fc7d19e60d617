package dev.pinwright.core.enrollment;

import dev.pinwright.core.device.DeviceKind;
import dev.pinwright.core.device.Identifier;
import dev.pinwright.core.device.OsVersion;
import java.util.List;
import java.util.Optional;

/**
 * What a device says of itself when it asks to join.
 *
 * @param identifiers at least one
 * @param termsAccepted version of the terms the holder accepted, if any
 */
public record JoinAttempt(
    String platform,
    OsVersion osVersion,
    DeviceKind kind,
    String maker,
    String model,
    List<Identifier> identifiers,
    Optional<Integer> termsAccepted) {
  public JoinAttempt {
    identifiers = List.copyOf(identifiers);
  }
}
