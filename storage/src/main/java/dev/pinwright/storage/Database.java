package dev.pinwright.storage;

import com.zaxxer.hikari.HikariConfig;
import com.zaxxer.hikari.HikariDataSource;
import java.sql.Connection;
import java.sql.SQLException;
import java.util.Map;
import java.util.Optional;
import java.util.function.Consumer;
import java.util.function.Function;
import java.util.function.Supplier;
import javax.sql.DataSource;
import org.flywaydb.core.Flyway;
import org.hibernate.Session;
import org.hibernate.Transaction;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/** Connections, migrations and transactions. */
public final class Database implements AutoCloseable {
  private static final Logger LOG = LoggerFactory.getLogger(Database.class);
  private static final ThreadLocal<Integer> UNDER_WAY = ThreadLocal.withInitial(() -> 0);

  private final HikariDataSource pool;
  private final Pulse pulse;

  /**
   * Where the database is.
   *
   * @param url JDBC URL of a PostgreSQL 15 or later
   * @param user the role that serves: it reads and writes rows, and owns nothing it need not
   * @param connections most connections held
   * @param owner the role that owns the tables and migrates; the one that serves where there is no
   *     other
   */
  public record Address(
      String url, String user, String password, int connections, Optional<Owner> owner) {
    @Override
    public String toString() {
      return "Address[" + url + "]";
    }
  }

  /** A role that is signed in for as long as migrating takes. */
  public record Owner(String user, String password) {
    @Override
    public String toString() {
      return "Owner[" + user + "]";
    }
  }

  /**
   * Migrates and connects.
   *
   * @throws IllegalStateException when the database cannot be reached or migrated, saying which
   */
  public static Database open(Address address) {
    try {
      migrate(address);
    } catch (RuntimeException e) {
      throw new IllegalStateException(
          unreached(e)
              ? "The database at " + address.url() + " cannot be reached: " + root(e)
              : "The database could not be made ready: " + root(e),
          e);
    }
    return connect(address);
  }

  /** Connects to one that every migration has been made in. */
  static Database connect(Address address) {
    HikariConfig config = new HikariConfig();
    config.setJdbcUrl(address.url());
    config.setUsername(address.user());
    config.setPassword(address.password());
    config.setMaximumPoolSize(address.connections());
    // signing in costs time: what is not needed yet does not hold up the start
    config.setMinimumIdle(Math.min(2, address.connections()));
    config.setConnectionTimeout(5_000);
    config.setInitializationFailTimeout(5_000);
    config.setAutoCommit(false);
    config.setPoolName("pinwright");
    config.addDataSourceProperty("reWriteBatchedInserts", "true");
    config.addDataSourceProperty("ApplicationName", "pinwright");
    // no statement here runs long enough to win back what compiling it or starting workers costs;
    // and what is asked for often is in memory, where a page out of turn costs what the next one
    // does
    config.addDataSourceProperty(
        "options", "-c jit=off -c random_page_cost=1.1 -c max_parallel_workers_per_gather=0");
    HikariDataSource pool;
    try {
      pool = new HikariDataSource(config);
    } catch (RuntimeException e) {
      throw new IllegalStateException(
          "The database at " + address.url() + " cannot be reached: " + root(e), e);
    }
    try {
      return new Database(pool, new Pulse(address));
    } catch (RuntimeException e) {
      pool.close();
      throw new IllegalStateException("The database could not be made ready: " + root(e), e);
    }
  }

  private static void migrate(Address address) {
    Owner owner = address.owner().orElse(new Owner(address.user(), address.password()));
    Flyway.configure().dataSource(address.url(), owner.user(), owner.password()).load().migrate();
    if (!owner.user().equals(address.user())) {
      Rights.give(address.url(), owner, address.user());
    }
  }

  /**
   * SQLSTATE classes 08 (connection exception) and 28 (invalid authorization), and no such
   * database.
   */
  private static boolean unreached(Throwable e) {
    for (Throwable t = e; t != null; t = t.getCause()) {
      if (t instanceof SQLException s && s.getSQLState() != null) {
        return s.getSQLState().matches("08.*|28.*|3D000");
      }
    }
    return false;
  }

