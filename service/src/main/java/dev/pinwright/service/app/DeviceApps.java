package dev.pinwright.service.app;

import dev.pinwright.core.app.AppGoal;
import dev.pinwright.core.app.AppPlan;
import dev.pinwright.core.app.AppState;
import dev.pinwright.core.app.Attempt;
import dev.pinwright.core.app.Installed;
import dev.pinwright.core.app.Inventory;
import dev.pinwright.core.app.Presence;
import dev.pinwright.core.app.Release;
import dev.pinwright.core.device.DeviceState;
import dev.pinwright.service.shape.Shapes;
import dev.pinwright.service.usecase.Noun;
import dev.pinwright.service.usecase.UseCases;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Problem;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.app.DeviceAppStore;
import dev.pinwright.storage.device.DeviceStates;
import dev.pinwright.storage.license.LicenseStore;
import dev.pinwright.storage.row.DeviceRow;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.EnumSet;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/** The apps of one device: those it has, those it should have, and what is between the two. */
public final class DeviceApps {
  private static final Set<AppState> COMING =
      EnumSet.of(AppState.MISSING, AppState.OLD, AppState.UNDER_WAY);

  private final UseCases useCases;
  private final Shapes shapes;

  public DeviceApps(UseCases useCases, Shapes shapes) {
    this.useCases = useCases;
    this.shapes = shapes;
  }

  /**
   * An app of a device.
   *
   * @param presence what it is to the device; empty where nobody assigned it
   * @param wanted version it should have
   * @param version version it has; empty where it is not there
   * @param reason why it fails
   * @param since when the latest attempt began or ended
   * @param tries how often that was tried
   * @param comes what it waits for on the device while it is not there, in words
   */
  public record OfDevice(
      String packageId,
      String name,
      Optional<Presence> presence,
      Optional<String> wanted,
      Optional<String> version,
      boolean managed,
      long size,
      String source,
      AppState state,
      Optional<String> reason,
      Optional<Instant> since,
      Optional<Integer> tries,
      Optional<String> comes) {}

  /**
   * The apps of a device.
   *
   * @param told whether it ever told which it has
   * @param apps at most as many as an inventory holds, by name
   */
  public record All(boolean told, List<OfDevice> apps) {}

  /** The apps of a device. */
  public All of(Caller caller, String deviceId) {
    return useCases.snapshot(
        tx -> {
          DeviceRow device =
              tx.find(DeviceRow.class, deviceId)
                  .orElseThrow(() -> Problem.notFound("device", deviceId));
          DeviceState state = new DeviceStates(tx).find(deviceId).orElseThrow();
          return new All(state.apps().inventory().isPresent(), apps(tx, device, state));
        });
  }

  private List<OfDevice> apps(Tx tx, DeviceRow device, DeviceState state) {
    DeviceAppStore store = new DeviceAppStore(tx);
    Inventory there = store.inventory(device.id);
    Map<String, Attempt> attempts = store.attempts(device.id);
    Set<String> wishes = store.wishes(device.id);
    List<AppGoal> goals = AppGoals.of(tx, device, shapes.apps(tx, state));
    List<OfDevice> out = new ArrayList<>();
    Set<String> named = new HashSet<>();
    for (AppGoal goal : goals) {
      named.add(goal.id());
      AppPlan plan =
          AppPlan.of(
              List.of(goal),
              Inventory.of(there.find(goal.id()).stream().toList()),
              attempts,
              wishes,
              useCases.now());
      out.add(
          line(
              goal.id(),
              goal.name(),
              Optional.of(goal),
              there.find(goal.id()),
              plan,
              Optional.ofNullable(attempts.get(goal.id()))));
    }
    there.apps().values().stream()
        .filter(i -> !named.contains(i.id()))
        .forEach(
            i ->
                out.add(
                    line(
                        i.id(),
                        i.name(),
                        Optional.empty(),
                        Optional.of(i),
                        AppPlan.of(
                            List.of(),
                            Inventory.of(List.of(i)),
                            attempts,
                            Set.of(),
                            useCases.now()),
                        Optional.ofNullable(attempts.get(i.id())))));
    out.sort(
        Comparator.comparing((OfDevice a) -> a.name().toLowerCase(Locale.ROOT))
            .thenComparing(OfDevice::packageId));
    return out;
  }

