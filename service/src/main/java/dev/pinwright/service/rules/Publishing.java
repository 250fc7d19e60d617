package dev.pinwright.service.rules;

import com.fasterxml.jackson.databind.JsonNode;
import dev.pinwright.core.Words;
import dev.pinwright.core.catalog.Catalog;
import dev.pinwright.core.change.Confirmation;
import dev.pinwright.core.change.Rehearsal;
import dev.pinwright.core.target.Assignment;
import dev.pinwright.core.target.Window;
import dev.pinwright.service.change.Changes;
import dev.pinwright.service.secret.Vault;
import dev.pinwright.service.shape.ProfileContent;
import dev.pinwright.service.shape.Shapes;
import dev.pinwright.service.usecase.Noun;
import dev.pinwright.service.usecase.UseCases;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Page;
import dev.pinwright.service.work.Problem;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.change.Moves;
import dev.pinwright.storage.change.WaveStore;
import dev.pinwright.storage.profile.ProfileStore;
import dev.pinwright.storage.row.ChangeRow;
import dev.pinwright.storage.row.ProfileRow;
import dev.pinwright.storage.row.ProfileVersionRow;
import dev.pinwright.storage.shape.ShapeStore;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** Takes a profile from draft to devices: rehearsed first, then published as a version. */
public final class Publishing {
  private final UseCases useCases;
  private final Catalog catalog;
  private final Vault vault;
  private final Changes changes;
  private final Waves waves;
  private final NamedFiles files;
  private final KitParts parts;

  public Publishing(UseCases useCases, Catalog catalog, Vault vault, Changes changes, Waves waves) {
    this.waves = waves;
    this.useCases = useCases;
    this.catalog = catalog;
    this.vault = vault;
    this.changes = changes;
    files = new NamedFiles(catalog);
    parts = new KitParts(catalog);
  }

  /** What a publication began. */
  public record Published(int version, Changes.Change change) {}

  /** A published version. */
  public record Version(
      int number,
      String name,
      Instant publishedAt,
      String publishedBy,
      Map<String, JsonNode> settings,
      Map<String, String> words,
      List<Profiles.Part> parts,
      List<Profiles.NamedTarget> targets,
      List<Profiles.NamedTarget> exclusions,
      Window window) {}

  /** Shows what publishing the draft would do. Nothing is stored and nobody has to wait. */
  public Rehearsal rehearse(Caller caller, String id) {
    return useCases.snapshot(
        tx -> {
          ProfileRow row = Profiles.row(tx, id);
          Shapes.Unpublished draft = draft(row);
          Rehearsal r = changes.ofProfile(tx, draft, begun(row, draft)).rehearsal();
          return waits(row)
              ? draft
                  .content()
                  .assignment()
                  .window()
                  .from()
                  .filter(useCases.now()::isBefore)
                  .map(r::beginning)
                  .orElse(r)
              : r;
        });
  }

  /**
   * Whom a draft is rehearsed for: whom it reaches now. One that is yet to begin, and whose profile
   * reaches nobody until then, for whom it will.
   */
  private Assignment begun(ProfileRow row, Shapes.Unpublished draft) {
    Assignment wanted = draft.content().assignment();
    return waits(row) ? wanted.begun(useCases.now()) : wanted.at(useCases.now());
  }

  /** Whether it reaches nobody now, whoever it will reach. */
  private static boolean waits(ProfileRow row) {
    return row.publishedVersion == null || !row.inForce;
  }

  /**
   * Every device behind one effect of a rehearsal, by name.
   *
   * @throws Problem 404 when the rehearsal has no such effect, or no longer
   */
  public Page<Rehearsal.Named> devices(Caller caller, String id, String effect, Page.Request page) {
    return useCases.snapshot(
        tx -> {
          ProfileRow row = Profiles.row(tx, id);
          Shapes.Unpublished draft = draft(row);
          return changes.ofProfile(tx, draft, begun(row, draft)).devices(effect, page);
        });
  }

  private Shapes.Unpublished draft(ProfileRow row) {
    return saying(row, ProfileContent.load(row.draft, vault));
  }

  static Shapes.Unpublished saying(ProfileRow row, ProfileContent content) {
    return new Shapes.Unpublished(row.id, row.kind(), next(row), row.name, content);
  }

