package dev.pinwright.service.change;

import com.github.f4b6a3.ulid.UlidCreator;
import dev.pinwright.core.Words;
import dev.pinwright.core.catalog.Catalog;
import dev.pinwright.core.change.Confirmation;
import dev.pinwright.core.change.Move;
import dev.pinwright.core.change.Progress;
import dev.pinwright.core.change.Rehearsal;
import dev.pinwright.core.change.Thresholds;
import dev.pinwright.core.change.Wave;
import dev.pinwright.core.license.Demand;
import dev.pinwright.core.license.Pool;
import dev.pinwright.core.policy.KitPart;
import dev.pinwright.core.policy.ProfileKind;
import dev.pinwright.core.target.Assignment;
import dev.pinwright.service.group.Membership;
import dev.pinwright.service.live.Wakes;
import dev.pinwright.service.shape.Shapes;
import dev.pinwright.service.usecase.UseCases;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Page;
import dev.pinwright.service.work.Problem;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.change.ChangeStore;
import dev.pinwright.storage.change.Moves;
import dev.pinwright.storage.change.ThresholdStore;
import dev.pinwright.storage.license.LicenseStore;
import dev.pinwright.storage.license.StoreAppStore;
import dev.pinwright.storage.row.ChangeRow;
import java.time.Clock;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.stream.Collectors;
import java.util.stream.Stream;

/**
 * The one way to move desired trees, whatever moves them: a publication, members, tags, a place, a
 * unit, a sheet. Propose it; read what it would do ({@link Proposal#rehearsal}) or let it be
 * confirmed; apply it; follow it.
 */
public final class Changes {
  private final UseCases useCases;
  private final Catalog catalog;
  private final Shapes shapes;
  private final Membership membership;
  private final Clock clock;

  public Changes(
      UseCases useCases, Catalog catalog, Shapes shapes, Membership membership, Clock clock) {
    this.membership = membership;
    this.useCases = useCases;
    this.catalog = catalog;
    this.shapes = shapes;
    this.clock = clock;
  }

