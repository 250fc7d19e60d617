package dev.pinwright.service.app;

import com.fasterxml.jackson.core.type.TypeReference;
import dev.pinwright.core.app.AppGoal;
import dev.pinwright.core.app.Origin;
import dev.pinwright.core.app.Release;
import dev.pinwright.core.app.WantedApp;
import dev.pinwright.core.device.OsVersion;
import dev.pinwright.core.license.LicenseState;
import dev.pinwright.core.license.Licensing;
import dev.pinwright.core.organisation.LargePackages;
import dev.pinwright.protocol.dm.InstallOrder;
import dev.pinwright.service.work.Json;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.app.AppStore;
import dev.pinwright.storage.row.DeviceRow;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** What single devices should have of apps: what is assigned to them, met with what there is. */
public final class AppGoals {
  private static final TypeReference<Map<String, String>> LOWEST = new TypeReference<>() {};

  private AppGoals() {}

  /** What a device should have of each app that is assigned to it. */
  public static List<AppGoal> of(Tx tx, DeviceRow device, List<WantedApp> wanted) {
    if (wanted.isEmpty()) {
      return List.of();
    }
    Map<String, AppStore.Wanted> known = new HashMap<>();
    new AppStore(tx)
        .wanted(
            device.id,
            wanted.stream().map(WantedApp::key).toList(),
            wanted.stream().map(w -> w.release().orElse(0L)).toList())
        .forEach(a -> known.put(a.key(), a));
    OsVersion os = OsVersion.parse(device.osVersion);
    List<AppGoal> goals = new ArrayList<>();
    for (WantedApp w : wanted) {
      AppStore.Wanted app = known.get(w.key());
      if (app != null) {
        Optional<Release> release = release(app);
        goals.add(
            new AppGoal(
                app.packageId(),
                app.name(),
                Map.of(
                    "publisher", app.publisher(),
                    "summary", app.summary(),
                    "category", app.category()),
                w.at(large(app)),
                app.origin() == Origin.SYSTEM ? Optional.empty() : release,
                InstallOrder.digest(InstallOrder.merged(w.configuration(), w.secrets())),
                release.flatMap(r -> r.objection(device.platform, os)),
                unlicensed(app)));
      }
    }
    return goals;
  }

  /** When its package comes in as a large one of the site; empty for at any time. */
  private static Optional<String> large(AppStore.Wanted app) {
    return app.largeAboveMb()
        .map(mb -> new LargePackages(mb, app.largeHours().orElseThrow()))
        .flatMap(large -> large.hours(app.bytes()));
  }

  private static Optional<Release> release(AppStore.Wanted app) {
    if (app.code() == 0) {
      return Optional.empty();
    }
    Map<String, OsVersion> lowest = new HashMap<>();
    Json.read(app.lowest(), LOWEST).forEach((p, v) -> lowest.put(p, OsVersion.parse(v)));
    return Optional.of(
        new Release(
            app.code(),
            app.version(),
            lowest,
            app.bytes(),
            app.sha256(),
            app.address().or(() -> app.cache().map(c -> c + "/content/sha256/" + app.sha256()))));
  }

  private static Optional<AppGoal.Unlicensed> unlicensed(AppStore.Wanted app) {
    Licensing licensing = app.licensing().orElse(Licensing.FREE);
    if (licensing == Licensing.FREE || app.license().equals(Optional.of(LicenseState.HELD))) {
      return Optional.empty();
    }
    if (app.licensee().isEmpty()) {
      return Optional.of(
          new AppGoal.Unlicensed(
              licensing == Licensing.BY_HOLDER
                  ? "its licenses are for holders, and nobody with a mail address holds this device"
                  : "its licenses are for serial numbers, and this device has none",
              false));
    }
    boolean coming = app.license().isPresent() || app.free();
    return Optional.of(
        new AppGoal.Unlicensed(
            coming ? "a license of it is on its way" : "no license of it is free", coming));
  }
}
