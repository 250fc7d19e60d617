package dev.pinwright.storage.organisation;

import dev.pinwright.core.Words;
import dev.pinwright.storage.Tx;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;

/** What still depends on a row that somebody wants to delete. */
final class Uses {
  private Uses() {}

  /**
   * What may depend on it.
   *
   * @param one what one of it is called
   * @param many what several are called
   * @param rows the rows of it: a table and a condition on {@code :id}
   */
  record Use(String one, String many, String rows) {
    String count() {
      return "select '%s' as one, '%s' as many, count(*) as n from %s".formatted(one, many, rows);
    }
  }

  private record Counted(String one, String many, long n) {}

  /** What is counted and how many, such as {@code 3 devices}; what is zero is left out. */
  static List<String> of(Tx tx, String id, List<Use> uses) {
    String counts = uses.stream().map(Use::count).collect(Collectors.joining(" union all "));
    return tx
        .select(
            Counted.class,
            "select one, many, n from (" + counts + ") c where n > 0 order by many",
            Map.of("id", id))
        .stream()
        .map(c -> Words.counted(c.n(), c.one(), c.many()))
        .toList();
  }
}
