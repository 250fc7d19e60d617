package dev.pinwright.protocol.dm;

import dev.pinwright.core.Text;
import dev.pinwright.core.app.Installed;
import dev.pinwright.core.app.Inventory;
import dev.pinwright.core.session.Subtree;
import dev.pinwright.core.tree.Leaf;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;

/**
 * The apps on a device as its tree has them: {@code
 * ./SCM/Inventory/Deployed/<x>/{ID,Name,Version,State,Ext/{Managed,Size,Source,Config}}} (OMA SCOMO
 * 1.0, 5.3), where {@code <x>} is whatever the device calls the node.
 */
public final class Inventories {
  private static final String ROOT = Subtree.INVENTORY.root() + "/";
  private static final int MOST = 200;

  private Inventories() {}

  /** What a device tells. What has no id is left out, as is what is more than is kept. */
  public static Inventory read(Map<String, Leaf> leaves) {
    Map<String, Map<String, String>> nodes = new TreeMap<>();
    leaves.forEach(
        (path, leaf) -> {
          String[] parts =
              path.startsWith(ROOT) ? path.substring(ROOT.length()).split("/", 2) : new String[0];
          if (parts.length == 2) {
            nodes.computeIfAbsent(parts[0], n -> new TreeMap<>()).put(parts[1], leaf.value());
          }
        });
    List<Installed> apps = new ArrayList<>();
    for (Map.Entry<String, Map<String, String>> node : nodes.entrySet()) {
      Map<String, String> of = node.getValue();
      String id = text(of, "ID");
      if (!id.isEmpty() && apps.size() < Inventory.MOST) {
        String name = text(of, "Name");
        apps.add(
            new Installed(
                id,
                name.isEmpty() ? id : name,
                text(of, "Version"),
                !text(of, "State").equals("inactive"),
                text(of, "Ext/Managed").equals("true"),
                bytes(text(of, "Ext/Size")),
                text(of, "Ext/Source"),
                text(of, "Ext/Config"),
                node.getKey()));
      }
    }
    return Inventory.of(apps);
  }

  private static String text(Map<String, String> of, String name) {
    return Text.cleaned(of.getOrDefault(name, ""), MOST);
  }

  private static long bytes(String text) {
    return text.matches("\\d{1,15}") ? Long.parseLong(text) : 0;
  }

  /** The leaves of an inventory. */
  public static Map<String, Leaf> write(Inventory inventory) {
    Map<String, Leaf> leaves = new TreeMap<>();
    inventory
        .apps()
        .values()
        .forEach(
            a -> {
              String node = ROOT + a.node() + "/";
              leaves.put(node + "ID", new Leaf("chr", a.id()));
              leaves.put(node + "Name", new Leaf("chr", a.name()));
              leaves.put(node + "Version", new Leaf("chr", a.version()));
              leaves.put(node + "State", new Leaf("chr", a.active() ? "active" : "inactive"));
              leaves.put(node + "Ext/Managed", new Leaf("bool", String.valueOf(a.managed())));
              leaves.put(node + "Ext/Size", new Leaf("int", String.valueOf(a.bytes())));
              leaves.put(node + "Ext/Source", new Leaf("chr", a.source()));
              leaves.put(node + "Ext/Config", new Leaf("chr", a.configuration()));
            });
    return leaves;
  }

  /** LocURI of the operation that takes an app away. */
  public static String removal(Installed app) {
    return ROOT + app.node() + Dm.REMOVE;
  }

  /** LocURI of the operation that lets an app be opened again. */
  public static String activation(Installed app) {
    return ROOT + app.node() + Dm.ACTIVATE;
  }
}
