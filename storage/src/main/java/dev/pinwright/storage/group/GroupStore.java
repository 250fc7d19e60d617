package dev.pinwright.storage.group;

import dev.pinwright.core.Words;
import dev.pinwright.core.group.DeviceGroup;
import dev.pinwright.core.query.Rule;
import dev.pinwright.core.query.RuleNames;
import dev.pinwright.storage.After;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.query.Sought;
import dev.pinwright.storage.row.GroupRow;
import java.util.ArrayList;
import java.util.Collection;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** Groups, and what makes their devices. Who is in them is {@link MembershipStore}'s. */
public final class GroupStore {
  private static final String SELECT =
      """
      select g.id, g.version, g.name, g.rule,
             array(select i.inside_id from group_inside i join device_group x on x.id = i.inside_id
                    where i.group_id = g.id order by lower(x.name), x.id) as inside_ids,
             array(select x.name from group_inside i join device_group x on x.id = i.inside_id
                    where i.group_id = g.id order by lower(x.name), x.id) as inside_names,
             (select count(*) from group_member m where m.group_id = g.id) as devices,
             (select count(*) from group_pick p where p.group_id = g.id) as picked
        from device_group g
      """;

  private final Tx tx;

  public GroupStore(Tx tx) {
    this.tx = tx;
  }

  private record Row(
      String id,
      int version,
      String name,
      Optional<String> rule,
      List<String> insideIds,
      List<String> insideNames,
      long devices,
      long picked) {
    DeviceGroup group() {
      List<DeviceGroup.Inner> inside = new ArrayList<>();
      for (int i = 0; i < insideIds.size(); i++) {
        inside.add(new DeviceGroup.Inner(insideIds.get(i), insideNames.get(i)));
      }
      return new DeviceGroup(id, version, name, rule, inside, devices, picked);
    }
  }

  /** Groups by name in small letters, then id; their rules name by id. */
  public List<DeviceGroup> page(String words, After after, int limit) {
    Map<String, Object> p = new HashMap<>(after.parameters(limit));
    return tx
        .select(
            Row.class,
            SELECT
                + " where (lower(g.name), g.id) > (:key, :id) and "
                + Sought.in("lower(g.name)", words, p)
                + " order by lower(g.name), g.id limit :limit",
            p)
        .stream()
        .map(Row::group)
        .toList();
  }

  /** A group with its number of devices; its rule names by id. */
  public Optional<DeviceGroup> find(String id) {
    tx.flush();
    return tx.select(Row.class, SELECT + " where g.id = :id", Map.of("id", id)).stream()
        .findFirst()
        .map(Row::group);
  }

  /** The row of a name. */
  public Optional<GroupRow> byName(String name) {
    return tx
        .list(GroupRow.class, "from GroupRow where lower(name) = lower(:n)", Map.of("n", name), 1)
        .stream()
        .findFirst();
  }

  /** The groups a device is in, by name. */
  public List<DeviceGroup.Inner> of(String deviceId) {
    return tx.select(
        DeviceGroup.Inner.class,
        "select g.id, g.name from group_member m join device_group g on g.id = m.group_id"
            + " where m.device_id = :d order by lower(g.name)",
        Map.of("d", deviceId));
  }

  /** Ids of the groups a device was picked for. */
  public List<String> pickedFor(String deviceId) {
    return tx.column(
        String.class,
        "select group_id from group_pick where device_id = :d order by group_id",
        Map.of("d", deviceId));
  }

  /** Which of these are no managed device; at most twenty. */
  public List<String> unknown(Collection<String> deviceIds) {
    return tx.column(
        String.class,
        "select w from unnest(cast(:ids as text[])) w where not exists"
            + " (select 1 from device d where d.id = w and d.retired_at is null) limit 20",
        Map.of("ids", deviceIds.toArray(String[]::new)));
  }

