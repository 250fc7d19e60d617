package dev.pinwright.service.device;

import dev.pinwright.core.Words;
import dev.pinwright.core.change.Confirmation;
import dev.pinwright.core.change.Rehearsal;
import dev.pinwright.core.change.Thresholds;
import dev.pinwright.core.naming.NamePattern;
import dev.pinwright.core.naming.Renaming;
import dev.pinwright.core.organisation.TagList;
import dev.pinwright.service.change.Changes;
import dev.pinwright.service.usecase.Noun;
import dev.pinwright.service.usecase.UseCases;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Known;
import dev.pinwright.service.work.ManyLines;
import dev.pinwright.service.work.Problem;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.change.ChangeStore;
import dev.pinwright.storage.change.EditStore;
import dev.pinwright.storage.change.Moves;
import dev.pinwright.storage.change.ThresholdStore;
import dev.pinwright.storage.naming.SequenceStore;
import dev.pinwright.storage.query.Selection;
import dev.pinwright.storage.row.ChangeRow;
import dev.pinwright.storage.row.PersonRow;
import dev.pinwright.storage.row.SiteRow;
import dev.pinwright.storage.row.UnitRow;
import java.time.Instant;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * Many devices edited at once: those named, or all that match a list. Rehearsed first, then done as
 * one change, which can be taken back but for retiring.
 */
public final class DeviceEdits {
  private static final int MOST_NAMED = 10_000;
  private static final long MOST_RENAMED = 20_000;
  private static final int EXAMPLES = 20;
  private static final int LONGEST_REASON = 300;

  private final UseCases useCases;
  private final Changes changes;

  public DeviceEdits(UseCases useCases, Changes changes) {
    this.useCases = useCases;
    this.changes = changes;
  }

  /**
   * An edit as written. Place, holder and tags go together; a rename and a retirement stand alone.
   *
   * @param ids devices by id
   * @param matching every device of a list, besides those named
   * @param unitId where they belong from now on; empty for nowhere, absent to leave it as it is
   * @param siteId as {@code unitId}
   * @param personId who holds them; empty for nobody
   * @param addTags tags they get besides those they have
   * @param removeTags tags they no longer have
   * @param namePattern what they are called, see {@link NamePattern}
   * @param retire why they are retired
   * @param confirmDevices how many devices it is, where the rehearsal asks for it
   * @param reason why, where it asks for that
   */
  public record Edit(
      Optional<List<String>> ids,
      Optional<DeviceFilter.Written> matching,
      Optional<String> unitId,
      Optional<String> siteId,
      Optional<String> personId,
      Optional<List<String>> addTags,
      Optional<List<String>> removeTags,
      Optional<String> namePattern,
      Optional<String> retire,
      Optional<Long> confirmDevices,
      @ManyLines Optional<String> reason) {

    private Confirmation given() {
      return Problem.reading(
          "/reason", () -> new Confirmation(confirmDevices, reason, Optional.empty()));
    }

    /** What it is called before it is done: {@code Place devices}. */
    public String title() {
      return kind().title + " devices";
    }

    private boolean places() {
      return unitId.isPresent() || siteId.isPresent() || personId.isPresent();
    }

    private boolean tags() {
      return addTags.isPresent() || removeTags.isPresent();
    }

    private Kind kind() {
      int kinds =
          (places() || tags() ? 1 : 0)
              + (namePattern.isPresent() ? 1 : 0)
              + (retire.isPresent() ? 1 : 0);
      if (kinds != 1) {
        throw Problem.malformed(
            "",
            kinds == 0
                ? "Say what to do: a place, a holder, tags, a name pattern, or retire."
                : "Rename and retire by themselves, apart from place, holder and tags.");
      }
      if (ids.isEmpty() && matching.isEmpty()) {
        throw Problem.malformed("/ids", "Say which devices: ids or matching.");
      }
      if (ids.map(List::size).orElse(0) > MOST_NAMED) {
        throw Problem.malformed("/ids", "Name at most 10000 devices, or match them.");
      }
      if (retire.isPresent()) {
        return Kind.RETIRE;
      }
      if (namePattern.isPresent()) {
        return Kind.RENAME;
      }
      return places() ? Kind.PLACE : Kind.TAG;
    }

    private Selection select(Tx tx, Instant now) {
      Selection selected = new Selection(tx).ids(ids.orElse(List.of()));
      matching.ifPresent(m -> selected.matching(m.query(tx, now)));
      return selected;
    }
  }

  private enum Kind {
    PLACE("Place", "placed"),
    TAG("Tag", "tagged"),
    RENAME("Rename", "renamed"),
    RETIRE("Retire", "retired");

    private final String title;
    private final String verb;

    Kind(String title, String verb) {
      this.title = title;
      this.verb = verb;
    }
  }

