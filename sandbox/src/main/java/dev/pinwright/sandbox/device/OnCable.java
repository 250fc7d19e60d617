package dev.pinwright.sandbox.device;

import dev.pinwright.core.catalog.Catalog;
import dev.pinwright.core.device.OsVersion;
import dev.pinwright.protocol.dm.Dm;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;

/** What the cable of a bench does to a device, whether it has a network or not. */
public final class OnCable {
  private final SimulatedDevice device;
  private final Catalog catalog;
  private final Model model;
  private final State state;

  OnCable(SimulatedDevice device, Catalog catalog, Model model, State state) {
    this.device = device;
    this.catalog = catalog;
    this.model = model;
    this.state = state;
  }

  /** What the device tells of itself. */
  public Map<String, String> facts() {
    Map<String, String> out = new TreeMap<>();
    device
        .tree()
        .read("./Vendor/Pinwright")
        .forEach(
            (path, leaf) -> {
              if (path.startsWith(Dm.FACTS + "/")) {
                out.put(path.substring(Dm.FACTS.length() + 1), leaf.value());
              }
            });
    return out;
  }

  /** Takes its passcode away. */
  public void clearPasscode() {
    synchronized (device) {
      state.passcode = null;
      device.factsChanged();
    }
  }

  /** Gives it a name. */
  public void name(String name) {
    synchronized (device) {
      state.givenName = name;
      device.factsChanged();
    }
  }

  /** Puts another version of its OS on it; why not, where it cannot be. */
  public Optional<String> putOs(String version) {
    boolean known =
        catalog.platform(model.platform()).orElseThrow().versions().stream()
            .anyMatch(v -> v.toString().equals(version));
    if (!known) {
      return Optional.of("there is no " + model.platform() + " " + version);
    }
    synchronized (device) {
      if (!OsVersion.parse(version).atLeast(OsVersion.parse(state.osVersion))) {
        return Optional.of("it has " + state.osVersion + ", and there is no way back");
      }
      device.updateOs(version);
    }
    return Optional.empty();
  }

  /** Puts a document on it. */
  public void putDocument(String title, String file) {
    synchronized (device) {
      state.documents.put(title, file);
      device.factsChanged();
    }
  }

  /** What it was prepared with. */
  public Object backUp() {
    synchronized (device) {
      return new State.Backup(
          state.wallpaper, new TreeMap<>(state.apps), new TreeMap<>(state.documents));
    }
  }

  /** Gets what another one was prepared with. */
  public void restoreFrom(Object backup) {
    if (backup instanceof State.Backup b) {
      synchronized (device) {
        state.wallpaper = b.wallpaper();
        b.apps().forEach(state.apps::putIfAbsent);
        state.documents.putAll(b.documents());
        device.factsChanged();
      }
    }
  }
}
