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
    Optional<Instant> lookedAt,
    Optional<Instant> heardAt,
    Instant openedAt,
    String openedBy,
    Optional<Instant> endedAt,
    Optional<String> endedBy,
    String words) {
  /** How long a case may be open before somebody is reminded of it. */
  public static final Duration OVERDUE = Duration.ofDays(7);

  /** How often a device is asked where it is, unless something else is said. */
  public static final int USUAL_MINUTES = 10;

  /** The longest between two times it is asked: a day. */
  public static final int MOST_MINUTES = 1_440;

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

  /** Whether it is news that a device was heard: the first time, and after it was quiet. */
  public boolean isNews(Instant heard) {
    Instant before = heardAt.orElse(Instant.EPOCH);
    return heard.isAfter(openedAt)
        && heard.isAfter(before)
        && Duration.between(before, heard).compareTo(QUIET) > 0;
  }
}
