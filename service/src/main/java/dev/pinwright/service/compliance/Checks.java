package dev.pinwright.service.compliance;

import dev.pinwright.core.change.Confirmation;
import dev.pinwright.core.change.Rehearsal;
import dev.pinwright.core.change.Thresholds;
import dev.pinwright.core.compliance.Check;
import dev.pinwright.core.compliance.CheckTemplate;
import dev.pinwright.core.compliance.Ladder;
import dev.pinwright.core.compliance.Order;
import dev.pinwright.core.group.DeviceGroup;
import dev.pinwright.service.change.Changes;
import dev.pinwright.service.device.Groups;
import dev.pinwright.service.usecase.Noun;
import dev.pinwright.service.usecase.UseCases;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Known;
import dev.pinwright.service.work.ManyLines;
import dev.pinwright.service.work.Problem;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.change.Moves;
import dev.pinwright.storage.change.ThresholdStore;
import dev.pinwright.storage.compliance.CheckStore;
import dev.pinwright.storage.compliance.OrderStore;
import dev.pinwright.storage.compliance.OrderStore.Judged;
import dev.pinwright.storage.row.CheckRow;
import dev.pinwright.storage.row.GroupRow;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.BiFunction;
import org.jspecify.annotations.Nullable;

/** Checks: which devices are not in order, and what follows for how long they are not. */
public final class Checks {
  private static final int LONGEST_NAME = 60;
  private static final int LONGEST_ADVICE = 300;

  private final UseCases useCases;
  private final Groups groups;
  private final Orders orders;
  private final List<CheckTemplate> templates;

  public Checks(UseCases useCases, Groups groups, Orders orders, List<CheckTemplate> templates) {
    this.useCases = useCases;
    this.groups = groups;
    this.orders = orders;
    this.templates = templates;
  }

  /**
   * A check as written.
   *
   * @param rule which devices it finds; a group of its own follows from it
   * @param groupId instead of a rule, the group whose devices it finds
   * @param advice what the device tells its holder to do
   * @param ladder what follows, and when
   * @param confirmDevices how many devices it finds, where the rehearsal asks for it
   * @param reason why, where it asks for that
   */
  public record Draft(
      @Nullable String name,
      @ManyLines Optional<String> rule,
      Optional<String> groupId,
      @Nullable String advice,
      Optional<Steps> ladder,
      Optional<Long> confirmDevices,
      @ManyLines Optional<String> reason) {

    private Confirmation given() {
      return Problem.reading(
          "/reason", () -> new Confirmation(confirmDevices, reason, Optional.empty()));
    }
  }

  /** A ladder as written, in hours; a step that is absent is not taken. */
  public record Steps(
      @Nullable Integer grace,
      Optional<Integer> holder,
      Optional<Integer> house,
      Optional<Integer> withhold) {
    private Ladder ladder() {
      return Problem.reading(
          "/ladder", () -> new Ladder(grace == null ? 0 : grace, holder, house, withhold));
    }
  }

  /**
   * A check and what it finds.
   *
   * @param group whose devices it finds
   * @param ownGroup whether the group is there for it alone
   * @param rule of the group, where it has one
   */
  public record Shown(
      String id,
      int version,
      String name,
      String advice,
      Ladder ladder,
      Rehearsal.Named group,
      boolean ownGroup,
      Optional<String> rule,
      long inGrace,
      long outOfOrder,
      long withheld) {}

  /**
   * What a check as written would mean.
   *
   * @param found devices it finds
   * @param outOfOrder how many devices more would be out of order at once
   * @param inOrder how many devices fewer would be
   * @param withheld from how many something would be withheld at once
   * @param settings what becomes of settings; absent where none change
   */
  public record Rehearsed(
      long found,
      long outOfOrder,
      long inOrder,
      long withheld,
      Optional<Rehearsal> settings,
      Optional<Long> confirmDevices,
      boolean reasonWanted,
      boolean secondWanted) {}

