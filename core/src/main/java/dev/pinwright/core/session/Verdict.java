package dev.pinwright.core.session;

import dev.pinwright.core.command.DeviceAnswer;
import dev.pinwright.core.tree.Edit;
import dev.pinwright.core.tree.Leaf;
import java.util.ArrayList;
import java.util.List;
import java.util.Set;

/** What a device's answer to a set of edits means. */
public sealed interface Verdict {
  /** It carried all of them out. */
  record Applied(List<Edit> edits) implements Verdict {}

  /**
   * It carried none of them out.
   *
   * @param leaves what it does not take; empty when it gave no reason
   * @param present leaves that were to be added and are there already, with a value nobody knows
   */
  record Refused(List<RefusedLeaf> leaves, List<String> present) implements Verdict {}

  /** A leaf a device does not take, with its status code and the words for it. */
  record RefusedLeaf(String path, Leaf leaf, int code, String reason) {}

  /** An edit and the status code it was answered with; 215 when it was not answered. */
  record Part(Edit edit, int code) {}

  /** The request is larger than the device takes (OMA SyncML RepPro 1.2, 10.3). */
  int TOO_LARGE = 413;

  /** The node is there already (OMA SyncML RepPro 1.2, 10.3). */
  int EXISTS = 418;

  /** Codes that say what became of the whole, not of one edit: 215, 216, 507, 516. */
  Set<Integer> OF_THE_WHOLE = Set.of(215, 216, 507, 516);

  /**
   * Judges an answer.
   *
   * @param code of the set as a whole
   */
  static Verdict of(int code, List<Part> parts) {
    if (code < 300) {
      return new Applied(parts.stream().map(Part::edit).toList());
    }
    List<RefusedLeaf> refused = new ArrayList<>();
    List<String> present = new ArrayList<>();
    for (Part p : parts) {
      if (p.code() == EXISTS) {
        present.add(p.edit().path());
      } else if (p.code() >= 300 && !OF_THE_WHOLE.contains(p.code())) {
        if (p.edit() instanceof Edit.Add add) {
          refused.add(refused(p, add.leaf()));
        } else if (p.edit() instanceof Edit.Replace replace) {
          refused.add(refused(p, replace.leaf()));
        }
      }
    }
    return new Refused(refused, present);
  }

  /** What is left out because no message the device takes can hold it. */
  static RefusedLeaf tooLarge(Edit edit) {
    Leaf leaf =
        edit instanceof Edit.Add add
            ? add.leaf()
            : edit instanceof Edit.Replace replace ? replace.leaf() : new Leaf("", "");
    return refused(new Part(edit, TOO_LARGE), leaf);
  }

  private static RefusedLeaf refused(Part p, Leaf leaf) {
    return new RefusedLeaf(p.edit().path(), leaf, p.code(), DeviceAnswer.reason(p.code()));
  }
}
