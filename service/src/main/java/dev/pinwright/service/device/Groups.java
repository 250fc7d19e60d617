package dev.pinwright.service.device;

import dev.pinwright.core.Words;
import dev.pinwright.core.change.Confirmation;
import dev.pinwright.core.change.Rehearsal;
import dev.pinwright.core.group.DeviceGroup;
import dev.pinwright.core.group.Grouping;
import dev.pinwright.core.query.Rule;
import dev.pinwright.core.query.RuleFault;
import dev.pinwright.core.query.RuleNames;
import dev.pinwright.core.target.Target;
import dev.pinwright.service.change.Changes;
import dev.pinwright.service.group.Membership;
import dev.pinwright.service.group.RuleNamesHere;
import dev.pinwright.service.usecase.Noun;
import dev.pinwright.service.usecase.UseCases;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Known;
import dev.pinwright.service.work.ManyLines;
import dev.pinwright.service.work.Page;
import dev.pinwright.service.work.Problem;
import dev.pinwright.storage.After;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.change.Moves;
import dev.pinwright.storage.change.WaveStore;
import dev.pinwright.storage.compliance.CheckStore;
import dev.pinwright.storage.group.GroupStore;
import dev.pinwright.storage.group.MembershipStore;
import dev.pinwright.storage.profile.AssignmentStore;
import dev.pinwright.storage.row.GroupRow;
import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.function.Function;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;

/** Groups: picked by hand or by a rule, with groups inside them. */
public final class Groups {
  private static final int MOST_BY_RULE = 500;
  private static final int MOST_INSIDE = 100;
  private static final int EXAMPLES = 10;

  private final UseCases useCases;
  private final Changes changes;
  private final Membership membership;

  public Groups(UseCases useCases, Changes changes, Membership membership) {
    this.useCases = useCases;
    this.changes = changes;
    this.membership = membership;
  }

  /**
   * A group as written.
   *
   * @param rule which devices are in it by themselves; absent or empty for devices picked by hand
   * @param inside ids of groups whose devices are in it too
   * @param confirmDevices how many devices get other settings, where the rehearsal asks for it
   * @param reason why, where it asks for that
   */
  public record Draft(
      @Nullable String name,
      @ManyLines Optional<String> rule,
      Optional<List<String>> inside,
      Optional<Long> confirmDevices,
      @ManyLines Optional<String> reason) {

    private Confirmation given() {
      return Problem.reading(
          "/reason", () -> new Confirmation(confirmDevices, reason, Optional.empty()));
    }

    /** A group whose devices are picked by hand. */
    public static Draft picked(String name) {
      return new Draft(
          name, Optional.empty(), Optional.empty(), Optional.empty(), Optional.empty());
    }

    /** A group whose devices follow from a rule. */
    public static Draft byRule(String name, String rule) {
      return new Draft(
          name, Optional.of(rule), Optional.empty(), Optional.empty(), Optional.empty());
    }
  }

  /**
   * What a group as written would mean.
   *
   * @param devices how many devices would be in it
   * @param entering how many of them are not in it now
   * @param leaving how many would no longer be in it
   * @param entered names of some that enter
   * @param left names of some that leave
   * @param settings what becomes of settings; absent where none change
   * @param confirmDevices when present, this number has to be repeated
   * @param reasonWanted whether a reason has to be given
   * @param secondWanted whether a second person has to agree
   */
  public record Rehearsed(
      long devices,
      long entering,
      long leaving,
      List<String> entered,
      List<String> left,
      Optional<Rehearsal> settings,
      Optional<Long> confirmDevices,
      boolean reasonWanted,
      boolean secondWanted) {}

  /** Groups by name. */
  public Page<DeviceGroup> page(Caller caller, String words, Page.Request page) {
    return useCases.read(
        tx ->
            Page.byName(
                (after, limit) -> page(tx, words, after, limit),
                page,
                DeviceGroup::name,
                DeviceGroup::id));
  }

  /** Groups by name, in a transaction of somebody else's. */
  public static List<DeviceGroup> page(Tx tx, String words, After after, int limit) {
    RuleNames names = new RuleNamesHere(tx);
    return new GroupStore(tx)
        .page(words, after, limit).stream().map(g -> worded(g, names)).toList();
  }

  /** One group. */
  public DeviceGroup get(Caller caller, String id) {
    return useCases.read(tx -> one(tx, id));
  }

  /**
   * One group, in a transaction of somebody else's.
   *
   * @throws Problem 404 when there is none
   */
  public static DeviceGroup one(Tx tx, String id) {
    return new GroupStore(tx)
        .find(id)
        .map(g -> worded(g, new RuleNamesHere(tx)))
        .orElseThrow(() -> Problem.notFound("group", id));
  }

