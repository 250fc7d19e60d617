package dev.pinwright.service.session;

import com.fasterxml.jackson.annotation.JsonIgnore;
import dev.pinwright.core.tree.Edit;
import dev.pinwright.core.tree.Leaf;
import dev.pinwright.core.tree.Tree;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.TreeSet;
import org.jspecify.annotations.Nullable;

/**
 * What has to be remembered of a session between two of its messages. It travels through the
 * database, sealed, so that any node can go on with it.
 */
final class Conversation {
  /** Digest the device reported; null when it reports none. */
  public @Nullable String reported;

  /** The device's policy tree as far as known; null when it has to be read. */
  public @Nullable Map<String, String[]> leaves;

  /** What was sent and is not answered, by CmdID. */
  public Map<String, Sent> sent = new LinkedHashMap<>();

  /** Commands sent in this session. */
  public TreeSet<String> commands = new TreeSet<>();

  /** Commands that end when the facts have been read. */
  public TreeSet<String> refreshing = new TreeSet<>();

  /** Language the device says it speaks; empty when it does not say. */
  public String language = "";

  public boolean factsWanted;
  public boolean treeAsked;
  public boolean stuck;
  public int rounds;
  public int applied;

  /** What kind of thing was sent. */
  enum Kind {
    ATOMIC,
    EDIT,
    COMMAND,
    TREE,
    FACTS,
    GATE
  }

  /**
   * Something sent.
   *
   * @param ref LocURI of an edit, id of a command, CmdIDs of an atomic's parts joined by commas
   */
  record Sent(Kind kind, String ref, @Nullable String format, @Nullable String value) {
    Edit edit() {
      return value == null
          ? new Edit.Delete(ref)
          : new Edit.Replace(ref, new Leaf(String.valueOf(format), value));
    }
  }

  /** The device's tree, when known. */
  @JsonIgnore
  @Nullable Tree tree() {
    if (leaves == null) {
      return null;
    }
    Map<String, Leaf> out = new TreeMap<>();
    leaves.forEach((path, l) -> out.put(path, new Leaf(l[0], l[1])));
    return new Tree(out);
  }

  /** Remembers what the device's tree is. */
  @JsonIgnore
  void treeIs(Tree tree) {
    Map<String, String[]> out = new TreeMap<>();
    tree.leaves().forEach((path, l) -> out.put(path, new String[] {l.format(), l.value()}));
    leaves = out;
  }

  /** Takes answered edits into the known tree. */
  void applied(List<Edit> edits) {
    Tree before = tree();
    if (before != null) {
      treeIs(Edit.apply(before, new ArrayList<>(edits)));
      applied += edits.size();
    }
  }
}
