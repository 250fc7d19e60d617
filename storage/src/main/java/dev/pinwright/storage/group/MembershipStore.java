package dev.pinwright.storage.group;

import dev.pinwright.core.group.Grouping.Definition;
import dev.pinwright.core.query.DeviceQuery;
import dev.pinwright.storage.Planning;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.query.DeviceCondition;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Collection;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/**
 * Who is in which group. What comes in and goes out in a transaction is gathered in the table
 * {@code regrouped} until it ends.
 */
public final class MembershipStore {
  private static final String DUE = " and %s in (select device_id from due)";

  private final Tx tx;

  public MembershipStore(Tx tx) {
    this.tx = tx;
    tx.execute(
        "create temporary table if not exists regrouped"
            + " (group_id text, device_id text, entered boolean) on commit delete rows",
        Map.of());
    tx.execute(
        "create temporary table if not exists due (device_id text primary key)"
            + " on commit delete rows",
        Map.of());
  }

  /**
   * What makes a group's devices, as it is kept.
   *
   * @param rule with ids for names
   * @param asked ids of groups its rule names
   */
  public record Kept(
      String id, String name, Optional<String> rule, List<String> inside, List<String> asked) {}

  /** Whether any group has a rule or groups inside. */
  public static boolean any(Tx tx) {
    return tx.any(
        "select 1 from device_group where rule is not null"
            + " union all select 1 from group_inside limit 1",
        Map.of());
  }

  /** Every group that has a rule or groups inside. */
  public static List<Kept> definitions(Tx tx) {
    return tx.select(
        Kept.class,
        """
        select g.id, g.name, g.rule,
               array(select i.inside_id from group_inside i where i.group_id = g.id) as inside,
               array(select m.ref from group_mention m
                      where m.group_id = g.id and m.kind = 'group') as asked
          from device_group g
         where g.rule is not null
            or exists (select 1 from group_inside i where i.group_id = g.id)
        """,
        Map.of());
  }

  /**
   * Puts devices into the groups they were picked for and takes them out of all others, where
   * nothing else makes members.
   *
   * @return whether any came in or went out
   */
  public static boolean picked(Tx tx, Collection<String> deviceIds) {
    return tx.value(
            """
            with gone as (
              delete from group_member m where m.device_id = any(cast(:ids as text[]))
                 and not exists (select 1 from group_pick p
                                  where p.group_id = m.group_id and p.device_id = m.device_id)
              returning 1),
            come as (
              insert into group_member
              select p.group_id, p.device_id from group_pick p join device d on d.id = p.device_id
               where p.device_id = any(cast(:ids as text[])) and d.retired_at is null
              on conflict do nothing returning 1)
            select (select count(*) from gone) + (select count(*) from come)
            """,
            Long.class,
            Map.of("ids", deviceIds.toArray(String[]::new)))
        > 0;
  }

  /**
   * Writes that a device came into some groups and left others, with a line of its activity for
   * those that have a rule.
   */
  public static void write(
      Tx tx, String deviceId, Set<String> entered, Set<String> left, Instant now) {
    Map<String, Object> p = new HashMap<>();
    p.put("d", deviceId);
    p.put("entered", entered.toArray(String[]::new));
    p.put("left", left.toArray(String[]::new));
    p.put("now", now);
    tx.execute(
        """
        with gone as (
          delete from group_member
           where device_id = :d and group_id = any(cast(:left as text[])) returning group_id),
        come as (
          insert into group_member select w, :d, cast(:now as timestamptz)
            from unnest(cast(:entered as text[])) w
          on conflict do nothing returning group_id)
        insert into activity (device_id, at, kind, text)
        select :d, cast(:now as timestamptz), 'groups', m.did || g.name
          from (select group_id, 'Left the group ' as did from gone
                union all select group_id, 'Came into the group ' from come) m
          join device_group g on g.id = m.group_id where g.rule is not null
        """,
        p);
  }

  /** Says that these devices are due. */
  public MembershipStore due(Collection<String> deviceIds) {
    tx.execute(
        "insert into due select unnest(cast(:ids as text[])) on conflict do nothing",
        Map.of("ids", deviceIds.toArray(String[]::new)));
    return this;
  }

  /** Says that the devices in a unit and below it are due. */
  public MembershipStore dueInUnit(String unitId) {
    tx.execute(
        "insert into due select d.id from device d join unit_within w on w.unit_id = d.unit_id"
            + " where w.ancestor_id = :u on conflict do nothing",
        Map.of("u", unitId));
    return this;
  }

