package dev.pinwright.service.work;

import dev.pinwright.core.Text;
import dev.pinwright.storage.After;
import java.nio.ByteBuffer;
import java.nio.charset.CharacterCodingException;
import java.nio.charset.StandardCharsets;
import java.time.OffsetDateTime;
import java.time.format.DateTimeFormatter;
import java.time.format.DateTimeFormatterBuilder;
import java.time.format.DateTimeParseException;
import java.time.format.ResolverStyle;
import java.util.Base64;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.function.BiFunction;
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

    /**
     * The parts the cursor was made of; empty without a cursor.
     *
     * @throws Problem 400 when the cursor is none, or one of another list
     */
    public String[] parts(Part... expected) {
      if (after.isEmpty()) {
        return new String[0];
      }
      try {
        byte[] bytes = Base64.getUrlDecoder().decode(after);
        String text = StandardCharsets.UTF_8.newDecoder().decode(ByteBuffer.wrap(bytes)).toString();
        String[] parts = text.split("\u0000", -1);
        boolean fits = parts.length == expected.length;
        for (int i = 0; fits && i < parts.length; i++) {
          fits = expected[i].takes(parts[i]);
        }
        if (fits) {
          return parts;
        }
      } catch (IllegalArgumentException | CharacterCodingException e) {
        // said below
      }
      throw Problem.malformed("/after", "This is not a cursor of this list.");
    }
  }

  /** What a part of a cursor can be; nothing else gets as far as a statement. */
  public enum Part {
    /** A text as {@link Text#line} lets it through. */
    TEXT {
      @Override
      boolean takes(String part) {
        return Text.line(part).equals(part);
      }
    },
    /** A whole number of up to nine digits. */
    WHOLE {
      @Override
      boolean takes(String part) {
        return part.matches("\\d{1,9}");
      }
    },
    /** A number of up to eighteen digits. */
    LONG {
      @Override
      boolean takes(String part) {
        return part.matches("\\d{1,18}");
      }
    },
    /** A time as PostgreSQL writes it in UTC, or infinity. */
    TIME {
      @Override
      boolean takes(String part) {
        if (part.equals("infinity") || part.equals("-infinity")) {
          return true;
        }
        try {
          OffsetDateTime.parse(part, WRITTEN);
          return true;
        } catch (DateTimeParseException e) {
          return false;
        }
      }
    };

    private static final DateTimeFormatter WRITTEN =
        new DateTimeFormatterBuilder()
            .append(DateTimeFormatter.ISO_LOCAL_DATE)
            .appendLiteral(' ')
            .append(DateTimeFormatter.ISO_LOCAL_TIME)
            .appendOffset("+HH:mm", "+00")
            .toFormatter(Locale.ROOT)
            .withResolverStyle(ResolverStyle.STRICT);

    abstract boolean takes(String part);
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

  /** A page out of {@code limit + 1} items as they are shown. */
  public static <T> Page<T> of(List<T> items, int limit, Function<T, String> cursor) {
    return of(items, limit, Function.identity(), cursor);
  }

  /**
   * A page of a list that is ordered by name, in small letters, and id.
   *
   * @param items reads at most so many after a place
   */
  public static <T> Page<T> byName(
      BiFunction<After, Integer, List<T>> items,
      Request page,
      Function<T, String> name,
      Function<T, String> id) {
    String[] c = page.parts(Part.TEXT, Part.TEXT);
    After after = c.length == 0 ? After.START : new After(c[0], c[1]);
    return of(
        items.apply(after, page.limit() + 1),
        page.limit(),
        i -> cursor(name.apply(i).toLowerCase(Locale.ROOT), id.apply(i)));
  }
}
