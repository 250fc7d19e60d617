package dev.pinwright.acceptance;

import dev.pinwright.core.session.Subtree;
import dev.pinwright.core.tree.Leaf;
import dev.pinwright.core.tree.Tree;
import dev.pinwright.protocol.dm.DeviceSession.Outstanding;
import dev.pinwright.protocol.dm.DeviceSide;
import dev.pinwright.protocol.dm.Dm;
import java.util.HashSet;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;

/** A device that is not ours: it keeps the leaves it is told and shows texts, and knows no more. */
class StrangeDevice implements DeviceSide {
  final Map<String, Leaf> leaves = new TreeMap<>();
  final Set<String> shown = new HashSet<>();

  StrangeDevice() {
    leaves.put(Dm.FACTS + "/system/os-version", new Leaf("chr", "7.2"));
  }

  /** What it has of a subtree. */
  final Map<String, Leaf> of(Subtree subtree) {
    return read(subtree.root());
  }

  /** The alert that tells the digest of a subtree. */
  final Outstanding digest(Subtree subtree) {
    return Wire.alert(subtree.digestAlert(), new Tree(of(subtree)).digest());
  }

  @Override
  public Map<String, Leaf> read(String uri) {
    Map<String, Leaf> found = new TreeMap<>(leaves);
    found.keySet().removeIf(path -> !path.startsWith(uri));
    return found;
  }

  @Override
  public int put(String uri, Leaf leaf, boolean mayExist) {
    leaves.put(uri, leaf);
    return Dm.OK;
  }

  @Override
  public int delete(String uri) {
    return leaves.remove(uri) == null ? Dm.NOT_FOUND : Dm.OK;
  }

  @Override
  public int exec(String uri, @Nullable String data, @Nullable String correlator) {
    return Dm.NOT_SUPPORTED;
  }

  @Override
  public int show(String text, @Nullable String correlator) {
    shown.add(text);
    return Dm.OK;
  }

  @Override
  public int choose(String text, java.util.List<String> choices, String correlator) {
    return 406;
  }

  @Override
  public int confirm(String text, @Nullable String correlator) {
    return Dm.NOT_SUPPORTED;
  }

  @Override
  public Object snapshot() {
    return new TreeMap<>(leaves);
  }

  @Override
  @SuppressWarnings("unchecked")
  public boolean restore(Object snapshot) {
    leaves.clear();
    leaves.putAll((Map<String, Leaf>) snapshot);
    return true;
  }
}
