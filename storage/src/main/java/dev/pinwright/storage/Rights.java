package dev.pinwright.storage;

import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.SQLException;
import java.sql.Statement;

/**
 * What the role that serves may do: read and write rows. The journal it can only read and add to,
 * and no table can it alter or empty.
 */
final class Rights {
  private Rights() {}

  /**
   * Gives them, as far as they are not given; nodes that start at once wait for each other.
   *
   * @param service the role that serves
   * @throws IllegalStateException when the owner may not, or there is no such role
   */
  static void give(String url, Database.Owner owner, String service) {
    try (Connection c = DriverManager.getConnection(url, owner.user(), owner.password());
        Statement s = c.createStatement()) {
      c.setAutoCommit(false);
      s.execute("select pg_advisory_xact_lock(7210031)");
      String role = s.enquoteIdentifier(service, true);
      s.execute("grant usage on schema public to " + role);
      s.execute("grant select, insert, update, delete on all tables in schema public to " + role);
      s.execute("grant usage, select on all sequences in schema public to " + role);
      s.execute("revoke update, delete, truncate on journal from " + role);
      s.execute("revoke insert, update, delete on flyway_schema_history from " + role);
      c.commit();
    } catch (SQLException e) {
      throw new IllegalStateException(e.getMessage(), e);
    }
  }
}
