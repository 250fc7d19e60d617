package dev.pinwright.service.work;

import dev.pinwright.core.organisation.TagList;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.row.Removable;
import java.util.List;
import java.util.function.ToIntFunction;
import org.jspecify.annotations.Nullable;

/** What is on file already: references in what an administrator writes, and rows to change. */
public final class Known {
  private static final int LONGEST_NAME = 80;

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
    if (tx.find(type, id).filter(row -> !(row instanceof Removable r && r.removed())).isEmpty()) {
      throw Problem.malformed("/" + what + "Id", "There is no " + what + " " + id + ".");
    }
    return id;
  }

  /**
   * A row that somebody names.
   *
   * @param what what the row is, for the error
   * @param pointer where it is named
   * @throws Problem 400 when there is no such row
   */
  public static <R> R row(Tx tx, Class<R> type, String what, String pointer, String id) {
    return tx.find(type, id)
        .orElseThrow(() -> Problem.malformed(pointer, "There is no " + what + " " + id + "."));
  }

  /**
   * A name as it is kept, without the spaces around it.
   *
   * @throws Problem 400 when it is empty or longer than 80 characters
   */
  public static String name(@Nullable String written) {
    String name = written == null ? "" : written.strip();
    if (name.isEmpty() || name.length() > LONGEST_NAME) {
      throw Problem.malformed("/name", "A name has 1 to 80 characters.");
    }
    return name;
  }

  /**
   * Tags as they are kept.
   *
   * @throws Problem 400 when there are too many, or one cannot be a tag
   */
  public static List<String> tags(@Nullable List<String> written) {
    return Problem.reading("/tags", () -> TagList.sound(written == null ? List.of() : written));
  }

  /**
   * A row to be changed, locked until the end of the transaction.
   *
   * @param what what the row is, for the error
   * @param version the version the caller has seen
   * @throws Problem 404 when there is no such row, 412 when someone else changed it meanwhile
   */
  public static <R> R locked(
      Tx tx, Class<R> type, String what, String id, int version, ToIntFunction<R> versionOf) {
    R row = tx.lock(type, id).orElseThrow(() -> Problem.notFound(what, id));
    unchanged(what, version, versionOf.applyAsInt(row));
    return row;
  }

  /**
   * Goes on when nobody changed something after it was seen.
   *
   * @param seen the version the caller has seen
   * @throws Problem 412 with the version there is
   */
  public static void unchanged(String what, int seen, int version) {
    if (seen != version) {
      throw Problem.changedMeanwhile(what, version);
    }
  }

  /**
   * Goes on when nothing depends on what is to be deleted.
   *
   * @throws Problem 409 naming what does
   */
  public static void unused(String what, List<String> uses) {
    if (!uses.isEmpty()) {
      throw Problem.conflict("in-use", what + " is still used by " + String.join(", ", uses) + ".");
    }
  }
}
