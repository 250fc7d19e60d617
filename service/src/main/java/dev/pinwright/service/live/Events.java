package dev.pinwright.service.live;

import dev.pinwright.storage.Database;
import dev.pinwright.storage.Notices;
import java.util.List;
import java.util.Set;
import java.util.TreeSet;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.CopyOnWriteArrayList;
import java.util.concurrent.Executors;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.TimeUnit;
import java.util.function.Consumer;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * Tells consoles which lists have changed. Touches are gathered for a quarter of a second and sent
 * to all nodes as one notice, so a thousand check-ins cost four notices a second and not a
 * thousand.
 */
public final class Events implements AutoCloseable {
  private static final Logger LOG = LoggerFactory.getLogger(Events.class);
  private static final String TOPIC = "event";
  private static final long GATHER_MILLIS = 250;

  private final Database database;
  private final Set<String> touched = ConcurrentHashMap.newKeySet();
  private final List<Consumer<Set<String>>> listeners = new CopyOnWriteArrayList<>();
  private final ScheduledExecutorService timer =
      Executors.newSingleThreadScheduledExecutor(r -> daemon(r, "events"));

  public Events(Database database, Notices notices) {
    this.database = database;
    notices.onNotice(
        (topic, payload) -> {
          if (topic.equals(TOPIC)) {
            Set<String> topics = Set.of(payload.split(","));
            listeners.forEach(l -> l.accept(topics));
          } else if (topic.equals(Notices.RESUMED)) {
            listeners.forEach(l -> l.accept(Set.of("everything")));
          }
        });
    timer.scheduleWithFixedDelay(this::send, GATHER_MILLIS, GATHER_MILLIS, TimeUnit.MILLISECONDS);
  }

  static Thread daemon(Runnable r, String name) {
    Thread t = new Thread(r, name);
    t.setDaemon(true);
    return t;
  }

  /** Notes that something of a topic has changed: devices, arrivals, profiles, changes … */
  public void touch(String topic) {
    touched.add(topic);
  }

  private void send() {
    Set<String> topics = new TreeSet<>();
    for (String t : touched) {
      if (touched.remove(t)) {
        topics.add(t);
      }
    }
    if (topics.isEmpty()) {
      return;
    }
    try {
      database.run(tx -> tx.notice(TOPIC, String.join(",", topics)));
    } catch (RuntimeException e) {
      touched.addAll(topics);
      LOG.warn("events held back: {}", e.getMessage());
    }
  }

  /** Adds a listener of topics; the returned action takes it away. */
  public Runnable listen(Consumer<Set<String>> listener) {
    listeners.add(listener);
    return () -> listeners.remove(listener);
  }

  @Override
  public void close() {
    timer.shutdownNow();
  }
}
