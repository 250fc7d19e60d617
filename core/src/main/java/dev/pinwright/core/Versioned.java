package dev.pinwright.core;

import java.util.Arrays;
import org.jspecify.annotations.Nullable;

/** Something whose changes are counted, so that nobody overwrites what they have not seen. */
public interface Versioned {
  /** How often it was changed. */
  int version();

  /**
   * A version for what nobody counts the changes of: another one, but once in a billion, for other
   * content.
   *
   * @param content texts, numbers and lists of them, in a fixed order
   */
  static int of(@Nullable Object... content) {
    return Math.floorMod(Arrays.hashCode(content), 1_000_000_000);
  }
}
