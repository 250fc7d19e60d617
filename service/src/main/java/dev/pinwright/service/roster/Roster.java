package dev.pinwright.service.roster;

import com.github.f4b6a3.ulid.UlidCreator;
import dev.pinwright.core.intake.Identifier;
import dev.pinwright.core.roster.Column;
import dev.pinwright.core.roster.RosterLine;
import dev.pinwright.service.journal.Journal;
import dev.pinwright.service.live.Events;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Known;
import dev.pinwright.service.work.Page;
import dev.pinwright.service.work.Problem;
import dev.pinwright.service.work.Role;
import dev.pinwright.service.work.Sought;
import dev.pinwright.storage.Database;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.row.EnrollmentProfileRow;
import dev.pinwright.storage.row.PersonRow;
import dev.pinwright.storage.row.RosterRow;
import dev.pinwright.storage.row.SiteRow;
import dev.pinwright.storage.row.UnitRow;
import java.time.Clock;
import java.time.Instant;
import java.util.EnumMap;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.function.Consumer;
import org.jspecify.annotations.Nullable;

/** Identifiers that are known before their devices arrive. */
public final class Roster {
  private static final List<String> STATES = List.of("expected", "arrived", "withdrawn");
  private static final int MOST_AT_ONCE = 10_000;

  private final Database database;
  private final Journal journal;
  private final Events events;
  private final Clock clock;

  public Roster(Database database, Journal journal, Events events, Clock clock) {
    this.database = database;
    this.journal = journal;
    this.events = events;
    this.clock = clock;
  }

  /** A row of the roster. {@code state}: expected, arrived or withdrawn. */
  public record Entry(
      String id,
      Optional<String> serial,
      Optional<String> imei,
      Optional<String> asset,
      String name,
      Optional<String> personId,
      Optional<String> person,
      Optional<String> unitId,
      Optional<String> unit,
      Optional<String> siteId,
      Optional<String> site,
      List<String> tags,
      Optional<String> profileId,
      Optional<String> profile,
      String source,
      String state,
      Optional<String> deviceId,
      Instant createdAt,
      Instant changedAt) {}

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

  static final String SELECT =
      """
      select r.id, r.serial, r.imei, r.asset, r.name, r.person_id, p.name, r.unit_id, u.code,
             r.site_id, s.name, array_to_string(r.tags, chr(10)), r.profile_id, e.name, r.source,
             r.state, r.device_id, r.created_at, r.changed_at
        from roster_entry r left join person p on p.id = r.person_id
        left join unit u on u.id = r.unit_id left join site s on s.id = r.site_id
        left join enrollment_profile e on e.id = r.profile_id
      """;

  private static Entry view(Object[] r) {
    String tags = (String) r[11];
    return new Entry(
        (String) r[0],
        text(r[1]),
        text(r[2]),
        text(r[3]),
        (String) r[4],
        text(r[5]),
        text(r[6]),
        text(r[7]),
        text(r[8]),
        text(r[9]),
        text(r[10]),
        tags.isEmpty() ? List.of() : List.of(tags.split("\n")),
        text(r[12]),
        text(r[13]),
        (String) r[14],
        (String) r[15],
        text(r[16]),
        (Instant) r[17],
        (Instant) r[18]);
  }

  private static Optional<String> text(@Nullable Object value) {
    return Optional.ofNullable((String) value);
  }

  private static String where(String words, String state, Map<String, Object> p) {
    if (!state.isEmpty() && !STATES.contains(state)) {
      throw Problem.malformed(
          "/state", "state has to be one of " + String.join(", ", STATES) + ".");
    }
    StringBuilder sql = new StringBuilder(Sought.in("r.sought", words, p));
    if (!state.isEmpty()) {
      sql.append(" and r.state = :state");
      p.put("state", state);
    }
    return sql.toString();
  }

  /**
   * Rows, newest first.
   *
   * @param words each any part of an identifier or the name
   */
  public Page<Entry> page(Caller caller, String words, String state, Page.Request page) {
    caller.needs(Role.READER);
    String[] c = page.parts(Page.Part.TEXT);
    Map<String, Object> p = new HashMap<>();
    String where = where(words, state, p);
    p.put("before", c.length == 0 ? "~" : c[0]);
    p.put("limit", page.limit() + 1);
    List<Object[]> rows =
        database.call(
            tx ->
                tx.rows(
                    SELECT
                        + " where "
                        + where
                        + " and r.id < :before order by r.id desc limit :limit",
                    p));
    return Page.of(rows, page.limit(), Roster::view, r -> Page.cursor((String) r[0]));
  }

  /** How many rows there are in each state. */
  public Map<String, Long> counts(Caller caller) {
    caller.needs(Role.READER);
    Map<String, Long> out = new HashMap<>();
    STATES.forEach(s -> out.put(s, 0L));
    database
        .call(tx -> tx.rows("select state, count(*) from roster_entry group by 1", Map.of()))
        .forEach(r -> out.put((String) r[0], ((Number) r[1]).longValue()));
    return out;
  }

  /** Gives every row, newest first, to a consumer, in bounded portions. */
  public void export(Caller caller, Consumer<Entry> to) {
    caller.needs(Role.READER);
    String after = "";
    do {
      Page<Entry> page = page(caller, "", "", new Page.Request(after, Page.MAX));
      page.items().forEach(to);
      after = page.next().orElse("");
    } while (!after.isEmpty());
  }

