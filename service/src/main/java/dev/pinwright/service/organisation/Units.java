package dev.pinwright.service.organisation;

import com.github.f4b6a3.ulid.UlidCreator;
import dev.pinwright.core.change.Rehearsal;
import dev.pinwright.core.organisation.UnitCode;
import dev.pinwright.core.target.Target;
import dev.pinwright.service.change.Changes;
import dev.pinwright.service.journal.Journal;
import dev.pinwright.service.live.Events;
import dev.pinwright.service.rules.TargetUses;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Known;
import dev.pinwright.service.work.Problem;
import dev.pinwright.service.work.Records;
import dev.pinwright.service.work.Role;
import dev.pinwright.storage.Database;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.change.Moves;
import dev.pinwright.storage.row.ChangeRow;
import dev.pinwright.storage.row.UnitRow;
import java.time.Clock;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/** The organisation tree. A unit's code never changes; moving a unit moves all that is in it. */
public final class Units implements Records<Units.Unit, Units.Draft> {
  /** The most units an organisation has; the tree is shown whole. */
  public static final int MAX_UNITS = 2_000;

  private final Database database;
  private final Changes changes;
  private final Journal journal;
  private final Events events;
  private final Clock clock;

  public Units(Database database, Changes changes, Journal journal, Events events, Clock clock) {
    this.database = database;
    this.changes = changes;
    this.journal = journal;
    this.events = events;
    this.clock = clock;
  }

  /**
   * A unit.
   *
   * @param depth how many units are above it
   * @param devices managed devices in it and below
   * @param people people in it and below
   */
  public record Unit(
      String id,
      int version,
      String code,
      String name,
      Optional<String> parentId,
      int depth,
      long devices,
      long people)
      implements Records.Versioned {}

  /** A unit as written; {@code parentId} absent at the top. */
  public record Draft(@Nullable String code, @Nullable String name, @Nullable String parentId) {}

  /** A move of a unit: its new parent, or none, and the number of devices where it is asked for. */
  public record Move(@Nullable String parentId, Optional<Long> confirmDevices) {}

  private static final String SELECT =
      """
      select u.id, u.version, u.code, u.name, u.parent_id,
             (select count(*) - 1 from unit_within w where w.unit_id = u.id),
             (select count(*) from unit_within w join device d on d.unit_id = w.unit_id
               where w.ancestor_id = u.id and d.retired_at is null),
             (select count(*) from unit_within w join person p on p.unit_id = w.unit_id
               where w.ancestor_id = u.id)
        from unit u
      """;

  private static Unit view(Object[] r) {
    return new Unit(
        (String) r[0],
        (Integer) r[1],
        (String) r[2],
        (String) r[3],
        Optional.ofNullable((String) r[4]),
        ((Number) r[5]).intValue(),
        ((Number) r[6]).longValue(),
        ((Number) r[7]).longValue());
  }

  /** Every unit, each before what is below it, siblings by code. */
  public List<Unit> all(Caller caller) {
    caller.needs(Role.READER);
    return database
        .call(
            tx ->
                tx.rows(
                    SELECT
                        + " order by (select string_agg(a.code, '/' order by (select count(*)"
                        + " from unit_within x where x.unit_id = a.id)) from unit_within w"
                        + " join unit a on a.id = w.ancestor_id where w.unit_id = u.id)",
                    Map.of()))
        .stream()
        .map(Units::view)
        .toList();
  }

  /** One unit. */
  @Override
  public Unit get(Caller caller, String id) {
    caller.needs(Role.READER);
    return database.call(tx -> one(tx, id));
  }

  private static Unit one(Tx tx, String id) {
    return tx.rows(SELECT + " where u.id = :id", Map.of("id", id)).stream()
        .findFirst()
        .map(Units::view)
        .orElseThrow(() -> Problem.notFound("unit", id));
  }

  /**
   * Makes a unit.
   *
   * @throws Problem 400 for a bad code or name, 409 when the code is taken
   */
  @Override
  public Unit add(Caller caller, Draft draft) {
    caller.needs(Role.OPERATOR);
    UnitCode code;
    try {
      code = UnitCode.parse(draft.code() == null ? "" : draft.code());
    } catch (IllegalArgumentException e) {
      throw Problem.malformed("/code", e);
    }
    String name = name(draft.name());
    Unit made =
        database.call(
            tx -> {
              if (tx.value("select count(*) from unit", Long.class, Map.of()) >= MAX_UNITS) {
                throw Problem.conflict(
                    "too-many", "An organisation has at most " + MAX_UNITS + " units.");
              }
              if (!tx.list(
                      UnitRow.class, "from UnitRow where code = :c", Map.of("c", code.value()), 1)
                  .isEmpty()) {
                throw Problem.conflict("code-taken", "There is a unit " + code + " already.");
              }
              UnitRow row = new UnitRow();
              row.id = UlidCreator.getMonotonicUlid().toString();
              row.code = code.value();
              row.name = name;
              row.parentId = parent(tx, draft.parentId());
              row.createdAt = clock.instant();
              tx.insert(row);
              tx.flush();
              lieWithin(tx);
              journal.write(
                  tx, caller, "unit.made", "unit:" + row.id, "Unit " + code + " " + name + " made");
              return one(tx, row.id);
            });
    events.touch("units");
    return made;
  }

