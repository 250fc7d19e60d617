package dev.pinwright.sandbox.device;

import dev.pinwright.core.Words;
import dev.pinwright.core.catalog.Catalog;
import dev.pinwright.core.catalog.Setting;
import dev.pinwright.core.tree.Leaf;
import dev.pinwright.protocol.dm.Dm;
import dev.pinwright.protocol.dm.Leavings;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.TreeSet;

/** What on a device is the organisation's, and taking it off. Guarded by the device. */
record WorkPart(Catalog catalog, State state, AppBox apps) {

  /** Each thing of it, by what the holder would call it. */
  List<String> list() {
    List<String> out = new ArrayList<>();
    state.apps.values().stream()
        .filter(State.App::managed)
        .forEach(a -> out.add("App " + a.name()));
    Map<String, TreeSet<String>> entries = new TreeMap<>();
    Map<String, Integer> settings = new TreeMap<>();
    for (String path : state.policy.keySet()) {
      Optional<Setting> setting = catalog.settingAt(path);
      if (setting.isEmpty()) {
        continue;
      }
      String key = setting.get().section();
      String section =
          catalog.sections().stream()
              .filter(x -> x.key().equals(key))
              .findFirst()
              .orElseThrow()
              .title();
      String[] parts = path.substring(path.indexOf("/Policy/") + 8).split("/");
      if (parts.length > 2) {
        entries.computeIfAbsent(section, k -> new TreeSet<>()).add(parts[1]);
      } else {
        settings.merge(section, 1, Integer::sum);
      }
    }
    entries.forEach((section, keys) -> keys.forEach(k -> out.add(section + ": " + k)));
    settings.forEach((section, n) -> out.add(section + ": " + Words.counted(n, "setting")));
    if (!state.own.isEmpty()) {
      out.add("What it was told of itself and its holder");
    }
    return out;
  }

  /** {@link #list} as nodes (OMA LAWMO 1.0, AvailableWipeList). */
  Map<String, Leaf> leaves() {
    Map<String, Leaf> out = new TreeMap<>();
    int n = 0;
    for (String name : list()) {
      String node = "%s/%03d".formatted(Dm.WIPE_LIST, ++n);
      out.put(node + "/ListItemName", new Leaf("chr", name));
      out.put(node + "/ToBeWiped", new Leaf("bool", "true"));
    }
    return out;
  }

  /** What goes with management, and what stays. */
  Leavings leavings() {
    List<String> went = new ArrayList<>(list());
    List<String> stayed = new ArrayList<>();
    state.apps.values().stream()
        .filter(a -> !a.managed() || !a.goesWithManagement())
        .forEach(
            a -> {
              went.remove("App " + a.name());
              stayed.add("App " + a.name());
            });
    stayed.add("What its holder put on it");
    return new Leavings(went, stayed);
  }

  /** Takes it off. */
  void wipe() {
    apps.wipe();
    state.policy.clear();
    state.meddled.clear();
    state.files.clear();
    state.own.clear();
    state.kioskBackAt = 0;
    state.opened = "";
    state.wallpaper = "";
    state.recoveryWrappedFor = "";
  }
}
