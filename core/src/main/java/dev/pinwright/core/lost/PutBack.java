package dev.pinwright.core.lost;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/** What is done to a device that was found, so that it is as it was before it was lost. */
public final class PutBack {
  /** What undoes what, by the catalogue's keys. */
  private static final Map<String, String> UNDOES = new LinkedHashMap<>();

  static {
    UNDOES.put("lock", "unlock");
    UNDOES.put("lock-sim", "unlock-sim");
    UNDOES.put("leave-kiosk", "enter-kiosk");
  }

  private PutBack() {}

  /**
   * The commands that undo what was done since the report.
   *
   * @param done keys of commands that were ordered since, in that order; also those the device has
   *     not had yet, since it may
   */
  public static List<String> of(List<String> done) {
    List<String> out = new ArrayList<>();
    UNDOES.forEach(
        (did, undo) -> {
          if (done.lastIndexOf(did) > done.lastIndexOf(undo)) {
            out.add(undo);
          }
        });
    return out;
  }
}