  private static int next(ProfileRow row) {
    return row.publishedVersion == null ? 1 : row.publishedVersion + 1;
  }

  /**
   * Publishes the draft: stores it as a version, moves devices to their new shapes and wakes them.
   *
   * @param given what the rehearsal asks for
   * @throws Problem 409 when something that is asked for is missing, or nothing was changed
   */
  public Published publish(Caller caller, String id, int version, Confirmation given) {
    return publish(caller, id, version, given, Optional.empty());
  }

  /**
   * {@link #publish(Caller, String, int, Confirmation)}, wave by wave.
   *
   * @param spec how it spreads; to all at once without
   * @throws Problem 409 besides where it may not spread so
   */
  public Published publish(
      Caller caller, String id, int version, Confirmation given, Optional<Waves.Spec> spec) {
    return useCases.act(
        caller,
        act -> {
          Moves.aloneWithRules(act.tx());
          ProfileRow row = Profiles.locked(act.tx(), id, version);
          if (!row.draftChanged) {
            throw Problem.conflict(
                "nothing-to-publish", "The draft is the published version already.");
          }
          Shapes.Unpublished draft = draft(row);
          Assignment begun = begun(row, draft);
          Assignment now = draft.content().assignment().at(act.now());
          Changes.Proposal seen =
              changes.ofProfile(act.tx(), draft, begun).confirmed(given, "publish it");
          // what is yet to begin was looked at as it will be; now it is something else
          Optional<Waves.First> spreads =
              spec.map(
                  s ->
                      Waves.first(
                          waves.begin(act.tx(), row, draft, s, seen.rehearsal().devices()),
                          seen.rehearsal().changing(),
                          w -> changes.ofProfile(act.tx(), draft, now, Optional.of(w))));
          Changes.Proposal proposal =
              spreads
                  .map(Waves.First::proposal)
                  .orElseGet(
                      () -> begun.equals(now) ? seen : changes.ofProfile(act.tx(), draft, now))
                  .given(given);
          row.draftChanged = false;
          String title =
              spreads
                  .map(s -> Waves.title(row, draft.version(), 0, s.begun().plan()))
                  .orElse("Publish " + row.name + ", version " + draft.version());
          ChangeRow change = store(act, row, proposal, row.draft, title, given);
          spreads.ifPresent(s -> Waves.begun(act, row, s.begun(), change));
          return new Published(change.version, Changes.follow(act.tx(), change));
        });
  }

  /** Stores a version that says this and moves the devices. */
  ChangeRow store(
      UseCases.Act act,
      ProfileRow row,
      Changes.Proposal proposal,
      String content,
      String title,
      Confirmation given) {
    Tx tx = act.tx();
    keep(act, row, content);
    ChangeRow change = proposal.apply(act.caller(), title);
    tx.flush();
    act.done(
        Noun.PROFILE,
        "published",
        row.id,
        row.name
            + " version "
            + row.publishedVersion
            + " published; it changes "
            + Words.counted(change.total, "device")
            + given.words());
    act.touch(Noun.CHANGE, Noun.DEVICE);
    return change;
  }

  /**
   * Publishes the draft, in a transaction of somebody else's, who lets devices follow. Call {@link
   * Moves#aloneWithRules} first.
   */
  public void put(UseCases.Act act, String id) {
    ProfileRow row = Profiles.row(act.tx(), id);
    row.draftChanged = false;
    keep(act, row, row.draft);
    act.done(
        Noun.PROFILE,
        "published",
        id,
        row.name + " version " + row.publishedVersion + " published");
  }

  /**
   * Takes a profile from everybody, in a transaction of somebody else's, who lets devices follow
   * and then deletes it by {@link #forget}.
   */
  public static void leave(UseCases.Act act, String id) {
    Profiles.row(act.tx(), id);
    new WaveStore(act.tx()).end(id);
    new ShapeStore(act.tx()).assign(id, Assignment.NOBODY, List.of());
  }

