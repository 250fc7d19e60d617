package dev.pinwright.storage.organisation;

import dev.pinwright.core.organisation.Person;
import dev.pinwright.core.query.DeviceQuery;
import dev.pinwright.storage.After;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.organisation.Uses.Use;
import dev.pinwright.storage.query.AttributeCondition;
import dev.pinwright.storage.query.Sought;
import dev.pinwright.storage.row.PersonRow;
import java.time.Instant;
import java.util.Collection;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;

/** People. */
public final class PersonStore {
  private static final String SELECT =
      """
      select p.id, p.version, p.name, p.login, p.mail, p.unit_id, u.code as unit, p.site_id,
             s.name as site,
             (select count(*) from device d where d.person_id = p.id and d.retired_at is null)
               as devices, p.left_at
        from person p left join unit u on u.id = p.unit_id left join site s on s.id = p.site_id
      """;

  private final Tx tx;

  public PersonStore(Tx tx) {
    this.tx = tx;
  }

  /**
   * People by name in small letters, then id.
   *
   * @param words each part of name, login or mail address
   * @param unit id of a unit they are in or below; empty for any
   * @param left only those the staff directory has not got any more
   */
  public List<Person> page(
      String words,
      String unit,
      boolean left,
      List<DeviceQuery.HasAttribute> attributes,
      After after,
      int limit) {
    Map<String, Object> p = new HashMap<>(after.parameters(limit));
    StringBuilder sql =
        new StringBuilder(SELECT)
            .append(" where p.removed_at is null and (lower(p.name), p.id) > (:key, :id) and ")
            .append(Sought.in("p.sought", words, p));
    if (!unit.isEmpty()) {
      sql.append(" and p.unit_id in (select unit_id from unit_within where ancestor_id = :unit)");
      p.put("unit", unit);
    }
    if (left) {
      sql.append(" and p.left_at is not null");
    }
    for (DeviceQuery.HasAttribute a : attributes) {
      sql.append(" and ").append(AttributeCondition.on("p.id", a, p));
    }
    sql.append(" order by lower(p.name), p.id limit :limit");
    return tx.select(Person.class, sql.toString(), p);
  }

  /** A person with what they hold, counted. */
  public Optional<Person> find(String id) {
    tx.flush();
    return tx
        .select(
            Person.class, SELECT + " where p.id = :id and p.removed_at is null", Map.of("id", id))
        .stream()
        .findFirst();
  }

  /** The row of a login in small letters. */
  public Optional<PersonRow> byLogin(String login) {
    return login.isEmpty()
        ? Optional.empty()
        : tx
            .list(PersonRow.class, "from PersonRow where login = :l", Map.of("l", login), 1)
            .stream()
            .findFirst();
  }

  /** The row of a name, whatever its letters, when only one person has it. */
  public Optional<PersonRow> onlyOne(String name) {
    List<PersonRow> called =
        tx.list(
            PersonRow.class,
            "from PersonRow where lower(name) = lower(:n) and removedAt is null",
            Map.of("n", name),
            2);
    return called.size() == 1 ? Optional.of(called.get(0)) : Optional.empty();
  }

  /** A row of a mail address; capitals do not count. */
  public Optional<PersonRow> byMail(String mail) {
    return mail.isEmpty()
        ? Optional.empty()
        : tx
            .list(
                PersonRow.class,
                "from PersonRow where lower(mail) = lower(:m) order by id",
                Map.of("m", mail),
                1)
            .stream()
            .findFirst();
  }

  /** What somebody holds, counted. */
  public List<String> uses(String id) {
    return Uses.of(
        tx,
        id,
        List.of(
            new Use("device", "devices", "device where person_id = :id and retired_at is null")));
  }

