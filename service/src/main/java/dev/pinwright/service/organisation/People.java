package dev.pinwright.service.organisation;

import com.github.f4b6a3.ulid.UlidCreator;
import dev.pinwright.core.target.Target;
import dev.pinwright.service.journal.Journal;
import dev.pinwright.service.live.Events;
import dev.pinwright.service.rules.TargetUses;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Known;
import dev.pinwright.service.work.Page;
import dev.pinwright.service.work.Problem;
import dev.pinwright.service.work.Records;
import dev.pinwright.service.work.Role;
import dev.pinwright.service.work.Sought;
import dev.pinwright.storage.Database;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.row.PersonRow;
import dev.pinwright.storage.row.SiteRow;
import dev.pinwright.storage.row.UnitRow;
import java.time.Clock;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/** People, who hold devices. */
public final class People implements Records<People.Person, People.Draft> {
  private final Database database;
  private final Journal journal;
  private final Events events;
  private final Clock clock;

  public People(Database database, Journal journal, Events events, Clock clock) {
    this.database = database;
    this.journal = journal;
    this.events = events;
    this.clock = clock;
  }

  /** A person. {@code login} is that of the staff directory, where there is one. */
  public record Person(
      String id,
      int version,
      String name,
      Optional<String> login,
      Optional<String> mail,
      Optional<String> unitId,
      Optional<String> unit,
      Optional<String> siteId,
      Optional<String> site,
      long devices)
      implements Records.Versioned {}

  /** A person as written. */
  public record Draft(
      @Nullable String name,
      @Nullable String login,
      @Nullable String mail,
      @Nullable String unitId,
      @Nullable String siteId) {}

  private static final String SELECT =
      """
      select p.id, p.version, p.name, p.login, p.mail, p.unit_id, u.code, p.site_id, s.name,
             (select count(*) from device d where d.person_id = p.id and d.retired_at is null)
        from person p left join unit u on u.id = p.unit_id left join site s on s.id = p.site_id
      """;

  private static Person view(Object[] r) {
    return new Person(
        (String) r[0],
        (Integer) r[1],
        (String) r[2],
        Optional.ofNullable((String) r[3]),
        Optional.ofNullable((String) r[4]),
        Optional.ofNullable((String) r[5]),
        Optional.ofNullable((String) r[6]),
        Optional.ofNullable((String) r[7]),
        Optional.ofNullable((String) r[8]),
        ((Number) r[9]).longValue());
  }

  /**
   * People by name.
   *
   * @param words each part of name, login or mail address
   * @param unit id of a unit they are in or below; empty for any
   * @param attributes conditions on attributes, such as {@code Keys=yes}
   */
  public Page<Person> page(
      Caller caller, String words, String unit, List<String> attributes, Page.Request page) {
    caller.needs(Role.READER);
    return database.call(tx -> page(tx, words, unit, attributes, page));
  }

  private static Page<Person> page(
      Tx tx, String words, String unit, List<String> attributes, Page.Request page) {
    String[] c = page.parts(Page.Part.TEXT, Page.Part.TEXT);
    Map<String, Object> p = new HashMap<>();
    StringBuilder sql =
        new StringBuilder(
            SELECT
                + " where (lower(p.name), p.id) > (:n, :id) and "
                + Sought.in("p.sought", words, p));
    if (!unit.isEmpty()) {
      sql.append(" and p.unit_id in (select unit_id from unit_within where ancestor_id = :unit)");
      p.put("unit", unit);
    }
    sql.append(Attributes.where(tx, "person", "p.id", attributes, p));
    p.put("n", c.length == 0 ? "" : c[0]);
    p.put("id", c.length == 0 ? "" : c[1]);
    p.put("limit", page.limit() + 1);
    sql.append(" order by lower(p.name), p.id limit :limit");
    return Page.of(
        tx.rows(sql.toString(), p),
        page.limit(),
        People::view,
        r -> Page.cursor(((String) r[2]).toLowerCase(Locale.ROOT), (String) r[0]));
  }

