package dev.pinwright.core.tree;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;

/** One step from a reported tree to a desired one. */
public sealed interface Edit {
  /** LocURI of the leaf. */
  String path();

  /** Put a leaf that is not there. */
  record Add(String path, Leaf leaf) implements Edit {}

  /** Change a leaf that is there. */
  record Replace(String path, Leaf leaf) implements Edit {}

  /** Take a leaf away. */
  record Delete(String path) implements Edit {}

  /** The steps that make {@code reported} equal to {@code desired}: deletions first. */
  static List<Edit> between(Tree reported, Tree desired) {
    List<Edit> edits = new ArrayList<>();
    reported.leaves().keySet().stream()
        .filter(p -> !desired.leaves().containsKey(p))
        .forEach(p -> edits.add(new Delete(p)));
    desired
        .leaves()
        .forEach(
            (path, leaf) -> {
              Leaf there = reported.leaves().get(path);
              if (there == null) {
                edits.add(new Add(path, leaf));
              } else if (!there.equals(leaf)) {
                edits.add(new Replace(path, leaf));
              }
            });
    return edits;
  }

  /** A tree after some steps. */
  static Tree apply(Tree tree, List<Edit> edits) {
    Map<String, Leaf> leaves = new TreeMap<>(tree.leaves());
    for (Edit edit : edits) {
      if (edit instanceof Add add) {
        leaves.put(add.path(), add.leaf());
      } else if (edit instanceof Replace replace) {
        leaves.put(replace.path(), replace.leaf());
      } else {
        leaves.remove(edit.path());
      }
    }
    return new Tree(leaves);
  }
}