  /**
   * What an edit would do.
   *
   * @param devices devices it is for
   * @param changing those that are not so already
   * @param examples some of these, with what they are like now and would be
   * @param settings what becomes of their settings; absent where it cannot be other settings
   * @param confirmDevices when present, this number has to be repeated
   * @param reasonWanted whether a reason has to be given
   * @param secondWanted whether a second person has to agree
   * @param told what there is to say besides, each a sentence
   */
  public record Rehearsed(
      long devices,
      long changing,
      List<EditStore.Example> examples,
      Optional<Rehearsal> settings,
      Optional<Long> confirmDevices,
      boolean reasonWanted,
      boolean secondWanted,
      List<String> told) {

    /** One with nothing to say besides. */
    public Rehearsed(
        long devices,
        long changing,
        List<EditStore.Example> examples,
        Optional<Rehearsal> settings,
        Optional<Long> confirmDevices,
        boolean reasonWanted,
        boolean secondWanted) {
      this(
          devices,
          changing,
          examples,
          settings,
          confirmDevices,
          reasonWanted,
          secondWanted,
          List.of());
    }

    /** One that is about settings alone. */
    public static Rehearsed ofSettings(Rehearsal r) {
      return new Rehearsed(
          r.devices(),
          r.changing(),
          List.of(),
          Optional.of(r).filter(s -> s.changing() > 0),
          r.confirmDevices(),
          r.reasonWanted(),
          r.secondWanted());
    }

    private static Rehearsed of(
        long devices,
        long changing,
        List<EditStore.Example> examples,
        Optional<Rehearsal> settings,
        Thresholds.Asked asked) {
      return new Rehearsed(
          devices, changing, examples, settings, asked.number(), asked.reason(), asked.second());
    }

    private Thresholds.Asked asked() {
      return new Thresholds.Asked(confirmDevices, reasonWanted, secondWanted);
    }
  }

  /** What was worked out in a transaction that may still be rolled back. */
  private record Worked(Rehearsed rehearsed, Optional<Changes.Proposal> proposal) {}

  /** Says what an edit would do; nothing is stored. */
  public Rehearsed rehearse(Caller caller, Edit edit) {
    Kind kind = edit.kind();
    return useCases.rehearse(caller, act -> work(act, edit, kind).rehearsed());
  }

  /**
   * Does it, as one change, with what is given in it.
   *
   * @throws Problem as {@link #edit(Caller, Edit, Confirmation)}
   */
  public Changes.Change edit(Caller caller, Edit edit) {
    return edit(caller, edit, edit.given());
  }

  /**
   * Does it, as one change.
   *
   * @param given what the rehearsal asks for
   * @throws Problem 400 for an edit that cannot be right, 409 when it is for no device, or
   *     something that is asked for is missing
   */
  public Changes.Change edit(Caller caller, Edit edit, Confirmation given) {
    Kind kind = edit.kind();
    return useCases.act(
        caller,
        act -> {
          Worked worked = work(act, edit, kind);
          Rehearsed r = worked.rehearsed();
          confirmed(r, given);
          String what = kind.title + " " + Words.counted(r.devices(), "device");
          ChangeRow change = apply(act, worked.proposal(), what, r.changing(), given);
          if (kind != Kind.RETIRE) {
            EditStore store = new EditStore(act.tx());
            store.keep(change.id);
            store.tell(act.now(), kind.verb, what + " at once");
          }
          told(
              act,
              change,
              kind.verb,
              what + edit.retire().map(w -> "; reason: " + w).orElse("") + given.words());
          return Changes.follow(act.tx(), change);
        });
  }

  private static void confirmed(Rehearsed r, Confirmation given) {
    if (r.devices() == 0) {
      throw Problem.conflict("no-devices", "This is for no device.");
    }
    Changes.require(r.asked(), r.devices(), given, "do it");
  }

  private ChangeRow apply(
      UseCases.Act act,
      Optional<Changes.Proposal> proposal,
      String title,
      long devices,
      Confirmation given) {
    ChangeRow change =
        proposal.isPresent()
            ? proposal.get().given(given).apply(act.caller(), title)
            : changes.record(act.tx(), act.caller(), title, given);
    change.devices = (int) devices;
    act.tx().flush();
    return change;
  }

  private static void told(UseCases.Act act, ChangeRow change, String verb, String summary) {
    act.done(Noun.DEVICE, verb, Noun.CHANGE, change.id, summary);
    act.touch(Noun.TAG, Noun.DISPATCH);
  }

