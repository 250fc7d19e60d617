package dev.pinwright.core.change;

import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;

/**
 * How a publication spreads: step by step, each with all of those before it, and at last to
 * everybody it goes to.
 *
 * @param steps those before the last
 * @param hold minutes from one wave to the next, at least
 * @param bound percent of the devices reached so far that may fail before it stops by itself
 */
public record WavePlan(List<Step> steps, int hold, int bound) {
  /** Most steps before the last. */
  public static final int MOST = 10;

  /** Longest hold: thirty days. */
  public static final int LONGEST = 43_200;

  private static final int PERCENT = 100;

  /**
   * Whom one step reaches; exactly one of these.
   *
   * @param devices about so many
   * @param share so many percent
   * @param group the members of a group, by id
   */
  public record Step(Optional<Integer> devices, Optional<Integer> share, Optional<String> group) {
    public Step {
      if (Stream.of(devices, share, group).filter(Optional::isPresent).count() != 1) {
        throw new IllegalArgumentException(
            "a step says a number of devices, a share or a group; one of the three");
      }
      if (devices.filter(n -> n < 1).isPresent()) {
        throw new IllegalArgumentException("a step reaches at least one device");
      }
      if (share.filter(s -> s < 1 || s > PERCENT - 1).isPresent()) {
        throw new IllegalArgumentException("a share is from 1 to 99 percent");
      }
    }
  }

  public WavePlan {
    steps = List.copyOf(steps);
    if (steps.isEmpty() || steps.size() > MOST) {
      throw new IllegalArgumentException("waves have 1 to " + MOST + " steps before the last");
    }
    if (hold < 0 || hold > LONGEST) {
      throw new IllegalArgumentException("a wave is held from 0 to " + LONGEST + " minutes");
    }
    if (bound < 0 || bound > PERCENT) {
      throw new IllegalArgumentException("the bound of failures is from 0 to 100 percent");
    }
  }

  /** How many waves there are, the last with everybody included. */
  public int waves() {
    return steps.size() + 1;
  }

  /**
   * Whom a wave reaches, with those before it.
   *
   * @param step from 0; the last reaches everybody
   * @param devices how many devices there are in all
   */
  public Wave wave(int step, long devices, String salt) {
    if (step >= steps.size()) {
      return new Wave(salt, Wave.ALL, List.of());
    }
    int reach = 0;
    List<String> groups = new ArrayList<>();
    for (Step s : steps.subList(0, step + 1)) {
      s.group().ifPresent(groups::add);
      int own =
          s.share()
              .map(percent -> percent * (Wave.ALL / PERCENT))
              .or(() -> s.devices().map(n -> share(n, devices)))
              .orElse(0);
      reach = Math.max(reach, own);
    }
    return new Wave(salt, reach, groups);
  }

  /** The share that so many are of all, rounded up. */
  private static int share(int wanted, long devices) {
    return devices <= wanted
        ? Wave.ALL
        : (int) ((wanted * (long) Wave.ALL + devices - 1) / devices);
  }

  /** What is to be done about a wave. */
  public enum Decision {
    /** Nothing yet. */
    WAIT,
    NEXT,
    /** Too many failed. */
    STOP
  }

  /**
   * Decides.
   *
   * @param begun when the latest wave began
   * @param latest how its devices are with it, of {@code total}
   * @param failed how many devices of all waves so far failed, of {@code reached}
   */
  public Decision decide(
      Instant begun, Progress latest, long total, long failed, long reached, Instant now) {
    if (failed * PERCENT > bound * reached) {
      return Decision.STOP;
    }
    boolean held = !now.isBefore(begun.plus(Duration.ofMinutes(hold)));
    // of devices that were not heard nothing is known
    return held && latest.done() * 2 >= total ? Decision.NEXT : Decision.WAIT;
  }
}
