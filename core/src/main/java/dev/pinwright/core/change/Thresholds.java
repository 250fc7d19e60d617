package dev.pinwright.core.change;

import java.util.Optional;

/**
 * From how many devices on what is asked before they are changed or told something; the owner sets
 * it.
 *
 * @param number from here on the number has to be typed
 * @param reason from here on a reason has to be given; empty for never
 * @param second from here on a second person has to agree; empty for never, as where one person
 *     looks after everything
 * @param wiping from here on a second person has to agree to wipes; empty for where {@code second}
 *     says so alone
 * @param runaway how many one person alone may wipe in an hour
 */
public record Thresholds(
    long number,
    Optional<Long> reason,
    Optional<Long> second,
    Optional<Long> wiping,
    Runaway runaway) {
  /** Most devices a threshold may be set to. */
  public static final long MOST = 1_000_000;

  /** As long as the owner says nothing. */
  public static final Thresholds USUAL =
      new Thresholds(25, Optional.empty(), Optional.empty(), Optional.empty(), Runaway.USUAL);

  public Thresholds {
    check(number);
    reason.ifPresent(Thresholds::check);
    second.ifPresent(Thresholds::check);
    wiping.ifPresent(Thresholds::check);
  }

  private static void check(long devices) {
    if (devices < 1 || devices > MOST) {
      throw new IllegalArgumentException("a threshold is from 1 to " + MOST + " devices");
    }
  }

  /** What is asked before so many devices are changed. */
  public Asked asked(long devices) {
    return new Asked(
        devices >= number ? Optional.of(devices) : Optional.empty(),
        reason.filter(from -> devices >= from).isPresent(),
        second.filter(from -> devices >= from).isPresent());
  }

  /** What is asked before so many devices are wiped. */
  public Asked askedOfWipes(long devices) {
    Asked usual = asked(devices);
    return new Asked(
        devices > 1 ? Optional.of(devices) : Optional.empty(),
        true,
        usual.second() || wiping.filter(from -> devices >= from).isPresent());
  }

  /** Whether other thresholds let one person alone wipe more. */
  public boolean easedBy(Thresholds other) {
    return other.runaway.most() > runaway.most() || other.wiping.orElse(MOST) > wiping.orElse(MOST);
  }

  /**
   * What is asked before something is done.
   *
   * @param number this number has to be repeated
   * @param reason a reason has to be given
   * @param second a second person has to agree
   */
  public record Asked(Optional<Long> number, boolean reason, boolean second) {
    /** Nothing. */
    public static final Asked NOTHING = new Asked(Optional.empty(), false, false);

    /** This, and the number whatever the thresholds say. */
    public Asked always(long devices) {
      return new Asked(Optional.of(devices), reason, second);
    }

    /** What is still missing; empty when it may be done. */
    public Optional<Missing> missing(Confirmation given) {
      boolean another = number.isPresent() && !number.equals(given.number());
      if (given.agreedBy().isPresent()) {
        return another ? Optional.of(Missing.NUMBER) : Optional.empty();
      }
      if (second) {
        return Optional.of(Missing.SECOND_PERSON);
      }
      if (another) {
        return Optional.of(Missing.NUMBER);
      }
      return reason && given.reason().isEmpty() ? Optional.of(Missing.REASON) : Optional.empty();
    }
  }

  /** What may be missing before something is done, in the order it is asked for. */
  public enum Missing {
    SECOND_PERSON,
    NUMBER,
    REASON
  }
}