  /** A group whose rule has names for ids. */
  private static DeviceGroup worded(DeviceGroup g, RuleNames names) {
    return new DeviceGroup(
        g.id(),
        g.version(),
        g.name(),
        g.rule().map(r -> worded(r, names)),
        g.inside(),
        g.devices(),
        g.picked());
  }

  private static String worded(String byId, RuleNames names) {
    try {
      return new Rule(byId).written(names);
    } catch (RuleFault e) {
      return byId;
    }
  }

  private static GroupRow row(Tx tx, String id) {
    return tx.find(GroupRow.class, id).orElseThrow(() -> Problem.notFound("group", id));
  }

  /**
   * Makes a group.
   *
   * @throws Problem 400 for a bad name or rule, 409 for a name that is taken or groups in a circle
   */
  public DeviceGroup add(Caller caller, Draft draft) {
    return useCases.act(
        caller,
        act -> {
          Moves.aloneWithRules(act.tx());
          GroupRow row = fresh(act);
          work(act, row, draft);
          act.done(Noun.GROUP, "made", row.id, "Group " + row.name + " made" + how(act.tx(), row));
          act.touch(Noun.DEVICE);
          return one(act.tx(), row.id);
        });
  }

  private static GroupRow fresh(UseCases.Act act) {
    GroupRow row = new GroupRow();
    row.id = act.newId();
    row.name = row.id;
    row.createdAt = act.now();
    act.tx().insert(row);
    return row;
  }

  private static String how(Tx tx, GroupRow row) {
    return row.rule == null ? "" : ", by the rule: " + worded(row.rule, new RuleNamesHere(tx));
  }

  /** {@link #change(Caller, String, int, Draft, Confirmation)}, with what is given in the draft. */
  public DeviceGroup change(Caller caller, String id, int version, Draft draft) {
    return change(caller, id, version, draft, draft.given());
  }

  /**
   * Writes a group anew; profiles assigned to it follow at once.
   *
   * @param given what the rehearsal asks for
   * @throws Problem as {@link #add}; 409 when something that is asked for is missing
   */
  public DeviceGroup change(
      Caller caller, String id, int version, Draft draft, Confirmation given) {
    return useCases.act(
        caller,
        act -> {
          Moves.aloneWithRules(act.tx());
          GroupRow row =
              Known.locked(act.tx(), GroupRow.class, "group", id, version, r -> r.version);
          String before = row.name + how(act.tx(), row);
          work(act, row, draft)
              .confirmed(given, "change the group")
              .applyIfAny(caller, "Group " + row.name);
          act.done(
              Noun.GROUP,
              "changed",
              id,
              "Group " + before + " is now " + row.name + how(act.tx(), row) + given.words());
          act.touch(Noun.CHANGE, Noun.DEVICE);
          return one(act.tx(), id);
        });
  }

  /**
   * Says what a group is, in a transaction of somebody else's, who lets its devices follow. Call
   * {@link Moves#aloneWithRules} first.
   *
   * @param id of the group that is written anew; a new one without
   * @return its id
   * @throws Problem as {@link #add}
   */
  public static String define(UseCases.Act act, Optional<String> id, Draft draft) {
    GroupRow row = id.map(i -> row(act.tx(), i)).orElseGet(() -> fresh(act));
    define(act.tx(), row, draft);
    String verb = id.isPresent() ? "changed" : "made";
    act.done(Noun.GROUP, verb, row.id, "Group " + row.name + " " + verb + how(act.tx(), row));
    return row.id;
  }

  /** A group that was written, and what becomes of devices. */
  public record Written(String id, Changes.Proposal proposal) {}

  /**
   * Writes a group in a transaction of somebody else's, who applies what becomes of devices. Call
   * {@link Moves#aloneWithRules} first.
   *
   * @param id of the group that is written anew; a new one without
   * @throws Problem as {@link #add}
   */
  public Written written(UseCases.Act act, Optional<String> id, Draft draft) {
    GroupRow row = id.map(i -> row(act.tx(), i)).orElseGet(() -> fresh(act));
    return new Written(row.id, work(act, row, draft));
  }

  /** Deletes a group nothing depends on, in a transaction of somebody else's; leaves others. */
  public void unused(UseCases.Act act, String id) {
    if (users(act.tx(), id).isEmpty()) {
      act.tx().delete(row(act.tx(), id));
      act.tx().flush();
    }
  }

