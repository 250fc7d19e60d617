package dev.pinwright.core.configuration;

import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;

/**
 * One difference between two trees of maps, lists and plain values.
 *
 * @param where the keys down to it, with spaces between
 * @param before what was there; empty where nothing was
 * @param after what is there now; empty where nothing is
 */
public record Difference(String where, Optional<String> before, Optional<String> after) {

  /** Every difference between two trees, maps by key; what is in a list is told as a whole. */
  public static List<Difference> between(@Nullable Object before, @Nullable Object after) {
    List<Difference> all = new ArrayList<>();
    walk("", before, after, all);
    return all;
  }

  private static void walk(
      String where, @Nullable Object before, @Nullable Object after, List<Difference> all) {
    if (Objects.equals(before, after)) {
      return;
    }
    if (before instanceof Map<?, ?> b && after instanceof Map<?, ?> a) {
      keys(b, a).forEach(key -> walk((where + " " + key).strip(), b.get(key), a.get(key), all));
    } else if (before instanceof Map<?, ?> b && after == null) {
      walk(where, b, Map.of(), all);
    } else if (before == null && after instanceof Map<?, ?> a) {
      walk(where, Map.of(), a, all);
    } else if (before instanceof List<?> b && after instanceof List<?> a) {
      elements(where, b, a, all);
    } else {
      all.add(new Difference(where, words(before), words(after)));
    }
  }

  /** Of lists what went and what came; their order where that alone is another. */
  private static void elements(String where, List<?> before, List<?> after, List<Difference> all) {
    Set<Object> gone = new LinkedHashSet<>(before);
    gone.removeAll(new LinkedHashSet<Object>(after));
    Set<Object> come = new LinkedHashSet<>(after);
    come.removeAll(new LinkedHashSet<Object>(before));
    if (gone.isEmpty() && come.isEmpty()) {
      all.add(new Difference(where, words(before), words(after)));
      return;
    }
    gone.forEach(x -> all.add(new Difference(where, words(x), Optional.empty())));
    come.forEach(x -> all.add(new Difference(where, Optional.empty(), words(x))));
  }

  private static Set<String> keys(Map<?, ?> before, Map<?, ?> after) {
    Set<String> keys = new TreeSet<>();
    before.keySet().forEach(k -> keys.add(String.valueOf(k)));
    after.keySet().forEach(k -> keys.add(String.valueOf(k)));
    return keys;
  }

  private static Optional<String> words(@Nullable Object value) {
    if (value == null) {
      return Optional.empty();
    }
    if (value instanceof List<?> list) {
      return Optional.of(
          list.stream().map(x -> words(x).orElse("nothing")).collect(Collectors.joining(", ")));
    }
    if (value instanceof Map<?, ?> map) {
      return Optional.of(
          map.entrySet().stream()
              .map(e -> e.getKey() + " " + words(e.getValue()).orElse("nothing"))
              .collect(Collectors.joining(", ")));
    }
    return Optional.of(String.valueOf(value));
  }
}
