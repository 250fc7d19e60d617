package dev.pinwright.core.change;

import dev.pinwright.core.Sha256;
import java.util.Collection;
import java.util.Collections;
import java.util.List;

/**
 * The devices a change has reached, wave by wave: a share of all, the same ones at whatever time
 * one asks, and the members of some groups.
 *
 * @param salt makes other devices the first ones of every change
 * @param reach how many of ten thousand devices
 * @param groups ids of the groups whose members are reached besides
 */
public record Wave(String salt, int reach, List<String> groups) {
  /** What {@link #reach} is out of. */
  public static final int ALL = 10_000;

  private static final int DIGITS = 7;

  public Wave {
    groups = List.copyOf(groups);
    if (reach < 0 || reach > ALL) {
      throw new IllegalArgumentException("a wave reaches from 0 to " + ALL);
    }
  }

  /**
   * Whether it has reached a device.
   *
   * @param inGroups ids of the groups the device is in
   */
  public boolean reached(String deviceId, Collection<String> inGroups) {
    return bucket(salt, deviceId) < reach || !Collections.disjoint(groups, inGroups);
  }

  /**
   * Where among all a device comes, from 0 to {@link #ALL} - 1; {@code wave_bucket} in the database
   * is the same.
   */
  static int bucket(String salt, String deviceId) {
    return Integer.parseInt(Sha256.hex(salt + deviceId).substring(0, DIGITS), 16) % ALL;
  }
}
