package dev.pinwright.core.group;

import dev.pinwright.core.query.Device;
import dev.pinwright.core.query.DeviceQuery;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Collection;
import java.util.Deque;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;

/**
 * All groups that have a rule or groups inside, each after those it follows from. Devices picked by
 * hand are told with each question.
 */
public final class Grouping {
  /**
   * What makes a group's devices, besides those picked for it by hand.
   *
   * @param rule devices it names are in; absent without one
   * @param inside ids of groups whose devices are in it too
   * @param asked ids of groups its rule asks for
   */
  public record Definition(
      String id, Optional<DeviceQuery> rule, Set<String> inside, Set<String> asked) {
    public Definition {
      inside = Set.copyOf(inside);
      asked = Set.copyOf(asked);
    }

    /** Ids of the groups it follows from. */
    public Set<String> from() {
      Set<String> from = new TreeSet<>(inside);
      from.addAll(asked);
      return from;
    }
  }

  private final Map<String, Definition> ordered = new LinkedHashMap<>();

  /**
   * Puts definitions in order.
   *
   * @throws IllegalArgumentException when a group would follow from itself; see {@link #circle}
   */
  public Grouping(Collection<Definition> definitions) {
    Map<String, Definition> all = new TreeMap<>();
    definitions.forEach(d -> all.put(d.id(), d));
    List<String> circle = circle(definitions);
    if (!circle.isEmpty()) {
      throw new IllegalArgumentException("groups in a circle: " + circle);
    }
    all.keySet().forEach(id -> after(id, all));
  }

  private void after(String id, Map<String, Definition> all) {
    Definition d = all.get(id);
    if (d == null || ordered.containsKey(id)) {
      return;
    }
    d.from().forEach(f -> after(f, all));
    ordered.put(id, d);
  }

  /** The definitions, each after those it follows from. */
  public List<Definition> ordered() {
    return List.copyOf(ordered.values());
  }

  /** Some groups and all that follow from them, each after those it follows from. */
  public List<Definition> following(Collection<String> ids) {
    Set<String> moved = new TreeSet<>(ids);
    List<Definition> out = new ArrayList<>();
    for (Definition d : ordered.values()) {
      if (moved.contains(d.id()) || d.from().stream().anyMatch(moved::contains)) {
        moved.add(d.id());
        out.add(d);
      }
    }
    return out;
  }

  /**
   * The groups a device is in.
   *
   * @param device the groups it says it is in count for nothing
   * @param picked ids of the groups it was picked for by hand
   */
  public Set<String> of(Device device, Set<String> picked) {
    Set<String> in = new TreeSet<>(picked);
    if (device.retired()) {
      return Set.of();
    }
    for (Definition d : ordered.values()) {
      boolean inside = d.inside().stream().anyMatch(in::contains);
      if (inside || d.rule().isPresent() && d.rule().get().test(device.in(in))) {
        in.add(d.id());
      }
    }
    return in;
  }

  /**
   * A way on which a group follows from itself, from it back to it, shortest first; empty when
   * there is none.
   */
  public static List<String> circle(Collection<Definition> definitions) {
    Map<String, Set<String>> from = new TreeMap<>();
    definitions.forEach(d -> from.put(d.id(), d.from()));
    List<String> shortest = List.of();
    for (String id : from.keySet()) {
      List<String> way = way(id, from);
      if (!way.isEmpty() && (shortest.isEmpty() || way.size() < shortest.size())) {
        shortest = way;
      }
    }
    return shortest;
  }

  private static List<String> way(String to, Map<String, Set<String>> from) {
    Deque<List<String>> ways = new ArrayDeque<>(List.of(List.of(to)));
    Set<String> been = new LinkedHashSet<>();
    while (!ways.isEmpty()) {
      List<String> way = ways.remove();
      for (String next : from.getOrDefault(way.get(way.size() - 1), Set.of())) {
        List<String> further = new ArrayList<>(way);
        further.add(next);
        if (next.equals(to)) {
          return further;
        }
        if (been.add(next)) {
          ways.add(further);
        }
      }
    }
    return List.of();
  }
}
