package dev.pinwright.core.app;

import java.time.Duration;
import java.time.Instant;
import java.util.Optional;

/**
 * The latest attempt to bring an app to a device or take it away.
 *
 * @param id the correlator it travels under
 * @param app see {@link AppId}
 * @param release code of the version that was to be installed; 0 for a removal
 * @param configuration digest of the configuration that was to be in force
 * @param tries how often this was tried, this time included
 * @param at when it was sent, or ended
 * @param code how it ended, see {@link Outcome}; 0 while it has not
 */
public record Attempt(
    String id,
    String app,
    Action action,
    long release,
    String configuration,
    State state,
    int tries,
    Instant at,
    int code,
    String reason) {

  /** What is attempted. */
  public enum Action {
    INSTALL,
    /** It is removed; what comes with the OS is blocked. */
    REMOVE,
    /** What was blocked can be opened again. */
    ACTIVATE
  }

  /** How far it is. */
  public enum State {
    /** It was said to the device, which has not answered: it may not have heard it. */
    SENT,
    /** The device has taken it on. */
    UNDER_WAY,
    DONE,
    FAILED
  }

  /** How often something is tried that may yet work. */
  public static final int MOST = 5;

  /** How long a device may take before it is asked again. */
  public static final Duration PATIENCE = Duration.ofHours(12);

  private static final Duration FIRST_PAUSE = Duration.ofMinutes(10);

  /** Whether nothing more is to come of it. */
  public boolean over() {
    return state == State.DONE || state == State.FAILED;
  }

  /** This, further on. */
  public Attempt now(State then, Instant when) {
    return new Attempt(id, app, action, release, configuration, then, tries, when, code, reason);
  }

  /** This, with how it ended. */
  public Attempt ended(Outcome outcome, Instant when) {
    return new Attempt(
        id,
        app,
        action,
        release,
        configuration,
        outcome.done() ? State.DONE : State.FAILED,
        tries,
        when,
        outcome.code(),
        outcome.reason());
  }

  /** Whether this was about the same. */
  public boolean same(Action what, long ofRelease, String withConfiguration) {
    return action == what && release == ofRelease && configuration.equals(withConfiguration);
  }

  /**
   * When it is to be tried again where it is not as wanted: where the device may not have heard of
   * it, in the next session, and as the same attempt; where it took too long, at once; where it
   * failed, later and later; where it was done and is undone again, at once, and later and later
   * where that happens again and again. Never where it would end the same way, or was tried often
   * enough.
   */
  public Optional<Instant> next() {
    if (state == State.SENT) {
      return Optional.of(at);
    }
    if (state == State.UNDER_WAY) {
      return Optional.of(at.plus(PATIENCE));
    }
    if (tries >= MOST || state == State.FAILED && new Outcome(code, reason).lasting()) {
      return Optional.empty();
    }
    int pauses = state == State.DONE ? tries - 1 : tries;
    return Optional.of(
        pauses == 0 ? at : at.plus(FIRST_PAUSE.multipliedBy(1L << (2 * (pauses - 1)))));
  }

  /** Whether it was done so long ago that doing it again is no repetition. */
  public boolean longDone(Instant now) {
    return state == State.DONE && !at.plus(PATIENCE).isAfter(now);
  }
}
