package dev.pinwright.service.session;

import dev.pinwright.core.catalog.Catalog;
import dev.pinwright.core.device.DeviceState;
import dev.pinwright.core.session.Verdict;
import dev.pinwright.core.tree.Leaf;
import dev.pinwright.core.tree.Refused;
import dev.pinwright.service.shape.Shapes;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.device.ActivityStore;
import dev.pinwright.storage.device.RefusalStore;
import java.time.Instant;
import java.util.List;

/**
 * What a device refused: kept per setting with its reason, and left out of the tree it should hold.
 */
final class Refusals {
  private final Catalog catalog;
  private final Shapes shapes;

  Refusals(Catalog catalog, Shapes shapes) {
    this.catalog = catalog;
    this.shapes = shapes;
  }

  /** Writes down that a device refused one value, and stops wanting it of this device. */
  DeviceState refuse(Tx tx, DeviceState state, Verdict.RefusedLeaf refused, Instant now) {
    Leaf leaf = refused.leaf();
    new RefusalStore(tx)
        .keep(
            state.deviceId(),
            new RefusalStore.Refusal(refused.path(), refused.code(), refused.reason(), now),
            leaf);
    String title = catalog.settingAt(refused.path()).map(s -> s.title()).orElse(refused.path());
    new ActivityStore(tx).add(state.deviceId(), now, "refused", title + ": " + refused.reason());
    return shapes.retargeted(tx, state, state.refused().and(refused.path(), leaf));
  }

  /** Titles of the settings a device refused. */
  List<String> titles(Tx tx, String deviceId) {
    return new RefusalStore(tx)
        .of(deviceId).stream()
            .map(r -> catalog.settingAt(r.path()).map(s -> s.title()).orElse(r.path()))
            .distinct()
            .toList();
  }

  /** Refusals of values that are no longer wanted are no longer of interest. */
  DeviceState forgetOld(Tx tx, DeviceState state) {
    Refused kept = state.refused().among(shapes.ofShape(tx, state));
    if (kept.equals(state.refused())) {
      return state;
    }
    new RefusalStore(tx).keepOnly(state.deviceId(), kept);
    return state.wanting(state.desired(), kept);
  }

  /** Everything the device refused is tried again. */
  DeviceState forgetAll(Tx tx, DeviceState state) {
    new RefusalStore(tx).keepOnly(state.deviceId(), Refused.NOTHING);
    return shapes.retargeted(tx, state, Refused.NOTHING);
  }
}
