package dev.pinwright.service.app;

import dev.pinwright.core.Words;
import dev.pinwright.core.app.Origin;
import dev.pinwright.core.catalog.Catalog;
import dev.pinwright.core.license.Licensing;
import dev.pinwright.service.gateway.Store;
import dev.pinwright.service.rules.Schemas;
import dev.pinwright.service.usecase.Noun;
import dev.pinwright.service.usecase.UseCases;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Json;
import dev.pinwright.service.work.Problem;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.app.AppStore;
import dev.pinwright.storage.license.LicenseStore;
import dev.pinwright.storage.license.StoreAppStore;
import dev.pinwright.storage.organisation.SiteStore;
import dev.pinwright.storage.row.AppReleaseRow;
import dev.pinwright.storage.row.AppRow;
import dev.pinwright.storage.row.LicensePoolRow;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.stream.Collectors;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * Apps from the stores of platforms: found there, added to the catalogue with what the store says
 * of them, and kept as the store has them, together with the licenses that were bought.
 */
public final class StoreApps {
  private static final Logger LOG = LoggerFactory.getLogger(StoreApps.class);
  private static final int MOST_PLACES = 1_000;

  private final UseCases useCases;
  private final Catalog catalog;
  private final Apps apps;
  private final Store store;

  public StoreApps(UseCases useCases, Catalog catalog, Apps apps, Store store) {
    this.useCases = useCases;
    this.catalog = catalog;
    this.apps = apps;
    this.store = store;
  }

  /**
   * An app a store has.
   *
   * @param price in words; empty where it is not sold in the country that was asked about
   * @param countries where it is sold, two letters each
   * @param version the latest
   * @param appId of the app here; empty when it was not added
   */
  public record Found(
      String id,
      String name,
      String publisher,
      String summary,
      String category,
      Licensing licensing,
      Optional<String> price,
      List<String> countries,
      Optional<String> version,
      Optional<Map<String, String>> lowestOs,
      Optional<Long> size,
      Optional<String> appId) {}

  /** What a reading brought. */
  public record Synced(int apps, int newVersions, int pools, long owned) {}

  /** Where a platform's store sells apps. */
  public List<Store.Country> countries(Caller caller, String platform) {
    known(platform);
    return store.countries(platform);
  }

  /**
   * Searches a platform's store for apps, in words.
   *
   * @param country two letters of ISO 3166-1
   * @throws Problem 409 when it is not connected, 502 when it fails
   */
  public List<Found> search(Caller caller, String platform, String country, String words) {
    known(platform);
    if (!country.matches("[A-Z]{2}")) {
      throw Problem.malformed("/country", "Name a country by its two capital letters.");
    }
    List<Store.Listing> found = store.search(platform, country, words);
    return useCases.read(
        tx -> found.stream().map(l -> found(l, country, new AppStore(tx))).toList());
  }

  private static Found found(Store.Listing l, String country, AppStore here) {
    Optional<Store.Version> latest = l.versions().stream().findFirst();
    return new Found(
        l.id(),
        l.name(),
        l.publisher(),
        l.summary(),
        l.category(),
        l.licensing(),
        Optional.ofNullable(l.prices().get(country)),
        List.copyOf(l.prices().keySet()),
        latest.map(Store.Version::version),
        latest.map(Store.Version::lowestOs),
        latest.map(Store.Version::size),
        here.ofPackage(l.id()).map(a -> a.id));
  }

  private void known(String platform) {
    if (catalog.platform(platform).isEmpty()) {
      throw Problem.notFound("platform", platform);
    }
  }

  /**
   * Adds an app of a store to the catalogue; its latest version is released to all. What was bought
   * of it is read, too.
   *
   * @throws Problem 404 when the store has none of that id, 409 when a package of one's own has it
   */
  public Apps.Detail add(Caller caller, String platform, String id) {
    known(platform);
    Store.Listing listing =
        store
            .listing(platform, id)
            .orElseThrow(() -> Problem.notFound("app of the store of " + platform, id));
    List<Store.Bought> bought =
        store.bought(platform).stream().filter(b -> b.app().equals(id)).toList();
    return useCases.act(
        caller,
        act -> {
          AppRow row = keep(act, platform, listing).row();
          pools(act, Map.of(id, row), bought, true);
          return apps.detail(act.tx(), act.tx().find(AppRow.class, row.id).orElseThrow());
        });
  }

