package dev.pinwright.core.session;

import dev.pinwright.core.tree.Edit;
import dev.pinwright.core.tree.Leaf;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/** As many edits as fit into a message. */
final class Portion {
  /** What the elements around one edit take, besides its path and its value. */
  static final int AROUND = 300;

  private Portion() {}

  /** The first edits that fit; at least one, as the first is known to. */
  static List<Edit> of(List<Edit> edits, int room) {
    List<Edit> out = new ArrayList<>();
    int left = room;
    for (Edit e : edits) {
      left -= bytes(e);
      if (left < 0 && !out.isEmpty()) {
        break;
      }
      out.add(e);
    }
    return out;
  }

  /** What an edit takes in a message: UTF-8, and escaped as XML has it (XML 1.0, 2.4). */
  static int bytes(Edit edit) {
    return AROUND + bytes(edit.path()) + leaf(edit).map(l -> bytes(l.value())).orElse(0);
  }

  private static Optional<Leaf> leaf(Edit e) {
    if (e instanceof Edit.Add add) {
      return Optional.of(add.leaf());
    }
    return e instanceof Edit.Replace replace ? Optional.of(replace.leaf()) : Optional.empty();
  }

  private static int bytes(String text) {
    return text.codePoints()
        .map(
            c ->
                switch (c) {
                  case '&', '\r', '\n', '\t' -> 5;
                  case '<', '>' -> 4;
                  case '"', '\'' -> 6;
                  default -> c < 0x80 ? 1 : c < 0x800 ? 2 : c < 0x10000 ? 3 : 4;
                })
        .sum();
  }
}
