package dev.pinwright.core.screen;

import dev.pinwright.core.command.CommandState;
import java.time.Duration;
import java.time.Instant;
import java.util.Optional;

/**
 * Somebody looks at a device's screen together with its holder. What was seen is kept nowhere.
 *
 * @param id that of the dispatch that ordered it
 * @param device the name of the device
 * @param actor login of whoever ordered it, who alone may look
 * @param taps whether they may tap and type as well
 * @param command how far the command is
 * @param outcome why the command ended as it did; empty where that needs no words
 * @param watchedAt since when somebody is there to look; before that the holder is not asked
 * @param begunAt when the screen came
 * @param endedBy who ended it, in words
 */
public record Assist(
    String id,
    String deviceId,
    String device,
    String actor,
    Shows shows,
    boolean taps,
    CommandState command,
    String outcome,
    Instant askedAt,
    Optional<Instant> watchedAt,
    Optional<Instant> begunAt,
    Optional<Instant> endedAt,
    Optional<String> endedBy) {

  /** The command, as the catalogue calls it. */
  public static final String COMMAND = "assist";

  /** How long one lasts at most. */
  public static final Duration LONGEST = Duration.ofHours(2);

  /** How far it is. */
  public enum Stage {
    /** Whoever ordered it is not there yet. */
    ORDERED,
    /** The device has not been heard since. */
    WAITING,
    /** The device has it, and its holder is asked. */
    ASKED,
    /** The screen is seen. */
    ON,
    ENDED,
    /** It never came to it: declined, failed, cancelled or too late. */
    NOT
  }

  /** How far it is. What came last counts. */
  public Stage stage() {
    if (endedAt.isPresent()) {
      return begunAt.isPresent() ? Stage.ENDED : Stage.NOT;
    }
    if (begunAt.isPresent()) {
      return Stage.ON;
    }
    return switch (command) {
      case PLANNED, QUEUED -> watchedAt.isPresent() ? Stage.WAITING : Stage.ORDERED;
      case DELIVERED -> Stage.ASKED;
      case DONE, FAILED, EXPIRED, CANCELLED -> Stage.NOT;
    };
  }

  /** Whether it is over, or never will be. */
  public boolean over() {
    return stage() == Stage.ENDED || stage() == Stage.NOT;
  }

  /** How long the screen was seen; nothing where it never was or still is. */
  public Optional<Duration> lasted() {
    return begunAt.flatMap(b -> endedAt.map(e -> Duration.between(b, e)));
  }
}