  /**
   * Reads what a platform's store says of its apps here, and what was bought; an app that was
   * bought and is not here is added.
   *
   * @throws Problem 409 when it is not connected, 502 when it fails
   */
  public Synced sync(Caller caller, String platform) {
    known(platform);
    return store.noting(caller, platform, () -> read(caller, platform, true));
  }

  /**
   * {@link #sync} because a store gave less than it said it had; what it did not do stays noted.
   */
  public Synced reread(Caller caller, String platform) {
    return store.noting(caller, platform, () -> read(caller, platform, false));
  }

  private Synced read(Caller caller, String platform, boolean afresh) {
    List<Store.Bought> bought = store.bought(platform);
    Set<String> ids =
        useCases.read(
            tx ->
                new StoreAppStore(tx)
                    .of(platform).stream()
                        .map(StoreAppStore.StoreApp::packageId)
                        .collect(Collectors.toCollection(TreeSet::new)));
    Set<String> asked = new TreeSet<>(ids);
    bought.forEach(b -> asked.add(b.app()));
    Store.Told told = store.listings(platform, asked);
    return useCases.act(caller, act -> keep(act, platform, ids, told, bought, afresh));
  }

  private Synced keep(
      UseCases.Act act,
      String platform,
      Set<String> ids,
      Store.Told told,
      List<Store.Bought> bought,
      boolean afresh) {
    int versions = 0;
    Map<String, AppRow> rows = new HashMap<>();
    for (Store.Listing l : told.apps()) {
      try {
        Kept kept = keep(act, platform, l);
        rows.put(l.id(), kept.row());
        versions += kept.newVersions();
      } catch (Problem p) {
        LOG.warn("{} of the store of {}: {}", l.id(), platform, p.getMessage());
      }
    }
    StoreAppStore store = new StoreAppStore(act.tx());
    for (StoreAppStore.StoreApp a : store.of(platform)) {
      if (ids.contains(a.packageId()) && !told.ids().contains(a.packageId()) && a.sold()) {
        store.put(a.appId(), platform, a.licensing(), "{}", false, act.now());
        act.done(Noun.APP, "withdrawn", a.appId(), a.name() + " was taken out of the store");
      }
    }
    pools(act, rows, bought, afresh);
    act.touch(Noun.APP, Noun.LICENSE);
    return new Synced(
        rows.size(), versions, bought.size(), bought.stream().mapToLong(Store.Bought::owned).sum());
  }

  private record Kept(AppRow row, int newVersions) {}

  private Kept keep(UseCases.Act act, String platform, Store.Listing l) {
    Tx tx = act.tx();
    tx.advisoryLock("app " + l.id());
    AppStore known = new AppStore(tx);
    Optional<AppRow> there = known.ofPackage(l.id());
    if (there.filter(a -> !a.origin.equals(Words.of(Origin.STORE))).isPresent()) {
      throw Problem.conflict(
          "own-package",
          there.get().name
              + " is here already as a package of one's own, under the same id "
              + l.id()
              + ".");
    }
    AppRow row =
        there.flatMap(a -> tx.lock(AppRow.class, a.id)).orElseGet(() -> made(act, platform, l));
    int news = 0;
    long latest = known.latest(row.id);
    for (Store.Version v : l.versions()) {
      if (v.code() > latest
          && known.release(row.id, v.code()).isEmpty()
          && known.release(row.id, v.version()).isEmpty()) {
        tx.insert(release(act, row, v));
        news++;
      } else {
        known.moved(row.id, v.code(), v.sha256(), v.address());
      }
    }
    describe(row, l);
    if (there.isEmpty()) {
      l.versions().stream().findFirst().ifPresent(v -> row.forAll = v.code());
      row.forEarly = row.forAll;
    } else if (news > 0) {
      row.changedAt = act.now();
      act.done(
          Noun.APP,
          "brought",
          row.id,
          row.name + " " + l.versions().get(0).version() + " appeared in the store of " + platform);
    }
    new StoreAppStore(tx)
        .put(
            row.id,
            platform,
            l.licensing(),
            Json.write(l.prices()),
            !l.prices().isEmpty(),
            act.now());
    return new Kept(row, news);
  }

