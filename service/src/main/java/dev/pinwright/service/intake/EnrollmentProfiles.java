package dev.pinwright.service.intake;

import com.fasterxml.jackson.core.type.TypeReference;
import com.github.f4b6a3.ulid.UlidCreator;
import dev.pinwright.core.Words;
import dev.pinwright.core.catalog.Catalog;
import dev.pinwright.core.catalog.Platform;
import dev.pinwright.core.device.DeviceKind;
import dev.pinwright.core.device.Mode;
import dev.pinwright.core.device.OsVersion;
import dev.pinwright.core.device.Ownership;
import dev.pinwright.core.intake.EnrollmentProfile;
import dev.pinwright.core.intake.EnrollmentProfile.SignIn;
import dev.pinwright.core.intake.NamePattern;
import dev.pinwright.core.organisation.Place;
import dev.pinwright.service.Json;
import dev.pinwright.service.Known;
import dev.pinwright.service.Page;
import dev.pinwright.service.Problem;
import dev.pinwright.service.access.Caller;
import dev.pinwright.service.access.Role;
import dev.pinwright.service.journal.Journal;
import dev.pinwright.service.live.Events;
import dev.pinwright.service.secret.Passwords;
import dev.pinwright.storage.Database;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.row.EnrollmentProfileRow;
import dev.pinwright.storage.row.GroupRow;
import dev.pinwright.storage.row.SiteRow;
import dev.pinwright.storage.row.TermsRow;
import dev.pinwright.storage.row.UnitRow;
import java.time.Clock;
import java.time.Instant;
import java.util.Arrays;
import java.util.EnumSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;

/** Enrollment profiles and the terms they ask holders to accept. */
public final class EnrollmentProfiles {
  private static final int MIN_PASSPHRASE = 8;
  private final Database database;
  private final Catalog catalog;
  private final Journal journal;
  private final Events events;
  private final Clock clock;

  public EnrollmentProfiles(
      Database database, Catalog catalog, Journal journal, Events events, Clock clock) {
    this.database = database;
    this.catalog = catalog;
    this.journal = journal;
    this.events = events;
    this.clock = clock;
  }

  /** An enrollment profile as shown. {@code version} is the one to send in {@code If-Match}. */
  public record Shown(
      String id,
      int version,
      String name,
      String ownership,
      String mode,
      List<String> platforms,
      List<String> kinds,
      String signIn,
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
      long invitations,
      long devices,
      Instant createdAt) {}

  /** An enrollment profile as written; everything but name has a sane default. */
  public record Draft(
      @Nullable String name,
      @Nullable String ownership,
      @Nullable String mode,
      @Nullable List<String> platforms,
      @Nullable List<String> kinds,
      @Nullable String signIn,
      @Nullable String passphrase,
      @Nullable Integer termsVersion,
      @Nullable Map<String, String> minimumOs,
      @Nullable Boolean approval,
      @Nullable Boolean rosterOnly,
      @Nullable String namePattern,
      @Nullable Boolean fillGaps,
      @Nullable String unitId,
      @Nullable String siteId,
      @Nullable List<String> groups,
      @Nullable List<String> tags) {}

  /** One version of the terms. */
  public record Terms(int version, String title, String text, Instant createdAt) {}

  /** Enrollment profiles by name. */
  public Page<Shown> page(Caller caller, Page.Request page) {
    caller.needs(Role.READER);
    String[] c = page.parts(2);
    return database.call(
        tx ->
            Page.of(
                tx.list(
                    EnrollmentProfileRow.class,
                    "from EnrollmentProfileRow where (lower(name) > :n"
                        + " or (lower(name) = :n and id > :id)) order by lower(name), id",
                    Map.of("n", c.length == 0 ? "" : c[0], "id", c.length == 0 ? "" : c[1]),
                    page.limit() + 1),
                page.limit(),
                r -> view(tx, r),
                r -> Page.cursor(r.name.toLowerCase(Locale.ROOT), r.id)));
  }

