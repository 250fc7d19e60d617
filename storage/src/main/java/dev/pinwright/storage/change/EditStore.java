package dev.pinwright.storage.change;

import dev.pinwright.core.enrollment.Identifiers;
import dev.pinwright.core.naming.NamePattern;
import dev.pinwright.core.naming.Renaming;
import dev.pinwright.storage.Tx;
import java.time.Instant;
import java.util.Collection;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/**
 * Writes into the records of many devices at once: those of the {@link
 * dev.pinwright.storage.query.Selection selection}, each statement only those it changes. What they
 * were like is kept, so that it can be put back.
 */
public final class EditStore {
  /** All of a record that can be put back, as JSON; an absent value is a JSON null. */
  private static final String RECORD =
      """
      jsonb_build_object('name', d.name, 'unit', d.unit_id, 'site', d.site_id,
        'person', d.person_id,
        'tags', coalesce((select jsonb_agg(t.tag order by t.tag) from device_tag t
                           where t.device_id = d.id), '[]'))
      """;

  private final Tx tx;

  public EditStore(Tx tx) {
    this.tx = tx;
  }

  /** Notes what the selected devices are like. */
  public void remember() {
    tx.execute(
        "create temporary table if not exists remembered (device_id text primary key,"
            + " before jsonb not null) on commit delete rows",
        Map.of());
    tx.execute("delete from remembered", Map.of());
    tx.execute(
        "insert into remembered select d.id, "
            + RECORD
            + " from device d join aimed a on a.device_id = d.id",
        Map.of());
  }

  /** Forgets those that are still what they were; says how many are not. */
  public int changed() {
    tx.execute(
        "delete from remembered r using device d where d.id = r.device_id and r.before = " + RECORD,
        Map.of());
    return tx.value("select count(*) from remembered", Long.class, Map.of()).intValue();
  }

  /** Keeps with a change what its devices were like before it and are like now. */
  public void keep(String changeId) {
    tx.execute(
        "insert into change_before (change_id, device_id, before, after)"
            + " select :c, r.device_id, r.before, "
            + RECORD
            + " from remembered r join device d on d.id = r.device_id",
        Map.of("c", changeId));
  }

  /** A device, and in words what it was like and is like now. */
  public record Example(String id, String name, String before, String after) {}

  private static final String PLACE =
      """
      concat_ws(', ', coalesce((select code from unit where id = %1$s ->> 'unit'), 'no unit'),
        coalesce((select name from site where id = %1$s ->> 'site'), 'no site'),
        coalesce((select name from person where id = %1$s ->> 'person'), 'held by nobody'))
      """;

  private static final String TAGS =
      """
      coalesce((select string_agg(x, ', ' order by x)
                  from jsonb_array_elements_text(%1$s -> 'tags') x), 'no tags')
      """;

  /** What differs of a record, in words. */
  private static String words(String record) {
    return """
    concat_ws('; ',
      case when r.before ->> 'name' <> r.now ->> 'name' then %1$s ->> 'name' end,
      case when r.before - 'name' - 'tags' <> r.now - 'name' - 'tags' then %2$s end,
      case when r.before -> 'tags' <> r.now -> 'tags' then %3$s end)
    """
        .formatted(record, PLACE.formatted(record), TAGS.formatted(record));
  }

  /** Some of the devices that are no longer what they were, by the names they had. */
  public List<Example> examples(int limit) {
    return tx.select(
        Example.class,
        """
        select r.device_id as id, r.before ->> 'name' as name, %s as before, %s as after
          from (select x.device_id, x.before, %s as now
                  from remembered x join device d on d.id = x.device_id) r
         order by lower(r.before ->> 'name'), r.device_id limit :limit
        """
            .formatted(words("r.before"), words("r.now"), RECORD),
        Map.of("limit", limit));
  }

  /** Writes where devices belong and who holds them; what is absent stays, empty takes away. */
  public void place(Optional<String> unit, Optional<String> site, Optional<String> person) {
    set("unit_id", unit);
    set("site_id", site);
    set("person_id", person);
  }

  private void set(String column, Optional<String> id) {
    id.ifPresent(
        value ->
            tx.execute(
                """
                update device d set %1$s = nullif(:v, ''), version = d.version + 1 from aimed a
                 where d.id = a.device_id and d.%1$s is distinct from nullif(:v, '')
                """
                    .formatted(column),
                Map.of("v", value)));
  }