  /** Works out anew which of the due devices are in groups that are picked and nothing else. */
  public void picks() {
    tx.execute(
        """
        with plain as (
          select g.id from device_group g where g.rule is null
             and not exists (select 1 from group_inside i where i.group_id = g.id)),
        gone as (
          delete from group_member m using due, plain
           where m.device_id = due.device_id and m.group_id = plain.id
             and not exists (select 1 from group_pick p
                              where p.group_id = m.group_id and p.device_id = m.device_id)
          returning m.group_id, m.device_id),
        come as (
          insert into group_member
          select p.group_id, p.device_id from group_pick p join due using (device_id)
            join plain on plain.id = p.group_id join device d on d.id = p.device_id
           where d.retired_at is null
          on conflict do nothing returning group_id, device_id)
        insert into regrouped
        select group_id, device_id, false from gone
        union all select group_id, device_id, true from come
        """,
        Map.of());
  }

  /** Works out anew who is in a group; of the due devices alone where that is said. */
  public void settle(Definition group, boolean dueAlone, Instant now) {
    Difference d = new Difference(group, dueAlone);
    d.parameters.put("now", now);
    tx.plan(Planning.EACH_TIME);
    tx.execute(
        """
        with moved as materialized (%s),
        gone as (
          delete from group_member m using moved
           where not moved.wanted and m.group_id = :g and m.device_id = moved.device_id
          returning m.device_id),
        come as (
          insert into group_member select :g, device_id, cast(:now as timestamptz)
            from moved where wanted
          on conflict do nothing returning device_id)
        insert into regrouped
        select :g, device_id, false from gone union all select :g, device_id, true from come
        """
            .formatted(d.sql),
        d.parameters);
  }

  /** Whether somebody is in a group who should not be, or the other way round. */
  public static boolean differs(Tx tx, Definition group) {
    Difference d = new Difference(group, false);
    tx.plan(Planning.EACH_TIME);
    return tx.any(d.sql + " limit 1", d.parameters);
  }

  /** Which devices are in a group and should not be, or the other way round. */
  private static final class Difference {
    private final Map<String, Object> parameters = new HashMap<>();
    private final String sql;

    private Difference(Definition group, boolean dueAlone) {
      List<String> wanted = new ArrayList<>();
      if (group.rule().isPresent()) {
        DeviceCondition c =
            DeviceCondition.of(DeviceQuery.allOf(DeviceQuery.MANAGED, group.rule().get()));
        parameters.putAll(c.parameters());
        wanted.add(
            "select d.id as device_id from "
                + c.from()
                + " where "
                + c.sql()
                + (dueAlone ? DUE.formatted("d.id") : ""));
      } else {
        wanted.add(
            "select p.device_id from group_pick p join device d on d.id = p.device_id"
                + " where p.group_id = :g and d.retired_at is null"
                + (dueAlone ? DUE.formatted("p.device_id") : ""));
      }
      if (!group.inside().isEmpty()) {
        wanted.add(
            "select m.device_id from group_member m join group_inside i on i.inside_id = m.group_id"
                + " where i.group_id = :g"
                + (dueAlone ? DUE.formatted("m.device_id") : ""));
      }
      parameters.put("g", group.id());
      sql =
          """
          select coalesce(w.device_id, t.device_id) as device_id, w.device_id is not null as wanted
            from (%s) w
            full join (select m.device_id from group_member m where m.group_id = :g%s) t
              on t.device_id = w.device_id
           where w.device_id is null or t.device_id is null
          """
              .formatted(
                  String.join(" union ", wanted), dueAlone ? DUE.formatted("m.device_id") : "");
    }
  }

  /** Whom a change of groups moved, in numbers and a few by name. */
  public record Regrouped(long entering, long leaving, List<String> entered, List<String> left) {}

  /** What came into one group and left it in this transaction; at most so many names of each. */
  public Regrouped regrouped(String groupId, int examples) {
    String named =
        "array(select d.name from regrouped r join device d on d.id = r.device_id"
            + " where r.group_id = :g and r.entered = %s order by lower(d.name) limit :n)";
    return tx.select(
            Regrouped.class,
            "select (select count(*) from regrouped where group_id = :g and entered) as entering,"
                + " (select count(*) from regrouped where group_id = :g and not entered) as leaving, "
                + named.formatted("true")
                + " as entered, "
                + named.formatted("false")
                + " as left",
            Map.of("g", groupId, "n", examples))
        .get(0);
  }

  /** Whether anything came in or went out in this transaction. */
  public boolean any() {
    return tx.any("select 1 from regrouped limit 1", Map.of());
  }

  /** Adds a line to the activity of every device that came into a group by rule or left it. */
  public void tell(Instant now) {
    tx.execute(
        """
        insert into activity (device_id, at, kind, text)
        select r.device_id, :now, 'groups',
               case when r.entered then 'Came into the group ' else 'Left the group ' end || g.name
          from regrouped r join device_group g on g.id = r.group_id where g.rule is not null
        """,
        Map.of("now", now));
  }
}
