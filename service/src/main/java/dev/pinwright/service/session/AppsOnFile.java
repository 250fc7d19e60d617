package dev.pinwright.service.session;

import dev.pinwright.core.app.AppGoal;
import dev.pinwright.core.app.AppPlan;
import dev.pinwright.core.app.Attempt;
import dev.pinwright.core.app.Inventory;
import dev.pinwright.core.app.WantedApp;
import dev.pinwright.core.device.DeviceState;
import dev.pinwright.service.app.AppGoals;
import dev.pinwright.service.shape.Shapes;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.app.DeviceAppStore;
import dev.pinwright.storage.row.DeviceRow;
import java.time.Instant;
import java.util.Collection;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.jspecify.annotations.Nullable;

/**
 * What is on file of the apps of one device in one turn of its session: each thing is read once,
 * however often it is asked for, and again after it was written.
 */
final class AppsOnFile {
  private final Tx tx;
  private final DeviceRow device;
  private final DeviceAppStore store;
  private final Shapes shapes;
  private @Nullable Inventory inventory;
  private @Nullable Map<String, Attempt> attempts;
  private @Nullable Set<String> wishes;
  private @Nullable List<WantedApp> wanted;
  private List<AppGoal> goals = List.of();

  AppsOnFile(Tx tx, DeviceRow device, Shapes shapes) {
    this.tx = tx;
    this.device = device;
    this.shapes = shapes;
    store = new DeviceAppStore(tx);
  }

  /** What it should have of each app that is assigned to it. */
  List<AppGoal> goals(DeviceState state) {
    List<WantedApp> now = shapes.apps(tx, state);
    if (!now.equals(wanted)) {
      goals = AppGoals.of(tx, device, now);
      wanted = now;
    }
    return goals;
  }

  /** What follows from what it should have and what it has. */
  AppPlan plan(DeviceState state, Instant now) {
    if (inventory == null) {
      inventory = store.inventory(device.id);
    }
    return AppPlan.of(goals(state), inventory, attempts(), wishes(), now);
  }

  /** Keeps what it told of its apps. */
  void keep(Inventory told) {
    store.keep(device.id, told);
    inventory = null;
  }

  private Map<String, Attempt> attempts() {
    if (attempts == null) {
      attempts = store.attempts(device.id);
    }
    return attempts;
  }

  /** The attempt that travels under a correlator, if it is the latest with its app. */
  Optional<Attempt> attempt(String id) {
    return attempts().values().stream().filter(a -> a.id().equals(id)).findFirst();
  }

  /** Notes an attempt, in place of the one before with the same app. */
  void put(Attempt attempt) {
    store.put(device.id, attempt);
    attempts = null;
  }

  /** What its holder picked from the shelf and has not got yet. */
  Set<String> wishes() {
    if (wishes == null) {
      wishes = store.wishes(device.id);
    }
    return wishes;
  }

  /**
   * Notes what its holder picked.
   *
   * @return whether that is news
   */
  boolean wish(String app, Instant now) {
    boolean news = store.wish(device.id, app, now);
    wishes = null;
    return news;
  }

  /** Forgets what its holder picked. */
  void unwish(Collection<String> apps) {
    if (apps.stream().anyMatch(wishes()::contains)) {
      store.unwish(device.id, apps);
      wishes = null;
    }
  }

  /** What it was told its holder may pick: JSON, empty before that. */
  Optional<String> shelf() {
    return store.shelf(device.id);
  }
}
