package dev.pinwright.core.roster;

import java.time.Instant;
import java.util.List;
import java.util.Optional;

/**
 * A row of the roster: an identifier that is known before its device arrives.
 *
 * @param profile name of the enrollment profile it joins by
 * @param source where it came from
 */
public record RosterEntry(
    String id,
    Optional<String> serial,
    Optional<String> imei,
    Optional<String> asset,
    String name,
    Optional<String> personId,
    Optional<String> person,
    Optional<String> unitId,
    Optional<String> unit,
    Optional<String> siteId,
    Optional<String> site,
    List<String> tags,
    Optional<String> profileId,
    Optional<String> profile,
    String source,
    State state,
    Optional<String> deviceId,
    Instant createdAt,
    Instant changedAt) {

  /** Whether its device is here. */
  public enum State {
    EXPECTED,
    ARRIVED,
    WITHDRAWN
  }
}