  /**
   * A change and how far devices are with it.
   *
   * @param total devices whose settings it moved
   * @param devices devices it was about, those whose settings stayed included
   * @param undoable whether what it wrote into devices can be put back
   * @param reason why it was made, where somebody said so
   * @param agreedBy login of the second person who agreed to it
   */
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
      long overtaken,
      long devices,
      boolean undoable,
      Optional<String> reason,
      Optional<String> agreedBy) {}

  /** What would become of devices, worked out and not stored. */
  public final class Proposal {
    private final Tx tx;
    private final Moves moves;
    private final List<Moves.Kind> kinds;
    private final List<Move> worked;
    private final Optional<Shapes.Unpublished> draft;
    private Set<String> about;
    private Confirmation confirmation = Confirmation.NONE;

    private Proposal(Tx tx, Moves moves, Optional<Shapes.Unpublished> draft) {
      this.tx = tx;
      this.moves = moves;
      this.draft = draft;
      about = draft.map(Proposal::about).orElse(Set.of());
      kinds = moves.kinds();
      worked = shapes.moves(tx, kinds, draft);
    }

    /** What it would do, for people. */
    public Rehearsal rehearsal() {
      List<String> named =
          worked.stream()
              .filter(m -> !m.edits().isEmpty())
              .flatMap(m -> m.examples().stream())
              .toList();
      return Rehearsal.of(
              catalog,
              about,
              worked,
              named.isEmpty() ? Map.of() : moves.names(named),
              new ThresholdStore(tx).get().thresholds())
          .lacking(shortages());
    }

    /** Licenses that would be short of apps which devices are to have from now on. */
    private List<Rehearsal.Shortage> shortages() {
      Map<String, List<Moves.Kind>> wanting = new TreeMap<>();
      for (int i = 0; i < worked.size(); i++) {
        Moves.Kind kind = kinds.get(i);
        worked
            .get(i)
            .newlyRequired()
            .forEach(key -> wanting.computeIfAbsent(key, k -> new ArrayList<>()).add(kind));
      }
      List<Rehearsal.Shortage> out = new ArrayList<>();
      for (StoreAppStore.StoreApp app : new StoreAppStore(tx).licensed(wanting.keySet())) {
        List<Pool> pools = new LicenseStore(tx).pools(app.appId());
        List<Demand> demand = moves.demand(wanting.get(app.key()), app);
        Rehearsal.Shortage.of(app.name(), app.licensing(), demand, pools).ifPresent(out::add);
      }
      return out;
    }

    /** This, where conflicts and what cannot be done are told of these profiles alone. */
    public Proposal about(Set<String> profiles) {
      about = profiles;
      return this;
    }

    /** The profiles whose change this is. */
    private static Set<String> about(Shapes.Unpublished draft) {
      return Stream.concat(
              Stream.of(draft.profileId()),
              draft.content().parts().stream().map(KitPart::profileId))
          .collect(Collectors.toUnmodifiableSet());
    }

    /**
     * Goes on only when what is asked for was given.
     *
     * @param doing what it is given for, such as {@code move it}
     * @throws Problem 409 saying what is missing
     */
    public Proposal confirmed(Confirmation given, String doing) {
      Rehearsal r = rehearsal();
      require(r.asked(), r.changing(), given, doing);
      return given(given);
    }

    /** Goes on with what was given, which was looked at before. */
    public Proposal given(Confirmation given) {
      confirmation = given;
      return this;
    }

    /**
     * Every device behind one effect of the rehearsal, by name.
     *
     * @throws Problem 404 when there is no such effect, or no longer
     */
    public Page<Rehearsal.Named> devices(String effect, Page.Request page) {
      List<Moves.Kind> behind =
          Rehearsal.behind(catalog, worked, effect).stream()
              .map(m -> kinds.get(Integer.parseInt(m.id())))
              .toList();
      if (behind.isEmpty()) {
        throw new Problem(
            404,
            "not-found",
            "Not found",
            "The rehearsal has no such effect any more; rehearse again.");
      }
      String[] c = page.parts(Page.Part.TEXT, Page.Part.TEXT);
      return Page.of(
          moves.devices(
              behind, c.length == 0 ? "" : c[0], c.length == 0 ? "" : c[1], page.limit() + 1),
          page.limit(),
          d -> d,
          d -> Page.cursor(d.name().toLowerCase(Locale.ROOT), d.id()));
    }

    /** Does it, as a change the tray follows; the devices are woken when this is committed. */
    public ChangeRow apply(Caller caller, String title) {
      ChangeRow change = row(caller, title, confirmation);
      draft.ifPresent(
          d -> {
            change.profileId = d.profileId();
            change.version = d.version();
          });
      change.total = (int) shapes.apply(tx, moves, kinds, worked, Optional.of(change.id));
      change.devices = change.total;
      tx.insert(change);
      if (change.total > 0) {
        Wakes.change(tx, change.id);
      }
      return change;
    }

    /** {@link #apply}, and nothing at all when no device gets another desired tree. */
    public Optional<ChangeRow> applyIfAny(Caller caller, String title) {
      if (worked.stream().anyMatch(m -> !m.edits().isEmpty())) {
        return Optional.of(apply(caller, title));
      }
      shapes.apply(tx, moves, kinds, worked, Optional.empty());
      return Optional.empty();
    }
  }

  /** What a change would do that is about no device. */
  public Rehearsal ofNobody(Tx tx) {
    return Rehearsal.of(
        catalog, Set.of(), List.of(), Map.of(), new ThresholdStore(tx).get().thresholds());
  }

  /**
   * What publishing a draft would do. Where it is to be applied, call {@link Moves#aloneWithRules}
   * first.
   */
  public Proposal ofProfile(Tx tx, Shapes.Unpublished draft) {
    return ofProfile(tx, draft, draft.content().assignment().at(clock.instant()));
  }

  /** {@link #ofProfile(Tx, Shapes.Unpublished)}, for whom this assignment reaches. */
  public Proposal ofProfile(Tx tx, Shapes.Unpublished draft, Assignment assignment) {
    return ofProfile(tx, draft, assignment, Optional.empty());
  }

  /** {@link #ofProfile(Tx, Shapes.Unpublished, Assignment)}, for whom a wave reaches of them. */
  public Proposal ofProfile(
      Tx tx, Shapes.Unpublished draft, Assignment assignment, Optional<Wave> wave) {
    return new Proposal(
        tx,
        moves(
            tx,
            draft.kind(),
            new Moves.Candidate(
                draft.profileId(), draft.version(), assignment, draft.content().parts(), wave)),
        Optional.of(draft));
  }

  /**
   * What it means that a published version reaches others from now on.
   *
   * @param candidate that version, and whom it is to reach
   */
  public Proposal ofPublished(Tx tx, ProfileKind kind, Moves.Candidate candidate) {
    return new Proposal(tx, moves(tx, kind, candidate), Optional.empty());
  }

  private static Moves moves(Tx tx, ProfileKind kind, Moves.Candidate candidate) {
    return kind == ProfileKind.KIT ? Moves.ofKit(tx, candidate) : Moves.ofProfile(tx, candidate);
  }

  /** What a change of these devices means that was made in this transaction. */
  public Proposal ofDevices(Tx tx, Collection<String> deviceIds) {
    membership.follow(tx, deviceIds);
    return new Proposal(tx, Moves.ofDevices(tx, deviceIds), Optional.empty());
  }

  /** What a move of a unit means that was made in this transaction. */
  public Proposal ofUnit(Tx tx, String unitId) {
    membership.followUnit(tx, unitId);
    return new Proposal(tx, Moves.ofUnit(tx, unitId), Optional.empty());
  }

  /** What it means, for whichever device, that much was written in this transaction. */
  public Proposal ofAll(Tx tx) {
    return new Proposal(tx, Moves.ofAll(tx), Optional.empty());
  }

  /** What it means that devices came into groups or left them in this transaction. */
  public Proposal ofRegrouped(Tx tx) {
    return new Proposal(tx, Moves.ofRegrouped(tx), Optional.empty());
  }

  /** Puts a change on file that moves no settings. */
  public ChangeRow record(Tx tx, Caller caller, String title, Confirmation given) {
    ChangeRow change = row(caller, title, given);
    tx.insert(change);
    return change;
  }

  /**
   * Goes on only when what is asked for was given.
   *
   * @param devices how many it is about
   * @throws Problem 409 saying what is missing: {@code second-person}, {@code confirm-devices} with
   *     the number, or {@code reason-wanted}
   */
  public static void require(
      Thresholds.Asked asked, long devices, Confirmation given, String doing) {
    require(asked, "This changes " + Words.counted(devices, "device") + "; ", given, doing);
  }

  /** {@link #require(Thresholds.Asked, long, Confirmation, String)} of what is no change. */
  public static void require(
      Thresholds.Asked asked, String about, Confirmation given, String doing) {
    asked
        .missing(given)
        .ifPresent(
            missing -> {
              throw switch (missing) {
                case SECOND_PERSON ->
                    Problem.conflict(
                        "second-person",
                        about
                            + "somebody else has to agree first. Propose it, and they see what it"
                            + " would do.");
                case NUMBER ->
                    Problem.conflict(
                            "confirm-devices", about + "repeat that number to " + doing + ".")
                        .with("confirmDevices", asked.number().orElseThrow());
                case REASON ->
                    Problem.conflict("reason-wanted", about + "give a reason to " + doing + ".");
              };
            });
  }

  private ChangeRow row(Caller caller, String title, Confirmation given) {
    ChangeRow change = new ChangeRow();
    change.id = UlidCreator.getMonotonicUlid().toString();
    change.title = title;
    change.at = clock.instant();
    change.actor = caller.login();
    change.reason = given.reason().orElse(null);
    change.agreedBy = given.agreedBy().orElse(null);
    return change;
  }

  /** Changes, newest first, with their progress. */
  public Page<Change> page(Caller caller, Page.Request page) {
    String[] c = page.parts(Page.Part.TEXT);
    return useCases.read(
        tx -> {
          ChangeStore store = new ChangeStore(tx);
          List<ChangeRow> rows = store.page(c.length == 0 ? "~" : c[0], page.limit() + 1);
          Map<String, Progress> progress = store.progress(rows);
          Set<String> undoable = store.undoable(rows);
          return Page.of(
              rows,
              page.limit(),
              r -> change(r, progress.get(r.id), undoable.contains(r.id)),
              r -> Page.cursor(r.id));
        });
  }

  /** One change with its progress. */
  public Change get(Caller caller, String id) {
    return useCases.read(
        tx ->
            follow(
                tx,
                new ChangeStore(tx).find(id).orElseThrow(() -> Problem.notFound("change", id))));
  }

  /** How far devices are with a change. */
  public static Change follow(Tx tx, ChangeRow row) {
    ChangeStore store = new ChangeStore(tx);
    return change(
        row,
        store.progress(List.of(row)).get(row.id),
        store.undoable(List.of(row)).contains(row.id));
  }

  private static Change change(ChangeRow r, Progress p, boolean undoable) {
    return new Change(
        r.id,
        r.title,
        Optional.ofNullable(r.profileId),
        Optional.ofNullable(r.version),
        r.at,
        r.actor,
        r.total,
        p.done(),
        p.waiting(),
        p.failed(),
        p.overtaken(),
        r.devices,
        undoable,
        Optional.ofNullable(r.reason),
        Optional.ofNullable(r.agreedBy));
  }
}
