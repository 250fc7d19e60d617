package dev.pinwright.storage;

import java.sql.SQLException;

/** The database refused a value for what it is (SQLSTATE class 22, data exception). */
public final class DataRefused extends RuntimeException {
  private static final long serialVersionUID = 1L;

  private DataRefused(Throwable cause) {
    super(cause);
  }

  /** What was thrown, or this in its place when it comes from such a refusal. */
  static RuntimeException instead(RuntimeException thrown) {
    for (Throwable t = thrown; t != null; t = t.getCause()) {
      if (t instanceof SQLException sql && String.valueOf(sql.getSQLState()).startsWith("22")) {
        return new DataRefused(thrown);
      }
    }
    return thrown;
  }
}
