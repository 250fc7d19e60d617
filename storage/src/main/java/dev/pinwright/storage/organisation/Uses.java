package dev.pinwright.storage.organisation;

import dev.pinwright.storage.Tx;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;

/** What still depends on a row that somebody wants to delete. */
final class Uses {
  private Uses() {}

  private record Counted(String what, long n) {}

  /**
   * What is counted and how many, such as {@code 3 devices}; what is zero is left out.
   *
   * @param rows what is counted, with the rows of it: a table and a condition on {@code :id}
   */
  static List<String> of(Tx tx, String id, Map<String, String> rows) {
    String counts =
        rows.entrySet().stream()
            .map(
                e ->
                    "select '%s' as what, count(*) as n from %s"
                        .formatted(e.getKey(), e.getValue()))
            .collect(Collectors.joining(" union all "));
    return tx
        .select(
            Counted.class,
            "select what, n from (" + counts + ") c where n > 0 order by what",
            Map.of("id", id))
        .stream()
        .map(c -> c.n() + " " + c.what())
        .toList();
  }
}
