package dev.pinwright.storage;

import java.sql.SQLException;
import java.sql.SQLTransientConnectionException;
import org.hibernate.exception.JDBCConnectionException;

/** The database could not be asked: it is stopped, cannot be reached, or has no room for us. */
public final class DatabaseAway extends RuntimeException {
  private static final long serialVersionUID = 1L;

  DatabaseAway(String message) {
    super(message, null, false, false);
  }

  private DatabaseAway(Throwable cause) {
    super("the database cannot be asked: " + cause.getMessage(), cause);
  }

  /**
   * What was thrown, or this in its place when it comes from a connection that is not to be had or
   * broke: SQLSTATE class 08, and 57P01 to 57P03 (shutdown, crash, starting up).
   */
  static RuntimeException instead(RuntimeException thrown) {
    for (Throwable t = thrown; t != null; t = t.getCause()) {
      if (t instanceof SQLTransientConnectionException
          || t instanceof JDBCConnectionException
          || t instanceof SQLException sql && broken(sql)) {
        return new DatabaseAway(t);
      }
    }
    return thrown;
  }

  /** The pool says nothing but "Connection is closed" of one that broke under somebody's hands. */
  private static boolean broken(SQLException e) {
    String state = e.getSQLState();
    return state == null
        ? String.valueOf(e.getMessage()).contains("is closed")
        : state.matches("08.*|57P0[123]");
  }
}
