package dev.pinwright.storage.device;

import dev.pinwright.core.device.DeviceGroup;
import dev.pinwright.storage.After;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.query.Sought;
import dev.pinwright.storage.row.GroupRow;
import java.util.Collection;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** Groups picked by hand and who is in them. */
public final class GroupStore {
  private static final String SELECT =
      """
      select g.id, g.version, g.name,
             (select count(*) from group_member m where m.group_id = g.id) as devices
        from device_group g
      """;

  private final Tx tx;

  public GroupStore(Tx tx) {
    this.tx = tx;
  }

  /** Groups by name in small letters, then id. */
  public List<DeviceGroup> page(String words, After after, int limit) {
    Map<String, Object> p = new HashMap<>(after.parameters(limit));
    return tx.select(
        DeviceGroup.class,
        SELECT
            + " where (lower(g.name), g.id) > (:key, :id) and "
            + Sought.in("lower(g.name)", words, p)
            + " order by lower(g.name), g.id limit :limit",
        p);
  }

  /** A group with its number of devices. */
  public Optional<DeviceGroup> find(String id) {
    tx.flush();
    return tx.select(DeviceGroup.class, SELECT + " where g.id = :id", Map.of("id", id)).stream()
        .findFirst();
  }

  /** The row of a name. */
  public Optional<GroupRow> byName(String name) {
    return tx
        .list(GroupRow.class, "from GroupRow where lower(name) = lower(:n)", Map.of("n", name), 1)
        .stream()
        .findFirst();
  }

  /** A group by id and name. */
  public record Named(String id, String name) {}

  /** The groups a device is in, by name. */
  public List<Named> of(String deviceId) {
    return tx.select(
        Named.class,
        "select g.id, g.name from group_member m join device_group g on g.id = m.group_id"
            + " where m.device_id = :d order by lower(g.name)",
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

  /** Puts devices in; says how many were not in before. */
  public int put(String id, Collection<String> deviceIds) {
    return tx.execute(
        "insert into group_member select :g, w from unnest(cast(:ids as text[])) w"
            + " on conflict do nothing",
        Map.of("g", id, "ids", deviceIds.toArray(String[]::new)));
  }

  /** Takes devices out; says how many were in. */
  public int takeOut(String id, Collection<String> deviceIds) {
    return tx.execute(
        "delete from group_member where group_id = :g"
            + " and device_id = any(cast(:ids as text[]))",
        Map.of("g", id, "ids", deviceIds.toArray(String[]::new)));
  }

  /** Takes a device out of all groups. */
  public void leave(String deviceId) {
    tx.execute("delete from group_member where device_id = :d", Map.of("d", deviceId));
  }

  /** Names of the enrollment profiles that put devices into a group. */
  public List<String> enrollmentProfiles(String id) {
    return tx.column(
        String.class,
        "select name from enrollment_profile where :g = any(groups) order by name",
        Map.of("g", id));
  }
}
