package dev.pinwright.service.session;

import dev.pinwright.core.session.Holding;
import dev.pinwright.core.session.Subtree;
import dev.pinwright.core.tree.Edit;
import dev.pinwright.core.tree.Leaf;
import dev.pinwright.core.tree.Tree;
import dev.pinwright.core.wipe.WipeKind;
import java.util.EnumMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;

/**
 * What has to be remembered of a session between two of its messages. It travels through the
 * database, sealed, so that any node can go on with it.
 */
final class Conversation {
  /** What is known of each subtree. */
  public Map<Subtree, Kept> holdings = new EnumMap<>(Subtree.class);

  /** What was sent and is not answered, by CmdID. */
  public Map<String, Sent> sent = new LinkedHashMap<>();

  /** Paths of what is the device's own that it turned down in this session. */
  public TreeSet<String> unwanted = new TreeSet<>();

  /** Commands sent in this session. */
  public TreeSet<String> commands = new TreeSet<>();

  /** Commands that end when the facts have been read. */
  public TreeSet<String> refreshing = new TreeSet<>();

  /** Language the device says it speaks; empty when it does not say. */
  public String language = "";

  /** How many of our messages asked something of it. */
  public int turns;

  public boolean factsWanted;

  /** Digest it told of its apps, or that of what it told when it was asked; null before that. */
  public @Nullable String inventory;

  /** Whether it tells of its apps by itself. */
  public boolean tellsInventory;

  /** Whether what is on file of its apps is what it has. */
  public boolean inventoryKnown;

  /** Whether it was asked to tell all its apps. */
  public boolean inventoryAsked;

  /** Ids of apps whose installation or removal was ordered in this session. */
  public TreeSet<String> apps = new TreeSet<>();

  /** Whether it was told what its holder may pick. */
  public boolean shelved;

  /** Ids of apps the holder picked from the shelf. */
  public TreeSet<String> picked = new TreeSet<>();

  /** What it was told of the checks in this session; null before that. */
  public @Nullable String order;

  /**
   * Until when its settings are left as they were changed on it; null when they are put right now.
   */
  public @Nullable String leftUntil;

  /** What it said in this session that it wipes; null where it said no such thing. */
  public @Nullable WipeKind wipes;

  /** Id of a wipe that is to be read afterwards, or of one revoked; null without one. */
  public @Nullable String wiped;

  /** Whether it was asked what a wipe would still take. */
  public boolean leftAsked;

  /** What it told that would be. */
  public List<String> left = List.of();

  /** What kind of thing was sent. */
  enum Kind {
    ATOMIC,
    EDIT,
    COMMAND,
    TREE,
    FACTS,
    GATE,
    ORDER,
    APP,
    SHELF,
    BEFORE_WIPE,
    AFTER_WIPE
  }

  /**
   * Something sent.
   *
   * @param ref LocURI of an edit, id of a command, a wipe or an attempt with an app, CmdIDs of an
   *     atomic's parts joined by commas, the text a gate was told, the word of the checks or what
   *     is on the shelf
   * @param subtree of an atomic or a reading of all its leaves
   */
  record Sent(
      Kind kind,
      String ref,
      @Nullable Subtree subtree,
      @Nullable String format,
      @Nullable String value) {

    static Sent of(Kind kind, String ref) {
      return new Sent(kind, ref, null, null, null);
    }

    static Sent of(Kind kind, Subtree subtree, String ref) {
      return new Sent(kind, ref, subtree, null, null);
    }

    static Sent of(Edit edit) {
      Leaf leaf =
          edit instanceof Edit.Add add
              ? add.leaf()
              : edit instanceof Edit.Replace replace ? replace.leaf() : null;
      return new Sent(
          Kind.EDIT,
          edit.path(),
          null,
          leaf == null ? null : leaf.format(),
          leaf == null ? null : leaf.value());
    }

    Edit edit() {
      return value == null
          ? new Edit.Delete(ref)
          : new Edit.Replace(ref, new Leaf(String.valueOf(format), value));
    }
  }

  /** {@link Holding} as it is written down; leaves are null while the tree is not known. */
  record Kept(
      @Nullable String reported,
      @Nullable Map<String, String[]> leaves,
      boolean asked,
      boolean stuck,
      int rounds) {

    static Kept of(Holding h) {
      return new Kept(
          h.reported().orElse(null),
          h.tree().map(Kept::written).orElse(null),
          h.asked(),
          h.stuck(),
          h.rounds());
    }

    private static Map<String, String[]> written(Tree tree) {
      Map<String, String[]> out = new TreeMap<>();
      tree.leaves().forEach((path, l) -> out.put(path, new String[] {l.format(), l.value()}));
      return out;
    }

    Holding holding() {
      return new Holding(
          Optional.ofNullable(reported),
          Optional.ofNullable(leaves).map(Kept::read),
          asked,
          stuck,
          rounds);
    }

    private static Tree read(Map<String, String[]> written) {
      Map<String, Leaf> out = new TreeMap<>();
      written.forEach((path, l) -> out.put(path, new Leaf(l[0], l[1])));
      return new Tree(out);
    }
  }

  Holding holding(Subtree subtree) {
    Kept kept = holdings.get(subtree);
    return kept == null ? Holding.reporting(Optional.empty()) : kept.holding();
  }

  /** Whether a subtree is spoken of in this session. */
  boolean speaksOf(Subtree subtree) {
    return subtree.everywhere() || holdings.containsKey(subtree);
  }

  /** Those that are made equal by edits, in the order they are worked through. */
  List<Subtree> spokenOf() {
    return Stream.of(Subtree.values()).filter(Subtree::edited).filter(this::speaksOf).toList();
  }

  /** Those that are put right, in the same order. */
  List<Subtree> workedOn() {
    return spokenOf().stream().filter(s -> leftUntil == null || s != Subtree.POLICY).toList();
  }

  void holds(Subtree subtree, Holding holding) {
    holdings.put(subtree, Kept.of(holding));
  }
}