  /** One enrollment profile. */
  public Shown get(Caller caller, String id) {
    caller.needs(Role.READER);
    return database.call(tx -> view(tx, row(tx, id)));
  }

  private static EnrollmentProfileRow row(Tx tx, String id) {
    return tx.find(EnrollmentProfileRow.class, id)
        .orElseThrow(() -> Problem.notFound("enrollment profile", id));
  }

  /** Writes a new one. */
  public Shown add(Caller caller, Draft draft) {
    caller.needs(Role.OPERATOR);
    Shown made =
        database.call(
            tx -> {
              EnrollmentProfileRow row = new EnrollmentProfileRow();
              row.id = UlidCreator.getMonotonicUlid().toString();
              row.createdAt = clock.instant();
              write(tx, row, draft);
              tx.insert(row);
              tx.flush();
              journal.write(
                  tx,
                  caller,
                  "enrollment-profile.made",
                  "enrollment-profile:" + row.id,
                  "Enrollment profile " + row.name + " made");
              return view(tx, row);
            });
    events.touch("enrollment-profiles");
    return made;
  }

  /** Rewrites one. */
  public Shown change(Caller caller, String id, int version, Draft draft) {
    caller.needs(Role.OPERATOR);
    Shown changed =
        database.call(
            tx -> {
              EnrollmentProfileRow row =
                  tx.lock(EnrollmentProfileRow.class, id)
                      .orElseThrow(() -> Problem.notFound("enrollment profile", id));
              if (row.version != version) {
                throw Problem.changedMeanwhile("enrollment profile", row.version);
              }
              write(tx, row, draft);
              tx.flush();
              journal.write(
                  tx,
                  caller,
                  "enrollment-profile.changed",
                  "enrollment-profile:" + id,
                  "Enrollment profile " + row.name + " changed");
              return view(tx, row);
            });
    events.touch("enrollment-profiles");
    return changed;
  }

