package dev.pinwright.storage.organisation;

import dev.pinwright.core.organisation.Unit;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.organisation.Uses.Use;
import dev.pinwright.storage.row.UnitRow;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** The organisation tree. */
public final class UnitStore {
  private static final String SELECT =
      """
      select u.id, u.version, u.code, u.name, u.parent_id,
             (select count(*) - 1 from unit_within w where w.unit_id = u.id) as depth,
             (select count(*) from unit_within w join device d on d.unit_id = w.unit_id
               where w.ancestor_id = u.id and d.retired_at is null) as devices,
             (select count(*) from unit_within w join person p on p.unit_id = w.unit_id
               where w.ancestor_id = u.id) as people
        from unit u
      """;

  private final Tx tx;

  public UnitStore(Tx tx) {
    this.tx = tx;
  }

  /** Every unit, each before what is below it, siblings by code. */
  public List<Unit> all() {
    return tx.select(
        Unit.class,
        SELECT
            + """
             order by (select string_agg(a.code, '/' order by
                                (select count(*) from unit_within x where x.unit_id = a.id))
                         from unit_within w join unit a on a.id = w.ancestor_id
                        where w.unit_id = u.id)
            """,
        Map.of());
  }

  /** A unit with its counts. */
  public Optional<Unit> find(String id) {
    tx.flush();
    return tx.select(Unit.class, SELECT + " where u.id = :id", Map.of("id", id)).stream()
        .findFirst();
  }

  /** How many units there are. */
  public long count() {
    return tx.value("select count(*) from unit", Long.class, Map.of());
  }

  /** The row of a code; capitals do not count. */
  public Optional<UnitRow> byCode(String code) {
    return tx
        .list(UnitRow.class, "from UnitRow where lower(code) = lower(:c)", Map.of("c", code), 1)
        .stream()
        .findFirst();
  }

  /** Whether a unit is another one, or lies below it. */
  public boolean isWithin(String id, String ancestor) {
    return tx.any(
        "select 1 from unit_within where unit_id = :u and ancestor_id = :a",
        Map.of("u", id, "a", ancestor));
  }

  /** Works out anew which unit lies within which, after units were made or moved. */
  public void lieWithin() {
    tx.execute("delete from unit_within", Map.of());
    tx.execute(
        """
        insert into unit_within
        with recursive up (unit_id, ancestor_id) as (
          select id, id from unit
          union all
          select up.unit_id, u.parent_id from up join unit u on u.id = up.ancestor_id
           where u.parent_id is not null
        ) select * from up
        """,
        Map.of());
  }

  /** What is in a unit, or names it as a place, counted. */
  public List<String> uses(String id) {
    return Uses.of(
        tx,
        id,
        List.of(
            new Use("unit below it", "units below it", "unit where parent_id = :id"),
            new Use("device", "devices", "device where unit_id = :id"),
            new Use("person", "people", "person where unit_id = :id"),
            new Use("roster row", "roster rows", "roster_entry where unit_id = :id"),
            new Use(
                "enrollment profile",
                "enrollment profiles",
                "enrollment_profile where unit_id = :id"),
            new Use("bench session", "bench sessions", "bench_session where unit_id = :id"),
            new Use(
                "printed code of an app",
                "printed codes of apps",
                "configuration_code where unit_id = :id and revoked_at is null"),
            new Use(
                "rule of a group",
                "rules of groups",
                "group_mention where kind = 'unit' and ref = :id")));
  }

  /** The rows of all units. */
  public List<UnitRow> rows() {
    return tx.list(UnitRow.class, "from UnitRow order by code", Map.of(), Integer.MAX_VALUE);
  }
}