  /** Gives devices tags and takes others from them. */
  public void tag(Collection<String> add, Collection<String> remove) {
    tx.execute(
        "insert into device_tag select a.device_id, t from aimed a, unnest(cast(:t as text[])) t"
            + " on conflict do nothing",
        Map.of("t", add.toArray(String[]::new)));
    tx.execute(
        "delete from device_tag x using aimed a where x.device_id = a.device_id"
            + " and x.tag = any(cast(:t as text[]))",
        Map.of("t", remove.toArray(String[]::new)));
  }

  /** A selected device that would have more tags than a device may; empty when there is none. */
  public Optional<String> overTagged(int most) {
    return tx
        .column(
            String.class,
            "select d.name from device d join aimed a on a.device_id = d.id where"
                + " (select count(*) from device_tag t where t.device_id = d.id) > :most limit 1",
            Map.of("most", most))
        .stream()
        .findFirst();
  }

  private record Facts(
      String id,
      String name,
      Optional<String> serial,
      Optional<String> imei,
      Optional<String> asset,
      String model,
      String platform,
      String person,
      String unit,
      String site,
      List<String> sequences,
      List<Long> numbers) {

    Renaming.Device device() {
      Map<String, Long> held = new HashMap<>();
      for (int i = 0; i < sequences.size(); i++) {
        held.put(sequences.get(i), numbers.get(i));
      }
      return new Renaming.Device(
          id,
          name,
          new NamePattern.Facts(
              new Identifiers(serial, imei, asset).list(), model, platform, person, unit, site, ""),
          held);
    }
  }

  /** What names of the selected devices are made of, by the names they have. */
  public List<Renaming.Device> facts() {
    return tx
        .select(
            Facts.class,
            """
            select d.id, d.name, d.serial, d.imei, d.asset, d.model, d.platform,
                   coalesce(p.name, '') as person, coalesce(u.code, '') as unit,
                   coalesce(s.name, '') as site,
                   array(select n.key from sequence_number n
                          where n.device_id = d.id and n.freed_at is null order by n.key)
                     as sequences,
                   array(select n.number from sequence_number n
                          where n.device_id = d.id and n.freed_at is null order by n.key)
                     as numbers
              from device d join aimed a on a.device_id = d.id
              left join person p on p.id = d.person_id left join unit u on u.id = d.unit_id
              left join site s on s.id = d.site_id
             order by lower(d.name), d.id
            """,
            Map.of())
        .stream()
        .map(Facts::device)
        .toList();
  }

  /** Names, in small letters, of managed devices that are not selected. */
  public Set<String> otherNames() {
    return new HashSet<>(
        tx.column(
            String.class,
            "select lower(d.name) from device d where d.retired_at is null"
                + " and not exists (select 1 from aimed a where a.device_id = d.id)",
            Map.of()));
  }

  /** Writes new names, and which numbers of which sequences were given for them. */
  public void rename(List<Renaming.Renamed> renamed, Instant now) {
    tx.execute(
        """
        update device d set name = n.name, version = d.version + 1
          from unnest(cast(:ids as text[]), cast(:names as text[])) n(id, name)
         where d.id = n.id and d.name <> n.name
        """,
        Map.of(
            "ids", renamed.stream().map(Renaming.Renamed::id).toArray(String[]::new),
            "names", renamed.stream().map(Renaming.Renamed::after).toArray(String[]::new)));
    // a number of a sequence the name no longer is of is free for the next
    tx.execute(
        """
        update sequence_number s set freed_at = :now
          from unnest(cast(:ids as text[]), cast(:keys as text[])) n(id, key)
         where s.device_id = n.id and s.freed_at is null and s.key <> n.key
        """,
        Map.of(
            "now", now,
            "ids", renamed.stream().map(Renaming.Renamed::id).toArray(String[]::new),
            "keys", renamed.stream().map(Renaming.Renamed::sequence).toArray(String[]::new)));
    List<Renaming.Renamed> numbered = renamed.stream().filter(r -> r.given().isPresent()).toList();
    Map<String, Object> p =
        Map.of(
            "now", now,
            "ids", numbered.stream().map(Renaming.Renamed::id).toArray(String[]::new),
            "keys", numbered.stream().map(Renaming.Renamed::sequence).toArray(String[]::new),
            "numbers", numbered.stream().map(r -> r.given().getAsLong()).toArray(Long[]::new));
    tx.execute(
        """
        insert into sequence_number (key, number, device_id, taken_at)
        select n.key, n.number, n.id, :now
          from unnest(cast(:ids as text[]), cast(:keys as text[]), cast(:numbers as bigint[]))
               n(id, key, number)
        """,
        p);
    tx.execute(
        """
        update sequence s set last = greatest(s.last, n.last)
          from (select key, max(number) as last
                  from unnest(cast(:keys as text[]), cast(:numbers as bigint[])) x(key, number)
                 group by key) n
         where s.key = n.key
        """,
        Map.of("keys", p.get("keys"), "numbers", p.get("numbers")));
  }

