package dev.pinwright.core.group;

import dev.pinwright.core.Versioned;
import java.util.List;
import java.util.Optional;

/**
 * A group as people see it.
 *
 * @param rule which devices are in it by themselves, in words; absent in a group picked by hand
 * @param inside groups whose devices are in it too, by name
 * @param devices how many devices are in it
 * @param picked how many of them were picked by hand
 */
public record DeviceGroup(
    String id,
    int version,
    String name,
    Optional<String> rule,
    List<Inner> inside,
    long devices,
    long picked)
    implements Versioned {
  /** A group by id and name. */
  public record Inner(String id, String name) {}

  public DeviceGroup {
    inside = List.copyOf(inside);
  }
}
