package dev.pinwright.service.license;

import dev.pinwright.core.app.Presence;
import dev.pinwright.core.license.LicenseState;
import dev.pinwright.service.app.StoreApps;
import dev.pinwright.service.gateway.Store;
import dev.pinwright.service.live.Wakes;
import dev.pinwright.service.shape.Shapes;
import dev.pinwright.service.usecase.Noun;
import dev.pinwright.service.usecase.UseCases;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Problem;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.app.AppStore;
import dev.pinwright.storage.app.AppStore.ShapeWish;
import dev.pinwright.storage.device.DeviceStates;
import dev.pinwright.storage.license.LicenseStore;
import dev.pinwright.storage.license.StoreAppStore;
import dev.pinwright.storage.license.StoreAppStore.StoreApp;
import dev.pinwright.storage.row.LicensePoolRow;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * Hands licenses out and takes them back. Who is to have one follows from who is to have the app;
 * that is worked out here for all devices together, whenever something changed and once a minute,
 * and then the store is told, a thousand at a time. Whatever breaks off is taken up again by the
 * next round: a store that is told twice gives once.
 */
public final class HandOut {
  private static final Logger LOG = LoggerFactory.getLogger(HandOut.class);
  private static final Duration ANYWAY = Duration.ofMinutes(1);
  private static final int MOST_ROUNDS = 500;
  private static final int MOST_SHARES = 3;
  private static final int MOST_WOKEN = 10_000;

  private final UseCases useCases;
  private final Shapes shapes;
  private final Store store;
  private final StoreApps storeApps;
  private Instant looked = Instant.EPOCH;

  public HandOut(UseCases useCases, Shapes shapes, Store store, StoreApps storeApps) {
    this.useCases = useCases;
    this.shapes = shapes;
    this.store = store;
    this.storeApps = storeApps;
  }

  /** Does what is due. */
  public void follow() {
    Instant now = useCases.now();
    boolean due = useCases.act(Caller.SERVICE, act -> new LicenseStore(act.tx()).takeDue());
    if (!due && now.isBefore(looked.plus(ANYWAY))) {
      return;
    }
    looked = now;
    boolean cameBack = true;
    for (int i = 0; cameBack && i < MOST_SHARES; i++) {
      for (StoreApp app : useCases.read(tx -> new StoreAppStore(tx).licensed())) {
        useCases.run(Caller.SERVICE, act -> share(act, app));
      }
      cameBack = tellStores();
    }
  }

  private void share(UseCases.Act act, StoreApp app) {
    Tx tx = act.tx();
    tx.advisoryLock("licenses of " + app.appId());
    List<ShapeWish> wishes = wishes(tx, app);
    LicenseStore licenses = new LicenseStore(tx);
    int reclaimed = licenses.reclaim(app, wishes, act.now());
    long lacking = licenses.handOut(app, wishes, act.now());
    if (lacking != app.lacking()) {
      new StoreAppStore(tx).lacking(app.appId(), lacking);
      wake(tx, licenses.waiting(app, wishes, act.now(), MOST_WOKEN), act.now());
    }
    if (reclaimed > 0 || lacking != app.lacking()) {
      act.touch(Noun.LICENSE);
    }
  }

  /** Devices with apps due are asked for in their next session, which is now. */
  private static void wake(Tx tx, List<String> devices, Instant now) {
    if (!devices.isEmpty()) {
      new DeviceStates(tx).appsDue(devices, now);
      Wakes.devices(tx, devices);
    }
  }

  private List<ShapeWish> wishes(Tx tx, StoreApp app) {
    List<ShapeWish> wishes = new ArrayList<>();
    shapes
        .apps(tx, new AppStore(tx).shapes(Optional.of(app.appId())))
        .forEach(
            (shape, apps) ->
                apps.stream()
                    .filter(w -> w.key().equals(app.key()))
                    .filter(w -> w.presence() != Presence.FORBIDDEN)
                    .forEach(
                        w ->
                            wishes.add(
                                new ShapeWish(
                                    shape, w.version(), w.presence() == Presence.REQUIRED))));
    return wishes;
  }

  /**
   * Tells the stores what they are to be told.
   *
   * @return whether licenses came back that somebody may wait for
   */
  private boolean tellStores() {
    Set<String> failing = new HashSet<>();
    Set<String> unlike = new TreeSet<>();
    boolean cameBack = false;
    boolean more = true;
    for (int round = 0; more && round < MOST_ROUNDS; round++) {
      more = false;
      for (LicenseStore.Order order :
          useCases.read(tx -> new LicenseStore(tx).orders(Store.AT_ONCE))) {
        if (!failing.contains(order.platform())) {
          try {
            boolean done = tell(order, unlike);
            more |= done;
            cameBack |= done && order.state() == LicenseState.RETURNING;
          } catch (Problem p) {
            failing.add(order.platform());
            store.failed(Caller.SERVICE, order.platform(), p);
            LOG.warn("store of {}: {}", order.platform(), p.getMessage());
          }
        }
      }
    }
    for (String platform : unlike) {
      try {
        storeApps.reread(Caller.SERVICE, platform);
      } catch (Problem p) {
        LOG.warn("store of {}: {}", platform, p.getMessage());
      }
    }
    return cameBack;
  }

  /**
   * Tells a store of one order.
   *
   * @param unlike takes the platform whose store has fewer to give than is known here
   * @return whether it was done, for one of them at least
   */
  private boolean tell(LicenseStore.Order order, Set<String> unlike) {
    boolean give = order.state() == LicenseState.ASKED;
    Set<String> done =
        store.hold(order.platform(), order.packageId(), order.place(), order.names(), give);
    List<String> not = order.names().stream().filter(n -> !done.contains(n)).toList();
    useCases.run(Caller.SERVICE, act -> told(act, order, done, not));
    if (!not.isEmpty()) {
      unlike.add(order.platform());
    }
    return !done.isEmpty();
  }

  private static void told(
      UseCases.Act act, LicenseStore.Order order, Set<String> done, List<String> not) {
    Tx tx = act.tx();
    LicenseStore licenses = new LicenseStore(tx);
    LicensePoolRow pool = tx.lock(LicensePoolRow.class, order.poolId()).orElse(null);
    if (pool == null) {
      return;
    }
    boolean give = order.state() == LicenseState.ASKED;
    if (give) {
      licenses.given(order.appId(), done, act.now());
      wake(tx, licenses.devices(order.licensing(), done), act.now());
    } else {
      licenses.gone(order.appId(), order.state(), done);
    }
    if (give && !not.isEmpty()) {
      licenses.gone(order.appId(), order.state(), not);
    }
    if (!done.isEmpty()) {
      act.done(
          Noun.LICENSE,
          give ? "given" : "taken-back",
          pool.id,
          done.size()
              + (done.size() == 1 ? " license of " : " licenses of ")
              + order.app()
              + " for "
              + order.place()
              + (give ? " given" : " taken back"));
    }
    pool.fault =
        not.isEmpty()
            ? ""
            : "the store did not "
                + (give ? "give " : "take back ")
                + not.size()
                + " of the "
                + order.names().size()
                + " it was asked "
                + (give ? "for" : "to take back");
    act.touch(Noun.LICENSE);
  }
}
