package dev.pinwright.core.tree;

import dev.pinwright.core.Sha256;
import java.util.Arrays;
import java.util.Collections;
import java.util.SortedSet;
import java.util.TreeSet;

/**
 * The leaves one device does not take: each a path with one value. The same path with another value
 * is tried again. Devices that refused the same leaves are handled together.
 *
 * @param leaves in order; each as {@link #leaf} writes it
 */
public record Refused(SortedSet<String> leaves) {
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

  /** A tree without what was refused: what such a device is expected to hold. */
  public Tree takenOutOf(Tree tree) {
    return leaves.isEmpty()
        ? tree
        : tree.without(e -> leaves.contains(leaf(e.getKey(), e.getValue())));
  }
}