  /** Says what a group as written would mean; nothing is stored. */
  public Rehearsed rehearse(Caller caller, Optional<String> id, Draft draft) {
    return useCases.rehearse(
        caller,
        act -> {
          GroupRow row = id.map(i -> row(act.tx(), i)).orElseGet(() -> fresh(act));
          Rehearsal settings = work(act, row, draft).rehearsal();
          MembershipStore.Regrouped r = new MembershipStore(act.tx()).regrouped(row.id, EXAMPLES);
          return new Rehearsed(
              one(act.tx(), row.id).devices(),
              r.entering(),
              r.leaving(),
              r.entered(),
              r.left(),
              Optional.of(settings).filter(s -> s.changing() > 0),
              settings.confirmDevices(),
              settings.reasonWanted(),
              settings.secondWanted());
        });
  }

  /** Writes a group in this transaction and works out what becomes of devices. */
  private Changes.Proposal work(UseCases.Act act, GroupRow row, Draft draft) {
    Tx tx = act.tx();
    define(tx, row, draft);
    membership.settle(tx, List.of(row.id));
    return changes.ofRegrouped(tx);
  }

  private static void define(Tx tx, GroupRow row, Draft draft) {
    GroupStore store = new GroupStore(tx);
    row.name = name(store, row, draft);
    RuleNames names = new RuleNamesHere(tx);
    Optional<Rule> rule = draft.rule().filter(r -> !r.isBlank()).map(r -> ruled(tx, row, r, names));
    List<String> inside = List.copyOf(new LinkedHashSet<>(draft.inside().orElse(List.of())));
    if (inside.size() > MOST_INSIDE) {
      throw Problem.malformed("/inside", "At most " + MOST_INSIDE + " groups are inside one.");
    }
    inside.forEach(i -> Known.id(tx, GroupRow.class, "group", i));
    row.rule = rule.map(Rule::byId).orElse(null);
    store.inside(row.id, inside);
    store.mentions(row.id, rule.map(r -> r.mentions(names)).orElse(Set.of()));
    if (rule.isPresent()) {
      store.forgetPicks(row.id);
    }
    tx.flush();
    straight(tx);
  }

  private static String name(GroupStore store, GroupRow row, Draft draft) {
    String name = Known.name(draft.name());
    if (store.byName(name).filter(g -> !g.id.equals(row.id)).isPresent()) {
      throw Problem.conflict("name-taken", "There is a group called " + name + ".");
    }
    return name;
  }

  private static Rule ruled(Tx tx, GroupRow row, String written, RuleNames names) {
    List<String> filled = new GroupStore(tx).enrollmentProfiles(row.id);
    if (!filled.isEmpty()) {
      throw Problem.conflict(
          "in-use",
          "Devices are put into "
              + row.name
              + " by "
              + String.join(", ", filled)
              + "; a group they are put into takes none by a rule.");
    }
    if (row.rule == null && MembershipStore.definitions(tx).size() >= MOST_BY_RULE) {
      throw Problem.conflict(
          "too-many", "At most " + MOST_BY_RULE + " groups follow from rules or other groups.");
    }
    try {
      return Rule.of(written, names);
    } catch (RuleFault e) {
      throw Problem.malformed("/rule", e).with("column", e.column());
    }
  }

  /** Refuses groups that would follow from themselves, showing the way round. */
  private static void straight(Tx tx) {
    List<String> circle =
        Grouping.circle(
            MembershipStore.definitions(tx).stream()
                .map(
                    k ->
                        new Grouping.Definition(
                            k.id(),
                            Optional.empty(),
                            Set.copyOf(k.inside()),
                            Set.copyOf(k.asked())))
                .toList());
    if (!circle.isEmpty()) {
      Map<String, String> names = new GroupStore(tx).names(circle);
      String way =
          circle.stream().map(names::get).collect(Collectors.joining(", which follows from "));
      throw Problem.conflict("circle", "A group cannot follow from itself: " + way + ".")
          .with("circle", circle.stream().map(names::get).toList());
    }
  }

  /**
   * Devices to put in and take out, by id.
   *
   * @param confirmDevices how many devices get other settings, where the rehearsal asks for it
   * @param reason why, where it asks for that
   */
  public record Members(
      Optional<List<String>> add,
      Optional<List<String>> remove,
      Optional<Long> confirmDevices,
      @ManyLines Optional<String> reason) {

    /** Devices to put in and take out. */
    public static Members of(List<String> add, List<String> remove) {
      return new Members(Optional.of(add), Optional.of(remove), Optional.empty(), Optional.empty());
    }

    private Confirmation given() {
      return Problem.reading(
          "/reason", () -> new Confirmation(confirmDevices, reason, Optional.empty()));
    }
  }

  /** What came of picking and taking out, in a transaction that may still be rolled back. */
  private record Picked(GroupRow group, int in, int out, Changes.Proposal proposal) {}

