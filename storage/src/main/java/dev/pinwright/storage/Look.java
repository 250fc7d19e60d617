package dev.pinwright.storage;

import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.ResultSetMetaData;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;

/**
 * Statements without a transaction around them, each of which sees the moment it begins at: for
 * what is asked so often that beginning and ending a transaction would cost more than the answer.
 */
public final class Look {
  private final Connection connection;

  Look(Connection connection) {
    this.connection = connection;
  }

  /**
   * Rows of a query without array columns as records, by name; see {@link Records}.
   *
   * @param values for its one parameter, an array of texts
   */
  public <R extends Record> List<R> select(Class<R> type, String sql, List<String> values)
      throws SQLException {
    try (PreparedStatement statement = connection.prepareStatement(sql)) {
      statement.setArray(1, connection.createArrayOf("text", values.toArray()));
      try (ResultSet rows = statement.executeQuery()) {
        ResultSetMetaData columns = rows.getMetaData();
        String[] names = new String[columns.getColumnCount()];
        for (int i = 0; i < names.length; i++) {
          names[i] = columns.getColumnLabel(i + 1);
        }
        List<R> out = new ArrayList<>();
        while (rows.next()) {
          Object[] row = new Object[names.length];
          for (int i = 0; i < row.length; i++) {
            row[i] = rows.getObject(i + 1);
          }
          out.add(Records.of(type).transformTuple(row, names));
        }
        return out;
      }
    }
  }
}
