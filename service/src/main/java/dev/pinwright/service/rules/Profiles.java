package dev.pinwright.service.rules;

import com.fasterxml.jackson.databind.JsonNode;
import com.github.f4b6a3.ulid.UlidCreator;
import dev.pinwright.core.Words;
import dev.pinwright.core.catalog.Catalog;
import dev.pinwright.core.target.Assignment;
import dev.pinwright.core.target.Target;
import dev.pinwright.service.journal.Journal;
import dev.pinwright.service.live.Events;
import dev.pinwright.service.secret.Vault;
import dev.pinwright.service.shape.ProfileContent;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Known;
import dev.pinwright.service.work.Page;
import dev.pinwright.service.work.Problem;
import dev.pinwright.service.work.Role;
import dev.pinwright.storage.Database;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.row.DeviceRow;
import dev.pinwright.storage.row.GroupRow;
import dev.pinwright.storage.row.PersonRow;
import dev.pinwright.storage.row.ProfileRow;
import dev.pinwright.storage.row.UnitRow;
import java.time.Clock;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** Profiles: drafted, rehearsed, published. Devices only ever see published versions. */
public final class Profiles {
  private final Database database;
  private final Catalog catalog;
  private final Vault vault;
  private final Journal journal;
  private final Events events;
  private final Clock clock;

  public Profiles(
      Database database,
      Catalog catalog,
      Vault vault,
      Journal journal,
      Events events,
      Clock clock) {
    this.database = database;
    this.catalog = catalog;
    this.vault = vault;
    this.journal = journal;
    this.events = events;
    this.clock = clock;
  }

  /** A target with its name for people. */
  public record NamedTarget(String kind, String ref, String name) {}

  /** A profile in a list. */
  public record Summary(
      String id,
      String name,
      String description,
      String state,
      Optional<Integer> publishedVersion,
      boolean draftChanged,
      int settings,
      long devices,
      Instant changedAt) {}

  /** A profile with its draft. {@code version} is the one to send in {@code If-Match}. */
  public record Detail(
      String id,
      int version,
      String name,
      String description,
      String state,
      Optional<Integer> publishedVersion,
      boolean draftChanged,
      Map<String, JsonNode> settings,
      List<NamedTarget> targets,
      List<NamedTarget> exclusions,
      Instant changedAt) {}

  /** A target as written. */
  public record TargetSpec(String kind, @org.jspecify.annotations.Nullable String ref) {
    Target target(String pointer) {
      return ProfileContent.target(kind == null ? "" : kind, ref == null ? "" : ref, pointer);
    }
  }

  /** A profile as an administrator writes it; what is absent stays as it is. */
  public record Draft(
      Optional<String> name,
      Optional<String> description,
      Optional<Map<String, JsonNode>> settings,
      Optional<List<TargetSpec>> targets,
      Optional<List<TargetSpec>> exclusions) {}