  /** {@link #members(Caller, String, Members, Confirmation)}, with what is given in it. */
  public DeviceGroup members(Caller caller, String id, Members members) {
    return members(caller, id, members, members.given());
  }

  /**
   * Picks devices and takes picked ones out; profiles assigned to the group follow at once.
   *
   * @param given what the rehearsal asks for
   * @throws Problem 409 for a group whose devices follow from its rule, or when something that is
   *     asked for is missing
   */
  public DeviceGroup members(Caller caller, String id, Members members, Confirmation given) {
    return useCases.act(
        caller,
        act -> {
          Picked p = pick(act.tx(), id, members);
          String name = p.group().name;
          p.proposal().confirmed(given, "do it").applyIfAny(caller, "Members of " + name);
          act.done(
              Noun.GROUP,
              "changed",
              id,
              name
                  + ": "
                  + Words.counted(p.in(), "device")
                  + " put in, "
                  + p.out()
                  + " taken out"
                  + given.words());
          act.touch(Noun.CHANGE, Noun.DEVICE);
          return one(act.tx(), id);
        });
  }

  /** Says what it would do to devices to pick some and take others out; nothing is stored. */
  public Rehearsal rehearseMembers(Caller caller, String id, Members members) {
    return useCases.rehearse(caller, act -> pick(act.tx(), id, members).proposal().rehearsal());
  }

  private Picked pick(Tx tx, String id, Members members) {
    GroupRow row = row(tx, id);
    if (row.rule != null) {
      throw Problem.conflict(
          "by-rule", "Who is in " + row.name + " follows from its rule; change that.");
    }
    GroupStore groups = new GroupStore(tx);
    List<String> add = members.add().orElse(List.of());
    List<String> remove = members.remove().orElse(List.of());
    List<String> unknown = groups.unknown(add);
    if (!unknown.isEmpty()) {
      throw Problem.malformed("/add", "There is no device " + unknown.get(0) + ".");
    }
    int in = groups.pick(id, add);
    int out = groups.takeOut(id, remove);
    TreeSet<String> all = new TreeSet<>(add);
    all.addAll(remove);
    return new Picked(row, in, out, changes.ofDevices(tx, all));
  }

  /**
   * Deletes a group nothing depends on.
   *
   * @throws Problem 409 while a profile, an enrollment profile, a check or another group names it
   */
  public void delete(Caller caller, String id) {
    useCases.run(
        caller,
        act -> {
          GroupRow row = row(act.tx(), id);
          act.tx().flush();
          List<String> users = users(act.tx(), id);
          if (!users.isEmpty()) {
            throw Problem.conflict(
                "in-use", row.name + " is used by " + String.join(", ", users) + ".");
          }
          act.tx().delete(row);
          act.done(Noun.GROUP, "deleted", id, "Group " + row.name + " deleted");
        });
  }

  /** Names of what depends on a group. */
  private static List<String> users(Tx tx, String id) {
    GroupStore groups = new GroupStore(tx);
    return Stream.of(
            new AssignmentStore(tx).users(new Target(Target.Kind.GROUP, id)),
            groups.enrollmentProfiles(id),
            groups.around(id),
            groups.naming(RuleNames.Kind.GROUP, id),
            new WaveStore(tx).naming(id).stream().map(name -> "the waves of " + name).toList(),
            new CheckStore(tx).of(id).stream().map(name -> "the check " + name).toList())
        .flatMap(List::stream)
        .distinct()
        .toList();
  }

  /** Lets devices come and go where a rule follows time, what was heard, or how they stand. */
  public void followTime() {
    settled(membership::movedByTime, "by the clock");
  }

  /** Finds groups that hold others than they should, whatever the cause, and puts them right. */
  public void repair() {
    settled(membership::astray, "put right");
  }

  private void settled(Function<Tx, List<String>> find, String why) {
    if (useCases.read(find).isEmpty()) {
      return;
    }
    useCases.run(
        Caller.SERVICE,
        act -> {
          Moves.aloneWithRules(act.tx());
          List<String> groups = find.apply(act.tx());
          if (membership.settle(act.tx(), groups)) {
            List<String> names = new ArrayList<>(new GroupStore(act.tx()).names(groups).values());
            String some = names.stream().sorted().limit(3).collect(Collectors.joining(", "));
            changes
                .ofRegrouped(act.tx())
                .applyIfAny(
                    Caller.SERVICE,
                    "Members of " + some + (names.size() > 3 ? " and others, " : ", ") + why);
            act.touch(Noun.CHANGE, Noun.DEVICE, Noun.GROUP);
          }
        });
  }
}
