package dev.pinwright.core.change;

import dev.pinwright.core.policy.Effective;
import dev.pinwright.core.policy.Shape;
import dev.pinwright.core.tree.Edit;
import dev.pinwright.core.tree.Refused;
import dev.pinwright.core.tree.Tree;
import java.util.List;

/**
 * What becomes of devices that move alike.
 *
 * @param id names these devices within one proposal
 * @param devices how many there are, at least one
 * @param examples ids of some of them, at most {@link Rehearsal#EXAMPLES}
 * @param to the shape they would have
 * @param refused what each of them refused
 * @param before the tree they should hold now
 * @param after the tree they would have to hold: that of their new shape without what they refused
 * @param effective what their new shape resolves to
 * @param edits what changes on each of them
 */
public record Move(
    String id,
    long devices,
    List<String> examples,
    Shape to,
    Refused refused,
    Tree before,
    Tree after,
    Effective effective,
    List<Edit> edits) {
  public Move {
    examples = List.copyOf(examples);
    edits = List.copyOf(edits);
  }

  /**
   * Works a move out.
   *
   * @param whole the tree of the new shape, compiled from {@code effective}
   */
  public static Move of(
      String id,
      long devices,
      List<String> examples,
      Shape to,
      Refused refused,
      Tree before,
      Tree whole,
      Effective effective) {
    Tree after = refused.takenOutOf(whole);
    return new Move(
        id, devices, examples, to, refused, before, after, effective, Edit.between(before, after));
  }
}
