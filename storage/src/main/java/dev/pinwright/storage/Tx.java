package dev.pinwright.storage;

import jakarta.persistence.LockModeType;
import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.util.Collection;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.hibernate.LockMode;
import org.hibernate.Session;
import org.postgresql.PGConnection;
import org.postgresql.largeobject.LargeObject;
import org.postgresql.largeobject.LargeObjectManager;

/**
 * One transaction. Rows by id are for everybody; statements are for the stores of this module
 * alone.
 */
public final class Tx {
  private static final int LARGE_OBJECT_PART = 256 * 1024;

  private final Session session;

  Tx(Session session) {
    this.session = session;
  }

  /** A row by id. */
  public <T> Optional<T> find(Class<T> type, Object id) {
    return Optional.ofNullable(session.find(type, id));
  }

  /** A row by id, locked against other writers until the transaction ends. */
  public <T> Optional<T> lock(Class<T> type, Object id) {
    return Optional.ofNullable(session.find(type, id, LockMode.PESSIMISTIC_WRITE));
  }

  /** Stores a new row. */
  public void insert(Object row) {
    session.persist(row);
  }

  /** Deletes a row. */
  public void delete(Object row) {
    session.remove(row);
  }

  /** Rows by HQL with named parameters, at most {@code limit}. */
  public <T> List<T> list(Class<T> type, String hql, Map<String, ?> parameters, int limit) {
    var query = session.createSelectionQuery(hql, type).setMaxResults(limit);
    parameters.forEach(query::setParameter);
    return query.getResultList();
  }

  /** {@link #list}, with the rows held against other writers until the transaction ends. */
  public <T> List<T> listLocked(Class<T> type, String hql, Map<String, ?> parameters, int limit) {
    var query =
        session
            .createSelectionQuery(hql, type)
            .setMaxResults(limit)
            .setLockMode(LockModeType.PESSIMISTIC_WRITE);
    parameters.forEach(query::setParameter);
    return query.getResultList();
  }

  /** Rows of a native query as records, by name; see {@link Records}. */
  public <R extends Record> List<R> select(Class<R> type, String sql, Map<String, ?> parameters) {
    var query = session.createNativeQuery(sql, Object[].class);
    parameters.forEach(query::setParameter);
    return query.setTupleTransformer(Records.of(type)).getResultList();
  }

  /** The rows of a native query with one column; none of them null. */
  public <T> List<T> column(Class<T> type, String sql, Map<String, ?> parameters) {
    var query = session.createNativeQuery(sql, Object.class);
    parameters.forEach(query::setParameter);
    return query.getResultList().stream().map(v -> type.cast(Records.read(type, v))).toList();
  }

  /** Whether a native query has a row. */
  public boolean any(String sql, Map<String, ?> parameters) {
    return value("select exists (" + sql + ")", Boolean.class, parameters);
  }

  /** Waits for a lock that is kept until the transaction ends; see PostgreSQL 15, 13.3.5. */
  public void advisoryLock(long key) {
    column(String.class, "select cast(pg_advisory_xact_lock(:key) as text)", Map.of("key", key));
  }

  /** {@link #advisoryLock(long)} on a text; two texts may, rarely, be one lock. */
  public void advisoryLock(String key) {
    column(
        String.class,
        "select cast(pg_advisory_xact_lock(hashtextextended(:key, 1)) as text)",
        Map.of("key", key));
  }

  /** {@link #advisoryLock(long)} that others may hold at the same time, in this form. */
  public void sharedAdvisoryLock(long key) {
    column(
        String.class,
        "select cast(pg_advisory_xact_lock_shared(:key) as text)",
        Map.of("key", key));
  }

  /** {@link #sharedAdvisoryLock}, or false when somebody holds it alone. */
  public boolean trySharedAdvisoryLock(long key) {
    return value(
        "select pg_try_advisory_xact_lock_shared(:key)", Boolean.class, Map.of("key", key));
  }

  /** The one value of a native query. */
  public <T> T value(String sql, Class<T> type, Map<String, ?> parameters) {
    var query = session.createNativeQuery(sql, type);
    parameters.forEach(query::setParameter);
    return query.getSingleResult();
  }

  /** Plans the statements from here to the end of the transaction, or until told otherwise. */
  public void plan(Planning how) {
    value(
        """
        select set_config('plan_cache_mode', :plans, true)
               || set_config('enable_hashjoin', :gathering, true)
               || set_config('enable_mergejoin', :gathering, true)
        """,
        String.class,
        Map.of("plans", how.plans, "gathering", how.gathering));
  }

  /** Runs a native statement and returns how many rows it touched. */
  public int execute(String sql, Map<String, ?> parameters) {
    session.flush();
    var query = session.createNativeMutationQuery(sql);
    parameters.forEach(query::setParameter);
    return query.executeUpdate();
  }

  /**
   * Keeps what a stream holds as a large object of the database (PostgreSQL 15, chapter 35), never
   * more than a part of it in memory, and returns its number.
   */
  public long largeObject(InputStream content) {
    return session.doReturningWork(
        connection -> {
          LargeObjectManager objects = connection.unwrap(PGConnection.class).getLargeObjectAPI();
          long number = objects.createLO(LargeObjectManager.WRITE);
          try (LargeObject object = objects.open(number, LargeObjectManager.WRITE)) {
            byte[] part = new byte[LARGE_OBJECT_PART];
            for (int n = content.read(part); n >= 0; n = content.read(part)) {
              object.write(part, 0, n);
            }
          } catch (IOException e) {
            throw new UncheckedIOException(e);
          }
          return number;
        });
  }

  /** Part of a large object, from a byte on; shorter where it ends before. */
  public byte[] partOf(long number, long from, int bytes) {
    return value(
        "select lo_get(cast(:number as oid), :from, :bytes)",
        byte[].class,
        Map.of("number", number, "from", from, "bytes", bytes));
  }

  /** Writes pending changes now, so that native statements see them. */
  public void flush() {
    session.flush();
  }

  /** Tells every node, once this transaction commits. */
  public void notice(String topic, String payload) {
    column(
        String.class,
        "select cast(pg_notify(:channel, :payload) as text)",
        Map.of("channel", Notices.CHANNEL, "payload", topic + " " + payload));
  }

  /** {@link #notice}, once for each of many payloads. */
  public void notices(String topic, Collection<String> payloads) {
    column(
        String.class,
        "select cast(pg_notify(:channel, :topic || ' ' || p) as text)"
            + " from unnest(cast(:payloads as text[])) p",
        Map.of(
            "channel",
            Notices.CHANNEL,
            "topic",
            topic,
            "payloads",
            payloads.toArray(String[]::new)));
  }
}
