package dev.pinwright.storage;

import dev.pinwright.core.Words;
import dev.pinwright.core.device.Mode;
import dev.pinwright.core.device.OsVersion;
import dev.pinwright.core.policy.Shape;
import dev.pinwright.storage.shape.ShapeStore;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.SQLException;
import java.sql.Statement;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;

/** Databases of the PostgreSQL that {@code ./pinwright test} starts, each new and empty. */
public final class TestDatabase {
  /** The role nodes are served by in tests; its password is that of the owner. */
  public static final String SERVING = "pinwright_serving";

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
      sql(
          """
          do $$ begin
            create role pinwright_serving login password '%s';
          exception when duplicate_object or unique_violation then null;
          end $$
          """
              .formatted(env("PASSWORD")));
      Database.open(address(env("") + NAME, 1)).close();
    }
  }

  /** Makes a database with every table in it, and returns its URL. */
  public static String create() {
    return env("") + make(" template " + Template.NAME);
  }

  /** Makes a copy of a database nobody is connected to, and returns its URL. */
  public static String copy(String url) {
    return env("") + make(" template " + url.substring(env("").length()));
  }

  private static String make(String after) {
    String name = "t" + UUID.randomUUID().toString().replace("-", "");
    sql("create database " + name + after);
    return name;
  }

  private static void sql(String sql) {
    try (Connection c =
            DriverManager.getConnection(env("") + "postgres", env("USER"), env("PASSWORD"));
        Statement s = c.createStatement()) {
      s.execute(sql);
    } catch (SQLException e) {
      throw new IllegalStateException(e);
    }
  }

  /** How a node reaches a database: served by a role that owns nothing, migrated by another. */
  public static Database.Address address(String url, int connections) {
    return new Database.Address(
        url,
        SERVING,
        env("PASSWORD"),
        connections,
        Optional.of(new Database.Owner(env("USER"), env("PASSWORD"))));
  }

  /** Connections to a database that may do everything, for tests that look and meddle. */
  public static Database open(String url) {
    return Database.connect(
        new Database.Address(url, env("USER"), env("PASSWORD"), 6, Optional.empty()));
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
                            mode, serial, enrolled_at)
        values (:name, :name, 'tarn', 'tablet', 'Arbor', 'T10', '7.2.1', '7.2', 'corporate', :mode,
                :name, :now)
        """,
        Map.of("name", name, "mode", mode, "now", Instant.parse("2026-03-01T08:00:00Z")));
    Shape shape =
        new Shape("tarn", Words.parse(Mode.class, mode), new OsVersion(7, 2, 0), List.of());
    new ShapeStore(tx)
        .keep(
            Map.of(shape, new ShapeStore.Digests("none", "")),
            Instant.parse("2026-03-01T08:00:00Z"));
    tx.execute(
        "insert into device_state (device_id, shape_key, desired_digest, standing)"
            + " values (:name, :shape, 'none', 'settled')",
        Map.of("name", name, "shape", shape.key()));
  }
}
