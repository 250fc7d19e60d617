package dev.pinwright.service;

import dev.pinwright.storage.Tx;
import org.jspecify.annotations.Nullable;

/** References in what an administrator writes. */
public final class Known {
  private Known() {}

  /**
   * The id given, if there is such a row; null for none given.
   *
   * @param what what the row is, for the error and its place
   * @throws Problem 400 when there is no such row
   */
  public static @Nullable String id(Tx tx, Class<?> type, String what, @Nullable String id) {
    if (id == null || id.isEmpty()) {
      return null;
    }
    if (tx.find(type, id).isEmpty()) {
      throw Problem.malformed("/" + what + "Id", "There is no " + what + " " + id + ".");
    }
    return id;
  }
}
