package dev.pinwright.service.device;

import com.github.f4b6a3.ulid.UlidCreator;
import dev.pinwright.core.target.Target;
import dev.pinwright.service.change.Changes;
import dev.pinwright.service.journal.Journal;
import dev.pinwright.service.live.Events;
import dev.pinwright.service.rules.TargetUses;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Page;
import dev.pinwright.service.work.Problem;
import dev.pinwright.service.work.Role;
import dev.pinwright.storage.Database;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.row.GroupRow;
import java.time.Clock;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.TreeSet;

/** Groups picked by hand. */
public final class Groups {
  private final Database database;
  private final Changes changes;
  private final Journal journal;
  private final Events events;
  private final Clock clock;

  public Groups(Database database, Changes changes, Journal journal, Events events, Clock clock) {
    this.database = database;
    this.changes = changes;
    this.journal = journal;
    this.events = events;
    this.clock = clock;
  }

  /** A group. */
  public record Group(String id, int version, String name, long devices) {}

  /** Groups by name. */
  public Page<Group> page(Caller caller, String words, Page.Request page) {
    caller.needs(Role.READER);
    String[] c = page.parts(Page.Part.TEXT, Page.Part.TEXT);
    List<Object[]> rows =
        database.call(
            tx ->
                tx.rows(
                    """
                    select g.id, g.version, g.name,
                           (select count(*) from group_member m where m.group_id = g.id)
                      from device_group g
                     where (lower(g.name), g.id) > (:name, :id)
                       and (:words = '' or g.name ilike '%' || :words || '%')
                     order by lower(g.name), g.id limit :limit
                    """,
                    Map.of(
                        "name",
                        c.length == 0 ? "" : c[0],
                        "id",
                        c.length == 0 ? "" : c[1],
                        "words",
                        words,
                        "limit",
                        page.limit() + 1)));
    return Page.of(
        rows,
        page.limit(),
        r ->
            new Group(
                (String) r[0],
                ((Number) r[1]).intValue(),
                (String) r[2],
                ((Number) r[3]).longValue()),
        r -> Page.cursor(((String) r[2]).toLowerCase(Locale.ROOT), (String) r[0]));
  }

  /** One group. */
  public Group get(Caller caller, String id) {
    caller.needs(Role.READER);
    return database.call(tx -> view(tx, row(tx, id)));
  }

  private static GroupRow row(Tx tx, String id) {
    return tx.find(GroupRow.class, id).orElseThrow(() -> Problem.notFound("group", id));
  }

  private static Group view(Tx tx, GroupRow row) {
    return new Group(
        row.id,
        row.version,
        row.name,
        tx.value(
            "select count(*) from group_member where group_id = :g",
            Long.class,
            Map.of("g", row.id)));
  }

  /** Makes a group, empty. */
  public Group add(Caller caller, String wanted) {
    caller.needs(Role.OPERATOR);
    String name = wanted.strip();
    if (name.isEmpty() || name.length() > 80) {
      throw Problem.malformed("/name", "A name has 1 to 80 characters.");
    }
    Group group =
        database.call(
            tx -> {
              if (!tx.list(GroupRow.class, "from GroupRow where name = :n", Map.of("n", name), 1)
                  .isEmpty()) {
                throw Problem.conflict("name-taken", "There is a group called " + name + ".");
              }
              GroupRow row = new GroupRow();
              row.id = UlidCreator.getMonotonicUlid().toString();
              row.name = name;
              row.createdAt = clock.instant();
              tx.insert(row);
              tx.flush();
              journal.write(tx, caller, "group.made", "group:" + row.id, "Group " + name + " made");
              return view(tx, row);
            });
    events.touch("groups");
    return group;
  }

  /** Puts devices in and takes devices out; profiles assigned to the group follow at once. */
  public Group members(Caller caller, String id, List<String> add, List<String> remove) {
    caller.needs(Role.OPERATOR);
    Group group =
        database.call(
            tx -> {
              GroupRow row = row(tx, id);
              TreeSet<String> all = new TreeSet<>(add);
              all.addAll(remove);
              String[] wanted = add.toArray(String[]::new);
              List<Object[]> unknown =
                  tx.rows(
                      "select w, 1 from unnest(cast(:ids as text[])) w where not exists"
                          + " (select 1 from device d where d.id = w and d.retired_at is null)",
                      Map.of("ids", wanted));
              if (!unknown.isEmpty()) {
                throw Problem.malformed("/add", "There is no device " + unknown.get(0)[0] + ".");
              }
              int in =
                  tx.execute(
                      "insert into group_member select :g, w from unnest(cast(:ids as text[])) w"
                          + " on conflict do nothing",
                      Map.of("g", id, "ids", wanted));
              int out =
                  tx.execute(
                      "delete from group_member where group_id = :g"
                          + " and device_id = any(cast(:ids as text[]))",
                      Map.of("g", id, "ids", remove.toArray(String[]::new)));
              changes.ofDevices(tx, all).applyIfAny(caller, "Members of " + row.name);
              journal.write(
                  tx,
                  caller,
                  "group.changed",
                  "group:" + id,
                  row.name + ": " + in + " devices put in, " + out + " taken out");
              return view(tx, row);
            });
    events.touch("groups");
    changes.touch();
    return group;
  }

  /**
   * Deletes a group nothing is assigned to.
   *
   * @throws Problem 409 while a published profile or an enrollment profile names it
   */
  public void delete(Caller caller, String id) {
    caller.needs(Role.OPERATOR);
    database.run(
        tx -> {
          GroupRow row = row(tx, id);
          List<String> users =
              new ArrayList<>(TargetUses.of(tx, new Target(Target.Kind.GROUP, id)));
          tx.rows(
                  "select name, 1 from enrollment_profile where :g = any(groups) order by name",
                  Map.of("g", id))
              .forEach(r -> users.add((String) r[0]));
          if (!users.isEmpty()) {
            throw Problem.conflict(
                "in-use", row.name + " is used by " + String.join(", ", users) + ".");
          }
          tx.delete(row);
          journal.write(
              tx, caller, "group.deleted", "group:" + id, "Group " + row.name + " deleted");
        });
    events.touch("groups");
  }
}