  /** Checks ready to be taken. */
  public List<CheckTemplate> templates() {
    return templates;
  }

  /** Every check, by name; there are at most {@link Check#MOST}. */
  public List<Shown> all(Caller caller) {
    return useCases.snapshot(
        tx -> {
          Map<String, CheckStore.Found> found = new CheckStore(tx).found(useCases.now());
          return new CheckStore(tx).all().stream().map(c -> shown(tx, c, found)).toList();
        });
  }

  /** One check. */
  public Shown get(Caller caller, String id) {
    return useCases.snapshot(tx -> one(tx, row(tx, id)));
  }

  private Shown one(Tx tx, CheckRow row) {
    return shown(tx, row, new CheckStore(tx).found(useCases.now()));
  }

  private static Shown shown(Tx tx, CheckRow c, Map<String, CheckStore.Found> all) {
    CheckStore.Found found = all.getOrDefault(c.id, new CheckStore.Found(c.id, 0, 0, 0, 0));
    DeviceGroup group = Groups.one(tx, c.groupId);
    return new Shown(
        c.id,
        c.version,
        c.name,
        c.advice,
        c.ladder(),
        new Rehearsal.Named(group.id(), group.name()),
        c.ownGroup,
        group.rule(),
        found.inGrace(),
        found.outOfOrder(),
        found.withheld());
  }

  private static CheckRow row(Tx tx, String id) {
    return tx.find(CheckRow.class, id).orElseThrow(() -> Problem.notFound("check", id));
  }

  /**
   * Makes a check.
   *
   * @throws Problem 400 for a bad name, rule or ladder; 409 for a name that is taken, or when
   *     something that is asked for is missing
   */
  public Shown add(Caller caller, Draft draft) {
    return add(caller, draft, draft.given());
  }

  /** {@link #add(Caller, Draft)}, with what was given apart from it. */
  public Shown add(Caller caller, Draft draft, Confirmation given) {
    return useCases.act(
        caller,
        act -> {
          Moves.aloneWithRules(act.tx());
          if (new CheckStore(act.tx()).all().size() >= Check.MOST) {
            throw Problem.conflict("too-many", "There are at most " + Check.MOST + " checks.");
          }
          CheckRow row = fresh(act);
          work(act, row, draft).confirmed(given, "make the check").apply(caller, row.name);
          return done(act, row, "made", "Check " + row.name + " made" + given.words());
        });
  }

  private static CheckRow fresh(UseCases.Act act) {
    CheckRow row = new CheckRow();
    row.id = act.newId();
    row.createdAt = act.now();
    return row;
  }

  private Shown done(UseCases.Act act, CheckRow row, String what, String words) {
    act.tx().flush();
    act.done(Noun.CHECK, what, row.id, words);
    act.touch(Noun.CHANGE, Noun.DEVICE, Noun.GROUP);
    return one(act.tx(), row);
  }

  /**
   * Writes a check anew.
   *
   * @param version the version it was read in
   * @throws Problem as {@link #add}; 412 when someone else changed it meanwhile
   */
  public Shown change(Caller caller, String id, int version, Draft draft) {
    return change(caller, id, version, draft, draft.given());
  }

  /** {@link #change(Caller, String, int, Draft)}, with what was given apart from it. */
  public Shown change(Caller caller, String id, int version, Draft draft, Confirmation given) {
    return useCases.act(
        caller,
        act -> {
          Moves.aloneWithRules(act.tx());
          CheckRow row = locked(act.tx(), id, version);
          work(act, row, draft).confirmed(given, "change the check").apply(caller, row.name);
          return done(act, row, "changed", "Check " + row.name + " changed" + given.words());
        });
  }

  private static CheckRow locked(Tx tx, String id, int version) {
    return Known.locked(tx, CheckRow.class, "check", id, version, r -> r.version);
  }

