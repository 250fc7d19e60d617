package dev.pinwright.core.session;

import dev.pinwright.core.tree.Edit;
import dev.pinwright.core.tree.Tree;
import java.util.List;
import java.util.Optional;

/**
 * What is known in a session of what a device holds of one subtree.
 *
 * @param reported the digest it told; none when it tells none
 * @param tree what it holds, when that is known
 * @param asked whether it was asked to tell all of it
 * @param stuck whether it turned down a set of edits and no single one of them
 * @param rounds how many sets of edits it was sent
 */
public record Holding(
    Optional<String> reported, Optional<Tree> tree, boolean asked, boolean stuck, int rounds) {
  /** Most sets of edits in one session; whoever needs more goes on in the next. */
  static final int MAX_ROUNDS = 60;

  /** What a device says at the beginning. */
  public static Holding reporting(Optional<String> digest) {
    return new Holding(digest, Optional.empty(), false, false, 0);
  }

  /** This, once it is known what the device holds. */
  public Holding knowing(Tree tree) {
    return new Holding(reported, Optional.of(tree), asked, stuck, rounds);
  }

  /** This, once the device was asked to tell all. */
  public Holding asking() {
    return new Holding(reported, tree, true, stuck, rounds);
  }

  /** This, once the device was sent a set of edits. */
  public Holding sending() {
    return new Holding(reported, tree, asked, stuck, rounds + 1);
  }

  /** This after the device's answer to a set of edits. */
  public Holding after(Verdict verdict) {
    if (verdict instanceof Verdict.Applied applied) {
      return tree.map(t -> knowing(Edit.apply(t, applied.edits()))).orElse(this);
    }
    boolean nothingToLeaveOut =
        verdict instanceof Verdict.Refused refused && refused.leaves().isEmpty();
    return new Holding(reported, tree, asked, stuck || nothingToLeaveOut, rounds);
  }

  /** Whether the device is known to hold exactly this. */
  public boolean matches(Tree desired) {
    return tree.filter(desired::equals).isPresent();
  }

  /** The digest to remember: of what it should hold when it does, else what it told. */
  public Optional<String> digest(Tree desired) {
    return matches(desired) ? Optional.of(desired.digest()) : reported;
  }

  /** What to say to a device. */
  public sealed interface Next {}

  /** Ask it to tell all of the subtree. */
  public record Read() implements Next {}

  /** Send it these edits, all or none. */
  public record Apply(List<Edit> edits) implements Next {}

  /** Say nothing more of this subtree. */
  public record Nothing() implements Next {}

  /**
   * What comes next, on the way to a desired tree. A device that neither tells a digest we know nor
   * answers when it is asked is taken to hold nothing.
   *
   * @param room bytes a message can take
   */
  public Next next(Tree desired, int room) {
    if (tree.isEmpty() && !asked) {
      return new Read();
    }
    List<Edit> edits = Edit.between(tree.orElse(Tree.EMPTY), desired);
    if (edits.isEmpty() || stuck || rounds >= MAX_ROUNDS) {
      return new Nothing();
    }
    return new Apply(Portion.of(edits, room));
  }
}
