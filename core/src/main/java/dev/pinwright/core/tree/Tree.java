package dev.pinwright.core.tree;

import dev.pinwright.core.Sha256;
import java.util.Collections;
import java.util.Comparator;
import java.util.Map;
import java.util.SortedMap;
import java.util.TreeMap;
import java.util.function.Predicate;
import org.jspecify.annotations.Nullable;

/**
 * The leaves of a policy subtree by full LocURI, in byte order of path. Immutable; equal trees have
 * equal digests.
 */
public final class Tree {
  /** Byte order of UTF-8 is order of code points; that of chars differs at surrogates only. */
  private static final Comparator<String> BYTE_ORDER =
      (a, b) -> {
        int shorter = Math.min(a.length(), b.length());
        for (int i = 0; i < shorter; i++) {
          char x = a.charAt(i);
          char y = b.charAt(i);
          if (x != y) {
            int bySurrogate = Boolean.compare(Character.isSurrogate(x), Character.isSurrogate(y));
            return bySurrogate != 0 ? bySurrogate : Character.compare(x, y);
          }
        }
        return Integer.compare(a.length(), b.length());
      };

  /** The tree without a leaf. */
  public static final Tree EMPTY = new Tree(Map.of());

  private final SortedMap<String, Leaf> leaves;
  private volatile @Nullable String digest;

  public Tree(Map<String, Leaf> leaves) {
    TreeMap<String, Leaf> sorted = new TreeMap<>(BYTE_ORDER);
    sorted.putAll(leaves);
    this.leaves = Collections.unmodifiableSortedMap(sorted);
  }

  /** Every leaf, in byte order of path. */
  public SortedMap<String, Leaf> leaves() {
    return leaves;
  }

  /**
   * Lower-case hex SHA-256 over {@code path=format:value} and a line feed for each leaf, in byte
   * order of path, UTF-8.
   */
  public String digest() {
    String known = digest;
    if (known == null) {
      known = Sha256.hex(canonical());
      digest = known;
    }
    return known;
  }

  private String canonical() {
    StringBuilder sb = new StringBuilder();
    leaves.forEach(
        (path, leaf) ->
            sb.append(path)
                .append('=')
                .append(leaf.format())
                .append(':')
                .append(leaf.value())
                .append('\n'));
    return sb.toString();
  }

  /** This tree without the leaves the predicate names. */
  public Tree without(Predicate<Map.Entry<String, Leaf>> unwanted) {
    Map<String, Leaf> kept = new TreeMap<>();
    leaves.entrySet().stream()
        .filter(unwanted.negate())
        .forEach(e -> kept.put(e.getKey(), e.getValue()));
    return new Tree(kept);
  }

  @Override
  public boolean equals(Object o) {
    return o instanceof Tree t && t.leaves.equals(leaves);
  }

  @Override
  public int hashCode() {
    return leaves.hashCode();
  }

  @Override
  public String toString() {
    return canonical();
  }
}
