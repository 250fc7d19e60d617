package dev.pinwright.core.lost;

import java.time.Duration;
import java.time.Instant;
import java.util.Optional;

/**
 * A lost device, from the report to its end.
 *
 * @param device the name of the device
 * @param personal whether it is its holder's own: where it is is never asked for
 * @param holder the name of whoever holds it
 * @param what what happened, as it was reported
 * @param lockText what stands on its lock screen
 * @param lockPhone the number to call that stands there
 * @param everyMinutes how often it is asked where it is; empty for never
 * @param lostAt when it went missing; empty where nobody knows
 * @param ringSiteId the site at which it rings by itself; empty where it does not
 * @param ringSite what that is called
 * @param rungAt when it rang by itself last
 * @param lookedAt when it was asked last
 * @param heardAt when it was heard last since the report
 * @param words how it ended, as whoever ended it put it
 */
public record LostCase(
    String id,
    int version,
    String deviceId,
    String device,
    boolean personal,
    Optional<String> holder,
    CaseState state,
    String what,
    String lockText,
    String lockPhone,
    Optional<Integer> everyMinutes,
    Optional<Instant> lostAt,
    Optional<String> ringSiteId,
    Optional<String> ringSite,
    Optional<Instant> rungAt,
    Optional<Instant> lookedAt,
    Optional<Instant> heardAt,
    Instant openedAt,
    String openedBy,
    Optional<Instant> endedAt,
    Optional<String> endedBy,
    String words) {
  /** How long a case may be open before somebody is reminded of it. */
  public static final Duration OVERDUE = Duration.ofDays(7);

  /** The longest ago a device can have gone missing when it is reported. */
  private static final Duration LONGEST_AGO = Duration.ofDays(366);

  /** How often a device is asked where it is, unless something else is said. */
  public static final int USUAL_MINUTES = 10;

  /** The longest between two times it is asked: a day. */
  public static final int MOST_MINUTES = 1_440;

  /** How long lies at least between two times it rings by itself. */
  public static final Duration RINGS = Duration.ofMinutes(15);

  /** How long a device has to be quiet so that it is news when it is heard. */
  public static final Duration QUIET = Duration.ofMinutes(30);

  /** Whether it is open for so long that somebody has to be reminded. */
  public boolean overdue(Instant now) {
    return state == CaseState.OPEN && !openedAt.plus(OVERDUE).isAfter(now);
  }

  /**
   * Whether the device is to be asked where it is.
   *
   * @param asked whether it was asked and has not had that yet: then it is not asked once more
   */
  public boolean asksNow(Instant now, boolean asked) {
    return state == CaseState.OPEN
        && !personal
        && !asked
        && everyMinutes
            .filter(
                m -> lookedAt.map(at -> !at.plus(Duration.ofMinutes(m)).isAfter(now)).orElse(true))
            .isPresent();
  }

  /**
   * Whether it is to ring by itself: it is where it should ring, said so since it was reported, and
   * has not rung for a while.
   *
   * @param siteId the site whose outline it was in last; empty for none
   * @param at when it was there
   */
  public boolean ringsNow(Instant now, Optional<String> siteId, Instant at) {
    return state == CaseState.OPEN
        && !personal
        && ringSiteId.isPresent()
        && ringSiteId.equals(siteId)
        && at.isAfter(rungAt.orElse(openedAt))
        && rungAt.map(r -> !r.plus(RINGS).isAfter(now)).orElse(true);
  }

  /**
   * Why it cannot have gone missing then; empty when it can.
   *
   * @param reported when that was said
   */
  public static Optional<String> objection(Instant lostAt, Instant reported) {
    return lostAt.isAfter(reported)
        ? Optional.of("It cannot have gone missing later than now.")
        : lostAt.isBefore(reported.minus(LONGEST_AGO))
            ? Optional.of("It went missing within the last year, or leave out when.")
            : Optional.empty();
  }

  /** Whether it is news that a device was heard: the first time, and after it was quiet. */
  public boolean isNews(Instant heard) {
    Instant before = heardAt.orElse(Instant.EPOCH);
    return heard.isAfter(openedAt)
        && heard.isAfter(before)
        && Duration.between(before, heard).compareTo(QUIET) > 0;
  }
}
