package dev.pinwright.service.organisation;

import dev.pinwright.service.work.Problem;
import dev.pinwright.storage.Tx;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;

/** What still depends on something somebody wants to delete. */
final class InUse {
  private InUse() {}

  /** Counts by what is counted; those that are zero are left out. Each query has {@code :id}. */
  static List<String> of(Tx tx, String id, Map<String, String> counts) {
    List<String> out = new ArrayList<>();
    new TreeMap<>(counts)
        .forEach(
            (what, sql) -> {
              long n = tx.value(sql, Long.class, Map.of("id", id));
              if (n > 0) {
                out.add(n + " " + what);
              }
            });
    return out;
  }

  /**
   * @throws Problem 409 when anything does
   */
  static void refuse(String what, List<String> uses) {
    if (!uses.isEmpty()) {
      throw Problem.conflict("in-use", what + " is still used by " + String.join(", ", uses) + ".");
    }
  }
}
