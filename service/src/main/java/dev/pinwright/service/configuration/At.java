package dev.pinwright.service.configuration;

import dev.pinwright.service.work.Problem;
import java.util.function.Supplier;

/** Says of what goes wrong in which file it is. */
final class At {
  private At() {}

  /**
   * Does something on behalf of a file.
   *
   * @throws Problem what it threw, with the file before its words
   */
  static <T> T file(String file, Supplier<T> work) {
    try {
      return work.get();
    } catch (Problem p) {
      throw p.about(file);
    }
  }
}
