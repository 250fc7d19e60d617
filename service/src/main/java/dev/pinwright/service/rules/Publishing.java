package dev.pinwright.service.rules;

import com.fasterxml.jackson.databind.JsonNode;
import dev.pinwright.core.catalog.Catalog;
import dev.pinwright.core.change.Rehearsal;
import dev.pinwright.service.change.Changes;
import dev.pinwright.service.journal.Journal;
import dev.pinwright.service.live.Events;
import dev.pinwright.service.secret.Vault;
import dev.pinwright.service.shape.ProfileContent;
import dev.pinwright.service.shape.Shapes;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Page;
import dev.pinwright.service.work.Problem;
import dev.pinwright.service.work.Role;
import dev.pinwright.storage.Database;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.change.Moves;
import dev.pinwright.storage.row.ChangeRow;
import dev.pinwright.storage.row.ProfileRow;
import dev.pinwright.storage.row.ProfileVersionRow;
import dev.pinwright.storage.shape.ShapeStore;
import java.time.Clock;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** Takes a profile from draft to devices: rehearsed first, then published as a version. */
public final class Publishing {
  private final Database database;
  private final Catalog catalog;
  private final Vault vault;
  private final Changes changes;
  private final Journal journal;
  private final Events events;
  private final Clock clock;

  public Publishing(
      Database database,
      Catalog catalog,
      Vault vault,
      Changes changes,
      Journal journal,
      Events events,
      Clock clock) {
    this.database = database;
    this.catalog = catalog;
    this.vault = vault;
    this.changes = changes;
    this.journal = journal;
    this.events = events;
    this.clock = clock;
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
      List<Profiles.NamedTarget> targets,
      List<Profiles.NamedTarget> exclusions) {}

  /** Shows what publishing the draft would do. Nothing is stored and nobody has to wait. */
  public Rehearsal rehearse(Caller caller, String id) {
    caller.needs(Role.READER);
    return database.snapshot(tx -> changes.ofProfile(tx, draft(Profiles.row(tx, id))).rehearsal());
  }

  /**
   * Every device behind one effect of a rehearsal, by name.
   *
   * @throws Problem 404 when the rehearsal has no such effect, or no longer
   */
  public Page<Rehearsal.Named> devices(Caller caller, String id, String effect, Page.Request page) {
    caller.needs(Role.READER);
    return database.snapshot(
        tx -> changes.ofProfile(tx, draft(Profiles.row(tx, id))).devices(effect, page));
  }

  private Shapes.Unpublished draft(ProfileRow row) {
    int next = row.publishedVersion == null ? 1 : row.publishedVersion + 1;
    return new Shapes.Unpublished(row.id, next, row.name, ProfileContent.load(row.draft, vault));
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
              ProfileRow row = Profiles.locked(tx, id, version);
              if (!row.draftChanged) {
                throw Problem.conflict(
                    "nothing-to-publish", "The draft is the published version already.");
              }
              Moves.aloneWithRules(tx);
              Changes.Proposal proposal =
                  changes.ofProfile(tx, draft(row)).confirmed(confirmDevices, "publish it");
              return store(tx, caller, row, proposal);
            });
    events.touch("profiles");
    changes.touch();
    return published;
  }

  private Published store(Tx tx, Caller caller, ProfileRow row, Changes.Proposal proposal) {
    Shapes.Unpublished draft = draft(row);
    ProfileVersionRow v = new ProfileVersionRow();
    v.profileId = row.id;
    v.number = draft.version();
    v.name = row.name;
    v.content = row.draft;
    v.publication = tx.value("select nextval('publication')", Long.class, Map.of());
    v.publishedAt = clock.instant();
    v.publishedBy = caller.login();
    tx.insert(v);
    row.publishedVersion = v.number;
    row.draftChanged = false;
    tx.flush();
    new ShapeStore(tx).assign(row.id, draft.content().assignment());
    ChangeRow change = proposal.apply(caller, "Publish " + row.name + ", version " + v.number);
    tx.flush();
    journal.write(
        tx,
        caller,
        "profile.published",
        "profile:" + row.id,
        row.name + " version " + v.number + " published; " + change.total + " devices change");
    return new Published(v.number, Changes.follow(tx, change));
  }

  /** Published versions, newest first. */
  public Page<Version> versions(Caller caller, String id, Page.Request page) {
    caller.needs(Role.READER);
    String[] c = page.parts(Page.Part.WHOLE);
    int before = c.length == 0 ? Integer.MAX_VALUE : Integer.parseInt(c[0]);
    return database.call(
        tx -> {
          Profiles.row(tx, id);
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
                    Profiles.named(tx, content.assignment().targets()),
                    Profiles.named(tx, content.assignment().exclusions()));
              },
              v -> Page.cursor(String.valueOf(v.number)));
        });
  }
}
