package dev.pinwright.core.change;

import dev.pinwright.core.device.Standing;
import java.util.Map;

/**
 * How far devices are with a change; the four add up to all that it moved.
 *
 * @param done they have it
 * @param waiting they have not been heard since, or their holder has to do something
 * @param failed they refused part of it
 * @param overtaken a later change moved them on, or they are no longer managed
 */
public record Progress(long done, long waiting, long failed, long overtaken) {

  /**
   * Counts.
   *
   * @param total how many devices the change moved
   * @param standings how those stand that it was the last to move
   */
  public static Progress of(long total, Map<Standing, Long> standings) {
    long done = standings.getOrDefault(Standing.SETTLED, 0L);
    long failed = standings.getOrDefault(Standing.BLOCKED, 0L);
    long retired = standings.getOrDefault(Standing.RETIRED, 0L);
    long all = standings.values().stream().mapToLong(Long::longValue).sum();
    long waiting = all - done - failed - retired;
    return new Progress(done, waiting, failed, total - done - waiting - failed);
  }
}