  private static String root(Throwable e) {
    Throwable t = e;
    while (t.getCause() != null) {
      t = t.getCause();
    }
    return String.valueOf(t.getMessage());
  }

  private Database(HikariDataSource pool, Pulse pulse) {
    this.pool = pool;
    this.pulse = pulse;
  }

  /** The pool, for the job engine. */
  public DataSource dataSource() {
    return pool;
  }

  /**
   * Refuses to go on within a transaction. Whoever calls another service says so first: a call that
   * takes its time would hold rows, and everybody who wants them, for as long.
   *
   * @param what is called, for the message
   * @throws IllegalStateException on a thread that is in a transaction
   */
  public static void outsideTransactions(String what) {
    if (UNDER_WAY.get() > 0) {
      throw new IllegalStateException(what + " is called within a transaction");
    }
  }

  private static <T> T counted(Supplier<T> work) {
    UNDER_WAY.set(UNDER_WAY.get() + 1);
    try {
      return work.get();
    } finally {
      UNDER_WAY.set(UNDER_WAY.get() - 1);
    }
  }

  /** Work on a session of its own, whose connection goes back when it ends. */
  private <T> T within(Function<Session, T> work) {
    pulse.check();
    try (Connection connection = pool.getConnection();
        Session session = Mapping.session(connection)) {
      return work.apply(session);
    } catch (SQLException e) {
      throw unasked(e);
    }
  }

  private static RuntimeException unasked(SQLException e) {
    return DatabaseAway.instead(
        new IllegalStateException("the database cannot be asked: " + e.getMessage(), e));
  }

  /**
   * Runs work in a transaction and commits it; any exception rolls it back.
   *
   * @throws DatabaseAway when the database is not to be had
   */
  public <T> T call(Function<Tx, T> work) {
    return within(
        session -> {
          Transaction transaction = session.beginTransaction();
          try {
            T result = counted(() -> work.apply(new Tx(session)));
            transaction.commit();
            return result;
          } catch (RuntimeException e) {
            rollback(transaction);
            throw instead(e);
          } catch (Error e) {
            rollback(transaction);
            throw e;
          }
        });
  }

  private static RuntimeException instead(RuntimeException e) {
    return DatabaseAway.instead(DataRefused.instead(ChangedAtOnce.instead(e)));
  }

  /** What broke the transaction is told, not that a broken connection cannot roll it back. */
  private static void rollback(Transaction transaction) {
    try {
      if (transaction.isActive()) {
        transaction.rollback();
      }
    } catch (RuntimeException e) {
      LOG.debug("not rolled back", e);
    }
  }

  /** {@link #call} without a result. */
  public void run(Consumer<Tx> work) {
    call(
        tx -> {
          work.accept(tx);
          return true;
        });
  }

  /** Reads in one transaction that sees one moment and holds nobody up; it may not write. */
  public <T> T snapshot(Function<Tx, T> work) {
    return rehearse(
        tx -> {
          tx.execute("set transaction isolation level repeatable read, read only", Map.of());
          return work.apply(tx);
        });
  }

  /** What is looked up by {@link Look}. */
  @FunctionalInterface
  public interface Looking<T> {
    T in(Look look) throws SQLException;
  }

  /** Looks something up by single statements, without a transaction. */
  public <T> T look(Looking<T> looking) {
    pulse.check();
    try (Connection connection = pool.getConnection()) {
      connection.setAutoCommit(true);
      return looking.in(new Look(connection));
    } catch (SQLException e) {
      throw unasked(e);
    }
  }

  /** Whether the database answered when it was asked last, within the last seconds. */
  public boolean answers() {
    return !pulse.away();
  }

  /** Runs work in a transaction that never leaves a trace. */
  public <T> T rehearse(Function<Tx, T> work) {
    return within(
        session -> {
          Transaction transaction = session.beginTransaction();
          try {
            return counted(() -> work.apply(new Tx(session)));
          } catch (RuntimeException e) {
            throw instead(e);
          } finally {
            rollback(transaction);
          }
        });
  }

  @Override
  public void close() {
    pulse.close();
    pool.close();
  }
}
