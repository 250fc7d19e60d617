package dev.pinwright.core.change;

import dev.pinwright.core.app.Presence;
import dev.pinwright.core.app.WantedApp;
import dev.pinwright.core.policy.Effective;
import dev.pinwright.core.policy.Shape;
import dev.pinwright.core.tree.Edit;
import dev.pinwright.core.tree.Leaf;
import dev.pinwright.core.tree.Refused;
import dev.pinwright.core.tree.Tree;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;

/**
 * What becomes of devices that move alike.
 *
 * @param id names these devices within one proposal
 * @param devices how many there are, at least one
 * @param examples ids of some of them, at most {@link Rehearsal#EXAMPLES}
 * @param to the shape they would have
 * @param refused what each of them refused
 * @param before what they should have now
 * @param after what they would have to have: what their new shape asks for without what they
 *     refused
 * @param effective what their new shape resolves to
 * @param edits what changes on each of them
 */
public record Move(
    String id,
    long devices,
    List<String> examples,
    Shape to,
    Refused refused,
    Goal before,
    Goal after,
    Effective effective,
    List<Edit> edits) {
  private static final String APPS = "/" + WantedApp.SECTION + "/";

  public Move {
    examples = List.copyOf(examples);
    edits = List.copyOf(edits);
  }

  /**
   * What devices should have.
   *
   * @param policy their settings
   * @param wanted what else, see {@link Effective#wanted}
   */
  public record Goal(Tree policy, Tree wanted) {
    private Optional<Leaf> leaf(String path) {
      return Optional.ofNullable(policy.leaves().get(path))
          .or(() -> Optional.ofNullable(wanted.leaves().get(path)));
    }
  }

  /**
   * Works a move out.
   *
   * @param whole what the new shape asks for, compiled from {@code effective}
   */
  public static Move of(
      String id,
      long devices,
      List<String> examples,
      Shape to,
      Refused refused,
      Goal before,
      Goal whole,
      Effective effective) {
    Goal after = new Goal(refused.takenOutOf(whole.policy()), whole.wanted());
    List<Edit> edits = new ArrayList<>(Edit.between(before.policy(), after.policy()));
    edits.addAll(Edit.between(before.wanted(), after.wanted()));
    return new Move(id, devices, examples, to, refused, before, after, effective, edits);
  }

  /** Keys of the apps that are required from now on and were not before. */
  public Set<String> newlyRequired() {
    if (edits.stream().noneMatch(e -> e.path().contains(APPS))) {
      return Set.of();
    }
    return WantedApp.among(effective).stream()
        .filter(w -> w.presence() == Presence.REQUIRED)
        .map(WantedApp::key)
        .filter(
            key ->
                edits.stream()
                    .anyMatch(
                        e -> e.path().contains(APPS + key + "/") && e.path().endsWith("/presence")))
        .collect(Collectors.toUnmodifiableSet());
  }

  /** The leaf at a path before. */
  Optional<Leaf> leafBefore(String path) {
    return before.leaf(path);
  }

  /** The leaf at a path afterwards. */
  Optional<Leaf> leafAfter(String path) {
    return after.leaf(path);
  }
}