  /** Picks devices for a group; says how many were not picked before. */
  public int pick(String id, Collection<String> deviceIds) {
    return tx.execute(
        "insert into group_pick select :g, w from unnest(cast(:ids as text[])) w"
            + " on conflict do nothing",
        Map.of("g", id, "ids", deviceIds.toArray(String[]::new)));
  }

  /** Takes picked devices out; says how many were picked. */
  public int takeOut(String id, Collection<String> deviceIds) {
    return tx.execute(
        "delete from group_pick where group_id = :g and device_id = any(cast(:ids as text[]))",
        Map.of("g", id, "ids", deviceIds.toArray(String[]::new)));
  }

  /** Forgets all that were picked. */
  public void forgetPicks(String id) {
    tx.execute("delete from group_pick where group_id = :g", Map.of("g", id));
  }

  /** Which of these are no group picked by hand, by id. */
  public List<String> byRule(Collection<String> ids) {
    return tx.column(
        String.class,
        "select name from device_group where id = any(cast(:ids as text[])) and rule is not null"
            + " order by name",
        Map.of("ids", ids.toArray(String[]::new)));
  }

  /** Writes what groups are inside one. */
  public void inside(String id, Collection<String> insideIds) {
    tx.flush();
    tx.execute("delete from group_inside where group_id = :g", Map.of("g", id));
    tx.execute(
        "insert into group_inside select :g, w from unnest(cast(:ids as text[])) w",
        Map.of("g", id, "ids", insideIds.toArray(String[]::new)));
  }

  /** Writes what a group's rule names. */
  public void mentions(String id, Collection<Rule.Mention> mentions) {
    tx.flush();
    tx.execute("delete from group_mention where group_id = :g", Map.of("g", id));
    tx.execute(
        "insert into group_mention select :g, k, r"
            + " from unnest(cast(:kinds as text[]), cast(:refs as text[])) as x(k, r)",
        Map.of(
            "g",
            id,
            "kinds",
            mentions.stream().map(m -> Words.of(m.kind())).toArray(String[]::new),
            "refs",
            mentions.stream().map(Rule.Mention::id).toArray(String[]::new)));
  }

  /** Names of the groups whose rule names a thing. */
  public List<String> naming(RuleNames.Kind kind, String ref) {
    return tx.column(
        String.class,
        "select g.name from group_mention m join device_group g on g.id = m.group_id"
            + " where m.kind = :k and m.ref = :r order by lower(g.name)",
        Map.of("k", Words.of(kind), "r", ref));
  }

  /** Rows of the groups whose rule names a thing, held against other writers. */
  public List<GroupRow> lockNaming(RuleNames.Kind kind, String ref) {
    List<String> ids =
        tx.column(
            String.class,
            "select group_id from group_mention where kind = :k and ref = :r order by group_id",
            Map.of("k", Words.of(kind), "r", ref));
    return ids.stream().flatMap(id -> tx.lock(GroupRow.class, id).stream()).toList();
  }

  /** Names of the groups one is inside of. */
  public List<String> around(String id) {
    return tx.column(
        String.class,
        "select g.name from group_inside i join device_group g on g.id = i.group_id"
            + " where i.inside_id = :id order by lower(g.name)",
        Map.of("id", id));
  }

  /** Ids of all groups. */
  public List<String> ids() {
    return tx.column(String.class, "select id from device_group", Map.of());
  }

  /** Names by id. */
  public Map<String, String> names(Collection<String> ids) {
    Map<String, String> names = new HashMap<>();
    tx.select(
            DeviceGroup.Inner.class,
            "select id, name from device_group where id = any(cast(:ids as text[]))",
            Map.of("ids", ids.toArray(String[]::new)))
        .forEach(g -> names.put(g.id(), g.name()));
    return names;
  }

  /** Names of the enrollment profiles that put devices into a group. */
  public List<String> enrollmentProfiles(String id) {
    return tx.column(
        String.class,
        "select name from enrollment_profile where :g = any(groups) order by name",
        Map.of("g", id));
  }
}