  /**
   * Deletes a profile nobody has any more.
   *
   * @throws Problem 409 when a kit takes it along
   */
  public static void forget(UseCases.Act act, String id) {
    ProfileRow row = Profiles.row(act.tx(), id);
    KitParts.none(act.tx(), row);
    act.tx().delete(row);
    act.tx().flush();
    act.done(Noun.PROFILE, "deleted", id, Profiles.said(row) + " deleted");
  }

  /** Puts a version on file, and notes whom it reaches. */
  private void keep(UseCases.Act act, ProfileRow row, String content) {
    Tx tx = act.tx();
    ProfileVersionRow v = new ProfileVersionRow();
    v.profileId = row.id;
    v.number = next(row);
    v.name = row.name;
    v.content = content;
    v.publication = new ProfileStore(tx).nextPublication();
    v.publishedAt = act.now();
    v.publishedBy = act.caller().login();
    tx.insert(v);
    row.publishedVersion = v.number;
    tx.flush();
    holds(tx, row, ProfileContent.load(content, vault), act.now());
  }

  /** Notes whom a published profile reaches at a moment, and when that is otherwise. */
  private static void holds(Tx tx, ProfileRow row, ProfileContent content, Instant now) {
    Assignment assignment = content.assignment();
    // whatever spread of it reaches nobody any more, or all at once
    new WaveStore(tx).end(row.id);
    row.inForce = assignment.window().holds(now);
    row.inForceFrom = assignment.window().from().orElse(null);
    row.inForceUntil = assignment.window().until().orElse(null);
    tx.flush();
    new ShapeStore(tx).assign(row.id, assignment.at(now), content.parts());
  }

  /** Lets profiles begin and end whose time has come, each as a change of its own. */
  public void followWindows() {
    for (String id : useCases.read(tx -> new ProfileStore(tx).turning(useCases.now()))) {
      useCases.run(
          Caller.SERVICE,
          act -> {
            Tx tx = act.tx();
            Moves.aloneWithRules(tx);
            ProfileRow row = tx.lock(ProfileRow.class, id).orElse(null);
            if (row == null || row.publishedVersion == null) {
              return;
            }
            ProfileContent content =
                ProfileContent.load(version(tx, id, row.publishedVersion).content, vault);
            Assignment assignment = content.assignment();
            if (assignment.window().holds(act.now()) == row.inForce) {
              return;
            }
            Changes.Proposal proposal =
                changes.ofPublished(
                    tx,
                    row.kind(),
                    new Moves.Candidate(
                        row.id, row.publishedVersion, assignment.at(act.now()), content.parts()));
            holds(tx, row, content, act.now());
            String title = row.name + (row.inForce ? " begins" : " ends");
            proposal.applyIfAny(Caller.SERVICE, title);
            act.done(Noun.PROFILE, row.inForce ? "begun" : "ended", id, title);
            act.touch(Noun.CHANGE, Noun.DEVICE);
          });
    }
  }

  // ---- taking back -----------------------------------------------------------------------------

  /** A publication, and what is to be published in its place. */
  private record Before(ProfileRow profile, ChangeRow publication, String content) {}

  /** Shows what taking a publication back would do. Nothing is stored and nobody has to wait. */
  Rehearsal rehearseUndo(Caller caller, String changeId) {
    return useCases.snapshot(
        tx ->
            changes
                .ofProfile(
                    tx,
                    saying(
                        before(
                            tx,
                            tx.find(ChangeRow.class, changeId).orElseThrow(),
                            Profiles.row(tx, profileOf(tx, changeId)))))
                .rehearsal());
  }

  private static String profileOf(Tx tx, String changeId) {
    return String.valueOf(tx.find(ChangeRow.class, changeId).orElseThrow().profileId);
  }

