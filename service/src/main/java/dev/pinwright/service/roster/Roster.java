package dev.pinwright.service.roster;

import dev.pinwright.core.Words;
import dev.pinwright.core.enrollment.Identifiers;
import dev.pinwright.core.roster.Column;
import dev.pinwright.core.roster.RosterEntry;
import dev.pinwright.core.roster.RosterEntry.State;
import dev.pinwright.core.roster.RosterLine;
import dev.pinwright.service.usecase.Noun;
import dev.pinwright.service.usecase.UseCases;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Known;
import dev.pinwright.service.work.Page;
import dev.pinwright.service.work.Problem;
import dev.pinwright.service.work.Records;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.roster.RosterStore;
import dev.pinwright.storage.row.EnrollmentProfileRow;
import dev.pinwright.storage.row.PersonRow;
import dev.pinwright.storage.row.RosterRow;
import dev.pinwright.storage.row.SiteRow;
import dev.pinwright.storage.row.UnitRow;
import java.time.Duration;
import java.time.Instant;
import java.util.EnumMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.function.Consumer;
import org.jspecify.annotations.Nullable;

/** Identifiers that are known before their devices arrive. */
public final class Roster implements Records<RosterEntry, Roster.Draft> {
  private static final int MOST_AT_ONCE = 10_000;

  private final UseCases useCases;

  public Roster(UseCases useCases) {
    this.useCases = useCases;
  }

  /**
   * A single row as written.
   *
   * @param barred whether its device is not to come in
   */
  public record Draft(
      @Nullable String serial,
      @Nullable String imei,
      @Nullable String asset,
      @Nullable String name,
      @Nullable String personId,
      @Nullable String unitId,
      @Nullable String siteId,
      @Nullable List<String> tags,
      @Nullable String profileId,
      @Nullable Boolean barred) {}

  /**
   * Which rows are looked for; what is empty is not asked.
   *
   * @param words each any part of an identifier or the name
   * @param identifier the whole of an identifier
   * @param waitingDays only those put on file longer ago than so many days; 0 for all
   */
  public record Filter(String words, String identifier, String state, int waitingDays) {
    /** All rows. */
    public static final Filter ALL = new Filter("", "", "", 0);

    private RosterStore.Which which(Instant now) {
      return new RosterStore.Which(
          words,
          identifier.isEmpty() ? Optional.empty() : Optional.of(identifier),
          Roster.state("/state", state),
          before(waitingDays, now),
          Optional.empty(),
          List.of());
    }
  }

  /**
   * A change of many rows: those named, or all that match but for some. What is absent stays; an
   * empty id takes it away.
   *
   * @param becomes the state they get: expected, withdrawn or barred
   */
  public record BulkEdit(
      Optional<List<String>> ids,
      Optional<String> q,
      Optional<String> state,
      Optional<Integer> waitingDays,
      Optional<List<String>> except,
      Optional<String> personId,
      Optional<String> unitId,
      Optional<String> siteId,
      Optional<List<String>> tags,
      Optional<String> profileId,
      Optional<String> becomes) {}

  private static Optional<Instant> before(int waitingDays, Instant now) {
    return waitingDays <= 0
        ? Optional.empty()
        : Optional.of(now.minus(Duration.ofDays(waitingDays)));
  }

  private static Optional<State> state(String where, String word) {
    return word.isEmpty()
        ? Optional.empty()
        : Optional.of(Problem.reading(where, () -> Words.parse(State.class, word)));
  }

  /** Rows, newest first. */
  public Page<RosterEntry> page(Caller caller, Filter filter, Page.Request page) {
    String[] c = page.parts(Page.Part.TEXT);
    RosterStore.Which which = filter.which(useCases.now());
    return useCases.read(
        tx ->
            Page.of(
                new RosterStore(tx).page(which, c.length == 0 ? "~" : c[0], page.limit() + 1),
                page.limit(),
                e -> Page.cursor(e.id())));
  }

  /** How many rows there are in each state. */
  public Map<State, Long> counts(Caller caller) {
    return useCases.read(tx -> new RosterStore(tx).counts());
  }

  /** Gives every row that matches, newest first, to a consumer, in bounded portions. */
  public void export(Caller caller, Filter filter, Consumer<RosterEntry> to) {
    String after = "";
    do {
      Page<RosterEntry> page = page(caller, filter, new Page.Request(after, Page.MAX));
      page.items().forEach(to);
      after = page.next().orElse("");
    } while (!after.isEmpty());
  }

  /** One row. */
  @Override
  public RosterEntry get(Caller caller, String id) {
    return useCases.read(tx -> one(tx, id));
  }

  private static RosterEntry one(Tx tx, String id) {
    return new RosterStore(tx).find(id).orElseThrow(() -> Problem.notFound("row", id));
  }

  /**
   * Adds a single row. A device that is managed already counts as arrived.
   *
   * @throws Problem 400 for a bad identifier, 409 when one is on the roster already
   */
  @Override
  public RosterEntry add(Caller caller, Draft draft) {
    return write(caller, null, 0, draft);
  }

  /**
   * Corrects a row; a device that has arrived by it stays as it is.
   *
   * @throws Problem as {@link #add} does, and 412 when someone else changed it meanwhile
   */
  @Override
  public RosterEntry change(Caller caller, String id, int version, Draft draft) {
    return write(caller, id, version, draft);
  }

