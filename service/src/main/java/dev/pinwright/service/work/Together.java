package dev.pinwright.service.work;

import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Queue;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.Executor;
import java.util.function.Function;

/**
 * Answers questions that come at the same time together. One question alone is answered at once;
 * while it is, others gather and are the next to be answered, all of them with one look. A question
 * is only ever answered by a look that began after it was asked.
 *
 * <p>Nobody waits: whoever asks goes on, and what depends on the answer is done by the thread that
 * looked. That must be short, since the next look waits for it.
 */
public final class Together<K, V> {
  private final int most;
  private final Executor lookers;
  private final Function<List<K>, Map<K, V>> look;
  private final Queue<Asked<K, V>> waiting = new ArrayDeque<>();
  private boolean underWay;

  /**
   * @param most questions answered with one look
   * @param lookers runs looks, one after the other
   * @param look finds what there is for keys; a key may come more than once
   */
  public Together(int most, Executor lookers, Function<List<K>, Map<K, V>> look) {
    this.most = most;
    this.lookers = lookers;
    this.look = look;
  }

  private record Asked<K, V>(K key, CompletableFuture<Optional<V>> answer) {}

  /**
   * What there is for a key; empty when there is nothing. Ends with what the look threw, for all
   * who were to be answered by it.
   */
  public CompletableFuture<Optional<V>> ask(K key) {
    Asked<K, V> mine = new Asked<>(key, new CompletableFuture<>());
    boolean begin;
    synchronized (this) {
      waiting.add(mine);
      begin = !underWay;
      underWay = true;
    }
    if (begin) {
      lookers.execute(this::lookWhileAnybodyWaits);
    }
    return mine.answer();
  }

  private void lookWhileAnybodyWaits() {
    for (List<Asked<K, V>> all = next(); !all.isEmpty(); all = next()) {
      Map<K, V> found;
      try {
        found = look.apply(all.stream().map(Asked::key).toList());
      } catch (RuntimeException | Error e) {
        all.forEach(a -> a.answer().completeExceptionally(e));
        continue;
      }
      all.forEach(a -> a.answer().complete(Optional.ofNullable(found.get(a.key()))));
    }
  }

  /** Those who are next; when nobody waits, no look is under way any longer. */
  private synchronized List<Asked<K, V>> next() {
    List<Asked<K, V>> all = new ArrayList<>();
    while (all.size() < most && !waiting.isEmpty()) {
      all.add(waiting.remove());
    }
    underWay = !all.isEmpty();
    return all;
  }
}
