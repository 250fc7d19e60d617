package dev.pinwright.core.session;

import dev.pinwright.core.device.Standing;
import java.util.Map;
import java.util.stream.Stream;

/**
 * The first message of a session, beside what is on file: all that decides whether it can be
 * answered with statuses alone.
 *
 * @param standing how the device stood
 * @param factsKnown whether its facts were ever read
 * @param outstanding whether a command waits for it, or word of the checks
 * @param underWay whether a session of this name is open, so that the message may be a repetition
 * @param whole whether the device's package ends with this message
 * @param news whether it tells anything besides its digests
 * @param desired the digest of each subtree it is expected to tell; none where that is not known
 * @param reported the digests it tells
 */
public record CheckIn(
    Standing standing,
    boolean factsKnown,
    boolean outstanding,
    boolean underWay,
    boolean whole,
    boolean news,
    Map<Subtree, String> desired,
    Map<Subtree, String> reported) {

  /** Whether there is nothing to do: everything is as wanted and nobody waits for anything. */
  public boolean idle() {
    boolean standsWell = standing == Standing.SETTLED || standing == Standing.BLOCKED;
    return standsWell
        && factsKnown
        && !outstanding
        && !underWay
        && whole
        && !news
        && Stream.of(Subtree.values()).allMatch(this::asWanted);
  }

  private boolean asWanted(Subtree subtree) {
    String told = reported.get(subtree);
    return told == null ? !subtree.everywhere() : told.equals(desired.get(subtree));
  }
}