  /** Says what a check as written would mean; nothing is stored. */
  public Rehearsed rehearse(Caller caller, Optional<String> id, Draft draft) {
    return useCases.rehearse(
        caller,
        act -> {
          // before anything is written, as whoever saves it does: the two never wait in a circle
          Moves.besideRules(act.tx());
          return work(act, id.map(i -> row(act.tx(), i)).orElseGet(() -> fresh(act)), draft)
              .rehearsed();
        });
  }

  /** Says what it would mean to delete a check; nothing is stored. */
  public Rehearsed rehearseDeletion(Caller caller, String id) {
    return useCases.rehearse(
        caller,
        act -> {
          Moves.besideRules(act.tx());
          return goes(act, row(act.tx(), id)).rehearsed();
        });
  }

  /**
   * Deletes a check, and the group that was there for it alone where nothing else names that.
   *
   * @throws Problem 409 when something that is asked for is missing, 412 when someone else changed
   *     it meanwhile
   */
  public void delete(Caller caller, String id, int version, Confirmation given) {
    useCases.run(
        caller,
        act -> {
          Moves.aloneWithRules(act.tx());
          CheckRow row = locked(act.tx(), id, version);
          goes(act, row).confirmed(given, "delete the check").apply(caller, row.name);
          act.done(Noun.CHECK, "deleted", id, "Check " + row.name + " deleted" + given.words());
          act.touch(Noun.CHANGE, Noun.DEVICE, Noun.GROUP);
        });
  }

  /** What came of writing checks, in a transaction that may still be rolled back. */
  private record Outcome(
      Thresholds.Asked asked,
      long found,
      List<Judged> judged,
      Optional<Changes.Proposal> regrouped,
      Map<Boolean, Changes.Proposal> moved) {

    Rehearsed rehearsed() {
      Optional<Rehearsal> settings =
          moved.values().stream().map(Changes.Proposal::rehearsal).reduce(Rehearsal::and);
      return new Rehearsed(
          found,
          Checks.outOfOrder(judged),
          judged.stream()
              .filter(j -> j.before() == Order.OUT_OF_ORDER && j.before() != j.orderState())
              .count(),
          judged.stream().filter(j -> j.withheld() && !j.withheldBefore()).count(),
          settings.filter(s -> s.changing() > 0),
          asked.number(),
          asked.reason(),
          asked.second());
    }

    Outcome confirmed(Confirmation given, String doing) {
      Changes.require(asked, found, given, doing);
      moved.values().forEach(p -> p.given(given));
      return this;
    }

    void apply(Caller caller, String check) {
      regrouped.ifPresent(p -> p.applyIfAny(caller, "Devices the check " + check + " finds"));
      moved.forEach(
          (withheld, p) ->
              p.applyIfAny(caller, "Check " + check + (withheld ? ": withheld" : ": given back")));
    }
  }

  private Outcome work(UseCases.Act act, CheckRow row, Draft draft) {
    List<Changes.Proposal> regrouped = new ArrayList<>();
    define(
        act,
        row,
        draft,
        (own, group) -> {
          Groups.Written written = groups.written(act, own, group);
          regrouped.add(written.proposal());
          return written.id();
        });
    return outcome(act, new CheckStore(act.tx()).size(row.groupId), regrouped.stream().findFirst());
  }

  /**
   * Says what a check is, in a transaction of somebody else's, who lets devices follow. Call {@link
   * Moves#aloneWithRules} first.
   *
   * @param id of the check that is written anew; a new one without
   * @throws Problem as {@link #add}
   */
  public void define(UseCases.Act act, Optional<String> id, Draft draft) {
    CheckRow row = id.map(i -> row(act.tx(), i)).orElseGet(() -> fresh(act));
    define(act, row, draft, (own, group) -> Groups.define(act, own, group));
    String verb = id.isPresent() ? "changed" : "made";
    act.done(Noun.CHECK, verb, row.id, "Check " + row.name + " " + verb);
  }

