package dev.pinwright.service.rules;

import com.fasterxml.jackson.databind.JsonNode;
import com.github.f4b6a3.ulid.UlidCreator;
import dev.pinwright.core.Words;
import dev.pinwright.core.catalog.Catalog;
import dev.pinwright.core.target.Assignment;
import dev.pinwright.core.target.Target;
import dev.pinwright.service.Page;
import dev.pinwright.service.Problem;
import dev.pinwright.service.access.Caller;
import dev.pinwright.service.access.Role;
import dev.pinwright.service.journal.Journal;
import dev.pinwright.service.live.Events;
import dev.pinwright.service.live.Wakes;
import dev.pinwright.service.secret.Vault;
import dev.pinwright.storage.Database;
import dev.pinwright.storage.ShapeMoves;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.row.ChangeRow;
import dev.pinwright.storage.row.DeviceRow;
import dev.pinwright.storage.row.GroupRow;
import dev.pinwright.storage.row.ProfileRow;
import dev.pinwright.storage.row.ProfileVersionRow;
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
  private final Shapes shapes;
  private final Journal journal;
  private final Events events;
  private final Clock clock;

  public Profiles(
      Database database,
      Catalog catalog,
      Vault vault,
      Shapes shapes,
      Journal journal,
      Events events,
      Clock clock) {
    this.database = database;
    this.catalog = catalog;
    this.vault = vault;
    this.shapes = shapes;
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

  /** A published version. */
  public record Version(
      int number,
      String name,
      Instant publishedAt,
      String publishedBy,
      Map<String, JsonNode> settings,
      List<NamedTarget> targets,
      List<NamedTarget> exclusions) {}

  /** What a publication began. */
  public record Published(int version, Change change) {}

  /** A change and how far devices are with it. */
  public record Change(
      String id,
      String title,
      Optional<String> profile,
      Optional<Integer> version,
      Instant at,
      String actor,
      long total,
      long done,
      long waiting,
      long failed,
      long overtaken) {}

  /** Profiles by name. */
  public Page<Summary> page(Caller caller, String words, Page.Request page) {
    caller.needs(Role.READER);
    String[] c = page.parts(2);
    List<Object[]> rows =
        database.call(
            tx ->
                tx.rows(
                    """
                    select p.id, p.name, p.description, p.published_version, p.draft_changed,
                           (select count(*) from jsonb_object_keys(p.draft -> 'settings')),
                           (select coalesce(sum(n), 0) from
                             (select count(*) n from shape s join device d on d.shape_key = s.key
                               where ',' || s.layers like '%,' || p.id || ':%') x),
                           p.changed_at
                      from profile p
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

  private static ProfileRow row(Tx tx, String id) {
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

  private ProfileRow locked(Tx tx, String id, int version) {
    ProfileRow row =
        tx.lock(ProfileRow.class, id).orElseThrow(() -> Problem.notFound("profile", id));
    if (row.version != version) {
      throw new Problem(
              412,
              "changed-meanwhile",
              "Changed meanwhile",
              "Someone saved this profile after you opened it; read it again and repeat your"
                  + " change.")
          .with("version", row.version);
    }
    return row;
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
            case DEVICE -> tx.find(DeviceRow.class, t.ref()).isPresent();
          };
      if (!known) {
        throw Problem.malformed(pointer, "There is no " + Words.of(t.kind()) + " " + t.ref() + ".");
      }
    }
    return targets;
  }

  /** Shows what publishing the draft would do. Nothing is stored. */
  public Rehearsal rehearse(Caller caller, String id) {
    caller.needs(Role.READER);
    return database.rehearse(tx -> rehearse(tx, row(tx, id), new ShapeMoves(tx)).rehearsal());
  }

  private record Worked(Rehearsal rehearsal, List<Shapes.Outcome> outcomes) {}

  private Worked rehearse(Tx tx, ProfileRow row, ShapeMoves moves) {
    ProfileContent content = ProfileContent.load(row.draft, vault);
    int next = row.publishedVersion == null ? 1 : row.publishedVersion + 1;
    moves.begin(true);
    ShapeMoves.Candidate candidate = new ShapeMoves.Candidate(row.id, next, content.assignment());
    moves.affectReachedBy(candidate);
    moves.work(candidate);
    List<Shapes.Outcome> outcomes =
        shapes.outcomes(tx, moves, new Shapes.Unpublished(row.id, next, row.name, content));
    return new Worked(
        Rehearsal.of(
            catalog,
            row.id,
            outcomes,
            (o, n) ->
                moves.devices(o.kind(), "", "", n).stream()
                    .map(r -> new Rehearsal.Named((String) r[0], (String) r[1]))
                    .toList()),
        outcomes);
  }

  /**
   * Publishes the draft: stores it as a version, moves devices to their new shapes and wakes them.
   *
   * @param confirmDevices the number of devices that change, when the rehearsal asks for it
   * @throws Problem 409 when the number is asked for and not right, or nothing was changed
   */
  public Published publish(Caller caller, String id, int version, Optional<Long> confirmDevices) {
    caller.needs(Role.OPERATOR);
    Published published =
        database.call(
            tx -> {
              ProfileRow row = locked(tx, id, version);
              if (!row.draftChanged) {
                throw Problem.conflict(
                    "nothing-to-publish", "The draft is the published version already.");
              }
              ShapeMoves moves = new ShapeMoves(tx);
              Worked worked = rehearse(tx, row, moves);
              Optional<Long> asked = worked.rehearsal().confirmDevices();
              if (asked.isPresent() && !asked.equals(confirmDevices)) {
                throw Problem.conflict(
                        "confirm-devices",
                        "This changes "
                            + asked.get()
                            + " devices; repeat that number to publish it.")
                    .with("confirmDevices", asked.get());
              }
              return store(tx, caller, row, moves, worked);
            });
    events.touch("profiles");
    events.touch("changes");
    events.touch("devices");
    return published;
  }

  private Published store(Tx tx, Caller caller, ProfileRow row, ShapeMoves moves, Worked worked) {
    int number = row.publishedVersion == null ? 1 : row.publishedVersion + 1;
    ProfileVersionRow v = new ProfileVersionRow();
    v.profileId = row.id;
    v.number = number;
    v.name = row.name;
    v.content = row.draft;
    v.publication = tx.value("select nextval('publication')", Long.class, Map.of());
    v.publishedAt = clock.instant();
    v.publishedBy = caller.login();
    tx.insert(v);
    row.publishedVersion = number;
    row.draftChanged = false;
    tx.flush();
    moves.store(row.id, ProfileContent.load(row.draft, vault).assignment());
    ChangeRow change = new ChangeRow();
    change.id = UlidCreator.getMonotonicUlid().toString();
    change.title = "Publish " + row.name + ", version " + number;
    change.profileId = row.id;
    change.version = number;
    change.at = v.publishedAt;
    change.actor = caller.login();
    change.total = shapes.apply(tx, moves, worked.outcomes(), change.id);
    tx.insert(change);
    tx.flush();
    journal.write(
        tx,
        caller,
        "profile.published",
        "profile:" + row.id,
        row.name + " version " + number + " published; " + change.total + " devices change");
    Wakes.change(tx, change.id);
    return new Published(number, change(tx, change));
  }

  /** Published versions, newest first. */
  public Page<Version> versions(Caller caller, String id, Page.Request page) {
    caller.needs(Role.READER);
    String[] c = page.parts(1);
    int before = c.length == 0 ? Integer.MAX_VALUE : Integer.parseInt(c[0]);
    return database.call(
        tx -> {
          row(tx, id);
          List<ProfileVersionRow> rows =
              tx.list(
                  ProfileVersionRow.class,
                  "from ProfileVersionRow where profileId = :p and number < :b"
                      + " order by number desc",
                  Map.of("p", id, "b", before),
                  page.limit() + 1);
          return Page.of(
              rows,
              page.limit(),
              v -> {
                ProfileContent content = ProfileContent.load(v.content, vault);
                return new Version(
                    v.number,
                    v.name,
                    v.publishedAt,
                    v.publishedBy,
                    content.shown(catalog),
                    named(tx, content.assignment().targets()),
                    named(tx, content.assignment().exclusions()));
              },
              v -> Page.cursor(String.valueOf(v.number)));
        });
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

  /** Changes, newest first, with their progress. */
  public Page<Change> changes(Caller caller, Page.Request page) {
    caller.needs(Role.READER);
    String[] c = page.parts(1);
    return database.call(
        tx ->
            Page.of(
                tx.list(
                    ChangeRow.class,
                    "from ChangeRow where id < :b order by id desc",
                    Map.of("b", c.length == 0 ? "~" : c[0]),
                    page.limit() + 1),
                page.limit(),
                r -> change(tx, r),
                r -> Page.cursor(r.id)));
  }

  /** One change with its progress. */
  public Change change(Caller caller, String id) {
    caller.needs(Role.READER);
    return database.call(
        tx ->
            change(
                tx,
                tx.find(ChangeRow.class, id).orElseThrow(() -> Problem.notFound("change", id))));
  }

  private static Change change(Tx tx, ChangeRow r) {
    long done = 0;
    long waiting = 0;
    long failed = 0;
    for (Object[] row :
        tx.rows(
            "select standing, count(*) from device where change_id = :c group by standing",
            Map.of("c", r.id))) {
      long n = ((Number) row[1]).longValue();
      switch ((String) row[0]) {
        case "settled" -> done += n;
        case "blocked" -> failed += n;
        default -> waiting += n;
      }
    }
    return new Change(
        r.id,
        r.title,
        Optional.ofNullable(r.profileId),
        Optional.ofNullable(r.version),
        r.at,
        r.actor,
        r.total,
        done,
        waiting,
        failed,
        r.total - done - waiting - failed);
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

  private static List<NamedTarget> named(Tx tx, List<Target> targets) {
    String[] refs = targets.stream().map(Target::ref).toArray(String[]::new);
    Map<String, String> names = new java.util.HashMap<>();
    tx.rows(
            "select id, name from device_group where id = any(:refs)"
                + " union all select id, name from device where id = any(:refs)",
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
