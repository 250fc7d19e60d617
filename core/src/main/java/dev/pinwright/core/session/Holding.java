package dev.pinwright.core.session;

import dev.pinwright.core.tree.Edit;
import dev.pinwright.core.tree.Leaf;
import dev.pinwright.core.tree.Tree;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;

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
  private static final Leaf UNKNOWN = new Leaf("unknown", "");

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
    Verdict.Refused refused = (Verdict.Refused) verdict;
    Tree known = tree.orElse(Tree.EMPTY);
    boolean news = refused.present().stream().anyMatch(p -> !known.leaves().containsKey(p));
    boolean nothingToLeaveOut = refused.leaves().isEmpty() && !news;
    return new Holding(
        reported,
        news ? Optional.of(present(known, refused.present())) : tree,
        asked,
        stuck || nothingToLeaveOut,
        rounds);
  }

  /** A tree with leaves whose value is unknown, and so will be replaced by what is desired. */
  private static Tree present(Tree tree, List<String> paths) {
    Map<String, Leaf> leaves = new TreeMap<>(tree.leaves());
    paths.forEach(p -> leaves.putIfAbsent(p, UNKNOWN));
    return new Tree(leaves);
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

  /** Leave this edit out: a message that holds nothing else does not hold it. */
  public record TooLarge(Edit edit) implements Next {}

  /** Say nothing more of this subtree. */
  public record Nothing() implements Next {}

  /**
   * What comes next, on the way to a desired tree. A device that neither tells a digest we know nor
   * answers when it is asked is taken to hold nothing.
   *
   * @param room bytes there are for edits in a message that holds nothing else
   */
  public Next next(Tree desired, int room) {
    if (tree.isEmpty() && !asked) {
      return new Read();
    }
    List<Edit> edits = Edit.between(tree.orElse(Tree.EMPTY), desired);
    if (edits.isEmpty() || stuck || rounds >= MAX_ROUNDS) {
      return new Nothing();
    }
    Edit first = edits.get(0);
    return !(first instanceof Edit.Delete) && Portion.bytes(first) > room
        ? new TooLarge(first)
        : new Apply(Portion.of(edits, room));
  }
}