  /** Deletes a check, in a transaction of somebody else's, who lets devices follow. */
  public void leave(UseCases.Act act, String id) {
    CheckRow row = row(act.tx(), id);
    remove(act, row);
    act.done(Noun.CHECK, "deleted", id, "Check " + row.name + " deleted");
  }

  /** How many of these devices came to be out of order. */
  public static long outOfOrder(List<Judged> judged) {
    return judged.stream()
        .filter(j -> j.orderState() == Order.OUT_OF_ORDER && j.before() != j.orderState())
        .count();
  }

  /** What becomes of devices after checks and groups were written in this transaction. */
  public List<Judged> judged(UseCases.Act act) {
    Instant now = useCases.now();
    return Orders.judge(act.tx(), new OrderStore(act.tx()).different(now, Integer.MAX_VALUE), now);
  }

  private void define(
      UseCases.Act act,
      CheckRow row,
      Draft draft,
      BiFunction<Optional<String>, Groups.Draft, String> ownGroup) {
    Tx tx = act.tx();
    row.name = name(tx, row, draft);
    row.advice = advice(draft);
    row.ladder(draft.ladder().map(Steps::ladder).orElse(Ladder.USUAL));
    Optional<String> rule = draft.rule().filter(r -> !r.isBlank());
    if (rule.isPresent() == draft.groupId().isPresent()) {
      throw Problem.malformed(
          "/rule", "Say which devices it finds: by a rule, or those of a group; one of the two.");
    }
    Optional<String> left = Optional.empty();
    if (rule.isPresent()) {
      row.groupId =
          ownGroup.apply(
              Optional.ofNullable(row.ownGroup ? row.groupId : null),
              Groups.Draft.byRule(row.name + " (check)", rule.get()));
      row.ownGroup = true;
    } else {
      Known.id(tx, GroupRow.class, "group", draft.groupId().get());
      left = Optional.ofNullable(row.ownGroup ? row.groupId : null);
      row.groupId = draft.groupId().get();
      row.ownGroup = false;
    }
    if (tx.find(CheckRow.class, row.id).isEmpty()) {
      tx.insert(row);
    }
    tx.flush();
    left.ifPresent(id -> groups.unused(act, id));
  }

  private Outcome goes(UseCases.Act act, CheckRow row) {
    Tx tx = act.tx();
    long found = new CheckStore(tx).size(row.groupId);
    remove(act, row);
    return outcome(act, found, Optional.empty());
  }

  private void remove(UseCases.Act act, CheckRow row) {
    act.tx().delete(row);
    act.tx().flush();
    if (row.ownGroup) {
      groups.unused(act, row.groupId);
    }
  }

  private Outcome outcome(UseCases.Act act, long found, Optional<Changes.Proposal> regrouped) {
    Tx tx = act.tx();
    // not before a device came into the group, which was a moment ago
    List<Judged> judged = judged(act);
    return new Outcome(
        new ThresholdStore(tx).get().thresholds().asked(found),
        found,
        judged,
        regrouped,
        orders.moved(tx, judged));
  }

  private static String name(Tx tx, CheckRow row, Draft draft) {
    String name = draft.name() == null ? "" : draft.name().strip();
    if (name.isEmpty() || name.length() > LONGEST_NAME) {
      throw Problem.malformed("/name", "A name has 1 to " + LONGEST_NAME + " characters.");
    }
    if (new CheckStore(tx).byName(name).filter(c -> !c.id.equals(row.id)).isPresent()) {
      throw Problem.conflict("name-taken", "There is a check called " + name + ".");
    }
    return name;
  }

  private static String advice(Draft draft) {
    String advice = draft.advice() == null ? "" : draft.advice().strip();
    if (advice.isEmpty() || advice.length() > LONGEST_ADVICE) {
      throw Problem.malformed(
          "/advice", "Say in 1 to " + LONGEST_ADVICE + " characters what a holder does about it.");
    }
    return advice;
  }
}
