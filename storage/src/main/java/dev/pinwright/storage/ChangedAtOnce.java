package dev.pinwright.storage;

import jakarta.persistence.OptimisticLockException;
import java.sql.SQLException;
import org.hibernate.StaleStateException;

/**
 * Somebody else changed a row between its being read and its being written, or two waited for each
 * other and this one gave way (SQLSTATE 40P01). Nothing was done; done again it may well be.
 */
public final class ChangedAtOnce extends RuntimeException {
  private static final long serialVersionUID = 1L;
  private static final String DEADLOCK = "40P01";

  private ChangedAtOnce(Throwable cause) {
    super(cause);
  }

  /** What was thrown, or this in its place when it comes from such a change. */
  static RuntimeException instead(RuntimeException thrown) {
    for (Throwable t = thrown; t != null; t = t.getCause()) {
      if (t instanceof StaleStateException
          || t instanceof OptimisticLockException
          || t instanceof SQLException sql && DEADLOCK.equals(sql.getSQLState())) {
        return new ChangedAtOnce(thrown);
      }
    }
    return thrown;
  }
}