  private static String name(@Nullable String wanted) {
    String name = wanted == null ? "" : wanted.strip();
    if (name.isEmpty() || name.length() > 80) {
      throw Problem.malformed("/name", "A name has 1 to 80 characters.");
    }
    return name;
  }

  private static @Nullable String parent(Tx tx, @Nullable String id) {
    if (id == null || id.isEmpty()) {
      return null;
    }
    return tx.find(UnitRow.class, id)
        .orElseThrow(() -> Problem.malformed("/parentId", "There is no unit " + id + "."))
        .id;
  }

  /** Works out anew which unit lies within which. */
  static void lieWithin(Tx tx) {
    tx.execute("delete from unit_within", Map.of());
    tx.execute(
        """
        insert into unit_within
        with recursive up (unit_id, ancestor_id) as (
          select id, id from unit
          union all
          select up.unit_id, u.parent_id from up join unit u on u.id = up.ancestor_id
           where u.parent_id is not null
        ) select * from up
        """,
        Map.of());
  }

  /** Gives a unit another name; its code stays. */
  @Override
  public Unit change(Caller caller, String id, int version, Draft draft) {
    caller.needs(Role.OPERATOR);
    String name = name(draft.name());
    Unit changed =
        database.call(
            tx -> {
              UnitRow row = locked(tx, id, version);
              if (draft.code() != null && !draft.code().equals(row.code)) {
                throw Problem.malformed("/code", "A unit's code never changes.");
              }
              String before = row.name;
              row.name = name;
              tx.flush();
              journal.write(
                  tx,
                  caller,
                  "unit.renamed",
                  "unit:" + id,
                  row.code + ": " + before + " is now " + name);
              return one(tx, id);
            });
    events.touch("units");
    return changed;
  }

  private static UnitRow locked(Tx tx, String id, int version) {
    return Known.locked(tx, UnitRow.class, "unit", id, version, r -> r.version);
  }

  /** Moves the unit in this transaction and works out what becomes of its devices. */
  private Changes.Proposal moved(Tx tx, UnitRow row, @Nullable String parentId) {
    String parent = parent(tx, parentId);
    if (parent != null
        && tx.any(
            "select 1 from unit_within where unit_id = :p and ancestor_id = :u",
            Map.of("p", parent, "u", row.id))) {
      throw Problem.malformed("/parentId", "A unit cannot lie within itself.");
    }
    row.parentId = parent;
    tx.flush();
    lieWithin(tx);
    return changes.ofUnit(tx, row.id);
  }

  /** What moving a unit would do to devices; nothing is stored. */
  public Rehearsal rehearseMove(Caller caller, String id, Move move) {
    caller.needs(Role.READER);
    return database.rehearse(
        tx -> {
          UnitRow row = tx.find(UnitRow.class, id).orElseThrow(() -> Problem.notFound("unit", id));
          return moved(tx, row, move.parentId()).rehearsal();
        });
  }

  /**
   * Moves a unit with all that is in it.
   *
   * @throws Problem 409 when the number of devices that change is asked for and not right
   */
  public Unit move(Caller caller, String id, int version, Move move) {
    caller.needs(Role.OPERATOR);
    Unit moved =
        database.call(
            tx -> {
              UnitRow row = locked(tx, id, version);
              Moves.aloneWithRules(tx);
              ChangeRow change =
                  moved(tx, row, move.parentId())
                      .confirmed(move.confirmDevices(), "move it")
                      .apply(caller, "Move " + row.code + " " + row.name);
              tx.flush();
              Unit now = one(tx, id);
              journal.write(
                  tx,
                  caller,
                  "unit.moved",
                  "unit:" + id,
                  row.code + " moved; " + change.total + " devices change");
              return now;
            });
    events.touch("units");
    changes.touch();
    return moved;
  }

  /**
   * Deletes a unit nothing is in.
   *
   * @throws Problem 409 naming what is
   */
  @Override
  public void delete(Caller caller, String id) {
    caller.needs(Role.OPERATOR);
    database.run(
        tx -> {
          UnitRow row = tx.lock(UnitRow.class, id).orElseThrow(() -> Problem.notFound("unit", id));
          List<String> uses =
              InUse.of(
                  tx,
                  id,
                  Map.of(
                      "units below it", "select count(*) from unit where parent_id = :id",
                      "devices", "select count(*) from device where unit_id = :id",
                      "people", "select count(*) from person where unit_id = :id",
                      "roster rows", "select count(*) from roster_entry where unit_id = :id",
                      "enrollment profiles",
                          "select count(*) from enrollment_profile where unit_id = :id",
                      "bench sessions", "select count(*) from bench_session where unit_id = :id"));
          uses.addAll(TargetUses.of(tx, new Target(Target.Kind.UNIT, id)));
          InUse.refuse(row.code + " " + row.name, uses);
          tx.delete(row);
          tx.flush();
          journal.write(tx, caller, "unit.deleted", "unit:" + id, "Unit " + row.code + " deleted");
        });
    events.touch("units");
  }
}