  private RosterEntry write(Caller caller, @Nullable String id, int version, Draft draft) {
    RosterLine line = line(draft);
    return useCases.act(
        caller,
        act -> {
          Tx tx = act.tx();
          RosterRow row =
              id == null
                  ? new RosterRow()
                  : Known.locked(tx, RosterRow.class, "row", id, version, r -> r.version);
          RosterStore store = new RosterStore(tx);
          boolean barred = Boolean.TRUE.equals(draft.barred());
          if (id == null || !row.state.equals("withdrawn")) {
            store.identified(line.known().list()).stream()
                .filter(other -> !other.id.equals(id))
                .findFirst()
                .ifPresent(other -> taken(line.known(), other));
          }
          row.serial = line.known().serial().orElse(null);
          row.imei = line.known().imei().orElse(null);
          row.asset = line.known().asset().orElse(null);
          row.name = line.text(Column.NAME);
          row.tags = line.tags().toArray(String[]::new);
          row.personId = Known.id(tx, PersonRow.class, "person", draft.personId());
          row.unitId = Known.id(tx, UnitRow.class, "unit", draft.unitId());
          row.siteId = Known.id(tx, SiteRow.class, "site", draft.siteId());
          row.profileId = Known.id(tx, EnrollmentProfileRow.class, "profile", draft.profileId());
          if (barred) {
            row.state = "barred";
          } else if (id == null || row.state.equals("barred")) {
            row.state = "expected";
          }
          row.changedAt = act.now();
          if (id == null) {
            row.id = act.newId();
            row.source = "by hand";
            row.createdAt = act.now();
            tx.insert(row);
          }
          tx.flush();
          store.meet(act.now());
          act.done(
              Noun.ROSTER,
              id == null ? "added" : "changed",
              row.id,
              line.known().text()
                  + (id == null ? " put on the roster" : " changed on the roster")
                  + (barred ? ", barred" : ""));
          return one(tx, row.id);
        });
  }

  private static RosterLine line(Draft draft) {
    Map<Column, String> cells = new EnumMap<>(Column.class);
    cells.put(Column.SERIAL, draft.serial() == null ? "" : draft.serial());
    cells.put(Column.IMEI, draft.imei() == null ? "" : draft.imei());
    cells.put(Column.ASSET, draft.asset() == null ? "" : draft.asset());
    cells.put(Column.NAME, draft.name() == null ? "" : draft.name());
    cells.put(Column.TAGS, draft.tags() == null ? "" : String.join(",", draft.tags()));
    RosterLine line = RosterLine.read(cells);
    if (!line.faults().isEmpty()) {
      String fault = line.faults().get(0);
      throw Problem.malformed(
          "", fault.substring(0, 1).toUpperCase(Locale.ROOT) + fault.substring(1) + ".");
    }
    return line;
  }

  private static void taken(Identifiers known, RosterRow other) {
    throw Problem.conflict(
        "on-roster",
        known.text()
            + (other.state.equals("barred")
                ? " is barred on the roster; lift the bar instead."
                : " is on the roster already."));
  }

  /** Takes a row away; a device that has arrived by it stays. */
  @Override
  public void delete(Caller caller, String id, int version) {
    useCases.run(
        caller,
        act -> {
          RosterRow row =
              Known.locked(act.tx(), RosterRow.class, "row", id, version, r -> r.version);
          String known = one(act.tx(), id).identifiers().text();
          act.tx().delete(row);
          act.done(Noun.ROSTER, "deleted", id, known + " taken off the roster");
        });
  }

  /**
   * Changes many rows at once, set by set; devices that have arrived by them stay as they are.
   *
   * @return how many rows were changed
   * @throws Problem 400 when nothing is to change, or more than ten thousand rows are named
   */
  public int change(Caller caller, BulkEdit edit) {
    if (edit.ids().map(List::size).orElse(0) > MOST_AT_ONCE) {
      throw Problem.malformed("/ids", "Name at most 10000 rows, or match them.");
    }
    RosterStore.Which which =
        new RosterStore.Which(
            edit.q().orElse(""),
            Optional.empty(),
            state("/state", edit.state().orElse("")),
            before(edit.waitingDays().orElse(0), useCases.now()),
            edit.ids(),
            edit.except().orElse(List.of()));
    Optional<State> becomes = edit.becomes().flatMap(word -> state("/becomes", word));
    if (becomes.filter(State.ARRIVED::equals).isPresent()) {
      throw Problem.malformed("/becomes", "A row has arrived when its device has.");
    }
    return useCases.act(
        caller,
        act -> {
          RosterStore.Edit wanted =
              new RosterStore.Edit(
                  known(act.tx(), PersonRow.class, "person", edit.personId()),
                  known(act.tx(), UnitRow.class, "unit", edit.unitId()),
                  known(act.tx(), SiteRow.class, "site", edit.siteId()),
                  known(act.tx(), EnrollmentProfileRow.class, "profile", edit.profileId()),
                  edit.tags().map(Known::tags),
                  becomes);
          if (wanted.empty()) {
            throw Problem.malformed("", "Say what to change.");
          }
          RosterStore store = new RosterStore(act.tx());
          int n = store.change(which, wanted, act.now());
          store.meet(act.now());
          String done = becomes.map(Words::of).orElse("changed");
          act.done(
              Noun.ROSTER, done, "several", Words.counted(n, "row") + " of the roster " + done);
          return n;
        });
  }

  private static Optional<String> known(Tx tx, Class<?> type, String what, Optional<String> id) {
    id.ifPresent(value -> Known.id(tx, type, what, value));
    return id;
  }
}