  private static AppRow made(UseCases.Act act, String platform, Store.Listing l) {
    AppRow row = new AppRow();
    row.id = act.newId();
    row.key = Apps.key(act.tx(), l.id());
    row.packageId = l.id();
    row.origin = Words.of(Origin.STORE);
    row.createdAt = act.now();
    row.changedAt = act.now();
    describe(row, l);
    act.tx().insert(row);
    act.tx().flush();
    act.done(Noun.APP, "made", row.id, row.name + " added from the store of " + platform);
    return row;
  }

  private static void describe(AppRow row, Store.Listing l) {
    row.name = l.name();
    row.publisher = l.publisher();
    row.summary = l.summary();
    row.category = l.category();
    l.icon().ifPresent(icon -> row.icon = icon);
  }

  private AppReleaseRow release(UseCases.Act act, AppRow row, Store.Version v) {
    AppReleaseRow release = new AppReleaseRow();
    Map<String, String> lowest = new TreeMap<>(v.lowestOs());
    lowest.keySet().removeIf(p -> catalog.platform(p).isEmpty());
    release.appId = row.id;
    release.code = v.code();
    release.version = v.version();
    release.lowest = Json.write(lowest);
    release.permissions = v.permissions().toArray(String[]::new);
    release.bytes = v.size();
    release.installed = v.installedSize();
    release.notes = v.notes();
    release.configuration = v.schema().filter(s -> Schemas.faults(s).isEmpty()).orElse(null);
    release.sha256 = v.sha256();
    release.address = v.address();
    release.broughtAt = act.now();
    release.broughtBy = act.caller().login();
    return release;
  }

  /** Keeps what was bought of apps, by the ids devices know them by. */
  private static void pools(
      UseCases.Act act, Map<String, AppRow> rows, List<Store.Bought> bought, boolean afresh) {
    Tx tx = act.tx();
    tx.flush();
    LicenseStore store = new LicenseStore(tx);
    for (Map.Entry<String, AppRow> e : rows.entrySet()) {
      List<LicensePoolRow> gone = new ArrayList<>(store.rows(e.getValue().id, MOST_PLACES));
      for (Store.Bought b : bought) {
        if (b.app().equals(e.getKey())) {
          LicensePoolRow pool =
              store.pool(e.getValue().id, b.place()).orElseGet(() -> pool(act, e.getValue(), b));
          gone.removeIf(p -> p.id.equals(pool.id));
          long elsewhere = Math.max(0, b.given() - store.used(pool.id));
          if (afresh || pool.owned != b.owned() || pool.elsewhere != elsewhere) {
            pool.fault = "";
          }
          pool.owned = b.owned();
          pool.elsewhere = elsewhere;
        }
      }
      gone.forEach(p -> p.owned = 0);
    }
    store.due(act.now());
  }

  private static LicensePoolRow pool(UseCases.Act act, AppRow app, Store.Bought b) {
    LicensePoolRow pool = new LicensePoolRow();
    pool.id = act.newId();
    pool.appId = app.id;
    pool.place = b.place();
    pool.siteId = new SiteStore(act.tx()).byName(b.place()).map(s -> s.id).orElse(null);
    pool.fault = "";
    act.tx().insert(pool);
    act.tx().flush();
    return pool;
  }

  /** Reads from every store that is connected; one that fails does not keep the others. */
  public void syncAll() {
    for (String platform : store.connected()) {
      try {
        sync(Caller.SERVICE, platform);
      } catch (Problem e) {
        LOG.warn("store of {}: {}", platform, e.getMessage());
      }
    }
  }
}