  /**
   * Takes the latest publication of a profile back: publishes anew what was published before it; of
   * the first, that it goes to nobody. The draft stays as it is.
   *
   * @throws Problem 409 when another was published since, it was taken back already, or something
   *     that is asked for is missing
   */
  Changes.Change undo(Caller caller, String changeId, Confirmation given) {
    return useCases.act(
        caller,
        act -> {
          Tx tx = act.tx();
          String profile = profileOf(tx, changeId);
          Moves.aloneWithRules(tx);
          ProfileRow row =
              tx.lock(ProfileRow.class, profile)
                  .orElseThrow(() -> Problem.notFound("profile", profile));
          ChangeRow publication = tx.lock(ChangeRow.class, changeId).orElseThrow();
          Before before = before(tx, publication, row);
          Changes.Proposal proposal =
              changes.ofProfile(tx, saying(before)).confirmed(given, "take it back");
          row.draftChanged = !row.draft.equals(before.content());
          ChangeRow change =
              store(
                  act,
                  row,
                  proposal,
                  before.content(),
                  "Take back: " + publication.title + ", version " + next(row),
                  given);
          change.undoes = changeId;
          publication.undoneBy = change.id;
          tx.flush();
          if (row.appId != null) {
            Followers.tookBack(act, row.appId, vault);
          }
          return Changes.follow(tx, change);
        });
  }

  private Shapes.Unpublished saying(Before before) {
    ProfileRow row = before.profile();
    return saying(row, ProfileContent.load(before.content(), vault));
  }

  private Before before(Tx tx, ChangeRow publication, ProfileRow row) {
    if (publication.undoneBy != null) {
      throw Problem.conflict("undone-already", "This change was taken back already.");
    }
    int version = publication.version;
    if (!Integer.valueOf(version).equals(row.publishedVersion)) {
      throw Problem.conflict(
          "published-since",
          row.name + " was published again since; take that back, or put a version back.");
    }
    ProfileVersionRow published = version(tx, row.id, version);
    return new Before(
        row,
        publication,
        version > 1
            ? version(tx, row.id, version - 1).content
            : ProfileContent.load(published.content, vault).toNobody().store(catalog, vault));
  }

  static ProfileVersionRow version(Tx tx, String profileId, int number) {
    return tx.find(ProfileVersionRow.class, new ProfileVersionRow.Key(profileId, number))
        .orElseThrow(() -> Problem.notFound("version", String.valueOf(number)));
  }

  /**
   * Shows what deleting a profile would do. Nothing is stored and nobody has to wait.
   *
   * @throws Problem 409 when a kit takes it along
   */
  public Rehearsal rehearseDeletion(Caller caller, String id) {
    return useCases.snapshot(
        tx -> {
          ProfileRow row = Profiles.row(tx, id);
          KitParts.none(tx, row);
          return changes.ofProfile(tx, nothing(row)).rehearsal();
        });
  }

  /** The profile saying nothing to anybody. */
  private static Shapes.Unpublished nothing(ProfileRow row) {
    return saying(row, ProfileContent.EMPTY);
  }

  /**
   * Deletes a profile: devices that have it lose what it says, as one change.
   *
   * @param given what the rehearsal asks for
   * @throws Problem 409 when a kit takes it along or something that is asked for is missing, 412
   *     when someone else changed the profile meanwhile
   */
  public void delete(Caller caller, String id, int version, Confirmation given) {
    useCases.run(
        caller,
        act -> {
          Moves.aloneWithRules(act.tx());
          ProfileRow row = Profiles.locked(act.tx(), id, version);
          KitParts.none(act.tx(), row);
          changes
              .ofProfile(act.tx(), nothing(row))
              .confirmed(given, "delete it")
              .applyIfAny(caller, "Delete " + row.name)
              // there is nothing to look at any more
              .ifPresent(change -> change.profileId = null);
          act.tx().delete(row);
          act.done(Noun.PROFILE, "deleted", id, Profiles.said(row) + " deleted" + given.words());
          act.touch(Noun.CHANGE, Noun.DEVICE);
        });
  }

  /** Published versions, newest first. */
  public Page<Version> versions(Caller caller, String id, Page.Request page) {
    String[] c = page.parts(Page.Part.WHOLE);
    int before = c.length == 0 ? Integer.MAX_VALUE : Integer.parseInt(c[0]);
    return useCases.read(
        tx -> {
          Profiles.row(tx, id);
          List<ProfileVersionRow> rows =
              new ProfileStore(tx).versions(id, before, page.limit() + 1);
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
                    files.words(tx, content),
                    parts.shown(tx, content.parts()),
                    Profiles.named(tx, content.assignment().targets()),
                    Profiles.named(tx, content.assignment().exclusions()),
                    content.assignment().window());
              },
              v -> Page.cursor(String.valueOf(v.number)));
        });
  }
}
