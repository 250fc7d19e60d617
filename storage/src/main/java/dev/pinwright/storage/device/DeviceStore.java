package dev.pinwright.storage.device;

import dev.pinwright.core.device.Identifier;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.row.DeviceRow;
import java.time.Instant;
import java.util.Collection;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.stream.Collectors;

/** Records of devices. */
public final class DeviceStore {
  private final Tx tx;

  public DeviceStore(Tx tx) {
    this.tx = tx;
  }

  /** The condition that a row has one of some identifiers. */
  public static final String IDENTIFIED = "(serial in :s or imei in :i or asset in :a)";

  /** The parameters of {@link #IDENTIFIED}; a device may have several of a kind. */
  public static Map<String, Object> parameters(Collection<Identifier> identifiers) {
    Map<String, Object> p = new HashMap<>();
    p.put("s", values(identifiers, Identifier.Kind.SERIAL));
    p.put("i", values(identifiers, Identifier.Kind.IMEI));
    p.put("a", values(identifiers, Identifier.Kind.ASSET));
    return p;
  }

  private static List<String> values(Collection<Identifier> from, Identifier.Kind kind) {
    List<String> all = from.stream().filter(i -> i.kind() == kind).map(Identifier::value).toList();
    return all.isEmpty() ? List.of("") : all;
  }

  private record Serial(String id, String serial) {}

  /** Serial numbers of devices by id; those that have none are left out. */
  public Map<String, String> serials(Collection<String> ids) {
    return tx
        .select(
            Serial.class,
            "select id, serial from device where id = any(:ids) and serial is not null",
            Map.of("ids", ids.toArray(String[]::new)))
        .stream()
        .collect(Collectors.toMap(Serial::id, Serial::serial));
  }

  /** Ids of devices under management by serial number; those there are none of are left out. */
  public Map<String, String> withSerials(Collection<String> serials) {
    return tx
        .select(
            Serial.class,
            """
            select d.id, d.serial from device d join device_state st on st.device_id = d.id
             where d.serial = any(:serials) and st.standing <> 'retired' order by d.id
            """,
            Map.of("serials", serials.toArray(String[]::new)))
        .stream()
        .collect(Collectors.toMap(Serial::serial, Serial::id, (a, b) -> b));
  }

  /** Records that have one of these identifiers, held against other writers; at most three. */
  public List<DeviceRow> identified(Collection<Identifier> identifiers) {
    return tx.listLocked(
        DeviceRow.class, "from DeviceRow where " + IDENTIFIED, parameters(identifiers), 3);
  }

  /**
   * Waits for whoever lets a device in that has one of these identifiers, on whichever node, until
   * this transaction ends.
   */
  public void holdIdentifiers(Collection<Identifier> identifiers) {
    for (Identifier i : identifiers) {
      tx.advisoryLock("identifier " + i);
    }
  }

  /** Waits for whoever gives a device this name, until this transaction ends. */
  public void holdName(String name) {
    tx.advisoryLock("device name " + name.toLowerCase(Locale.ROOT));
  }

  /** Whether a managed device but for one has a name; capitals do not count. */
  public boolean nameTaken(String name, String but) {
    return tx.any(
        "select 1 from device where lower(name) = lower(:n) and id <> :id"
            + " and retired_at is null",
        Map.of("n", name, "id", but));
  }

  /** Whether a device has an asset number. */
  public boolean assetTaken(String asset) {
    return tx.any("select 1 from device where asset = :a", Map.of("a", asset));
  }

  /** Forgets what was between the server and a device, which begins anew. */
  public void beginAnew(String deviceId) {
    Map<String, Object> p = Map.of("d", deviceId);
    tx.execute("delete from refusal where device_id = :d", p);
    tx.execute("delete from dm_session where device_id = :d", p);
    tx.execute("delete from push_subscription where device_id = :d", p);
  }

  /**
   * Puts a device that returns into the groups it was picked for when its management ended.
   *
   * @return names of those that are gone since
   */
  public List<String> returnToGroups(String deviceId) {
    Map<String, Object> p = Map.of("d", deviceId);
    tx.execute(
        "insert into group_pick select g.id, :d from group_left l"
            + " join device_group g on g.id = l.group_id and g.rule is null where l.device_id = :d"
            + " on conflict do nothing",
        p);
    List<String> gone =
        tx.column(
            String.class,
            "select name from group_left l where device_id = :d and not exists"
                + " (select 1 from device_group g where g.id = l.group_id and g.rule is null)"
                + " order by name",
            p);
    tx.execute("delete from group_left where device_id = :d", p);
    return gone;
  }

  /**
   * Notes that a device whose management ended has heard of it.
   *
   * @return false when that was known
   */
  public boolean letGo(String deviceId, Instant now) {
    tx.execute("delete from push_subscription where device_id = :d", Map.of("d", deviceId));
    return tx.execute(
            "update device set let_go_at = :now"
                + " where id = :d and retired_at is not null and let_go_at is null",
            Map.of("d", deviceId, "now", now))
        > 0;
  }

  /** Picks a device for groups, those of them there are and that are picked by hand. */
  public void join(String deviceId, Collection<String> groups) {
    tx.execute(
        "insert into group_pick select g.id, :d from device_group g"
            + " where g.id = any(cast(:g as text[])) and g.rule is null on conflict do nothing",
        Map.of("d", deviceId, "g", groups.toArray(String[]::new)));
  }

  /** Ends sessions in which nothing was said for an hour. */
  public void tidySessions(Instant now) {
    tx.execute(
        "delete from dm_session where changed_at < cast(:now as timestamptz) - interval '1 hour'",
        Map.of("now", now));
  }
}
