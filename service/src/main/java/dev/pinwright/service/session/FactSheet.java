package dev.pinwright.service.session;

import com.fasterxml.jackson.core.type.TypeReference;
import com.github.f4b6a3.ulid.UlidCreator;
import dev.pinwright.core.Words;
import dev.pinwright.core.catalog.Catalog;
import dev.pinwright.core.command.CommandState;
import dev.pinwright.core.device.DeviceState;
import dev.pinwright.core.device.OsVersion;
import dev.pinwright.core.device.Ownership;
import dev.pinwright.core.notice.News;
import dev.pinwright.core.tree.Leaf;
import dev.pinwright.core.watch.Watch;
import dev.pinwright.protocol.dm.Dm;
import dev.pinwright.protocol.syncml.Element.Item;
import dev.pinwright.service.acting.Commands;
import dev.pinwright.service.gateway.PushSubscriptions;
import dev.pinwright.service.shape.Shapes;
import dev.pinwright.service.work.Json;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.device.ActivityStore;
import dev.pinwright.storage.device.DeviceStates;
import dev.pinwright.storage.house.NoticeStore;
import dev.pinwright.storage.row.DeviceRow;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;

/** What a device says of itself, put on file as far as it may be collected. */
final class FactSheet {
  private static final TypeReference<TreeMap<String, String>> TEXTS = new TypeReference<>() {};

  private final Catalog catalog;
  private final Shapes shapes;
  private final Refusals refusals;

  FactSheet(Catalog catalog, Shapes shapes, Refusals refusals) {
    this.catalog = catalog;
    this.shapes = shapes;
    this.refusals = refusals;
  }

  /** Takes the facts of one answer; those that may not be collected are dropped. */
  DeviceState take(
      Tx tx, DeviceRow device, DeviceState state, List<Item> items, Conversation c, Instant now) {
    Ownership ownership = Words.parse(Ownership.class, device.ownership);
    Map<String, String> facts = new TreeMap<>();
    Map<String, Leaf> told = Turn.leaves(items);
    Leaf endpoint = told.get(Dm.FACTS + "/" + PushSubscriptions.FACT);
    PushSubscriptions.told(tx, device, endpoint == null ? "" : endpoint.value(), now);
    told.forEach(
        (path, leaf) -> {
          String key =
              path.startsWith(Dm.FACTS + "/") ? path.substring(Dm.FACTS.length() + 1) : path;
          // what must not be collected on this ownership is dropped here, whoever sends it
          catalog
              .fact(key)
              .filter(f -> f.collectedOn().contains(ownership))
              .flatMap(f -> f.read(leaf.value()))
              .ifPresent(v -> facts.put(key, v));
        });
    String before = device.facts;
    device.facts = Json.write(facts);
    Watch.between(Json.read(before, TEXTS), facts).forEach(w -> changed(tx, device, w, now));
    c.factsWanted = false;
    for (String id : c.refreshing) {
      Commands.step(tx, device.id, id, CommandState.DONE, "", now);
    }
    c.refreshing.clear();
    DeviceState read =
        osVersion(tx, device, state.factsRead(now), facts.get("system/os-version"), now);
    return Json.tree(device.facts).equals(Json.tree(before)) ? read : followed(tx, device, read);
  }

  /** Tells a change for the worse: in the device's activity, and at once where it is urgent. */
  private static void changed(Tx tx, DeviceRow device, Watch.Change change, Instant now) {
    new ActivityStore(tx).add(device.id, now, "watch", change.words());
    if (change.watch().urgent()) {
      new NoticeStore(tx)
          .give(
              UlidCreator.getMonotonicUlid().toString(),
              News.watched(device.id, device.name, change, now),
              now);
    }
  }

  private DeviceState followed(Tx tx, DeviceRow device, DeviceState state) {
    DeviceStates states = new DeviceStates(tx);
    states.put(state);
    return shapes.follow(tx, List.of(device.id)) ? states.lock(device.id).orElseThrow() : state;
  }

  private DeviceState osVersion(
      Tx tx, DeviceRow device, DeviceState state, @Nullable String told, Instant now) {
    if (told == null || told.equals(device.osVersion)) {
      return state;
    }
    OsVersion version;
    try {
      version = OsVersion.parse(told);
    } catch (IllegalArgumentException e) {
      return state;
    }
    new ActivityStore(tx)
        .add(device.id, now, "os", "OS " + device.osVersion + " became " + version);
    device.osVersion = version.toString();
    device.osLevel = catalog.osLevel(device.platform, version).toString();
    // what an earlier version refused is tried again
    DeviceStates states = new DeviceStates(tx);
    states.put(refusals.forgetAll(tx, state));
    shapes.place(tx, List.of(device.id));
    return states.lock(device.id).orElseThrow();
  }
}
