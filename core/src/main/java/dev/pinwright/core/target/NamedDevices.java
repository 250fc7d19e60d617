package dev.pinwright.core.target;

import java.util.Collection;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;

/**
 * Devices as somebody named them, one by one, by serial number, IMEI or asset number.
 *
 * @param found each once, in the order they were named in
 * @param unknown what no managed device has, in the same order
 * @param doubled what was named more than once, or names a device that something else names too
 * @param several what more than one device has: none of them is found by it
 */
public record NamedDevices(
    List<Found> found, List<String> unknown, List<String> doubled, List<String> several) {
  /** Most that can be named at once. */
  public static final int MOST = 10_000;

  /** A device that was found. */
  public record Found(String id, String name, String identifier) {}

  /** As it is compared: without the blanks around it, in capitals. */
  public static String plain(String typed) {
    return typed.strip().toUpperCase(Locale.ROOT);
  }

  /** What was typed, each once, without what is empty. */
  public static Set<String> plain(Collection<String> typed) {
    Set<String> out = new LinkedHashSet<>();
    typed.stream().map(NamedDevices::plain).filter(t -> !t.isEmpty()).forEach(out::add);
    return out;
  }

  /**
   * Sorts what was typed by what it names.
   *
   * @param matches every managed device that has one of {@link #plain} of it
   */
  public static NamedDevices of(List<String> typed, Collection<Found> matches) {
    Map<String, Set<Found>> by = new LinkedHashMap<>();
    matches.forEach(m -> by.computeIfAbsent(m.identifier(), i -> new LinkedHashSet<>()).add(m));
    Map<String, Found> found = new LinkedHashMap<>();
    Set<String> unknown = new LinkedHashSet<>();
    Set<String> doubled = new LinkedHashSet<>();
    Set<String> several = new LinkedHashSet<>();
    Set<String> seen = new LinkedHashSet<>();
    for (String t : typed) {
      String plain = plain(t);
      if (plain.isEmpty()) {
        continue;
      }
      if (!seen.add(plain)) {
        doubled.add(plain);
        continue;
      }
      Set<Found> devices = by.getOrDefault(plain, Set.of());
      if (devices.isEmpty()) {
        unknown.add(plain);
      } else if (devices.size() > 1) {
        several.add(plain);
      } else {
        Found one = devices.iterator().next();
        if (found.putIfAbsent(one.id(), one) != null) {
          doubled.add(plain);
        }
      }
    }
    return new NamedDevices(
        List.copyOf(found.values()),
        List.copyOf(unknown),
        List.copyOf(doubled),
        List.copyOf(several));
  }
}
