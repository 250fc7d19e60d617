package dev.pinwright.service.session;

import dev.pinwright.core.catalog.Catalog;
import dev.pinwright.core.command.DeviceAnswer;
import dev.pinwright.core.tree.Leaf;
import dev.pinwright.core.tree.Tree;
import dev.pinwright.service.device.Activity;
import dev.pinwright.service.rules.Shapes;
import dev.pinwright.service.session.Conversation.Sent;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.row.DeviceRow;
import dev.pinwright.storage.row.ShapeRow;
import java.time.Instant;
import java.util.Arrays;
import java.util.Map;
import java.util.TreeSet;

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
  void refuse(Tx tx, DeviceRow device, Sent edit, int code, Instant now) {
    Leaf leaf = new Leaf(String.valueOf(edit.format()), String.valueOf(edit.value()));
    String reason = DeviceAnswer.reason(code);
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
            device.id,
            "p",
            edit.ref(),
            "f",
            leaf.format(),
            "h",
            Shapes.refusedLeaf(edit.ref(), leaf),
            "c",
            code,
            "r",
            reason,
            "now",
            now));
    TreeSet<String> lines = lines(device.refused);
    lines.add(Shapes.refusedLeaf(edit.ref(), leaf));
    device.refused = String.join("\n", lines);
    retarget(tx, device);
    String title = catalog.settingAt(edit.ref()).map(s -> s.title()).orElse(edit.ref());
    Activity.add(tx, device.id, now, "refused", title + ": " + reason);
  }

  static TreeSet<String> lines(String refused) {
    return refused.isEmpty() ? new TreeSet<>() : new TreeSet<>(Arrays.asList(refused.split("\n")));
  }

  private Tree shapeTree(Tx tx, DeviceRow device) {
    return tx.find(ShapeRow.class, device.shapeKey == null ? "" : device.shapeKey)
        .flatMap(s -> shapes.tree(tx, s.digest))
        .orElse(Tree.EMPTY);
  }

  /** Points the device at its shape's tree without what it refused. */
  void retarget(Tx tx, DeviceRow device) {
    Tree tree = Shapes.without(shapeTree(tx, device), device.refused);
    shapes.store(tx, tree);
    device.desiredDigest = tree.digest();
  }

  /** Refusals of values that are no longer wanted are no longer of interest. */
  void forgetOld(Tx tx, DeviceRow device) {
    if (device.refused.isEmpty()) {
      return;
    }
    TreeSet<String> wanted = new TreeSet<>();
    shapeTree(tx, device).leaves().forEach((p, l) -> wanted.add(Shapes.refusedLeaf(p, l)));
    TreeSet<String> kept = lines(device.refused);
    if (kept.retainAll(wanted)) {
      device.refused = String.join("\n", kept);
      tx.flush();
      tx.execute(
          "delete from refusal where device_id = :d"
              + " and not (value_hash = any(cast(:kept as text[])))",
          Map.of("d", device.id, "kept", kept.toArray(String[]::new)));
    }
  }
}
