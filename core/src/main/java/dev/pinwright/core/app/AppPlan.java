package dev.pinwright.core.app;

import java.time.Instant;
import java.util.ArrayList;
import java.util.Collection;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.BiFunction;

/**
 * What follows for a device from the apps it should have and those it has.
 *
 * @param steps what to tell it now
 * @param underWay names of the apps that are coming or going
 * @param arriving ids of those among them that it does not have yet
 * @param failing what cannot be done, or was not so far, each as a sentence without its full stop
 * @param due when to look again although nothing changed; empty for never
 */
public record AppPlan(
    List<Step> steps,
    List<String> underWay,
    Set<String> arriving,
    List<String> failing,
    Optional<Instant> due) {

  /** Something to tell a device. */
  public sealed interface Step {
    /** The app it is about. */
    String app();

    /** How often it was tried before. */
    int triedBefore();

    /** The attempt it repeats, which the device may not have heard of; empty for another one. */
    Optional<String> repeats();
  }

  /** Install, update or configure an app. */
  public record Install(AppGoal goal, int triedBefore, Optional<String> repeats) implements Step {
    Install(AppGoal goal, int triedBefore) {
      this(goal, triedBefore, Optional.empty());
    }

    @Override
    public String app() {
      return goal.id();
    }
  }

  /** Take an app away. */
  public record Remove(Installed there, int triedBefore, Optional<String> repeats) implements Step {
    Remove(Installed there, int triedBefore) {
      this(there, triedBefore, Optional.empty());
    }

    @Override
    public String app() {
      return there.id();
    }
  }

  /** Let an app be opened again that was blocked. */
  public record Activate(Installed there, int triedBefore, Optional<String> repeats)
      implements Step {
    @Override
    public String app() {
      return there.id();
    }
  }

  public AppPlan {
    steps = List.copyOf(steps);
    underWay = List.copyOf(underWay);
    arriving = Set.copyOf(arriving);
    failing = List.copyOf(failing);
  }

  /** Whether there is nothing to do or to wait for. */
  public boolean settled() {
    return steps.isEmpty() && underWay.isEmpty() && failing.isEmpty();
  }

  /**
   * Works it out.
   *
   * @param goals the apps it should have, may have, or may not have
   * @param attempts the latest of each app, by id
   * @param picked ids of apps the holder has picked from the shelf and was not given yet
   */
  public static AppPlan of(
      Collection<AppGoal> goals,
      Inventory there,
      Map<String, Attempt> attempts,
      Set<String> picked,
      Instant now) {
    Draft draft = new Draft(attempts, now);
    Set<String> named = new HashSet<>();
    Set<String> forbidden = new HashSet<>();
    Set<String> withTheOs = new HashSet<>();
    for (AppGoal goal : goals) {
      named.add(goal.id());
      if (goal.presence() == Presence.FORBIDDEN) {
        forbidden.add(goal.id());
      } else if (goal.release().isEmpty()) {
        withTheOs.add(goal.id());
      }
      Optional<Installed> installed = there.find(goal.id());
      switch (goal.presence()) {
        case FORBIDDEN -> installed.filter(Installed::active).ifPresent(draft::remove);
        case REQUIRED -> draft.require(goal, installed);
        // what the holder picked is kept as it should be from then on
        case OFFERED -> {
          boolean coming =
              Optional.ofNullable(attempts.get(goal.id()))
                  .filter(a -> a.action() == Attempt.Action.INSTALL)
                  .filter(a -> a.state() != Attempt.State.DONE)
                  .isPresent();
          if (installed.filter(Installed::managed).isPresent()
              || coming
              || picked.contains(goal.id()) && goal.objection().isEmpty()) {
            draft.require(goal, installed);
          }
        }
      }
    }
    there.apps().values().stream()
        .filter(i -> i.managed() && !named.contains(i.id()))
        .forEach(draft::remove);
    // what comes with the OS is blocked while it is forbidden, and no longer
    there.apps().values().stream()
        .filter(i -> !i.active() && !i.managed() && !forbidden.contains(i.id()))
        .filter(i -> withTheOs.contains(i.id()) || draft.blocked(i))
        .forEach(draft::activate);
    return draft.plan();
  }

  private static final class Draft {
    private final Map<String, Attempt> attempts;
    private final Instant now;
    private final List<Step> steps = new ArrayList<>();
    private final List<String> underWay = new ArrayList<>();
    private final Set<String> arriving = new HashSet<>();
    private final List<String> failing = new ArrayList<>();
    private Optional<Instant> due = Optional.empty();

    Draft(Map<String, Attempt> attempts, Instant now) {
      this.attempts = attempts;
      this.now = now;
    }

    void require(AppGoal goal, Optional<Installed> there) {
      int before = underWay.size();
      pursue(goal, there);
      if (there.isEmpty() && underWay.size() > before) {
        arriving.add(goal.id());
      }
    }

    private void pursue(AppGoal goal, Optional<Installed> there) {
      if (goal.cannot().isPresent()) {
        failing.add(goal.name() + " cannot be installed: " + goal.cannot().get());
        return;
      }
      if (goal.release().isEmpty()) {
        if (there.isEmpty()) {
          failing.add(goal.name() + " is not there, and there is no package of it");
        }
        return;
      }
      Release release = goal.release().get();
      Optional<Attempt> before =
          Optional.ofNullable(attempts.get(goal.id()))
              .filter(a -> a.same(Attempt.Action.INSTALL, release.code(), goal.configuration()));
      if (there.isPresent() && asWanted(goal, release, there.get(), before)) {
        return;
      }
      boolean theirs = there.filter(i -> !i.managed()).isPresent();
      if (theirs && !goal.wanted().options().takeOver()) {
        failing.add(goal.name() + " was installed by the holder, and is not taken over");
        return;
      }
      String verb = there.isEmpty() ? "installed" : "updated";
      if (goal.unlicensed().isPresent()) {
        if (goal.unlicensed().get().coming()) {
          underWay.add(goal.name());
        } else {
          failing.add(goal.name() + " cannot be " + verb + ": " + goal.unlicensed().get().why());
        }
        return;
      }
      step(goal.name(), verb, before, (n, of) -> new Install(goal, n, of));
    }

    /**
     * Whether an app is as it should be. Devices that reckon the digest of a configuration
     * otherwise than we do are believed that they took it.
     */
    private static boolean asWanted(
        AppGoal goal, Release release, Installed there, Optional<Attempt> before) {
      return there.managed()
          && there.version().equals(release.version())
          && (there.configuration().equals(goal.configuration())
              || before.filter(a -> a.state() == Attempt.State.DONE).isPresent());
    }

    /** Whether it was we who blocked an app. */
    boolean blocked(Installed there) {
      return Optional.ofNullable(attempts.get(there.id()))
          .filter(a -> a.action() != Attempt.Action.INSTALL)
          .isPresent();
    }

    void activate(Installed there) {
      Optional<Attempt> before =
          Optional.ofNullable(attempts.get(there.id()))
              .filter(a -> a.action() == Attempt.Action.ACTIVATE);
      step(there.name(), "let in again", before, (n, of) -> new Activate(there, n, of));
    }

    void remove(Installed there) {
      Optional<Attempt> before =
          Optional.ofNullable(attempts.get(there.id()))
              .filter(a -> a.action() == Attempt.Action.REMOVE);
      step(there.name(), "removed", before, (n, of) -> new Remove(there, n, of));
    }

    private void step(
        String name,
        String verb,
        Optional<Attempt> before,
        BiFunction<Integer, Optional<String>, Step> step) {
      if (before.isEmpty() || before.get().longDone(now)) {
        steps.add(step.apply(0, Optional.empty()));
        underWay.add(name);
        return;
      }
      Attempt a = before.get();
      Optional<Instant> next = a.next();
      if (next.filter(n -> !n.isAfter(now)).isPresent()) {
        boolean again = a.state() == Attempt.State.SENT;
        steps.add(
            again
                ? step.apply(a.tries() - 1, Optional.of(a.id()))
                : step.apply(a.tries(), Optional.empty()));
        underWay.add(name);
        return;
      }
      next.ifPresent(n -> due = due.filter(d -> d.isBefore(n)).or(() -> Optional.of(n)));
      if (a.state() == Attempt.State.UNDER_WAY) {
        underWay.add(name);
      } else {
        failing.add(
            name
                + " could not be "
                + verb
                + ": "
                + (a.state() == Attempt.State.DONE
                    ? "the device says it did, and it is not so"
                    : a.reason())
                + (next.isEmpty() && a.tries() >= Attempt.MOST
                    ? "; tried " + a.tries() + " times"
                    : ""));
      }
    }

    AppPlan plan() {
      return new AppPlan(steps, underWay, arriving, failing, due);
    }
  }
}
