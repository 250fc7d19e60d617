package dev.pinwright.acceptance;

import dev.pinwright.storage.TestDatabase;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.SQLException;
import java.sql.Statement;

/** What only a look behind the service can do or prove. */
final class Sql {
  private Sql() {}

  static int run(Rig rig, String sql) throws SQLException {
    try (Connection c =
            DriverManager.getConnection(
                rig.databaseUrl, TestDatabase.env("USER"), TestDatabase.env("PASSWORD"));
        Statement s = c.createStatement()) {
      return s.executeUpdate(sql);
    }
  }

  static String text(Rig rig, String sql) throws SQLException {
    try (Connection c =
            DriverManager.getConnection(
                rig.databaseUrl, TestDatabase.env("USER"), TestDatabase.env("PASSWORD"));
        Statement s = c.createStatement();
        var rows = s.executeQuery(sql)) {
      return rows.next() ? rows.getString(1) : null;
    }
  }
}