  private void write(Tx tx, EnrollmentProfileRow row, Draft d) {
    String name = d.name() == null ? "" : d.name().strip();
    if (name.isEmpty() || name.length() > 80) {
      throw Problem.malformed("/name", "A name has 1 to 80 characters.");
    }
    boolean taken =
        !tx.list(
                EnrollmentProfileRow.class,
                "from EnrollmentProfileRow where name = :n and id <> :id",
                Map.of("n", name, "id", row.id),
                1)
            .isEmpty();
    if (taken) {
      throw Problem.conflict(
          "name-taken", "There is an enrollment profile called " + name + " already.");
    }
    Ownership ownership = word(Ownership.class, d.ownership(), Ownership.CORPORATE, "/ownership");
    Mode mode =
        word(
            Mode.class,
            d.mode(),
            ownership == Ownership.PERSONAL ? Mode.WORK_PROFILE : Mode.STANDARD,
            "/mode");
    if (ownership == Ownership.PERSONAL && mode != Mode.WORK_PROFILE) {
      throw Problem.malformed(
          "/mode", "A personal device is managed in the mode work-profile and no other.");
    }
    Set<String> all = Set.copyOf(catalog.platforms().stream().map(Platform::key).toList());
    List<String> platforms =
        d.platforms() == null || d.platforms().isEmpty()
            ? catalog.platforms().stream()
                .filter(p -> p.modes().contains(mode))
                .map(Platform::key)
                .toList()
            : d.platforms().stream().distinct().toList();
    for (String p : platforms) {
      if (!all.contains(p)) {
        throw Problem.malformed("/platforms", "There is no platform " + p + ".");
      }
      if (!catalog.platform(p).orElseThrow().modes().contains(mode)) {
        throw Problem.malformed("/platforms", p + " has no mode " + Words.of(mode) + ".");
      }
    }
    SignIn signIn = word(SignIn.class, d.signIn(), SignIn.NONE, "/signIn");
    if (signIn == SignIn.PASSPHRASE) {
      if (d.passphrase() != null && !d.passphrase().isEmpty()) {
        if (d.passphrase().length() < MIN_PASSPHRASE) {
          throw Problem.malformed("/passphrase", "A passphrase has at least 8 characters.");
        }
        row.passphraseHash = Passwords.hash(d.passphrase());
      } else if (row.passphraseHash == null) {
        throw Problem.malformed("/passphrase", "Signing in by passphrase needs a passphrase.");
      }
    } else {
      row.passphraseHash = null;
    }
    if (d.termsVersion() != null && tx.find(TermsRow.class, d.termsVersion()).isEmpty()) {
      throw Problem.malformed(
          "/termsVersion", "There is no version " + d.termsVersion() + " of the terms.");
    }
    Map<String, String> minimum = new TreeMap<>();
    (d.minimumOs() == null ? Map.<String, String>of() : d.minimumOs())
        .forEach(
            (p, v) -> {
              try {
                minimum.put(p, OsVersion.parse(v).toString());
              } catch (IllegalArgumentException e) {
                throw Problem.malformed("/minimumOs/" + p, e.getMessage() + ".");
              }
              if (!all.contains(p)) {
                throw Problem.malformed("/minimumOs/" + p, "There is no platform " + p + ".");
              }
            });
    List<String> groups = d.groups() == null ? List.of() : d.groups().stream().distinct().toList();
    groups.forEach(
        g -> {
          if (tx.find(GroupRow.class, g).isEmpty()) {
            throw Problem.malformed("/groups", "There is no group " + g + ".");
          }
        });
    List<String> tags =
        d.tags() == null ? List.of() : d.tags().stream().map(String::strip).distinct().toList();
    if (tags.stream().anyMatch(t -> !t.matches("[\\p{L}\\p{N} ._-]{1,40}"))) {
      throw Problem.malformed(
          "/tags", "A tag has 1 to 40 letters, digits, spaces, dots or hyphens.");
    }
    row.name = name;
    row.ownership = Words.of(ownership);
    row.mode = Words.of(mode);
    row.platforms = platforms.toArray(String[]::new);
    row.kinds = kinds(d.kinds());
    row.signIn = Words.of(signIn);
    row.termsVersion = d.termsVersion();
    row.minimumOs = Json.write(minimum);
    row.approval = Boolean.TRUE.equals(d.approval());
    row.rosterOnly = Boolean.TRUE.equals(d.rosterOnly());
    row.fillGaps = Boolean.TRUE.equals(d.fillGaps());
    row.unitId = Known.id(tx, UnitRow.class, "unit", d.unitId());
    row.siteId = Known.id(tx, SiteRow.class, "site", d.siteId());
    row.groups = groups.toArray(String[]::new);
    row.tags = tags.toArray(String[]::new);
    try {
      row.namePattern =
          new NamePattern(d.namePattern() == null ? "{model} {serial}" : d.namePattern()).text();
    } catch (IllegalArgumentException e) {
      throw Problem.malformed("/namePattern", e.getMessage() + ".");
    }
  }

  private static String[] kinds(@Nullable List<String> wanted) {
    if (wanted == null || wanted.isEmpty()) {
      return Arrays.stream(DeviceKind.values()).map(Words::of).toArray(String[]::new);
    }
    wanted.forEach(k -> word(DeviceKind.class, k, DeviceKind.PHONE, "/kinds"));
    return wanted.stream().distinct().toArray(String[]::new);
  }

  private static <E extends Enum<E>> E word(
      Class<E> type, @Nullable String word, E fallback, String pointer) {
    if (word == null || word.isEmpty()) {
      return fallback;
    }
    try {
      return Words.parse(type, word);
    } catch (IllegalArgumentException e) {
      throw Problem.malformed(pointer, e.getMessage() + ".");
    }
  }