  /** One person. */
  @Override
  public Person get(Caller caller, String id) {
    caller.needs(Role.READER);
    return database.call(tx -> one(tx, id));
  }

  private static Person one(Tx tx, String id) {
    return tx.rows(SELECT + " where p.id = :id", Map.of("id", id)).stream()
        .findFirst()
        .map(People::view)
        .orElseThrow(() -> Problem.notFound("person", id));
  }

  /** Adds a person. */
  @Override
  public Person add(Caller caller, Draft draft) {
    return write(caller, null, 0, draft);
  }

  /**
   * Rewrites a person. Devices they hold stay where they are.
   *
   * @throws Problem 412 when someone else changed it meanwhile
   */
  @Override
  public Person change(Caller caller, String id, int version, Draft draft) {
    return write(caller, id, version, draft);
  }

  private Person write(Caller caller, @Nullable String id, int version, Draft d) {
    caller.needs(Role.OPERATOR);
    String name = text(d.name());
    String login = text(d.login()).toLowerCase(Locale.ROOT);
    String mail = text(d.mail());
    if (name.isEmpty() || name.length() > 120) {
      throw Problem.malformed("/name", "A name has 1 to 120 characters.");
    }
    if (!login.matches("[a-z0-9._@-]{0,80}")) {
      throw Problem.malformed("/login", "A login has letters, digits, dots, hyphens or @.");
    }
    if (!mail.isEmpty() && !mail.matches("[^\\s@,;<>]{1,64}@[A-Za-z0-9.-]{1,190}")) {
      throw Problem.malformed("/mail", "A mail address looks like ines@vellmar.example.");
    }
    Person written =
        database.call(
            tx -> {
              if (!login.isEmpty()
                  && !tx.list(
                          PersonRow.class,
                          "from PersonRow where login = :l and id <> :id",
                          Map.of("l", login, "id", id == null ? "" : id),
                          1)
                      .isEmpty()) {
                throw Problem.conflict("login-taken", "Somebody has the login " + login + ".");
              }
              PersonRow row =
                  id == null
                      ? new PersonRow()
                      : Known.locked(tx, PersonRow.class, "person", id, version, r -> r.version);
              row.name = name;
              row.login = login.isEmpty() ? null : login;
              row.mail = mail.isEmpty() ? null : mail;
              row.unitId = Known.id(tx, UnitRow.class, "unit", d.unitId());
              row.siteId = Known.id(tx, SiteRow.class, "site", d.siteId());
              if (id == null) {
                row.id = UlidCreator.getMonotonicUlid().toString();
                row.createdAt = clock.instant();
                tx.insert(row);
              }
              tx.flush();
              Person person = one(tx, row.id);
              journal.write(
                  tx,
                  caller,
                  id == null ? "person.added" : "person.changed",
                  "person:" + row.id,
                  name + (id == null ? " added" : " changed"));
              return person;
            });
    events.touch("people");
    return written;
  }

  private static String text(@Nullable String value) {
    return value == null ? "" : value.strip();
  }

  /**
   * Takes a person out who holds nothing.
   *
   * @throws Problem 409 naming what they hold
   */
  @Override
  public void delete(Caller caller, String id) {
    caller.needs(Role.OPERATOR);
    database.run(
        tx -> {
          PersonRow row =
              tx.lock(PersonRow.class, id).orElseThrow(() -> Problem.notFound("person", id));
          List<String> uses =
              InUse.of(
                  tx,
                  id,
                  Map.of(
                      "devices",
                      "select count(*) from device where person_id = :id and retired_at is null"));
          uses.addAll(TargetUses.of(tx, new Target(Target.Kind.PERSON, id)));
          InUse.refuse(row.name, uses);
          tx.execute("update device set person_id = null where person_id = :id", Map.of("id", id));
          tx.delete(row);
          tx.flush();
          journal.write(tx, caller, "person.removed", "person:" + id, row.name + " taken out");
        });
    events.touch("people");
  }
}
