package dev.pinwright.service.app;

import dev.pinwright.core.Words;
import dev.pinwright.core.app.Origin;
import dev.pinwright.core.catalog.Catalog;
import dev.pinwright.core.catalog.Platform;
import dev.pinwright.core.catalog.SystemApp;
import dev.pinwright.service.usecase.UseCases;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Json;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.app.AppStore;
import dev.pinwright.storage.row.AppReleaseRow;
import dev.pinwright.storage.row.AppRow;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;

/** The apps that come with the platforms: they are in the catalogue of apps, as the sheets say. */
public final class SystemApps {
  private static final long ONE_AT_A_TIME = 7444;

  /** The code of the one release there is of each; it says which platforms it comes with. */
  private static final long CODE = 0;

  private SystemApps() {}

  /** Adds those that are not there, and writes down what became different. */
  public static void keep(UseCases useCases, Catalog catalog) {
    Map<String, String> names = new TreeMap<>();
    Map<String, Map<String, String>> lowest = new TreeMap<>();
    for (Platform platform : catalog.platforms()) {
      for (SystemApp app : platform.apps()) {
        names.put(app.id(), app.name());
        lowest.computeIfAbsent(app.id(), id -> new TreeMap<>()).put(platform.key(), "0.0");
      }
    }
    useCases.run(
        Caller.SERVICE,
        act -> {
          act.tx().advisoryLock(ONE_AT_A_TIME);
          AppStore store = new AppStore(act.tx());
          Map<String, AppRow> apps = store.ofPackages(names.keySet());
          Map<String, AppReleaseRow> releases = store.releases(apps.values(), CODE);
          names.forEach(
              (id, name) -> {
                Optional<AppRow> there = Optional.ofNullable(apps.get(id));
                if (there.filter(a -> !a.origin.equals(Words.of(Origin.SYSTEM))).isPresent()) {
                  return; // somebody's own had the name first
                }
                AppRow row = there.orElseGet(() -> made(act, id, name));
                row.name = name;
                String from = Json.write(lowest.get(id));
                Optional.ofNullable(releases.get(row.id))
                        .orElseGet(() -> release(act, row, from))
                        .lowest =
                    from;
              });
        });
  }

  private static AppRow made(UseCases.Act act, String packageId, String name) {
    Tx tx = act.tx();
    AppRow row = new AppRow();
    row.id = act.newId();
    row.key = Apps.key(tx, packageId);
    row.packageId = packageId;
    row.name = name;
    row.publisher = "";
    row.summary = "";
    row.category = "";
    row.origin = Words.of(Origin.SYSTEM);
    row.createdAt = act.now();
    row.changedAt = act.now();
    tx.insert(row);
    tx.flush();
    return row;
  }

  private static AppReleaseRow release(UseCases.Act act, AppRow app, String lowest) {
    AppReleaseRow release = new AppReleaseRow();
    release.appId = app.id;
    release.code = CODE;
    release.version = "with the OS";
    release.lowest = lowest;
    release.permissions = new String[0];
    release.notes = "";
    release.sha256 = "";
    release.broughtAt = act.now();
    release.broughtBy = "";
    act.tx().insert(release);
    return release;
  }
}
