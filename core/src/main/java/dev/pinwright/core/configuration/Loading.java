package dev.pinwright.core.configuration;

import java.util.ArrayList;
import java.util.EnumMap;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;

/** What loading files does to what is there. */
public final class Loading {
  private Loading() {}

  /**
   * A thing, there or in a file.
   *
   * @param tree what it says: maps, lists and plain values by key
   * @param file where it is; empty for what is there
   */
  public record Entry(Map<String, ?> tree, String file) {
    /** This, saying something more. */
    public Entry with(String key, Object value) {
      Map<String, Object> more = new TreeMap<>(tree);
      more.put(key, value);
      return new Entry(more, file);
    }
  }

  /**
   * The steps, part by part in the order in which they are written. A part that is not wanted stays
   * as it is; so does what is in no file, unless deleting was asked for. Terms always stay: they
   * were accepted.
   *
   * @param now what is there, by what tells things of a part apart
   * @param wanted what is in files, likewise
   */
  public static List<Step> steps(
      Map<Part, Map<String, Entry>> now, Map<Part, Map<String, Entry>> wanted, boolean delete) {
    List<Step> steps = new ArrayList<>();
    new EnumMap<>(wanted)
        .forEach(
            (part, things) -> {
              Map<String, Entry> there = now.getOrDefault(part, Map.of());
              things.forEach(
                  (name, thing) -> written(part, name, there.get(name), thing).forEach(steps::add));
              Step.Verb gone = delete && part != Part.TERMS ? Step.Verb.DELETE : Step.Verb.STAY;
              there.keySet().stream()
                  .filter(name -> !things.containsKey(name))
                  .forEach(name -> steps.add(new Step(part, name, "", gone, List.of())));
            });
    return steps;
  }

  private static Stream<Step> written(Part part, String name, @Nullable Entry there, Entry thing) {
    if (there == null) {
      return Stream.of(new Step(part, name, thing.file(), Step.Verb.ADD, List.of()));
    }
    List<Difference> differences = Difference.between(there.tree(), thing.tree());
    return differences.isEmpty()
        ? Stream.empty()
        : Stream.of(new Step(part, name, thing.file(), Step.Verb.CHANGE, differences));
  }
}
