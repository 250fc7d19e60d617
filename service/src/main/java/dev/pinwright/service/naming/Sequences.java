package dev.pinwright.service.naming;

import dev.pinwright.core.intake.Numbers;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Page;
import dev.pinwright.service.work.Role;
import dev.pinwright.storage.Database;
import dev.pinwright.storage.Tx;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * Running numbers in names. A number is reserved in the transaction that lets a device in: on any
 * number of nodes none is given out twice, and one whose device was not let in after all is given
 * to the next.
 */
public final class Sequences {
  private static final int MOST_NAMES = 100_000;
  private final Database database;

  public Sequences(Database database) {
    this.database = database;
  }

  /**
   * A sequence and what is wrong with it.
   *
   * @param key the name with {@code #} where the number stands
   * @param last the highest number given out
   * @param missing numbers no managed device has, as {@code 11} or {@code 14 to 16}
   * @param doubled numbers several managed devices have
   */
  public record Sequence(
      String key, long last, long devices, List<String> missing, List<Long> doubled) {}

  /**
   * Reserves a number. Everybody else who wants one of this sequence waits until the transaction
   * ends, so this is called as late as can be.
   *
   * @param first the least number to give out
   * @param fillGaps whether a number that became free is given out before a new one
   */
  public static long reserve(
      Tx tx, String key, String deviceId, long first, boolean fillGaps, Instant now) {
    tx.execute(
        "insert into sequence (key, last, first_number) values (:k, :f - 1, :f)"
            + " on conflict do nothing",
        Map.of("k", key, "f", first));
    long last =
        tx.value(
            "select last from sequence where key = :k for update", Long.class, Map.of("k", key));
    long number = Math.max(last + 1, first);
    if (fillGaps) {
      List<Object[]> free =
          tx.rows(
              "select number, 1 from sequence_number where key = :k and freed_at is not null"
                  + " and number >= :f order by number limit 1",
              Map.of("k", key, "f", first));
      if (!free.isEmpty()) {
        number = ((Number) free.get(0)[0]).longValue();
        tx.execute(
            "update sequence_number set device_id = :d, taken_at = :now, freed_at = null"
                + " where key = :k and number = :n",
            Map.of("k", key, "n", number, "d", deviceId, "now", now));
        return number;
      }
    }
    tx.execute("update sequence set last = :n where key = :k", Map.of("k", key, "n", number));
    tx.execute(
        "insert into sequence_number (key, number, device_id, taken_at) values (:k, :n, :d, :now)",
        Map.of("k", key, "n", number, "d", deviceId, "now", now));
    return number;
  }

  /** A device that leaves gives its number back. */
  public static void free(Tx tx, String deviceId, Instant now) {
    tx.execute(
        "update sequence_number set freed_at = :now where device_id = :d and freed_at is null",
        Map.of("d", deviceId, "now", now));
  }

  /** A device that comes back has its number again, unless another device got it meanwhile. */
  public static void takeBack(Tx tx, String deviceId) {
    tx.execute(
        "update sequence_number set freed_at = null where device_id = :d", Map.of("d", deviceId));
  }

  /** Sequences by key, each with the numbers that are missing or doubled among managed devices. */
  public Page<Sequence> page(Caller caller, Page.Request page) {
    caller.needs(Role.READER);
    String[] c = page.parts(Page.Part.TEXT);
    return database.call(
        tx ->
            Page.of(
                tx.rows(
                    "select key, last, first_number from sequence where key > :k order by key limit :limit",
                    Map.of("k", c.length == 0 ? "" : c[0], "limit", page.limit() + 1)),
                page.limit(),
                r -> sequence(tx, r),
                r -> Page.cursor((String) r[0])));
  }

  /** One sequence by key; empty when no number of it was given out. */
  public static Optional<Sequence> find(Tx tx, String key) {
    return tx
        .rows("select key, last, first_number from sequence where key = :k", Map.of("k", key))
        .stream()
        .findFirst()
        .map(r -> sequence(tx, r));
  }

  private static Sequence sequence(Tx tx, Object[] row) {
    String key = (String) row[0];
    long last = ((Number) row[1]).longValue();
    int at = key.indexOf('#');
    String before = key.substring(0, at);
    String after = key.substring(at + 1);
    Pattern name = Pattern.compile(Pattern.quote(before) + "(\\d{1,9})" + Pattern.quote(after));
    List<Long> numbers = new ArrayList<>();
    tx.rows(
            "select name, 1 from device where retired_at is null and starts_with(name, :b)"
                + " limit :most",
            Map.of("b", before, "most", MOST_NAMES))
        .forEach(
            r -> {
              Matcher m = name.matcher((String) r[0]);
              if (m.matches()) {
                numbers.add(Long.parseLong(m.group(1)));
              }
            });
    Numbers found = Numbers.of(numbers, ((Number) row[2]).longValue(), last);
    return new Sequence(
        key,
        last,
        numbers.size(),
        found.missing().stream().map(Numbers.Range::toString).toList(),
        found.doubled());
  }
}
