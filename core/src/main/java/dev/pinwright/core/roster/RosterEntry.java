package dev.pinwright.core.roster;

import dev.pinwright.core.Versioned;
import dev.pinwright.core.enrollment.Identifiers;
import java.time.Instant;
import java.util.List;
import java.util.Optional;

/**
 * A row of the roster: an identifier that is known before its device arrives.
 *
 * @param person name of who is to hold it
 * @param personLogin what tells them from others of their name: the login, else the mail address
 * @param profile name of the enrollment profile it joins by
 * @param source where it came from
 */
public record RosterEntry(
    String id,
    int version,
    Optional<String> serial,
    Optional<String> imei,
    Optional<String> asset,
    String name,
    Optional<String> personId,
    Optional<String> person,
    Optional<String> personLogin,
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
    Instant changedAt)
    implements Versioned {

  /** What its device is known by. */
  public Identifiers identifiers() {
    return new Identifiers(serial, imei, asset);
  }

  /** Whether its device is here, and may be. */
  public enum State {
    EXPECTED,
    ARRIVED,
    /** As if the row were not there. */
    WITHDRAWN,
    /** It is let in by no way. */
    BARRED
  }
}
