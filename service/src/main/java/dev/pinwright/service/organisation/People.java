package dev.pinwright.service.organisation;

import dev.pinwright.core.organisation.Attribute;
import dev.pinwright.core.organisation.Contact;
import dev.pinwright.core.organisation.Person;
import dev.pinwright.core.target.Target;
import dev.pinwright.service.usecase.Noun;
import dev.pinwright.service.usecase.UseCases;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Known;
import dev.pinwright.service.work.Page;
import dev.pinwright.service.work.Problem;
import dev.pinwright.service.work.Records;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.organisation.PersonStore;
import dev.pinwright.storage.profile.AssignmentStore;
import dev.pinwright.storage.row.PersonRow;
import dev.pinwright.storage.row.SiteRow;
import dev.pinwright.storage.row.UnitRow;
import java.util.List;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;

/** People, who hold devices. */
public final class People implements Records<Person, People.Draft> {
  private final UseCases useCases;

  public People(UseCases useCases) {
    this.useCases = useCases;
  }

  /** A person as written. */
  public record Draft(
      @Nullable String name,
      @Nullable String login,
      @Nullable String mail,
      @Nullable String unitId,
      @Nullable String siteId) {}

  /**
   * People by name.
   *
   * @param words each part of name, login or mail address
   * @param unit id of a unit they are in or below; empty for any
   * @param left only those the staff directory has not got any more
   * @param attributes conditions on attributes, such as {@code Keys=yes}
   */
  public Page<Person> page(
      Caller caller,
      String words,
      String unit,
      boolean left,
      List<String> attributes,
      Page.Request page) {
    return useCases.read(
        tx -> {
          var asked = Attributes.asked(tx, Attribute.Kind.PERSON, attributes);
          return Page.byName(
              (after, limit) -> new PersonStore(tx).page(words, unit, left, asked, after, limit),
              page,
              Person::name,
              Person::id);
        });
  }

  /** One person. */
  @Override
  public Person get(Caller caller, String id) {
    return useCases.read(tx -> one(tx, id));
  }

  private static Person one(Tx tx, String id) {
    return new PersonStore(tx).find(id).orElseThrow(() -> Problem.notFound("person", id));
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
    String name = text(d.name());
    if (name.isEmpty() || name.length() > 120) {
      throw Problem.malformed("/name", "A name has 1 to 120 characters.");
    }
    String login = Problem.reading("/login", () -> Contact.login(text(d.login())));
    String mail = Problem.reading("/mail", () -> Contact.mail(text(d.mail())));
    return useCases.act(
        caller,
        act -> {
          Tx tx = act.tx();
          if (new PersonStore(tx).byLogin(login).filter(p -> !p.id.equals(id)).isPresent()) {
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
            row.id = act.newId();
            row.createdAt = act.now();
            tx.insert(row);
          }
          String done = id == null ? "added" : "changed";
          act.done(Noun.PERSON, done, row.id, name + " " + done);
          return one(tx, row.id);
        });
  }

  private static String text(@Nullable String value) {
    return value == null ? "" : value.strip();
  }

  /**
   * Takes a person out who holds nothing. Their name stays with what they accepted and held, and
   * nothing else; what was open to them ends.
   *
   * @throws Problem 409 naming what they hold
   */
  @Override
  public void delete(Caller caller, String id, int version) {
    useCases.run(
        caller,
        act -> {
          PersonRow row =
              act.tx()
                  .lock(PersonRow.class, id)
                  .filter(p -> !p.removed())
                  .orElseThrow(() -> Problem.notFound("person", id));
          Known.unchanged("person", version, row.version);
          takeOut(act, row);
        });
  }

  /**
   * Keeps of somebody the name alone.
   *
   * @throws Problem 409 naming what they hold or what is assigned to them
   */
  public static void takeOut(UseCases.Act act, PersonRow row) {
    act.tx().flush();
    PersonStore people = new PersonStore(act.tx());
    Known.unused(
        row.name,
        Stream.concat(
                people.uses(row.id).stream(),
                new AssignmentStore(act.tx())
                    .users(new Target(Target.Kind.PERSON, row.id)).stream())
            .toList());
    people.forget(row.id, act.now());
    act.done(Noun.PERSON, "removed", row.id, row.name + " taken out");
    act.touch(Noun.INVITATION, Noun.ROSTER);
  }

  /** What somebody holds and held, the latest first. */
  public List<PersonStore.Holding> holdings(Caller caller, String id) {
    return useCases.read(tx -> new PersonStore(tx).holdingsOf(one(tx, id).id()));
  }

  /** Who holds and held a device, the latest first. */
  public List<PersonStore.Holding> holders(Caller caller, String deviceId) {
    return useCases.read(tx -> new PersonStore(tx).holdersOf(deviceId));
  }
}