  /**
   * Pushes all its apps to a device: what failed, or waits for a later try, is tried at once.
   *
   * @return 1, or 0 where it has retired
   */
  public int push(Caller caller, String id) {
    return useCases.act(
        caller,
        act -> {
          DeviceRow device =
              act.tx().find(DeviceRow.class, id).orElseThrow(() -> Problem.notFound("device", id));
          if (device.retiredAt != null) {
            return 0;
          }
          Apps.push(act, Optional.empty(), List.of(id));
          act.done(Noun.DEVICE, "apps-pushed", id, "Apps of " + device.name + " pushed");
          return 1;
        });
  }

  /**
   * Takes an app from the shelf of a device, as its holder does on the device itself.
   *
   * @param packageId of the app
   * @throws Problem 409 when it is not on that shelf
   */
  public void take(Caller caller, String id, String packageId) {
    useCases.run(
        caller,
        act -> {
          Tx tx = act.tx();
          DeviceRow device =
              tx.find(DeviceRow.class, id).orElseThrow(() -> Problem.notFound("device", id));
          DeviceState state = new DeviceStates(tx).find(id).orElseThrow();
          AppGoal offered =
              AppGoals.of(tx, device, shapes.apps(tx, state)).stream()
                  .filter(g -> g.id().equals(packageId))
                  .filter(g -> g.wanted().presence() == Presence.OFFERED)
                  .findFirst()
                  .orElseThrow(
                      () ->
                          Problem.conflict(
                              "not-on-shelf", packageId + " is not on the shelf of this device."));
          if (new DeviceAppStore(tx).wish(id, packageId, act.now())) {
            new LicenseStore(tx).due(act.now());
          }
          Apps.push(act, Optional.of(packageId), List.of(id));
          act.done(
              Noun.DEVICE,
              "app-taken",
              id,
              offered.name() + " taken from the shelf for " + device.name);
        });
  }

  private static OfDevice line(
      String id,
      String name,
      Optional<AppGoal> goal,
      Optional<Installed> there,
      AppPlan plan,
      Optional<Attempt> attempt) {
    AppState state = state(goal, there, plan, attempt);
    boolean tells = state == AppState.UNDER_WAY || state == AppState.FAILING;
    return new OfDevice(
        id,
        name,
        goal.map(g -> g.wanted().presence()),
        goal.flatMap(AppGoal::release).map(Release::version),
        there.map(Installed::version),
        there.map(Installed::managed).orElse(false),
        there.map(Installed::bytes).orElse(0L),
        there.map(Installed::source).orElse(""),
        state,
        plan.failing().stream().findFirst(),
        attempt.filter(a -> tells).map(Attempt::at),
        attempt.filter(a -> tells).map(Attempt::tries),
        goal.filter(g -> COMING.contains(state)).flatMap(g -> g.wanted().options().waits()));
  }

  private static AppState state(
      Optional<AppGoal> goal, Optional<Installed> there, AppPlan plan, Optional<Attempt> attempt) {
    if (!plan.failing().isEmpty()) {
      return AppState.FAILING;
    }
    if (plan.steps().isEmpty() && !plan.underWay().isEmpty()) {
      return AppState.UNDER_WAY;
    }
    if (!plan.steps().isEmpty()) {
      boolean install = plan.steps().get(0) instanceof AppPlan.Install;
      return !install ? AppState.UNDER_WAY : there.isEmpty() ? AppState.MISSING : AppState.OLD;
    }
    if (goal.isEmpty()) {
      return AppState.NOT_ASSIGNED;
    }
    return goal.get().wanted().presence() == Presence.OFFERED
            && there.filter(Installed::managed).isEmpty()
        ? AppState.ON_SHELF
        : AppState.AS_WANTED;
  }
}
