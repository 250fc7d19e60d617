package dev.pinwright.service.naming;

import dev.pinwright.core.naming.Numbers;
import dev.pinwright.service.usecase.UseCases;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Page;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.naming.SequenceStore;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.function.LongFunction;

/**
 * Running numbers in names. A number is reserved in the transaction that lets a device in: on any
 * number of nodes none is given out twice, and one whose device was not let in after all is given
 * to the next.
 */
public final class Sequences {
  private static final int MOST_NAMES = 100_000;
  private final UseCases useCases;

  public Sequences(UseCases useCases) {
    this.useCases = useCases;
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
   * @param kept the number that is kept for it, by the last of the sequence; empty for any
   * @param fillGaps whether a number that became free is given out before a new one
   */
  public static long reserve(
      Tx tx,
      String key,
      String deviceId,
      long first,
      boolean fillGaps,
      LongFunction<Optional<Long>> kept,
      Instant now) {
    SequenceStore store = new SequenceStore(tx);
    long last = store.hold(key, first);
    Optional<Long> own = kept.apply(Math.max(last, first - 1));
    if (own.isPresent()) {
      store.take(key, own.get(), deviceId, now);
      return own.get();
    }
    Optional<Long> free = fillGaps ? store.free(key, first) : Optional.empty();
    if (free.isPresent()) {
      store.reuse(key, free.get(), deviceId, now);
      return free.get();
    }
    long number = Math.max(last + 1, first);
    store.take(key, number, deviceId, now);
    return number;
  }

  /** Sequences by key, each with the numbers that are missing or doubled among managed devices. */
  public Page<Sequence> page(Caller caller, Page.Request page) {
    String[] c = page.parts(Page.Part.TEXT);
    return useCases.read(
        tx -> {
          SequenceStore store = new SequenceStore(tx);
          return Page.of(
              store.page(c.length == 0 ? "" : c[0], page.limit() + 1),
              page.limit(),
              s -> looked(store, s),
              s -> Page.cursor(s.key()));
        });
  }

  /** One sequence by key; empty when no number of it was given out. */
  public static Optional<Sequence> find(Tx tx, String key) {
    SequenceStore store = new SequenceStore(tx);
    return store.find(key).map(s -> looked(store, s));
  }

  private static Sequence looked(SequenceStore store, SequenceStore.Sequence s) {
    Numbers found =
        Numbers.inNames(
            s.key(),
            store.names(Numbers.beginning(s.key()), MOST_NAMES),
            s.firstNumber(),
            s.last());
    return new Sequence(
        s.key(),
        s.last(),
        found.devices(),
        found.missing().stream().map(Numbers.Range::toString).toList(),
        found.doubled());
  }
}