  /** Ends the management of the selected devices; {@code by} is the login of whoever does. */
  public void retire(String reason, String by, Instant now) {
    Map<String, Object> p = Map.of("now", now);
    tx.execute(
        "update device d set retired_at = :now, retired_by = :by, let_go_at = null,"
            + " ready_gate = null, version = d.version + 1 from aimed a where d.id = a.device_id",
        Map.of("now", now, "by", by));
    tx.execute(
        "insert into group_left (device_id, group_id, name)"
            + " select m.device_id, g.id, g.name from aimed a"
            + " join group_pick m using (device_id) join device_group g on g.id = m.group_id"
            + " on conflict do nothing",
        Map.of());
    tx.execute(
        "update device_certificate c set state = 'revoked' from aimed a"
            + " where c.device_id = a.device_id and c.state <> 'revoked'",
        Map.of());
    tx.execute(
        "update command c set state = 'cancelled', reason = 'the device was retired',"
            + " ended_at = :now from aimed a where c.device_id = a.device_id"
            + " and c.state in ('planned', 'queued')",
        p);
    tx.execute(
        "update sequence_number s set freed_at = :now from aimed a"
            + " where s.device_id = a.device_id and s.freed_at is null",
        p);
    for (String table : List.of("est_grant", "group_member", "group_pick")) {
      tx.execute(
          "delete from " + table + " x using aimed a where x.device_id = a.device_id", Map.of());
    }
    tell(now, "retired", "Retired: " + reason);
  }

  /** Adds a line to the activity of every selected device that changed. */
  public void tell(Instant now, String kind, String text) {
    tx.execute(
        "insert into activity (device_id, at, kind, text)"
            + " select device_id, :now, :kind, :text from aimed",
        Map.of("now", now, "kind", kind, "text", text));
  }

  // ---- taking a change back
  // ----------------------------------------------------------------------

  /** Puts back what a change wrote, wherever it still stands as the change left it. */
  public void putBack(String changeId) {
    Map<String, Object> p = Map.of("c", changeId);
    for (Map.Entry<String, String> field :
        Map.of("name", "name", "unit", "unit_id", "site", "site_id", "person", "person_id")
            .entrySet()) {
      tx.execute(
          """
          update device d set %2$s = b.before ->> '%1$s', version = d.version + 1
            from change_before b
           where b.change_id = :c and d.id = b.device_id and d.retired_at is null
             and b.before ->> '%1$s' is distinct from b.after ->> '%1$s'
             and d.%2$s is not distinct from b.after ->> '%1$s'
          """
              .formatted(field.getKey(), field.getValue()),
          p);
    }
    tx.execute(
        """
        delete from device_tag t using change_before b
         where b.change_id = :c and t.device_id = b.device_id
           and b.after -> 'tags' @> to_jsonb(t.tag) and not b.before -> 'tags' @> to_jsonb(t.tag)
        """,
        p);
    tx.execute(
        """
        insert into device_tag
        select b.device_id, x.tag from change_before b
          join device d on d.id = b.device_id and d.retired_at is null,
          jsonb_array_elements_text(b.before -> 'tags') x(tag)
         where b.change_id = :c and not b.after -> 'tags' @> to_jsonb(x.tag)
        on conflict do nothing
        """,
        p);
  }

  /** The devices a change wrote into. */
  public List<String> devices(String changeId) {
    return tx.column(
        String.class,
        "select device_id from change_before where change_id = :c order by device_id",
        Map.of("c", changeId));
  }
}