  /**
   * Keeps of somebody the name alone, ends what was open to them and takes them off the roster;
   * what they accepted and held stays.
   */
  public void forget(String id, Instant now) {
    Map<String, Object> p = Map.of("id", id, "now", now);
    tx.execute(
        "update person set login = null, mail = null, unit_id = null, site_id = null,"
            + " directory_key = null, synced_at = null, left_at = null, removed_at = :now,"
            + " version = version + 1 where id = :id",
        p);
    tx.execute("delete from attribute_value where subject_id = :id", Map.of("id", id));
    tx.execute(
        "update roster_entry set person_id = null, changed_at = :now where person_id = :id", p);
    endInvitations(id, now);
  }

  /** Ends the open invitations of somebody; says how many. */
  public int endInvitations(String id, Instant now) {
    return tx.execute(
        "update invitation set withdrawn_at = :now, mail = null"
            + " where person_id = :id and withdrawn_at is null and expires_at > :now",
        Map.of("id", id, "now", now));
  }

  /** How many open invitations somebody has. */
  public long openInvitations(String id, Instant now) {
    return tx.value(
        "select count(*) from invitation where person_id = :id and withdrawn_at is null"
            + " and expires_at > :now and uses < uses_allowed",
        Long.class,
        Map.of("id", id, "now", now));
  }

  /** Managed devices somebody holds, by name; at most a thousand. */
  public List<String> holds(String id) {
    return tx.column(
        String.class,
        "select id from device where person_id = :id and retired_at is null"
            + " order by lower(name), id limit 1000",
        Map.of("id", id));
  }

  /** Hands devices over, each to somebody or, by an empty id, to nobody. */
  public void handOver(Map<String, String> holders) {
    tx.execute(
        """
        update device d set person_id = nullif(x.person, ''), version = d.version + 1
          from unnest(cast(:devices as text[]), cast(:people as text[])) x(device, person)
         where d.id = x.device and d.person_id is distinct from nullif(x.person, '')
        """,
        Map.of(
            "devices", holders.keySet().toArray(String[]::new),
            "people", holders.values().toArray(String[]::new)));
  }

  /**
   * That somebody held a device.
   *
   * @param until when they no longer did; absent while they do
   */
  public record Holding(
      String deviceId,
      String device,
      String model,
      String personId,
      String person,
      Instant since,
      Optional<Instant> until) {}

  /** What somebody holds and held, the latest first; at most two hundred. */
  public List<Holding> holdingsOf(String personId) {
    return holdings("h.person_id = :id", personId);
  }

  /** Who holds and held a device, the latest first; at most two hundred. */
  public List<Holding> holdersOf(String deviceId) {
    return holdings("h.device_id = :id", deviceId);
  }

  private List<Holding> holdings(String condition, String id) {
    return tx.select(
        Holding.class,
        "select h.device_id, d.name as device, d.model, h.person_id, p.name as person, h.since,"
            + " h.until from device_holder h join device d on d.id = h.device_id"
            + " join person p on p.id = h.person_id where "
            + condition
            + " order by h.until is not null, h.since desc limit 200",
        Map.of("id", id));
  }

  /** The rows with one of these logins or mail addresses; capitals do not count. */
  public List<PersonRow> reachedBy(Collection<String> contacts) {
    return tx.list(
        PersonRow.class,
        "from PersonRow where login in :c or lower(mail) in :c order by id desc",
        Map.of("c", contacts.stream().map(c -> c.toLowerCase(Locale.ROOT)).toList()),
        Integer.MAX_VALUE);
  }

  /** The rows of these ids. */
  public List<PersonRow> named(Collection<String> ids) {
    return tx.list(
        PersonRow.class,
        "from PersonRow where id in :ids and removedAt is null",
        Map.of("ids", List.copyOf(ids)),
        Integer.MAX_VALUE);
  }

  /** Ids of those in a unit or below it, by name. */
  public List<String> within(String unitId, int limit) {
    return tx.column(
        String.class,
        "select id from person where unit_id in"
            + " (select unit_id from unit_within where ancestor_id = :u)"
            + " order by lower(name) limit :l",
        Map.of("u", unitId, "l", limit));
  }
}
