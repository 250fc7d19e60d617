package dev.pinwright.storage;

import java.sql.Connection;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.List;
import java.util.concurrent.CopyOnWriteArrayList;
import java.util.function.BiConsumer;
import org.postgresql.PGConnection;
import org.postgresql.PGNotification;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * Notices between nodes by LISTEN/NOTIFY: a topic, a space and a payload. They are hints, sent when
 * a transaction commits; whoever misses one finds the truth in the tables. After a lost connection
 * listeners are told the topic {@link #RESUMED}, so that they look again.
 */
public final class Notices implements AutoCloseable {
  /** Topic sent after notices may have been missed. */
  public static final String RESUMED = "resumed";

  static final String CHANNEL = "pinwright";
  private static final Logger LOG = LoggerFactory.getLogger(Notices.class);
  private static final int POLL_MILLIS = 10_000;
  private static final long RETRY_MILLIS = 1_000;

  private final Database database;
  private final List<BiConsumer<String, String>> listeners = new CopyOnWriteArrayList<>();
  private final Thread thread;
  private volatile boolean closed;
  private volatile Connection connection;

  public Notices(Database database) {
    this.database = database;
    this.thread = new Thread(this::listen, "notices");
    thread.setDaemon(true);
    thread.start();
  }

  /** Adds a listener of (topic, payload); it runs on the notice thread and must be quick. */
  public void onNotice(BiConsumer<String, String> listener) {
    listeners.add(listener);
  }

  private void listen() {
    while (!closed) {
      try (Connection c = database.dataSource().getConnection()) {
        connection = c;
        c.setAutoCommit(true);
        try (Statement s = c.createStatement()) {
          s.execute("listen " + CHANNEL);
        }
        tell(RESUMED, "");
        PGConnection pg = c.unwrap(PGConnection.class);
        while (!closed) {
          PGNotification[] got = pg.getNotifications(POLL_MILLIS);
          if (got != null) {
            for (PGNotification n : got) {
              String[] parts = n.getParameter().split(" ", 2);
              tell(parts[0], parts.length > 1 ? parts[1] : "");
            }
          }
        }
      } catch (SQLException | RuntimeException e) {
        if (!closed) {
          LOG.warn("notices interrupted, trying again: {}", e.getMessage());
          pause();
        }
      }
    }
  }

  private void tell(String topic, String payload) {
    for (BiConsumer<String, String> listener : listeners) {
      try {
        listener.accept(topic, payload);
      } catch (RuntimeException e) {
        LOG.error("a notice listener failed on {}", topic, e);
      }
    }
  }

  private static void pause() {
    try {
      Thread.sleep(RETRY_MILLIS);
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
    }
  }

  @Override
  public void close() {
    closed = true;
    thread.interrupt();
    Connection c = connection;
    if (c != null) {
      try {
        c.abort(Runnable::run);
      } catch (SQLException e) {
        LOG.debug("closing notices", e);
      }
    }
  }
}
