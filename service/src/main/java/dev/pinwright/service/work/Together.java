package dev.pinwright.service.work;

import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Queue;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.CompletionException;
import java.util.function.Function;

/**
 * Answers questions that come at the same time together. One question alone is answered at once;
 * while it is, others gather and are the next to be answered, all of them with one look. A question
 * is only ever answered by a look that began after it was asked.
 */
public final class Together<K, V> {
  private final int most;
  private final Function<List<K>, Map<K, V>> look;
  private final Queue<Asked<K, V>> waiting = new ArrayDeque<>();
  private boolean underWay;

  /**
   * @param most questions answered with one look
   * @param look finds what there is for keys; a key may come more than once
   */
  public Together(int most, Function<List<K>, Map<K, V>> look) {
    this.most = most;
    this.look = look;
  }

  /** A question: once it is {@code next}, whoever asked it looks for all who wait. */
  private record Asked<K, V>(
      K key, CompletableFuture<Boolean> next, CompletableFuture<Optional<V>> answer) {
    Asked(K key) {
      this(key, new CompletableFuture<>(), new CompletableFuture<>());
    }
  }

  /**
   * What there is for a key; empty when there is nothing. Throws what the look threw, to all who
   * were answered by it.
   */
  public Optional<V> ask(K key) {
    Asked<K, V> mine = new Asked<>(key);
    synchronized (this) {
      if (underWay) {
        waiting.add(mine);
      } else {
        underWay = true;
        mine.next().complete(true);
      }
    }
    if (mine.next().join()) {
      lookFor(mine);
    }
    try {
      return mine.answer().join();
    } catch (CompletionException e) {
      if (e.getCause() instanceof RuntimeException thrown) {
        throw thrown;
      }
      throw e;
    }
  }

  private void lookFor(Asked<K, V> mine) {
    List<Asked<K, V>> all = new ArrayList<>(List.of(mine));
    synchronized (this) {
      while (all.size() < most && !waiting.isEmpty()) {
        all.add(waiting.remove());
      }
    }
    try {
      Map<K, V> found = look.apply(all.stream().map(Asked::key).toList());
      all.forEach(a -> a.answer().complete(Optional.ofNullable(found.get(a.key()))));
    } catch (RuntimeException | Error e) {
      all.forEach(a -> a.answer().completeExceptionally(e));
    } finally {
      handOn();
      all.stream().skip(1).forEach(a -> a.next().complete(false));
    }
  }

  private void handOn() {
    Asked<K, V> next;
    synchronized (this) {
      next = waiting.poll();
      underWay = next != null;
    }
    if (next != null) {
      next.next().complete(true);
    }
  }
}
