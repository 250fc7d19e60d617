package dev.pinwright.core.tree;

import dev.pinwright.core.Sha256;
import java.util.Arrays;
import java.util.Collections;
import java.util.Set;
import java.util.SortedSet;
import java.util.TreeSet;

/**
 * The leaves one device does not take: each a path with one value. The same path with another value
 * is tried again. Devices that refused the same leaves are handled together.
 *
 * @param leaves in order; each as {@link #leaf} writes it
 */
public record Refused(SortedSet<String> leaves) {
  /** Slashes in the path of a setting that belongs to no entry. */
  private static final int DEPTH_OF_A_SETTING = 5;

  /** Nothing refused. */
  public static final Refused NOTHING = new Refused(Collections.emptySortedSet());

  public Refused {
    leaves = Collections.unmodifiableSortedSet(new TreeSet<>(leaves));
  }

  /** How a refused leaf is kept: its path and the first 16 hex digits of a hash of its value. */
  public static String leaf(String path, Leaf leaf) {
    return path + "=" + Sha256.hex(leaf.format() + ":" + leaf.value()).substring(0, 16);
  }

  /** From {@link #text}. */
  public static Refused parse(String text) {
    return text.isEmpty() ? NOTHING : new Refused(new TreeSet<>(Arrays.asList(text.split("\n"))));
  }

  /** One leaf a line, in order; empty for nothing. */
  public String text() {
    return String.join("\n", leaves);
  }

  /** Paths of the leaves. */
  public Set<String> paths() {
    Set<String> paths = new TreeSet<>();
    leaves.forEach(leaf -> paths.add(leaf.substring(0, leaf.lastIndexOf('='))));
    return paths;
  }

  /** This and one more. */
  public Refused and(String path, Leaf leaf) {
    TreeSet<String> more = new TreeSet<>(leaves);
    more.add(leaf(path, leaf));
    return new Refused(more);
  }

  /** What of this a tree still asks for; the rest is no longer of interest. */
  public Refused among(Tree tree) {
    TreeSet<String> kept = new TreeSet<>();
    tree.leaves().forEach((path, leaf) -> kept.add(leaf(path, leaf)));
    kept.retainAll(leaves);
    return new Refused(kept);
  }

  /**
   * A tree without what was refused: what such a device is expected to hold. Where a leaf of an
   * entry was refused ({@code ./Vendor/Pinwright/Policy/section/entry/name}), the whole entry goes.
   */
  public Tree takenOutOf(Tree tree) {
    Set<String> out = new TreeSet<>();
    tree.leaves()
        .forEach(
            (path, leaf) -> {
              if (leaves.contains(leaf(path, leaf))) {
                out.add(whole(path));
              }
            });
    return out.isEmpty() ? tree : tree.without(e -> out.contains(whole(e.getKey())));
  }

  /** The path itself; of a leaf of an entry, the entry's. */
  private static String whole(String path) {
    return path.chars().filter(ch -> ch == '/').count() > DEPTH_OF_A_SETTING
        ? path.substring(0, path.lastIndexOf('/'))
        : path;
  }
}
