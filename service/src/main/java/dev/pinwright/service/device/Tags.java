package dev.pinwright.service.device;

import dev.pinwright.core.organisation.TagList;
import dev.pinwright.core.target.Target;
import dev.pinwright.service.journal.Journal;
import dev.pinwright.service.live.Events;
import dev.pinwright.service.rules.TargetUses;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Problem;
import dev.pinwright.service.work.Role;
import dev.pinwright.storage.Database;
import dev.pinwright.storage.Tx;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;

/**
 * Tags: free labels on devices, which enrollment profiles and rows of the roster give, and profiles
 * can be assigned by. A tag is its name; there is nothing else to one.
 */
public final class Tags {
  private final Database database;
  private final Journal journal;
  private final Events events;

  public Tags(Database database, Journal journal, Events events) {
    this.database = database;
    this.journal = journal;
    this.events = events;
  }

  /** Tags in use with the number of managed devices that have them, by tag; at most a thousand. */
  public Map<String, Long> counts(Caller caller) {
    caller.needs(Role.READER);
    Map<String, Long> out = new LinkedHashMap<>();
    database
        .call(
            tx ->
                tx.rows(
                    """
                    select t.tag, count(d.id) from (
                      select tag, device_id from device_tag
                      union all select unnest(tags), null from enrollment_profile
                        where removed_at is null
                      union all select unnest(tags), null from roster_entry
                        where state = 'expected'
                    ) t left join device d on d.id = t.device_id and d.retired_at is null
                     group by t.tag order by lower(t.tag), t.tag limit 1000
                    """,
                    Map.of()))
        .forEach(r -> out.put((String) r[0], ((Number) r[1]).longValue()));
    return out;
  }

  /**
   * Gives a tag another name wherever it stands: on devices, in enrollment profiles, on the roster
   * and where profiles are assigned by it. Where the new name is a tag already, the two become one.
   *
   * @throws Problem 409 when the two become one and a profile is assigned by either of them, since
   *     settings of devices would change
   */
  public void rename(Caller caller, String tag, String name) {
    caller.needs(Role.OPERATOR);
    String to = name.strip();
    if (!TagList.isTag(to)) {
      throw Problem.malformed(
          "/name", "A tag has 1 to 40 letters, digits, spaces, dots or hyphens.");
    }
    database.run(
        tx -> {
          known(tx, tag);
          if (to.equals(tag)) {
            return;
          }
          List<String> ofNew = TargetUses.of(tx, target(to));
          List<String> ofOld = TargetUses.of(tx, target(tag));
          boolean merge = !ofNew.isEmpty() || inUse(tx, to);
          if (merge && !(ofNew.isEmpty() && ofOld.isEmpty())) {
            Set<String> profiles = new LinkedHashSet<>(ofOld);
            profiles.addAll(ofNew);
            throw Problem.conflict(
                "tag-assigned",
                "There is a tag "
                    + to
                    + " already, and profiles are assigned by one of the two: "
                    + String.join(", ", profiles)
                    + ". Put the devices' tags right one by one or with a sheet, which says what"
                    + " changes on them.");
          }
          Map<String, Object> p = Map.of("old", tag, "new", to);
          tx.execute(
              "insert into device_tag select device_id, :new from device_tag where tag = :old"
                  + " on conflict do nothing",
              p);
          tx.execute("delete from device_tag where tag = :old", Map.of("old", tag));
          for (String table : List.of("enrollment_profile", "roster_entry")) {
            tx.execute(
                "update "
                    + table
                    + " set tags = case when cast(:new as text) = any(tags)"
                    + " then array_remove(tags, cast(:old as text))"
                    + " else array_replace(tags, cast(:old as text), cast(:new as text)) end"
                    + " where cast(:old as text) = any(tags)",
                p);
          }
          TargetUses.rename(tx, target(tag), to);
          journal.write(tx, caller, "tag.renamed", "tag:" + to, "Tag " + tag + " is now " + to);
        });
    touch();
  }

  /**
   * Takes a tag away from every device, enrollment profile and row of the roster.
   *
   * @throws Problem 409 naming the profiles that are assigned by it
   */
  public void remove(Caller caller, String tag) {
    caller.needs(Role.OPERATOR);
    database.run(
        tx -> {
          known(tx, tag);
          List<String> profiles = TargetUses.of(tx, target(tag));
          if (!profiles.isEmpty()) {
            throw Problem.conflict(
                "in-use",
                "Profiles are assigned by the tag "
                    + tag
                    + ": "
                    + String.join(", ", profiles)
                    + ". Take it out of them first.");
          }
          Map<String, Object> p = Map.of("tag", tag);
          int devices = tx.execute("delete from device_tag where tag = :tag", p);
          for (String table : List.of("enrollment_profile", "roster_entry")) {
            tx.execute(
                "update "
                    + table
                    + " set tags = array_remove(tags, cast(:tag as text))"
                    + " where cast(:tag as text) = any(tags)",
                p);
          }
          journal.write(
              tx,
              caller,
              "tag.removed",
              "tag:" + tag,
              "Tag " + tag + " taken away from " + devices + " devices");
        });
    touch();
  }

  private void touch() {
    events.touch("tags");
    events.touch("devices");
  }

  private static Target target(String tag) {
    return new Target(Target.Kind.TAG, tag);
  }

  private static boolean inUse(Tx tx, String tag) {
    return !tx.rows(
            "select 1, 1 where exists (select 1 from device_tag where tag = :t)"
                + " or exists (select 1 from enrollment_profile"
                + " where cast(:t as text) = any(tags) and removed_at is null)"
                + " or exists (select 1 from roster_entry"
                + " where cast(:t as text) = any(tags) and state = 'expected')",
            Map.of("t", tag))
        .isEmpty();
  }

  private static void known(Tx tx, String tag) {
    if (!TagList.isTag(tag) || !inUse(tx, tag) && TargetUses.of(tx, target(tag)).isEmpty()) {
      throw Problem.notFound("tag", tag);
    }
  }
}
