package dev.pinwright.service.session;

import dev.pinwright.core.catalog.Catalog;
import dev.pinwright.core.device.DeviceState;
import dev.pinwright.core.session.Verdict;
import dev.pinwright.core.tree.Leaf;
import dev.pinwright.core.tree.Refused;
import dev.pinwright.service.device.Activity;
import dev.pinwright.service.shape.Shapes;
import dev.pinwright.storage.Tx;
import java.time.Instant;
import java.util.Map;

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
    tx.execute(
        """
        insert into refusal (device_id, path, format, value_hash, code, reason, at)
        values (:d, :p, :f, :h, :c, :r, :now)
        on conflict (device_id, path) do update
          set format = excluded.format, value_hash = excluded.value_hash, code = excluded.code,
              reason = excluded.reason, at = excluded.at
        """,
        Map.of(
            "d",
            state.deviceId(),
            "p",
            refused.path(),
            "f",
            leaf.format(),
            "h",
            Refused.leaf(refused.path(), leaf),
            "c",
            refused.code(),
            "r",
            refused.reason(),
            "now",
            now));
    String title = catalog.settingAt(refused.path()).map(s -> s.title()).orElse(refused.path());
    Activity.add(tx, state.deviceId(), now, "refused", title + ": " + refused.reason());
    return shapes.retargeted(tx, state, state.refused().and(refused.path(), leaf));
  }

  /** Refusals of values that are no longer wanted are no longer of interest. */
  DeviceState forgetOld(Tx tx, DeviceState state) {
    Refused kept = state.refused().among(shapes.ofShape(tx, state));
    if (kept.equals(state.refused())) {
      return state;
    }
    tx.execute(
        "delete from refusal where device_id = :d and not (value_hash = any(cast(:kept as text[])))",
        Map.of("d", state.deviceId(), "kept", kept.leaves().toArray(String[]::new)));
    return state.wanting(state.desired(), kept);
  }

  /** Everything the device refused is tried again. */
  DeviceState forgetAll(Tx tx, DeviceState state) {
    tx.execute("delete from refusal where device_id = :d", Map.of("d", state.deviceId()));
    return shapes.retargeted(tx, state, Refused.NOTHING);
  }
}
