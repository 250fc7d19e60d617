package dev.pinwright.storage.query;

import dev.pinwright.core.Words;
import dev.pinwright.core.query.DeviceQuery;
import dev.pinwright.core.target.Target;
import dev.pinwright.storage.Tx;
import java.util.Collection;
import java.util.List;
import java.util.Map;

/**
 * Devices something is done to, each once, gathered in a table of this transaction by statements,
 * however many they are. Only managed devices are taken.
 */
public final class Selection {
  /** The table; its column is {@code device_id}. */
  public static final String TABLE = "aimed";

  private static final String IDENTIFIED =
      "(serial = any(cast(:v as text[])) or imei = any(cast(:v as text[]))"
          + " or upper(asset) = any(cast(:v as text[])))";

  private final Tx tx;

  /** Begins an empty one. */
  public Selection(Tx tx) {
    this.tx = tx;
    tx.execute(
        "create temporary table if not exists aimed (device_id text primary key)"
            + " on commit delete rows",
        Map.of());
    tx.execute("delete from aimed", Map.of());
  }

  /** Takes those that match one of these targets. */
  public Selection targets(Collection<Target> targets) {
    tx.execute(
        """
        insert into aimed
        select distinct dt.device_id from device_target dt
          join unnest(cast(:kinds as text[]), cast(:refs as text[])) t(kind, ref)
            on t.kind = dt.kind and t.ref = dt.ref
          join device d on d.id = dt.device_id and d.retired_at is null
        on conflict do nothing
        """,
        Map.of(
            "kinds", targets.stream().map(t -> Words.of(t.kind())).toArray(String[]::new),
            "refs", targets.stream().map(Target::ref).toArray(String[]::new)));
    return this;
  }

  /** Takes those with one of these serial numbers, IMEIs or asset numbers, in capitals. */
  public Selection identified(Collection<String> identifiers) {
    tx.execute(
        "insert into aimed select id from device where retired_at is null and "
            + IDENTIFIED
            + " on conflict do nothing",
        Map.of("v", identifiers.toArray(String[]::new)));
    return this;
  }

  /** Takes those on which commands of a dispatch failed after they were sent, or expired. */
  public Selection endedBadly(String dispatchId) {
    tx.execute(
        """
        insert into aimed
        select c.device_id from command c join device d on d.id = c.device_id
         where c.dispatch_id = :dispatch and c.state in ('failed', 'expired')
           and c.ended_at > c.queued_at and d.retired_at is null
        on conflict do nothing
        """,
        Map.of("dispatch", dispatchId));
    return this;
  }

  /** Takes those of these ids. */
  public Selection ids(Collection<String> ids) {
    return where("id", ids);
  }

  private Selection where(String column, Collection<String> values) {
    tx.execute(
        "insert into aimed select id from device where "
            + column
            + " = any(cast(:v as text[])) and retired_at is null on conflict do nothing",
        Map.of("v", values.toArray(String[]::new)));
    return this;
  }

  /** Takes those a query names. */
  public Selection matching(DeviceQuery query) {
    DeviceCondition condition = DeviceCondition.of(DeviceQuery.allOf(DeviceQuery.MANAGED, query));
    tx.execute(
        "insert into aimed select d.id from "
            + DeviceCondition.FROM
            + " where "
            + condition.sql()
            + " on conflict do nothing",
        condition.parameters());
    return this;
  }

  /** How many there are. */
  public long count() {
    return tx.value("select count(*) from aimed", Long.class, Map.of());
  }

  /** Holds their records against other writers until the transaction ends; gives their ids. */
  public List<String> hold() {
    return tx.column(
        String.class,
        "select d.id from device d join aimed a on a.device_id = d.id order by d.id"
            + " for update of d",
        Map.of());
  }
}
