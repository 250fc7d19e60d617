package dev.pinwright.service.enrollment;

import com.fasterxml.jackson.core.type.TypeReference;
import com.fasterxml.jackson.databind.JsonNode;
import com.github.f4b6a3.ulid.UlidCreator;
import dev.pinwright.catalog.Catalogue;
import dev.pinwright.service.journal.Journal;
import dev.pinwright.service.live.Events;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Json;
import dev.pinwright.service.work.Page;
import dev.pinwright.service.work.Problem;
import dev.pinwright.service.work.Records;
import dev.pinwright.service.work.Role;
import dev.pinwright.storage.Database;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.row.EnrollmentProfileRow;
import java.time.Clock;
import java.time.Instant;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/** Enrollment profiles: how devices join. */
public final class EnrollmentProfiles
    implements Records<EnrollmentProfiles.Shown, EnrollmentProfiles.Draft> {
  private static final int USES_NAMED = 20;
  private final Database database;
  private final EnrollmentForm form;
  private final Journal journal;
  private final Events events;
  private final Clock clock;

  public EnrollmentProfiles(
      Database database, Catalogue catalogue, Journal journal, Events events, Clock clock) {
    this.database = database;
    this.form = new EnrollmentForm(catalogue);
    this.journal = journal;
    this.events = events;
    this.clock = clock;
  }

  /**
   * An enrollment profile as shown.
   *
   * @param version the one to send in {@code If-Match}
   * @param invitations open ones
   * @param identifiers rows of the roster that name it and are not withdrawn
   * @param devices under management that joined by it
   */
  public record Shown(
      String id,
      int version,
      String name,
      String ownership,
      String mode,
      List<String> platforms,
      List<String> kinds,
      String signIn,
      Optional<String> directoryGroup,
      Optional<Integer> termsVersion,
      Map<String, String> minimumOs,
      boolean approval,
      boolean rosterOnly,
      String namePattern,
      boolean fillGaps,
      Optional<String> unitId,
      Optional<String> siteId,
      List<String> groups,
      List<String> tags,
      JsonNode firstRun,
      JsonNode readyGate,
      boolean removable,
      boolean comesBack,
      long invitations,
      long identifiers,
      long devices,
      Instant createdAt)
      implements Records.Versioned {}

  /** First-run screens and what is chosen beforehand, as written. */
  public record FirstRunDraft(
      @Nullable List<String> skipped,
      @Nullable String language,
      @Nullable String region,
      @Nullable String wallpaper) {}

  /** What must be finished before a device is handed over, as written. */
  public record GateDraft(@Nullable Boolean profiles, @Nullable Map<String, String> osVersions) {}

  /** An enrollment profile as written; everything but name has a sane default. */
  public record Draft(
      @Nullable String name,
      @Nullable String ownership,
      @Nullable String mode,
      @Nullable List<String> platforms,
      @Nullable List<String> kinds,
      @Nullable String signIn,
      @Nullable String passphrase,
      @Nullable String directoryGroup,
      @Nullable Integer termsVersion,
      @Nullable Map<String, String> minimumOs,
      @Nullable Boolean approval,
      @Nullable Boolean rosterOnly,
      @Nullable String namePattern,
      @Nullable Boolean fillGaps,
      @Nullable String unitId,
      @Nullable String siteId,
      @Nullable List<String> groups,
      @Nullable List<String> tags,
      @Nullable FirstRunDraft firstRun,
      @Nullable GateDraft readyGate,
      @Nullable Boolean removable,
      @Nullable Boolean comesBack) {}

  /** An enrollment profile as it was when somebody wrote it. */
  public record Version(int number, JsonNode content, Instant writtenAt, String writtenBy) {}

  /** One thing that needs an enrollment profile. {@code kind}: invitation, identifier, device. */
  public record Use(String kind, String id, String name) {}

  /** Enrollment profiles by name. */
  public Page<Shown> page(Caller caller, Page.Request page) {
    caller.needs(Role.READER);
    String[] c = page.parts(Page.Part.TEXT, Page.Part.TEXT);
    return database.call(
        tx -> {
          List<EnrollmentProfileRow> rows =
              tx.list(
                  EnrollmentProfileRow.class,
                  "from EnrollmentProfileRow where removedAt is null and (lower(name) > :n"
                      + " or (lower(name) = :n and id > :id)) order by lower(name), id",
                  Map.of("n", c.length == 0 ? "" : c[0], "id", c.length == 0 ? "" : c[1]),
                  page.limit() + 1);
          Map<String, Counts> counts = counts(tx, rows.stream().map(r -> r.id).toList());
          return Page.of(
              rows,
              page.limit(),
              r -> view(r, counts.getOrDefault(r.id, Counts.NONE)),
              r -> Page.cursor(r.name.toLowerCase(Locale.ROOT), r.id));
        });
  }

  /** One enrollment profile. */
  @Override
  public Shown get(Caller caller, String id) {
    caller.needs(Role.READER);
    return database.call(tx -> view(tx, row(tx, id)));
  }

  private static EnrollmentProfileRow row(Tx tx, String id) {
    return tx.find(EnrollmentProfileRow.class, id)
        .filter(r -> r.removedAt == null)
        .orElseThrow(() -> Problem.notFound("enrollment profile", id));
  }

  /** Writes a new one. */
  @Override
  public Shown add(Caller caller, Draft draft) {
    caller.needs(Role.OPERATOR);
    Shown made =
        database.call(
            tx -> {
              EnrollmentProfileRow row = new EnrollmentProfileRow();
              form.fill(tx, row, draft);
              return insert(tx, caller, row, draft.name());
            });
    events.touch("enrollment-profiles");
    return made;
  }

  /**
   * Writes a copy under another name, passphrase included.
   *
   * @throws Problem 400 for a bad name, 404, 409 for a name that is taken
   */
  public Shown copy(Caller caller, String id, @Nullable String name) {
    caller.needs(Role.OPERATOR);
    Shown made =
        database.call(
            tx ->
                insert(
                    tx,
                    caller,
                    Json.MAPPER.convertValue(row(tx, id), EnrollmentProfileRow.class),
                    name));
    events.touch("enrollment-profiles");
    return made;
  }

  private Shown insert(Tx tx, Caller caller, EnrollmentProfileRow row, @Nullable String name) {
    row.id = UlidCreator.getMonotonicUlid().toString();
    row.version = 0;
    row.createdAt = clock.instant();
    row.name = freeName(tx, name, row.id);
    tx.insert(row);
    tx.flush();
    return written(tx, caller, row, "made");
  }

  /** Rewrites one. */
  @Override
  public Shown change(Caller caller, String id, int version, Draft draft) {
    caller.needs(Role.OPERATOR);
    Shown changed =
        database.call(
            tx -> {
              EnrollmentProfileRow row =
                  tx.lock(EnrollmentProfileRow.class, id)
                      .filter(r -> r.removedAt == null)
                      .orElseThrow(() -> Problem.notFound("enrollment profile", id));
              if (row.version != version) {
                throw Problem.changedMeanwhile("enrollment profile", row.version);
              }
              form.fill(tx, row, draft);
              row.name = freeName(tx, draft.name(), id);
              tx.flush();
              return written(tx, caller, row, "changed");
            });
    events.touch("enrollment-profiles");
    return changed;
  }

  private static String freeName(Tx tx, @Nullable String wanted, String id) {
    String name = wanted == null ? "" : wanted.strip();
    if (name.isEmpty() || name.length() > 80) {
      throw Problem.malformed("/name", "A name has 1 to 80 characters.");
    }
    boolean taken =
        !tx.list(
                EnrollmentProfileRow.class,
                "from EnrollmentProfileRow where name = :n and id <> :id and removedAt is null",
                Map.of("n", name, "id", id),
                1)
            .isEmpty();
    if (taken) {
      throw Problem.conflict(
          "name-taken", "There is an enrollment profile called " + name + " already.");
    }
    return name;
  }

  private Shown written(Tx tx, Caller caller, EnrollmentProfileRow row, String how) {
    Shown shown = view(tx, row);
    tx.execute(
        "insert into enrollment_profile_version (profile_id, number, content, written_at,"
            + " written_by) values (:p, :n, cast(:c as jsonb), :at, :by)",
        Map.of(
            "p",
            row.id,
            "n",
            row.version + 1,
            "c",
            Json.write(shown),
            "at",
            clock.instant(),
            "by",
            caller.login()));
    journal.write(
        tx,
        caller,
        "enrollment-profile." + how,
        "enrollment-profile:" + row.id,
        "Enrollment profile " + row.name + " " + how);
    return shown;
  }

  /** What it said each time it was written, newest first. */
  public Page<Version> versions(Caller caller, String id, Page.Request page) {
    caller.needs(Role.READER);
    String[] c = page.parts(Page.Part.WHOLE);
    List<Object[]> rows =
        database.call(
            tx -> {
              row(tx, id);
              return tx.rows(
                  "select number, cast(content as text), written_at, written_by"
                      + " from enrollment_profile_version where profile_id = :p and number < :b"
                      + " order by number desc limit :l",
                  Map.of(
                      "p",
                      id,
                      "b",
                      c.length == 0 ? Integer.MAX_VALUE : Long.parseLong(c[0]),
                      "l",
                      page.limit() + 1));
            });
    return Page.of(
        rows,
        page.limit(),
        r -> new Version((Integer) r[0], Json.tree((String) r[1]), (Instant) r[2], (String) r[3]),
        r -> Page.cursor(r[0].toString()));
  }

  /** The first twenty of each kind that need it: what keeps it from being deleted comes first. */
  public List<Use> uses(Caller caller, String id) {
    caller.needs(Role.READER);
    return database.call(
        tx -> {
          row(tx, id);
          return tx
              .rows(
                  """
                  (select 'invitation', id, case when note = '' then 'Invitation' else note end
                     from invitation
                    where profile_id = :p and withdrawn_at is null and expires_at > :now
                      and uses < uses_allowed order by id limit :n)
                  union all
                  (select 'identifier', id, coalesce(serial, imei, asset) from roster_entry
                    where profile_id = :p and state <> 'withdrawn' order by id limit :n)
                  union all
                  (select 'gateway', platform, platform from gateway
                    where default_profile_id = :p order by platform)
                  union all
                  (select 'device', id, name from device
                    where enrollment_profile_id = :p and retired_at is null
                    order by lower(name) limit :n)
                  """,
                  Map.of("p", id, "now", clock.instant(), "n", USES_NAMED))
              .stream()
              .map(r -> new Use((String) r[0], (String) r[1], (String) r[2]))
              .toList();
        });
  }

  /**
   * Deletes one that nobody can join by any more. Devices that joined by it stay as they are.
   *
   * @throws Problem 409 naming the invitations and identifiers that depend on it
   */
  @Override
  public void delete(Caller caller, String id) {
    caller.needs(Role.OPERATOR);
    List<Use> uses = uses(caller, id).stream().filter(u -> !u.kind().equals("device")).toList();
    database.run(
        tx -> {
          EnrollmentProfileRow row = row(tx, id);
          if (!uses.isEmpty()) {
            Counts n = counts(tx, List.of(id)).getOrDefault(id, Counts.NONE);
            throw Problem.conflict(
                "in-use",
                row.name
                    + " is needed by "
                    + counted(n.invitations(), "open invitation")
                    + " and "
                    + counted(n.identifiers(), "identifier")
                    + ": "
                    + named(uses)
                    + ". Withdraw them or give them another profile.");
          }
          row.removedAt = clock.instant();
          journal.write(
              tx,
              caller,
              "enrollment-profile.deleted",
              "enrollment-profile:" + id,
              "Enrollment profile " + row.name + " deleted");
        });
    events.touch("enrollment-profiles");
  }

  private static String counted(long n, String what) {
    return n + " " + what + (n == 1 ? "" : "s");
  }

  private static String named(List<Use> uses) {
    String first =
        String.join(", ", uses.stream().limit(5).map(u -> u.kind() + " " + u.name()).toList());
    return uses.size() > 5 ? first + " and more" : first;
  }

  private record Counts(long invitations, long identifiers, long devices) {
    private static final Counts NONE = new Counts(0, 0, 0);
  }

  private Map<String, Counts> counts(Tx tx, List<String> ids) {
    Map<String, Counts> out = new HashMap<>();
    tx.rows(
            """
            select p.id,
                   (select count(*) from invitation where profile_id = p.id
                      and withdrawn_at is null and expires_at > :now and uses < uses_allowed),
                   (select count(*) from roster_entry where profile_id = p.id
                      and state <> 'withdrawn'),
                   (select count(*) from device where enrollment_profile_id = p.id
                      and retired_at is null)
              from unnest(cast(:ids as text[])) p(id)
            """,
            Map.of("ids", ids.toArray(String[]::new), "now", clock.instant()))
        .forEach(
            r ->
                out.put(
                    (String) r[0],
                    new Counts(
                        ((Number) r[1]).longValue(),
                        ((Number) r[2]).longValue(),
                        ((Number) r[3]).longValue())));
    return out;
  }

  private Shown view(Tx tx, EnrollmentProfileRow r) {
    return view(r, counts(tx, List.of(r.id)).getOrDefault(r.id, Counts.NONE));
  }

  private static Shown view(EnrollmentProfileRow r, Counts n) {
    return new Shown(
        r.id,
        r.version,
        r.name,
        r.ownership,
        r.mode,
        List.of(r.platforms),
        List.of(r.kinds),
        r.signIn,
        Optional.ofNullable(r.directoryGroup),
        Optional.ofNullable(r.termsVersion),
        Json.read(r.minimumOs, new TypeReference<>() {}),
        r.approval,
        r.rosterOnly,
        r.namePattern,
        r.fillGaps,
        Optional.ofNullable(r.unitId),
        Optional.ofNullable(r.siteId),
        List.of(r.groups),
        List.of(r.tags),
        Json.tree(r.firstRun),
        Json.tree(r.readyGate),
        r.removable,
        r.comesBack,
        n.invitations(),
        n.identifiers(),
        n.devices(),
        r.createdAt);
  }
}
