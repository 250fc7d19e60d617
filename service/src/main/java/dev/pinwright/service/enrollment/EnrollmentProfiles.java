package dev.pinwright.service.enrollment;

import com.fasterxml.jackson.core.type.TypeReference;
import com.fasterxml.jackson.databind.JsonNode;
import dev.pinwright.catalog.Catalogue;
import dev.pinwright.core.Versioned;
import dev.pinwright.core.Words;
import dev.pinwright.core.enrollment.EnrollmentForm;
import dev.pinwright.core.query.RuleNames;
import dev.pinwright.service.group.Membership;
import dev.pinwright.service.usecase.Noun;
import dev.pinwright.service.usecase.UseCases;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Json;
import dev.pinwright.service.work.Known;
import dev.pinwright.service.work.Page;
import dev.pinwright.service.work.Problem;
import dev.pinwright.service.work.Records;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.enrollment.EnrollmentStore;
import dev.pinwright.storage.row.EnrollmentProfileRow;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/** Enrollment profiles: how devices join. */
public final class EnrollmentProfiles implements Records<EnrollmentProfiles.Shown, EnrollmentForm> {
  private static final int USES_NAMED = 20;
  private final UseCases useCases;
  private final Catalogue catalogue;

  public EnrollmentProfiles(UseCases useCases, Catalogue catalogue) {
    this.useCases = useCases;
    this.catalogue = catalogue;
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
      implements Versioned {}

  /** An enrollment profile as it was when somebody wrote it. */
  public record Version(int number, JsonNode content, Instant writtenAt, String writtenBy) {}

  /** Enrollment profiles by name. */
  public Page<Shown> page(Caller caller, Page.Request page) {
    return useCases.read(
        tx -> {
          Page<EnrollmentProfileRow> rows =
              Page.byName(new EnrollmentStore(tx)::page, page, r -> r.name, r -> r.id);
          Map<String, EnrollmentStore.Counts> counts =
              counts(tx, rows.items().stream().map(r -> r.id).toList());
          return new Page<>(
              rows.items().stream().map(r -> view(r, counts.get(r.id))).toList(), rows.next());
        });
  }

  /** One enrollment profile. */
  @Override
  public Shown get(Caller caller, String id) {
    return useCases.read(tx -> view(tx, row(tx, id)));
  }

  private static EnrollmentProfileRow row(Tx tx, String id) {
    return tx.find(EnrollmentProfileRow.class, id)
        .filter(r -> r.removedAt == null)
        .orElseThrow(() -> Problem.notFound("enrollment profile", id));
  }

  /** Writes a new one. */
  @Override
  public Shown add(Caller caller, EnrollmentForm form) {
    return useCases.act(
        caller,
        act -> {
          EnrollmentProfileRow row = new EnrollmentProfileRow();
          EnrollmentRows.fill(act.tx(), catalogue, row, form);
          return insert(act, row, form.name());
        });
  }

  /**
   * Writes a copy under another name, passphrase included.
   *
   * @throws Problem 400 for a bad name, 404, 409 for a name that is taken
   */
  public Shown copy(Caller caller, String id, @Nullable String name) {
    return useCases.act(
        caller,
        act ->
            insert(
                act,
                Json.MAPPER.convertValue(row(act.tx(), id), EnrollmentProfileRow.class),
                name));
  }

  private Shown insert(UseCases.Act act, EnrollmentProfileRow row, @Nullable String name) {
    row.id = act.newId();
    row.version = 0;
    row.createdAt = act.now();
    row.name = freeName(act.tx(), name, row.id);
    act.tx().insert(row);
    act.tx().flush();
    return written(act, row, "made");
  }

  /** Rewrites one. */
  @Override
  public Shown change(Caller caller, String id, int version, EnrollmentForm form) {
    return useCases.act(
        caller,
        act -> {
          row(act.tx(), id);
          EnrollmentProfileRow row =
              Known.locked(
                  act.tx(),
                  EnrollmentProfileRow.class,
                  "enrollment profile",
                  id,
                  version,
                  r -> r.version);
          EnrollmentRows.fill(act.tx(), catalogue, row, form);
          row.name = freeName(act.tx(), form.name(), id);
          act.tx().flush();
          return written(act, row, "changed");
        });
  }

  private static String freeName(Tx tx, @Nullable String wanted, String id) {
    String name = Known.name(wanted);
    if (new EnrollmentStore(tx).byName(name).filter(r -> !r.id.equals(id)).isPresent()) {
      throw Problem.conflict(
          "name-taken", "There is an enrollment profile called " + name + " already.");
    }
    return name;
  }

  private Shown written(UseCases.Act act, EnrollmentProfileRow row, String how) {
    Shown shown = view(act.tx(), row);
    new EnrollmentStore(act.tx())
        .insert(
            row.id,
            new EnrollmentStore.Version(
                row.version + 1, Json.write(shown), act.now(), act.caller().login()));
    act.done(Noun.ENROLLMENT_PROFILE, how, row.id, "Enrollment profile " + row.name + " " + how);
    return shown;
  }

  /** What it said each time it was written, newest first. */
  public Page<Version> versions(Caller caller, String id, Page.Request page) {
    String[] c = page.parts(Page.Part.WHOLE);
    return useCases.read(
        tx -> {
          row(tx, id);
          return Page.of(
              new EnrollmentStore(tx)
                  .versions(
                      id,
                      c.length == 0 ? Integer.MAX_VALUE : Integer.parseInt(c[0]),
                      page.limit() + 1),
              page.limit(),
              v -> new Version(v.number(), Json.tree(v.content()), v.writtenAt(), v.writtenBy()),
              v -> Page.cursor(String.valueOf(v.number())));
        });
  }

  /** The first twenty of each kind that need it: what keeps it from being deleted comes first. */
  public List<EnrollmentStore.Use> uses(Caller caller, String id) {
    return useCases.read(
        tx -> {
          row(tx, id);
          return new EnrollmentStore(tx).uses(id, useCases.now(), USES_NAMED);
        });
  }

  /**
   * Deletes one that nobody can join by any more. Devices that joined by it stay as they are.
   *
   * @throws Problem 409 naming the invitations and identifiers that depend on it
   */
  @Override
  public void delete(Caller caller, String id, int version) {
    useCases.run(
        caller,
        act -> {
          Tx tx = act.tx();
          EnrollmentProfileRow row = row(tx, id);
          Known.unchanged("enrollment profile", version, row.version);
          List<EnrollmentStore.Use> uses =
              new EnrollmentStore(tx)
                  .uses(id, act.now(), USES_NAMED).stream()
                      .filter(u -> !u.kind().equals("device"))
                      .toList();
          if (!uses.isEmpty()) {
            EnrollmentStore.Counts n = counts(tx, List.of(id)).get(id);
            throw Problem.conflict(
                "in-use",
                row.name
                    + " is needed by "
                    + Words.counted(n.invitations(), "open invitation")
                    + " and "
                    + Words.counted(n.identifiers(), "identifier")
                    + ": "
                    + named(uses)
                    + ". Withdraw them or give them another profile.");
          }
          Membership.refuseNamed(tx, RuleNames.Kind.PROFILE, id, row.name);
          row.removedAt = act.now();
          row.unitId = null;
          row.siteId = null;
          row.groups = new String[0];
          act.done(
              Noun.ENROLLMENT_PROFILE,
              "deleted",
              id,
              "Enrollment profile " + row.name + " deleted");
        });
  }

  private static String named(List<EnrollmentStore.Use> uses) {
    String first =
        String.join(", ", uses.stream().limit(5).map(u -> u.kind() + " " + u.name()).toList());
    return uses.size() > 5 ? first + " and more" : first;
  }

  private Map<String, EnrollmentStore.Counts> counts(Tx tx, List<String> ids) {
    return new EnrollmentStore(tx).counts(ids, useCases.now());
  }

  private Shown view(Tx tx, EnrollmentProfileRow r) {
    return view(r, counts(tx, List.of(r.id)).get(r.id));
  }

  private static Shown view(EnrollmentProfileRow r, EnrollmentStore.Counts n) {
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
