package dev.pinwright.storage.device;

import dev.pinwright.storage.Tx;
import java.util.Collection;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.Stream;

/** Tags, wherever they stand: on devices, in enrollment profiles and on the roster. */
public final class TagStore {
  private static final List<String> LISTS = List.of("enrollment_profile", "roster_entry");

  private final Tx tx;

  public TagStore(Tx tx) {
    this.tx = tx;
  }

  private record Counted(String tag, long devices) {}

  /** Tags in use with the number of managed devices that have them, by tag; at most a thousand. */
  public Map<String, Long> counts() {
    Map<String, Long> out = new LinkedHashMap<>();
    tx.select(
            Counted.class,
            """
            select t.tag, count(d.id) as devices from (
              select tag, device_id from device_tag
              union all select unnest(tags), null from enrollment_profile
                where removed_at is null
              union all select unnest(tags), null from roster_entry where state = 'expected'
            ) t left join device d on d.id = t.device_id and d.retired_at is null
             group by t.tag order by lower(t.tag), t.tag limit 1000
            """,
            Map.of())
        .forEach(c -> out.put(c.tag(), c.devices()));
    return out;
  }

  /** Whether a tag stands anywhere. */
  public boolean inUse(String tag) {
    return tx.any(
        """
        select 1 where exists (select 1 from device_tag where tag = :t)
            or exists (select 1 from enrollment_profile
                        where cast(:t as text) = any(tags) and removed_at is null)
            or exists (select 1 from roster_entry
                        where cast(:t as text) = any(tags) and state = 'expected')
        """,
        Map.of("t", tag));
  }

  /** The tags of one device, in order. */
  public List<String> of(String deviceId) {
    return tx.column(
        String.class,
        "select tag from device_tag where device_id = :d order by tag",
        Map.of("d", deviceId));
  }

  /** Gives a tag another name everywhere; where that is a tag already, the two become one. */
  public void rename(String tag, String name) {
    Map<String, Object> p = Map.of("old", tag, "new", name);
    tx.execute(
        "insert into device_tag select device_id, :new from device_tag where tag = :old"
            + " on conflict do nothing",
        p);
    tx.execute("delete from device_tag where tag = :old", Map.of("old", tag));
    for (String list : LISTS) {
      tx.execute(
          """
          update %s set tags =
            case when cast(:new as text) = any(tags) then array_remove(tags, cast(:old as text))
                 else array_replace(tags, cast(:old as text), cast(:new as text)) end
           where cast(:old as text) = any(tags)
          """
              .formatted(list),
          p);
    }
  }

  /** Takes a tag away everywhere; says from how many devices. */
  public int remove(String tag) {
    Map<String, Object> p = Map.of("tag", tag);
    for (String list : LISTS) {
      tx.execute(
          """
          update %s set tags = array_remove(tags, cast(:tag as text))
           where cast(:tag as text) = any(tags)
          """
              .formatted(list),
          p);
    }
    return tx.execute("delete from device_tag where tag = :tag", p);
  }

  /** Gives devices exactly these tags, by two statements. */
  public void set(Map<String, ? extends Collection<String>> tags) {
    List<String> devices = tags.entrySet().stream().flatMap(TagStore::each).toList();
    tx.execute(
        "delete from device_tag where device_id = any(cast(:d as text[]))",
        Map.of("d", tags.keySet().toArray(String[]::new)));
    tx.execute(
        "insert into device_tag select * from unnest(cast(:d as text[]), cast(:t as text[]))",
        Map.of(
            "d", devices.toArray(String[]::new),
            "t", tags.values().stream().flatMap(Collection::stream).toArray(String[]::new)));
  }

  private static Stream<String> each(Map.Entry<String, ? extends Collection<String>> tags) {
    return tags.getValue().stream().map(t -> tags.getKey());
  }

  /** Gives devices tags besides those they have. */
  public void add(Collection<String> deviceIds, Collection<String> tags) {
    tx.execute(
        """
        insert into device_tag
        select d, t from unnest(cast(:d as text[])) d, unnest(cast(:t as text[])) t
        on conflict do nothing
        """,
        Map.of("d", deviceIds.toArray(String[]::new), "t", tags.toArray(String[]::new)));
  }
}
