package dev.pinwright.service.group;

import dev.pinwright.core.group.Grouping;
import dev.pinwright.core.group.Grouping.Definition;
import dev.pinwright.core.query.DeviceQuery;
import dev.pinwright.core.query.Rule;
import dev.pinwright.core.query.RuleFault;
import dev.pinwright.core.query.RuleNames;
import dev.pinwright.service.work.Problem;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.change.Moves;
import dev.pinwright.storage.group.GroupStore;
import dev.pinwright.storage.group.MembershipStore;
import dev.pinwright.storage.group.MembershipStore.Kept;
import dev.pinwright.storage.query.AskedDevices;
import java.time.Clock;
import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * Who is in which group. Whoever changes what a rule may ask of devices lets their memberships
 * {@link #follow}; what devices themselves say, and time, is followed by whoever hears of it. Of
 * few devices it is decided here, of many by statements; {@code DeviceQueryTest} holds the two
 * together.
 */
public final class Membership {
  private static final Logger LOG = LoggerFactory.getLogger(Membership.class);
  private static final int FEW = 200;

  private final Clock clock;

  public Membership(Clock clock) {
    this.clock = clock;
  }

  /**
   * The groups as they are now.
   *
   * @param byTime ids of those time moves devices into and out of
   * @param unread ids of those whose rule cannot be read; who is in them stays
   */
  private record Read(Grouping grouping, Set<String> byTime, Set<String> unread) {}

  private Read read(Tx tx, List<Kept> all) {
    RuleNames names = new RuleNamesHere(tx);
    List<Definition> definitions = new ArrayList<>();
    Set<String> byTime = new TreeSet<>();
    Set<String> unread = new TreeSet<>();
    for (Kept k : all) {
      Optional<DeviceQuery> query = Optional.empty();
      if (k.rule().isPresent()) {
        Rule rule = new Rule(k.rule().get());
        try {
          query = Optional.of(rule.at(clock.instant(), names));
          if (rule.followsTime(names)) {
            byTime.add(k.id());
          }
        } catch (RuleFault e) {
          LOG.error(
              "the rule of group {} cannot be read; its devices stay: {}",
              k.name(),
              e.getMessage());
          query = Optional.of(new DeviceQuery.InGroup(k.id()));
          unread.add(k.id());
        }
      }
      definitions.add(new Definition(k.id(), query, Set.copyOf(k.inside()), Set.copyOf(k.asked())));
    }
    return new Read(new Grouping(definitions), byTime, unread);
  }

  /**
   * Refuses to take away what rules of groups ask for.
   *
   * @param said what it is called, such as {@code the tag spare}
   * @throws Problem 409 naming the groups
   */
  public static void refuseNamed(Tx tx, RuleNames.Kind kind, String id, String said) {
    List<String> groups = new GroupStore(tx).naming(kind, id);
    if (!groups.isEmpty()) {
      throw Problem.conflict(
          "in-use",
          "Rules of groups ask for "
              + said
              + ": "
              + String.join(", ", groups)
              + ". Change them first.");
    }
  }

  /** Whether there is any group that follows from something. */
  public static boolean rules(Tx tx) {
    return MembershipStore.any(tx);
  }

  /**
   * Puts devices into the groups they belong in and takes them out of the others, after something
   * about them changed in this transaction.
   *
   * @return whether any came in or went out
   */
  public boolean follow(Tx tx, Collection<String> deviceIds) {
    tx.flush();
    Moves.hold(tx, deviceIds);
    List<Kept> kept = MembershipStore.definitions(tx);
    if (kept.isEmpty()) {
      return MembershipStore.picked(tx, deviceIds);
    }
    if (deviceIds.size() > FEW) {
      MembershipStore store = new MembershipStore(tx).due(deviceIds);
      return settleDue(tx, store, kept);
    }
    Read read = read(tx, kept);
    boolean moved = false;
    for (AskedDevices.Asked asked : AskedDevices.of(tx, deviceIds)) {
      Set<String> left = new TreeSet<>(asked.device().groups());
      Set<String> stay = new TreeSet<>(left);
      stay.retainAll(read.unread());
      stay.addAll(asked.picked());
      Set<String> entered = new TreeSet<>(read.grouping().of(asked.device(), stay));
      if (!left.equals(entered)) {
        moved = true;
        Set<String> stays = new TreeSet<>(left);
        stays.retainAll(entered);
        left.removeAll(stays);
        entered.removeAll(stays);
        MembershipStore.write(tx, asked.device().id(), entered, left, clock.instant());
      }
    }
    return moved;
  }

  /** {@link #follow}, for the devices in a unit and below it. */
  public boolean followUnit(Tx tx, String unitId) {
    tx.flush();
    return settleDue(
        tx, new MembershipStore(tx).dueInUnit(unitId), MembershipStore.definitions(tx));
  }

  private boolean settleDue(Tx tx, MembershipStore store, List<Kept> kept) {
    store.picks();
    read(tx, kept).grouping().ordered().forEach(g -> store.settle(g, true, clock.instant()));
    store.tell(clock.instant());
    return store.any();
  }

  /**
   * Works out anew who is in some groups and in those that follow from them. Call {@link
   * Moves#aloneWithRules} first.
   *
   * @return whether any came in or went out
   */
  public boolean settle(Tx tx, Collection<String> groupIds) {
    tx.flush();
    MembershipStore store = new MembershipStore(tx);
    List<Kept> kept = MembershipStore.definitions(tx);
    Grouping grouping = read(tx, kept).grouping();
    Set<String> defined = new TreeSet<>();
    grouping.ordered().forEach(d -> defined.add(d.id()));
    for (String id : groupIds) {
      if (!defined.contains(id)) {
        store.settle(
            new Definition(id, Optional.empty(), Set.of(), Set.of()), false, clock.instant());
      }
    }
    grouping.following(groupIds).forEach(g -> store.settle(g, false, clock.instant()));
    store.tell(clock.instant());
    return store.any();
  }

  /**
   * Ids of the groups time has moved devices into or out of, whoever has not been put there yet.
   */
  public List<String> movedByTime(Tx tx) {
    Read read = read(tx, MembershipStore.definitions(tx));
    return read.grouping().ordered().stream()
        .filter(g -> read.byTime().contains(g.id()))
        .filter(g -> MembershipStore.differs(tx, g))
        .map(Definition::id)
        .toList();
  }

  /** Ids of the groups that hold others than they should, whatever the cause. */
  public List<String> astray(Tx tx) {
    return read(tx, MembershipStore.definitions(tx)).grouping().ordered().stream()
        .filter(g -> MembershipStore.differs(tx, g))
        .map(Definition::id)
        .toList();
  }
}
