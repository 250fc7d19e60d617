package dev.pinwright.core.compliance;

/**
 * A check: the devices of a group are not in order.
 *
 * @param version for {@code If-Match}
 * @param groupId of the group whose devices it finds
 * @param advice what the device tells its holder to do about it
 */
public record Check(
    String id, int version, String name, String groupId, String advice, Ladder ladder) {
  /** Most checks there are. */
  public static final int MOST = 50;
}
