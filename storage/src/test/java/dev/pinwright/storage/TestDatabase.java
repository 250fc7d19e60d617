package dev.pinwright.storage;

import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.SQLException;
import java.sql.Statement;
import java.time.Instant;
import java.util.Map;
import java.util.UUID;

/** Databases of the PostgreSQL that {@code ./pinwright test} starts, each new and empty. */
public final class TestDatabase {
  private TestDatabase() {}

  /** A variable of the test run: empty for the server's URL, {@code USER} or {@code PASSWORD}. */
  public static String env(String name) {
    String value = System.getenv("PINWRIGHT_TEST_DB" + (name.isEmpty() ? "" : "_" + name));
    if (value == null) {
      throw new IllegalStateException(
          "run the tests with ./pinwright test, which starts PostgreSQL");
    }
    return value;
  }

  /** A database with every migration, to be copied; made once for each run of tests. */
  private static final class Template {
    private static final String NAME = make("");

    static {
      open(env("") + NAME).close();
    }
  }

  /** Makes a database with every table in it, and returns its URL. */
  public static String create() {
    return env("") + make(" template " + Template.NAME);
  }

  private static String make(String after) {
    String name = "t" + UUID.randomUUID().toString().replace("-", "");
    try (Connection c =
            DriverManager.getConnection(env("") + "postgres", env("USER"), env("PASSWORD"));
        Statement s = c.createStatement()) {
      s.execute("create database " + name + after);
    } catch (SQLException e) {
      throw new IllegalStateException(e);
    }
    return name;
  }

  /** A second, third … node's connections to a database. */
  public static Database open(String url) {
    return Database.open(new Database.Address(url, env("USER"), env("PASSWORD"), 6));
  }

  /** Connections to a new database. */
  public static Database open() {
    return open(create());
  }

  /** Puts a supervised tarn tablet on file under its name as id and serial. */
  public static void device(Tx tx, String name) {
    device(tx, name, "supervised");
  }

  /** Puts a tarn tablet on file under its name as id and serial. */
  public static void device(Tx tx, String name, String mode) {
    tx.execute(
        """
        insert into device (id, name, platform, kind, maker, model, os_version, os_level, ownership,
                            mode, serial, standing, desired_digest, enrolled_at)
        values (:name, :name, 'tarn', 'tablet', 'Arbor', 'T10', '7.2.1', '7.2', 'corporate', :mode,
                :name, 'settled', 'none', :now)
        """,
        Map.of("name", name, "mode", mode, "now", Instant.parse("2026-03-01T08:00:00Z")));
  }
}
