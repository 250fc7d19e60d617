package dev.pinwright.service;

import java.nio.charset.StandardCharsets;
import java.util.Base64;
import java.util.List;
import java.util.Optional;
import java.util.function.Function;

/**
 * One page of a list.
 *
 * @param next cursor of the page after it; absent on the last
 */
public record Page<T>(List<T> items, Optional<String> next) {
  /** Most items a page can hold. */
  public static final int MAX = 200;

  public Page {
    items = List.copyOf(items);
  }

  /**
   * What is asked for.
   *
   * @param after cursor as given by the page before, or empty
   * @param limit items, 1 to {@link #MAX}
   */
  public record Request(String after, int limit) {
    /**
     * @throws Problem 400 when the limit is out of bounds
     */
    public Request {
      if (limit < 1 || limit > MAX) {
        throw Problem.malformed("/limit", "limit has to be from 1 to " + MAX + ".");
      }
    }

    /** The parts the cursor was made of; empty without a cursor. */
    public String[] parts(int expected) {
      if (after.isEmpty()) {
        return new String[0];
      }
      try {
        String text = new String(Base64.getUrlDecoder().decode(after), StandardCharsets.UTF_8);
        String[] parts = text.split("\u0000", -1);
        if (parts.length == expected) {
          return parts;
        }
      } catch (IllegalArgumentException e) {
        // said below
      }
      throw Problem.malformed("/after", "This is not a cursor of this list.");
    }
  }

  /**
   * A number out of a cursor.
   *
   * @throws Problem 400 when it is none
   */
  public static long whole(String part) {
    if (!part.matches("\\d{1,18}")) {
      throw Problem.malformed("/after", "This is not a cursor of this list.");
    }
    return Long.parseLong(part);
  }

  /** A cursor. */
  public static String cursor(String... parts) {
    return Base64.getUrlEncoder()
        .withoutPadding()
        .encodeToString(String.join("\u0000", parts).getBytes(StandardCharsets.UTF_8));
  }

  /** A page out of {@code limit + 1} rows. */
  public static <R, T> Page<T> of(
      List<R> rows, int limit, Function<R, T> view, Function<R, String> cursor) {
    boolean more = rows.size() > limit;
    List<R> shown = more ? rows.subList(0, limit) : rows;
    return new Page<>(
        shown.stream().map(view).toList(),
        more ? Optional.of(cursor.apply(shown.get(limit - 1))) : Optional.empty());
  }
}