  /** Profiles by name. */
  public Page<Summary> page(Caller caller, String words, Page.Request page) {
    caller.needs(Role.READER);
    String[] c = page.parts(Page.Part.TEXT, Page.Part.TEXT);
    List<Object[]> rows =
        database.call(
            tx ->
                tx.rows(
                    """
                    select p.id, p.name, p.description, p.published_version, p.draft_changed,
                           (select count(*) from jsonb_object_keys(p.draft -> 'settings')),
                           coalesce(n.devices, 0),
                           p.changed_at
                      from profile p left join (
                        select sp.profile_id, count(*) as devices
                          from device_state st join shape_profile sp using (shape_key)
                         where st.standing <> 'retired' group by 1) n on n.profile_id = p.id
                     where (lower(p.name), p.id) > (:name, :id)
                       and (:words = '' or p.name || ' ' || p.description ilike '%' || :words || '%')
                     order by lower(p.name), p.id limit :limit
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
            new Summary(
                (String) r[0],
                (String) r[1],
                (String) r[2],
                r[3] == null ? "draft" : "published",
                Optional.ofNullable((Integer) r[3]),
                (Boolean) r[4],
                ((Number) r[5]).intValue(),
                ((Number) r[6]).longValue(),
                (Instant) r[7]),
        r -> Page.cursor(((String) r[1]).toLowerCase(java.util.Locale.ROOT), (String) r[0]));
  }

  /** One profile. */
  public Detail get(Caller caller, String id) {
    caller.needs(Role.READER);
    return database.call(tx -> view(tx, row(tx, id)));
  }

  static ProfileRow row(Tx tx, String id) {
    return tx.find(ProfileRow.class, id).orElseThrow(() -> Problem.notFound("profile", id));
  }

  /** Writes a new profile as a draft. */
  public Detail add(Caller caller, Draft draft) {
    caller.needs(Role.OPERATOR);
    Detail made =
        database.call(
            tx -> {
              ProfileRow row = new ProfileRow();
              row.id = UlidCreator.getMonotonicUlid().toString();
              row.name =
                  draft
                      .name()
                      .orElseThrow(() -> Problem.malformed("/name", "A profile needs a name."));
              row.description = "";
              row.createdAt = clock.instant();
              row.draft = ProfileContent.EMPTY.store(catalog, vault);
              write(tx, row, draft);
              tx.insert(row);
              tx.flush();
              journal.write(
                  tx, caller, "profile.made", "profile:" + row.id, "Profile " + row.name + " made");
              return view(tx, row);
            });
    events.touch("profiles");
    return made;
  }

  /**
   * Changes the draft.
   *
   * @param version the version it was read in
   * @throws Problem 412 when someone else changed it meanwhile
   */
  public Detail change(Caller caller, String id, int version, Draft draft) {
    caller.needs(Role.OPERATOR);
    Detail changed =
        database.call(
            tx -> {
              ProfileRow row = locked(tx, id, version);
              write(tx, row, draft);
              tx.flush();
              journal.write(
                  tx,
                  caller,
                  "profile.drafted",
                  "profile:" + id,
                  "Draft of " + row.name + " saved");
              return view(tx, row);
            });
    events.touch("profiles");
    return changed;
  }

  static ProfileRow locked(Tx tx, String id, int version) {
    return Known.locked(tx, ProfileRow.class, "profile", id, version, r -> r.version);
  }

  private void write(Tx tx, ProfileRow row, Draft draft) {
    draft.name().ifPresent(n -> row.name = name(tx, n, row.id));
    draft
        .description()
        .ifPresent(
            d -> {
              if (d.length() > 500) {
                throw Problem.malformed(
                    "/description", "A description has at most 500 characters.");
              }
              row.description = d.strip();
            });
    ProfileContent before = ProfileContent.load(row.draft, vault);
    Assignment assignment =
        new Assignment(
            targets(tx, draft.targets(), "/targets", before.assignment().targets()),
            targets(tx, draft.exclusions(), "/exclusions", before.assignment().exclusions()));
    ProfileContent after =
        new ProfileContent(
            draft
                .settings()
                .map(s -> ProfileContent.written(s, catalog, before))
                .orElse(before.settings()),
            assignment);
    row.changedAt = clock.instant();
    if (!after.equals(before) || row.publishedVersion == null) {
      row.draft = after.store(catalog, vault);
      row.draftChanged = true;
    }
  }

  private static String name(Tx tx, String wanted, String ownId) {
    String name = wanted.strip();
    if (name.isEmpty() || name.length() > 80) {
      throw Problem.malformed("/name", "A name has 1 to 80 characters.");
    }
    boolean taken =
        !tx.list(
                ProfileRow.class,
                "from ProfileRow where name = :n and id <> :id",
                Map.of("n", name, "id", ownId),
                1)
            .isEmpty();
    if (taken) {
      throw Problem.conflict("name-taken", "There is a profile called " + name + " already.");
    }
    return name;
  }

  private static List<Target> targets(
      Tx tx, Optional<List<TargetSpec>> written, String pointer, List<Target> before) {
    if (written.isEmpty()) {
      return before;
    }
    List<Target> targets = written.get().stream().map(t -> t.target(pointer)).distinct().toList();
    for (Target t : targets) {
      boolean known =
          switch (t.kind()) {
            case EVERYONE, TAG -> true;
            case GROUP -> tx.find(GroupRow.class, t.ref()).isPresent();
            case UNIT -> tx.find(UnitRow.class, t.ref()).isPresent();
            case PERSON -> tx.find(PersonRow.class, t.ref()).isPresent();
            case DEVICE -> tx.find(DeviceRow.class, t.ref()).isPresent();
          };
      if (!known) {
        throw Problem.malformed(pointer, "There is no " + Words.of(t.kind()) + " " + t.ref() + ".");
      }
    }
    return targets;
  }

  /**
   * Deletes a profile that no device has.
   *
   * @throws Problem 409 while it is assigned
   */
  public void delete(Caller caller, String id, int version) {
    caller.needs(Role.OPERATOR);
    database.run(
        tx -> {
          ProfileRow row = locked(tx, id, version);
          long assigned =
              tx.value(
                  "select count(*) from assignment where profile_id = :p and not excluded",
                  Long.class,
                  Map.of("p", id));
          if (assigned > 0) {
            throw Problem.conflict(
                "still-assigned",
                row.name + " is still assigned; take its targets away and publish that first.");
          }
          tx.delete(row);
          journal.write(
              tx, caller, "profile.deleted", "profile:" + id, "Profile " + row.name + " deleted");
        });
    events.touch("profiles");
  }

  private Detail view(Tx tx, ProfileRow row) {
    ProfileContent content = ProfileContent.load(row.draft, vault);
    return new Detail(
        row.id,
        row.version,
        row.name,
        row.description,
        row.publishedVersion == null ? "draft" : "published",
        Optional.ofNullable(row.publishedVersion),
        row.draftChanged,
        content.shown(catalog),
        named(tx, content.assignment().targets()),
        named(tx, content.assignment().exclusions()),
        row.changedAt);
  }

  static List<NamedTarget> named(Tx tx, List<Target> targets) {
    String[] refs = targets.stream().map(Target::ref).toArray(String[]::new);
    Map<String, String> names = new java.util.HashMap<>();
    tx.rows(
            "select id, name from device_group where id = any(:refs)"
                + " union all select id, name from device where id = any(:refs)"
                + " union all select id, code || ' ' || name from unit where id = any(:refs)"
                + " union all select id, name from person where id = any(:refs)",
            Map.of("refs", refs))
        .forEach(r -> names.put((String) r[0], (String) r[1]));
    return targets.stream()
        .map(
            t ->
                new NamedTarget(
                    Words.of(t.kind()),
                    t.ref(),
                    t.kind() == Target.Kind.EVERYONE
                        ? "everyone"
                        : names.getOrDefault(t.ref(), t.ref())))
        .toList();
  }
}
