package dev.pinwright.storage;

import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.SQLException;
import java.util.Properties;
import java.util.concurrent.Executors;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.TimeUnit;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * Feels each second, on a connection of its own, whether the database is there. While it is not,
 * whoever wants it is told so at once instead of waiting for a connection each for themselves.
 */
final class Pulse implements AutoCloseable {
  private static final Logger LOG = LoggerFactory.getLogger(Pulse.class);
  private static final int PATIENCE_SECONDS = 2;

  private final Database.Address address;
  private final ScheduledExecutorService timer =
      Executors.newSingleThreadScheduledExecutor(
          task -> {
            Thread thread = new Thread(task, "database-pulse");
            thread.setDaemon(true);
            return thread;
          });
  private @Nullable Connection connection;
  private volatile boolean away;

  Pulse(Database.Address address) {
    this.address = address;
    timer.scheduleWithFixedDelay(this::feel, 1, 1, TimeUnit.SECONDS);
  }

  /** Whether the database was not there when it was felt last. */
  boolean away() {
    return away;
  }

  /**
   * @throws DatabaseAway at once, while the database is away
   */
  void check() {
    if (away) {
      throw new DatabaseAway("the database is away");
    }
  }

  private void feel() {
    boolean now = !answers();
    if (now != away) {
      LOG.warn(now ? "the database is away" : "the database is back");
      away = now;
    }
  }

  private boolean answers() {
    try {
      if (connection == null) {
        Properties p = new Properties();
        p.setProperty("user", address.user());
        p.setProperty("password", address.password());
        p.setProperty("connectTimeout", String.valueOf(PATIENCE_SECONDS));
        p.setProperty("loginTimeout", String.valueOf(PATIENCE_SECONDS));
        p.setProperty("socketTimeout", String.valueOf(2 * PATIENCE_SECONDS));
        p.setProperty("ApplicationName", "pinwright pulse");
        connection = DriverManager.getConnection(address.url(), p);
      }
      if (connection.isValid(PATIENCE_SECONDS)) {
        return true;
      }
    } catch (SQLException e) {
      LOG.debug("no pulse", e);
    }
    letGo();
    return false;
  }

  private void letGo() {
    try {
      if (connection != null) {
        connection.close();
      }
    } catch (SQLException e) {
      LOG.debug("a broken connection could not be closed", e);
    }
    connection = null;
  }

  @Override
  public void close() {
    timer.shutdown();
    try {
      timer.awaitTermination(PATIENCE_SECONDS, TimeUnit.SECONDS);
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
    }
    letGo();
  }
}