  private Worked work(UseCases.Act act, Edit edit, Kind kind) {
    Tx tx = act.tx();
    Moves.besideRules(tx);
    Selection selected = edit.select(tx, act.now());
    List<String> ids = selected.hold();
    EditStore store = new EditStore(tx);
    store.remember();
    Optional<Changes.Proposal> proposal = Optional.empty();
    long changing = ids.size();
    switch (kind) {
      case RETIRE -> {
        String reason = edit.retire().orElseThrow().strip();
        if (reason.isEmpty() || reason.length() > LONGEST_REASON) {
          throw Problem.malformed("/retire", "Say why they are retired, in 1 to 300 characters.");
        }
        Retirement.retire(act, selected, reason);
      }
      case RENAME -> {
        rename(tx, edit, ids.size(), act);
        proposal = Optional.of(changes.ofDevices(tx, ids));
      }
      default -> {
        write(tx, edit, store);
        proposal = Optional.of(changes.ofDevices(tx, ids));
      }
    }
    List<EditStore.Example> examples = List.of();
    if (kind != Kind.RETIRE) {
      changing = store.changed();
      examples = store.examples(EXAMPLES);
    }
    Thresholds.Asked asked = new ThresholdStore(tx).get().thresholds().asked(ids.size());
    return new Worked(
        Rehearsed.of(
            ids.size(),
            changing,
            examples,
            proposal.map(Changes.Proposal::rehearsal).filter(r -> r.changing() > 0),
            kind == Kind.RETIRE && ids.size() > 1 ? asked.always(ids.size()) : asked),
        proposal);
  }

  private static void write(Tx tx, Edit edit, EditStore store) {
    edit.unitId().ifPresent(id -> Known.id(tx, UnitRow.class, "unit", id));
    edit.siteId().ifPresent(id -> Known.id(tx, SiteRow.class, "site", id));
    edit.personId().ifPresent(id -> Known.id(tx, PersonRow.class, "person", id));
    store.place(edit.unitId(), edit.siteId(), edit.personId());
    store.tag(
        Known.tags(edit.addTags().orElse(List.of())),
        Known.tags(edit.removeTags().orElse(List.of())));
    store
        .overTagged(TagList.MOST)
        .ifPresent(
            name -> {
              throw Problem.malformed(
                  "/addTags",
                  name + " would have more than " + TagList.MOST + " tags, which is the most.");
            });
  }

  private static void rename(Tx tx, Edit edit, long devices, UseCases.Act act) {
    NamePattern pattern =
        Problem.reading("/namePattern", () -> new NamePattern(edit.namePattern().orElseThrow()));
    if (devices > MOST_RENAMED) {
      throw Problem.malformed("/matching", "At most 20000 devices are renamed at once.");
    }
    EditStore store = new EditStore(tx);
    SequenceStore sequences = new SequenceStore(tx);
    Map<String, Long> last = new HashMap<>();
    List<Renaming.Renamed> renamed =
        Renaming.of(
            pattern,
            store.facts(),
            key -> {
              long next = last.computeIfAbsent(key, k -> sequences.hold(k, 1)) + 1;
              last.put(key, next);
              return next;
            },
            store.otherNames());
    store.rename(renamed, act.now());
  }

  // ---- taking back
  // -------------------------------------------------------------------------------

  /** Says what taking a change back would do; nothing is stored. */
  public Rehearsed rehearseUndo(Caller caller, String changeId) {
    return useCases.rehearse(caller, act -> undo(act, changeId).rehearsed());
  }

  /**
   * Puts back what a change wrote, wherever it still stands as the change left it.
   *
   * @throws Problem 409 when there is nothing to put back, or something that is asked for is
   *     missing
   */
  public Changes.Change undo(Caller caller, String changeId, Confirmation given) {
    return useCases.act(
        caller,
        act -> {
          ChangeRow undone =
              act.tx()
                  .lock(ChangeRow.class, changeId)
                  .orElseThrow(() -> Problem.notFound("change", changeId));
          Worked worked = undo(act, changeId);
          confirmed(worked.rehearsed(), given);
          String title = "Take back: " + undone.title;
          ChangeRow change =
              apply(act, worked.proposal(), title, worked.rehearsed().changing(), given);
          change.undoes = changeId;
          undone.undoneBy = change.id;
          act.tx().flush();
          EditStore store = new EditStore(act.tx());
          store.keep(change.id);
          store.tell(act.now(), "taken-back", title);
          told(act, change, "taken-back", title + given.words());
          return Changes.follow(act.tx(), change);
        });
  }

  private Worked undo(UseCases.Act act, String changeId) {
    Tx tx = act.tx();
    ChangeRow change =
        new ChangeStore(tx).find(changeId).orElseThrow(() -> Problem.notFound("change", changeId));
    if (change.undoneBy != null) {
      throw Problem.conflict("undone-already", "This change was taken back already.");
    }
    EditStore store = new EditStore(tx);
    List<String> wrote = store.devices(changeId);
    if (wrote.isEmpty()) {
      throw Problem.conflict(
          "not-undoable", "This change wrote nothing into devices that could be put back.");
    }
    Moves.besideRules(tx);
    Selection selected = new Selection(tx).ids(wrote);
    List<String> ids = selected.hold();
    store.remember();
    store.putBack(changeId);
    Changes.Proposal proposal = changes.ofDevices(tx, ids);
    long changing = store.changed();
    return new Worked(
        Rehearsed.of(
            ids.size(),
            changing,
            store.examples(EXAMPLES),
            Optional.of(proposal.rehearsal()).filter(r -> r.changing() > 0),
            new ThresholdStore(tx).get().thresholds().asked(ids.size())),
        Optional.of(proposal));
  }
}
