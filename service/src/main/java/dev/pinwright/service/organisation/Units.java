package dev.pinwright.service.organisation;

import dev.pinwright.core.Words;
import dev.pinwright.core.change.Confirmation;
import dev.pinwright.core.change.Rehearsal;
import dev.pinwright.core.organisation.Unit;
import dev.pinwright.core.organisation.UnitCode;
import dev.pinwright.core.target.Target;
import dev.pinwright.service.change.Changes;
import dev.pinwright.service.usecase.Noun;
import dev.pinwright.service.usecase.UseCases;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Known;
import dev.pinwright.service.work.ManyLines;
import dev.pinwright.service.work.Problem;
import dev.pinwright.service.work.Records;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.change.Moves;
import dev.pinwright.storage.organisation.UnitStore;
import dev.pinwright.storage.profile.AssignmentStore;
import dev.pinwright.storage.row.ChangeRow;
import dev.pinwright.storage.row.UnitRow;
import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;

/** The organisation tree. A unit's code never changes; moving a unit moves all that is in it. */
public final class Units implements Records<Unit, Units.Draft> {
  /** The most units an organisation has; the tree is shown whole. */
  public static final int MAX_UNITS = 2_000;

  private final UseCases useCases;
  private final Changes changes;

  public Units(UseCases useCases, Changes changes) {
    this.useCases = useCases;
    this.changes = changes;
  }

  /** A unit as written; {@code parentId} absent at the top. */
  public record Draft(@Nullable String code, @Nullable String name, @Nullable String parentId) {}

  /**
   * A move of a unit: its new parent, or none, and what is asked for before it is moved.
   *
   * @param confirmDevices how many devices change
   * @param reason why
   */
  public record Move(
      @Nullable String parentId,
      Optional<Long> confirmDevices,
      @ManyLines Optional<String> reason) {
    private Confirmation given() {
      return Problem.reading(
          "/reason", () -> new Confirmation(confirmDevices, reason, Optional.empty()));
    }
  }

  /** Every unit, each before what is below it, siblings by code. */
  public List<Unit> all(Caller caller) {
    return useCases.read(tx -> new UnitStore(tx).all());
  }

  /** One unit. */
  @Override
  public Unit get(Caller caller, String id) {
    return useCases.read(tx -> one(tx, id));
  }

  private static Unit one(Tx tx, String id) {
    return new UnitStore(tx).find(id).orElseThrow(() -> Problem.notFound("unit", id));
  }

  /**
   * Makes a unit.
   *
   * @throws Problem 400 for a bad code or name, 409 when the code is taken
   */
  @Override
  public Unit add(Caller caller, Draft draft) {
    UnitCode code;
    try {
      code = UnitCode.parse(draft.code() == null ? "" : draft.code());
    } catch (IllegalArgumentException e) {
      throw Problem.malformed("/code", e);
    }
    String name = name(draft.name());
    return useCases.act(
        caller,
        act -> {
          UnitStore units = new UnitStore(act.tx());
          if (units.count() >= MAX_UNITS) {
            throw Problem.conflict(
                "too-many", "An organisation has at most " + MAX_UNITS + " units.");
          }
          if (units.byCode(code.value()).isPresent()) {
            throw Problem.conflict("code-taken", "There is a unit " + code + " already.");
          }
          UnitRow row = new UnitRow();
          row.id = act.newId();
          row.code = code.value();
          row.name = name;
          row.parentId = parent(act.tx(), draft.parentId());
          row.createdAt = act.now();
          act.tx().insert(row);
          units.lieWithin();
          act.done(Noun.UNIT, "made", row.id, "Unit " + code + " " + name + " made");
          return one(act.tx(), row.id);
        });
  }