  /**
   * Adds a single row. A device that is managed already counts as arrived.
   *
   * @throws Problem 400 for a bad identifier, 409 when one is on the roster already
   */
  public Entry add(Caller caller, Draft draft) {
    caller.needs(Role.OPERATOR);
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
    Entry entry =
        database.call(
            tx -> {
              RosterRow row = new RosterRow();
              row.id = UlidCreator.getMonotonicUlid().toString();
              row.serial = line.identifier(Identifier.Kind.SERIAL).orElse(null);
              row.imei = line.identifier(Identifier.Kind.IMEI).orElse(null);
              row.asset = line.identifier(Identifier.Kind.ASSET).orElse(null);
              row.name = line.text(Column.NAME);
              row.tags = line.tags().toArray(String[]::new);
              row.personId = Known.id(tx, PersonRow.class, "person", draft.personId());
              row.unitId = Known.id(tx, UnitRow.class, "unit", draft.unitId());
              row.siteId = Known.id(tx, SiteRow.class, "site", draft.siteId());
              row.profileId =
                  Known.id(tx, EnrollmentProfileRow.class, "profile", draft.profileId());
              row.source = "by hand";
              row.state = "expected";
              row.createdAt = clock.instant();
              row.changedAt = row.createdAt;
              refuseKnown(tx, row);
              tx.insert(row);
              tx.flush();
              meet(tx, clock.instant());
              Entry now = one(tx, row.id);
              journal.write(
                  tx,
                  caller,
                  "roster.added",
                  "roster:" + row.id,
                  identifiers(row) + " put on the roster");
              return now;
            });
    events.touch("roster");
    return entry;
  }

  private static Entry one(Tx tx, String id) {
    return tx.rows(SELECT + " where r.id = :id", Map.of("id", id)).stream()
        .findFirst()
        .map(Roster::view)
        .orElseThrow(() -> Problem.notFound("roster row", id));
  }

  private static String identifiers(RosterRow r) {
    return java.util.stream.Stream.of(r.serial, r.imei, r.asset)
        .filter(java.util.Objects::nonNull)
        .collect(java.util.stream.Collectors.joining(", "));
  }

  private static void refuseKnown(Tx tx, RosterRow r) {
    boolean known =
        !tx.list(
                RosterRow.class,
                "from RosterRow where (serial = :s or imei = :i or asset = :a)"
                    + " and state <> 'withdrawn'",
                Map.of(
                    "s", String.valueOf(r.serial),
                    "i", String.valueOf(r.imei),
                    "a", String.valueOf(r.asset)),
                1)
            .isEmpty();
    if (known) {
      throw Problem.conflict("on-roster", identifiers(r) + " is on the roster already.");
    }
  }

  /** Rows whose devices are managed already have arrived. */
  static int meet(Tx tx, Instant now) {
    return tx.execute(
        """
        update roster_entry r set state = 'arrived', device_id = d.id, changed_at = :now
          from device d
         where r.state = 'expected' and d.retired_at is null
           and (d.serial = r.serial or d.imei = r.imei or d.asset = r.asset)
        """,
        Map.of("now", now));
  }

  /**
   * Changes many rows at once, set by set; rows of devices that have arrived keep their devices.
   *
   * @return how many rows were changed
   * @throws Problem 400 when nothing is to change, or more than ten thousand rows are named
   */
  public int change(Caller caller, BulkEdit edit) {
    caller.needs(Role.OPERATOR);
    int changed =
        database.call(
            tx -> {
              Map<String, Object> p = new HashMap<>();
              String where = where(edit.q().orElse(""), edit.state().orElse(""), p);
              if (edit.ids().isPresent()) {
                if (edit.ids().get().size() > MOST_AT_ONCE) {
                  throw Problem.malformed("/ids", "Name at most 10000 rows, or match them.");
                }
                where += " and r.id = any(cast(:ids as text[]))";
                p.put("ids", edit.ids().get().toArray(String[]::new));
              }
              if (edit.except().isPresent()) {
                where += " and r.id <> all(cast(:except as text[]))";
                p.put("except", edit.except().get().toArray(String[]::new));
              }
              StringBuilder set = new StringBuilder("changed_at = :now");
              p.put("now", clock.instant());
              set(tx, set, p, PersonRow.class, "person", edit.personId());
              set(tx, set, p, UnitRow.class, "unit", edit.unitId());
              set(tx, set, p, SiteRow.class, "site", edit.siteId());
              set(tx, set, p, EnrollmentProfileRow.class, "profile", edit.profileId());
              edit.tags()
                  .ifPresent(
                      t -> {
                        set.append(", tags = cast(:tags as text[])");
                        p.put("tags", Known.tags(t));
                      });
              if (edit.withdraw().orElse(false)) {
                set.append(", state = 'withdrawn'");
                where += " and r.state = 'expected'";
              }
              if (set.indexOf(",") < 0) {
                throw Problem.malformed("", "Say what to change.");
              }
              int n = tx.execute("update roster_entry r set " + set + " where " + where, p);
              journal.write(
                  tx,
                  caller,
                  edit.withdraw().orElse(false) ? "roster.withdrawn" : "roster.changed",
                  "roster",
                  n + (n == 1 ? " row" : " rows") + " of the roster changed");
              return n;
            });
    events.touch("roster");
    return changed;
  }

  private static void set(
      Tx tx,
      StringBuilder set,
      Map<String, Object> p,
      Class<?> type,
      String what,
      Optional<String> id) {
    id.ifPresent(
        value -> {
          Known.id(tx, type, what, value);
          set.append(", ").append(what).append("_id = nullif(:").append(what).append(", '')");
          p.put(what, value);
        });
  }
}