  /**
   * Deletes one nothing depends on.
   *
   * @throws Problem 409 naming what depends on it
   */
  public void delete(Caller caller, String id) {
    caller.needs(Role.OPERATOR);
    database.run(
        tx -> {
          EnrollmentProfileRow row = row(tx, id);
          Shown shown = view(tx, row);
          if (shown.invitations() > 0 || shown.devices() > 0) {
            throw Problem.conflict(
                "in-use",
                row.name
                    + " is used by "
                    + shown.invitations()
                    + " invitations and "
                    + shown.devices()
                    + " devices.");
          }
          tx.execute("update arrival set profile_id = null where profile_id = :p", Map.of("p", id));
          tx.delete(row);
          journal.write(
              tx,
              caller,
              "enrollment-profile.deleted",
              "enrollment-profile:" + id,
              "Enrollment profile " + row.name + " deleted");
        });
    events.touch("enrollment-profiles");
  }

  /** Every version of the terms, newest first. */
  public List<Terms> terms(Caller caller) {
    caller.needs(Role.READER);
    return database.call(
        tx ->
            tx
                .list(TermsRow.class, "from TermsRow order by version desc", Map.of(), Page.MAX)
                .stream()
                .map(t -> new Terms(t.version, t.title, t.text, t.createdAt))
                .toList());
  }

  /** Writes a new version of the terms. Earlier versions stay as they were. */
  public Terms addTerms(Caller caller, @Nullable String title, @Nullable String text) {
    caller.needs(Role.OPERATOR);
    if (title == null || title.isBlank() || title.length() > 120) {
      throw Problem.malformed("/title", "Terms need a title of 1 to 120 characters.");
    }
    if (text == null || text.isBlank() || text.length() > 20_000) {
      throw Problem.malformed("/text", "Terms need a text of 1 to 20000 characters.");
    }
    Terms made =
        database.call(
            tx -> {
              tx.rows("select 1, cast(pg_advisory_xact_lock(7490) as text)", Map.of());
              TermsRow row = new TermsRow();
              row.version =
                  tx.value(
                      "select coalesce(max(version), 0) + 1 from terms", Integer.class, Map.of());
              row.title = title.strip();
              row.text = text.strip();
              row.createdAt = clock.instant();
              tx.insert(row);
              tx.flush();
              journal.write(
                  tx, caller, "terms.written", "terms:" + row.version, "Terms: " + row.title);
              return new Terms(row.version, row.title, row.text, row.createdAt);
            });
    events.touch("enrollment-profiles");
    return made;
  }

  private static Shown view(Tx tx, EnrollmentProfileRow r) {
    Object[] counts =
        tx.rows(
                "select (select count(*) from invitation where profile_id = :p),"
                    + " (select count(*) from device where enrollment_profile_id = :p)",
                Map.of("p", r.id))
            .get(0);
    return new Shown(
        r.id,
        r.version,
        r.name,
        r.ownership,
        r.mode,
        List.of(r.platforms),
        List.of(r.kinds),
        r.signIn,
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
        ((Number) counts[0]).longValue(),
        ((Number) counts[1]).longValue(),
        r.createdAt);
  }

  /** The record the enrollment decision works on. */
  static EnrollmentProfile decided(EnrollmentProfileRow r) {
    Map<String, OsVersion> minimum = new TreeMap<>();
    Json.tree(r.minimumOs)
        .properties()
        .forEach(e -> minimum.put(e.getKey(), OsVersion.parse(e.getValue().asText())));
    EnumSet<DeviceKind> kinds = EnumSet.noneOf(DeviceKind.class);
    for (String k : r.kinds) {
      kinds.add(Words.parse(DeviceKind.class, k));
    }
    return new EnrollmentProfile(
        Words.parse(Ownership.class, r.ownership),
        Words.parse(Mode.class, r.mode),
        Set.of(r.platforms),
        kinds,
        Words.parse(SignIn.class, r.signIn),
        Optional.ofNullable(r.termsVersion),
        minimum,
        r.approval,
        r.rosterOnly,
        new NamePattern(r.namePattern),
        new Place(Optional.ofNullable(r.unitId), Optional.ofNullable(r.siteId)),
        List.of(r.groups),
        List.of(r.tags));
  }
}
