package dev.pinwright.storage.organisation;

import dev.pinwright.core.organisation.Person;
import dev.pinwright.core.query.DeviceQuery;
import dev.pinwright.storage.After;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.query.AttributeCondition;
import dev.pinwright.storage.query.Sought;
import dev.pinwright.storage.row.PersonRow;
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
               as devices
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
   */
  public List<Person> page(
      String words,
      String unit,
      List<DeviceQuery.HasAttribute> attributes,
      After after,
      int limit) {
    Map<String, Object> p = new HashMap<>(after.parameters(limit));
    StringBuilder sql =
        new StringBuilder(SELECT)
            .append(" where (lower(p.name), p.id) > (:key, :id) and ")
            .append(Sought.in("p.sought", words, p));
    if (!unit.isEmpty()) {
      sql.append(" and p.unit_id in (select unit_id from unit_within where ancestor_id = :unit)");
      p.put("unit", unit);
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
    return tx.select(Person.class, SELECT + " where p.id = :id", Map.of("id", id)).stream()
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
        tx, id, Map.of("devices", "device where person_id = :id and retired_at is null"));
  }

  /** Takes somebody off devices that are retired. */
  public void forget(String id) {
    tx.execute("update device set person_id = null where person_id = :id", Map.of("id", id));
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
        "from PersonRow where id in :ids",
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
