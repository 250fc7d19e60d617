package dev.pinwright.service.roster;

import dev.pinwright.core.Words;
import dev.pinwright.core.roster.Column;
import dev.pinwright.core.roster.RosterEntry;
import dev.pinwright.core.roster.RosterLine;
import dev.pinwright.service.usecase.Noun;
import dev.pinwright.service.usecase.UseCases;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Known;
import dev.pinwright.service.work.Page;
import dev.pinwright.service.work.Problem;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.roster.RosterStore;
import dev.pinwright.storage.row.EnrollmentProfileRow;
import dev.pinwright.storage.row.PersonRow;
import dev.pinwright.storage.row.RosterRow;
import dev.pinwright.storage.row.SiteRow;
import dev.pinwright.storage.row.UnitRow;
import java.util.EnumMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.function.Consumer;
import org.jspecify.annotations.Nullable;

/** Identifiers that are known before their devices arrive. */
public final class Roster {
  private static final int MOST_AT_ONCE = 10_000;

  private final UseCases useCases;

  public Roster(UseCases useCases) {
    this.useCases = useCases;
  }

  /** A single row as written. */
  public record Draft(
      @Nullable String serial,
      @Nullable String imei,
      @Nullable String asset,
      @Nullable String name,
      @Nullable String personId,
      @Nullable String unitId,
      @Nullable String siteId,
      @Nullable List<String> tags,
      @Nullable String profileId) {}

  /**
   * A change of many rows: those named, or all that match words and state but for some. What is
   * absent stays; an empty id takes it away.
   */
  public record BulkEdit(
      Optional<List<String>> ids,
      Optional<String> q,
      Optional<String> state,
      Optional<List<String>> except,
      Optional<String> personId,
      Optional<String> unitId,
      Optional<String> siteId,
      Optional<List<String>> tags,
      Optional<String> profileId,
      Optional<Boolean> withdraw) {}

  private static Optional<RosterEntry.State> state(String word) {
    return word.isEmpty()
        ? Optional.empty()
        : Optional.of(Problem.reading("/state", () -> Words.parse(RosterEntry.State.class, word)));
  }

  /**
   * Rows, newest first.
   *
   * @param words each any part of an identifier or the name
   */
  public Page<RosterEntry> page(Caller caller, String words, String state, Page.Request page) {
    String[] c = page.parts(Page.Part.TEXT);
    Optional<RosterEntry.State> only = state(state);
    return useCases.read(
        tx ->
            Page.of(
                new RosterStore(tx).page(words, only, c.length == 0 ? "~" : c[0], page.limit() + 1),
                page.limit(),
                e -> Page.cursor(e.id())));
  }

  /** How many rows there are in each state. */
  public Map<RosterEntry.State, Long> counts(Caller caller) {
    return useCases.read(tx -> new RosterStore(tx).counts());
  }

  /** Gives every row, newest first, to a consumer, in bounded portions. */
  public void export(Caller caller, Consumer<RosterEntry> to) {
    String after = "";
    do {
      Page<RosterEntry> page = page(caller, "", "", new Page.Request(after, Page.MAX));
      page.items().forEach(to);
      after = page.next().orElse("");
    } while (!after.isEmpty());
  }

  /**
   * Adds a single row. A device that is managed already counts as arrived.
   *
   * @throws Problem 400 for a bad identifier, 409 when one is on the roster already
   */
  public RosterEntry add(Caller caller, Draft draft) {
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
    return useCases.act(
        caller,
        act -> {
          Tx tx = act.tx();
          RosterStore store = new RosterStore(tx);
          if (!store.identified(line.known().list()).isEmpty()) {
            throw Problem.conflict("on-roster", line.known().text() + " is on the roster already.");
          }
          RosterRow row = new RosterRow();
          row.id = act.newId();
          row.serial = line.known().serial().orElse(null);
          row.imei = line.known().imei().orElse(null);
          row.asset = line.known().asset().orElse(null);
          row.name = line.text(Column.NAME);
          row.tags = line.tags().toArray(String[]::new);
          row.personId = Known.id(tx, PersonRow.class, "person", draft.personId());
          row.unitId = Known.id(tx, UnitRow.class, "unit", draft.unitId());
          row.siteId = Known.id(tx, SiteRow.class, "site", draft.siteId());
          row.profileId = Known.id(tx, EnrollmentProfileRow.class, "profile", draft.profileId());
          row.source = "by hand";
          row.state = "expected";
          row.createdAt = act.now();
          row.changedAt = row.createdAt;
          tx.insert(row);
          store.meet(act.now());
          act.done(Noun.ROSTER, "added", row.id, line.known().text() + " put on the roster");
          return store.find(row.id).orElseThrow();
        });
  }

  /**
   * Changes many rows at once, set by set; rows of devices that have arrived keep their devices.
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
            state(edit.state().orElse("")),
            edit.ids(),
            edit.except().orElse(List.of()));
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
                  edit.withdraw().orElse(false));
          if (wanted.empty()) {
            throw Problem.malformed("", "Say what to change.");
          }
          int n = new RosterStore(act.tx()).change(which, wanted, act.now());
          act.done(
              Noun.ROSTER,
              wanted.withdraw() ? "withdrawn" : "changed",
              "several",
              n + (n == 1 ? " row" : " rows") + " of the roster changed");
          return n;
        });
  }

  private static Optional<String> known(Tx tx, Class<?> type, String what, Optional<String> id) {
    id.ifPresent(value -> Known.id(tx, type, what, value));
    return id;
  }
}