  private static String name(@Nullable String wanted) {
    String name = Known.name(wanted);
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

  /** Gives a unit another name; its code stays. */
  @Override
  public Unit change(Caller caller, String id, int version, Draft draft) {
    String name = name(draft.name());
    return useCases.act(
        caller,
        act -> {
          UnitRow row = locked(act.tx(), id, version);
          if (draft.code() != null && !draft.code().equals(row.code)) {
            throw Problem.malformed("/code", "A unit's code never changes.");
          }
          act.done(Noun.UNIT, "renamed", id, row.code + ": " + row.name + " is now " + name);
          row.name = name;
          return one(act.tx(), id);
        });
  }

  private static UnitRow locked(Tx tx, String id, int version) {
    return Known.locked(tx, UnitRow.class, "unit", id, version, r -> r.version);
  }

  /** Moves the unit in this transaction and works out what becomes of its devices. */
  private Changes.Proposal moved(Tx tx, UnitRow row, @Nullable String parentId) {
    put(tx, row, parentId);
    return changes.ofUnit(tx, row.id);
  }

  /**
   * Puts a unit elsewhere, in a transaction of somebody else's, who lets its devices follow.
   *
   * @throws Problem 400 when it would lie within itself
   */
  public static void put(UseCases.Act act, String id, @Nullable String parentId) {
    UnitRow row = act.tx().find(UnitRow.class, id).orElseThrow(() -> Problem.notFound("unit", id));
    put(act.tx(), row, parentId);
    act.tx().flush();
    act.done(Noun.UNIT, "moved", id, row.code + " moved");
  }

  private static void put(Tx tx, UnitRow row, @Nullable String parentId) {
    UnitStore units = new UnitStore(tx);
    String parent = parent(tx, parentId);
    if (parent != null && units.isWithin(parent, row.id)) {
      throw Problem.malformed("/parentId", "A unit cannot lie within itself.");
    }
    row.parentId = parent;
    units.lieWithin();
  }

  /** What moving a unit would do to devices; nothing is stored. */
  public Rehearsal rehearseMove(Caller caller, String id, Move move) {
    return useCases.rehearse(
        caller,
        act -> {
          UnitRow row =
              act.tx().find(UnitRow.class, id).orElseThrow(() -> Problem.notFound("unit", id));
          return moved(act.tx(), row, move.parentId()).rehearsal();
        });
  }

  /** {@link #move(Caller, String, int, Move, Confirmation)}, with what is given in the move. */
  public Unit move(Caller caller, String id, int version, Move move) {
    return move(caller, id, version, move, move.given());
  }

  /**
   * Moves a unit with all that is in it.
   *
   * @param given what the rehearsal asks for
   * @throws Problem 409 when something that is asked for is missing
   */
  public Unit move(Caller caller, String id, int version, Move move, Confirmation given) {
    return useCases.act(
        caller,
        act -> {
          Moves.aloneWithRules(act.tx());
          UnitRow row = locked(act.tx(), id, version);
          ChangeRow change =
              moved(act.tx(), row, move.parentId())
                  .confirmed(given, "move it")
                  .apply(caller, "Move " + row.code + " " + row.name);
          act.done(
              Noun.UNIT,
              "moved",
              id,
              row.code
                  + " moved; it changes "
                  + Words.counted(change.total, "device")
                  + given.words());
          act.touch(Noun.CHANGE, Noun.DEVICE);
          return one(act.tx(), id);
        });
  }

  /**
   * Deletes a unit nothing is in.
   *
   * @throws Problem 409 naming what is
   */
  @Override
  public void delete(Caller caller, String id, int version) {
    useCases.run(
        caller,
        act -> {
          UnitRow row = locked(act.tx(), id, version);
          Known.unused(
              row.code + " " + row.name,
              Stream.concat(
                      new UnitStore(act.tx()).uses(id).stream(),
                      new AssignmentStore(act.tx())
                          .users(new Target(Target.Kind.UNIT, id)).stream())
                  .toList());
          act.tx().delete(row);
          act.done(Noun.UNIT, "deleted", id, "Unit " + row.code + " deleted");
        });
  }
}
