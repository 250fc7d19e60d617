package dev.pinwright.service.session;

import dev.pinwright.core.Text;
import dev.pinwright.core.device.DeviceState;
import dev.pinwright.core.device.Standing;
import dev.pinwright.core.session.Subtree;
import dev.pinwright.core.tree.Tree;
import dev.pinwright.core.wipe.Wipe;
import dev.pinwright.core.wipe.WipeKind;
import dev.pinwright.core.wipe.WipeStage;
import dev.pinwright.protocol.dm.Answer;
import dev.pinwright.protocol.dm.Dm;
import dev.pinwright.protocol.dm.Heard;
import dev.pinwright.protocol.syncml.Element;
import dev.pinwright.protocol.syncml.Element.Item;
import dev.pinwright.service.acting.WipeCourse;
import dev.pinwright.service.session.Conversation.Kind;
import dev.pinwright.service.session.Conversation.Sent;
import dev.pinwright.service.usecase.UseCases;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.acting.WipeStore;
import dev.pinwright.storage.app.DeviceAppStore;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/**
 * What a session has to do with wipes (OMA LAWMO 1.0): that one begins, what it takes, what is left
 * after one of a work part, and that everything is back once that was revoked.
 */
final class WipePart {
  private static final String NAME = "/ListItemName";
  private static final int MOST = 200;
  private static final int LONGEST = 100;

  private final WipeCourse course;

  WipePart(WipeCourse course) {
    this.course = course;
  }

  /** Looks at the beginning of a session whether a wipe is open, and whether this denies it. */
  void begin(UseCases.Act act, DeviceState state, Heard heard, Conversation c) {
    if (state.standing() == Standing.SETTLED) {
      return; // whoever is being wiped, or coming back, is not
    }
    Optional<Wipe> open = new WipeStore(act.tx()).latest(state.deviceId());
    if (open.isEmpty()) {
      return;
    }
    Wipe w = open.get();
    boolean says = heard.reports().stream().anyMatch(r -> r.correlator().equals(w.id()));
    if (w.deniedBySession(says)) {
      course.denied(act, w);
    }
    boolean reads = w.kind() == WipeKind.WORK && w.stage() == WipeStage.BEGUN && !says;
    c.wiped = reads || w.stage() == WipeStage.REVOKED ? w.id() : null;
    c.leftAsked = !reads;
  }

  /** A device said that it begins; whether that is news. */
  boolean begun(UseCases.Act act, String commandId, Conversation c) {
    Optional<WipeKind> kind = course.begun(act, commandId);
    kind.ifPresent(k -> c.wipes = k);
    return kind.isPresent();
  }

  /** How a device stands that said in this session that it begins. */
  static DeviceState standing(DeviceState state, WipeKind kind) {
    return state
        .standing(
            new Standing.Judgement(
                Standing.CATCHING_UP,
                kind == WipeKind.DEVICE
                    ? "it said that it erases itself"
                    : "its work part was wiped, and it is being read"))
        .reporting(Optional.empty());
  }

  /** Asks what a wipe of the organisation's part takes, just before it is ordered to. */
  static void askBefore(Answer answer, String commandId, Conversation c) {
    ask(answer, Kind.BEFORE_WIPE, commandId, c);
  }

  /** Asks what such a wipe would still take, once after it. */
  static boolean askAfter(Answer answer, Conversation c) {
    if (c.wiped == null || c.leftAsked) {
      return false;
    }
    c.leftAsked = true;
    ask(answer, Kind.AFTER_WIPE, c.wiped, c);
    return true;
  }

  private static void ask(Answer answer, Kind kind, String wipe, Conversation c) {
    Item list = Item.at(Dm.WIPE_LIST + Dm.STRUCT_DATA);
    String id = answer.add(i -> new Element.Get(i, List.of(list)));
    c.sent.put(id, Sent.of(kind, wipe));
  }

  /** Takes in what a device says a wipe takes, or would still take. */
  static void told(Tx tx, Sent sent, List<Item> items, Conversation c) {
    List<String> names =
        items.stream()
            .filter(i -> i.source() != null && i.source().endsWith(NAME) && i.data() != null)
            .map(i -> Text.cleaned(i.data(), LONGEST))
            .filter(name -> !name.isEmpty())
            .distinct()
            .limit(MOST)
            .toList();
    if (sent.kind() == Kind.BEFORE_WIPE) {
      new WipeStore(tx).told(sent.ref(), false, names);
    } else {
      c.left = names;
    }
  }

  /**
   * At the end of a session: whether nothing is left, or everything is back.
   *
   * @param news whether it stands otherwise than before: it may have been revoked as it spoke
   */
  static void end(
      UseCases.Act act, String deviceId, Conversation c, Standing standing, boolean news) {
    WipeStore store = new WipeStore(act.tx());
    Optional<Wipe> looked = Optional.empty();
    if (c.wiped != null) {
      looked = store.find(c.wiped);
    } else if (news) {
      looked = store.latest(deviceId).filter(w -> w.stage() == WipeStage.REVOKED);
    }
    if (looked.isEmpty()) {
      return;
    }
    Wipe w = looked.get();
    if (w.stage() == WipeStage.REVOKED
        && (standing == Standing.SETTLED || standing == Standing.BLOCKED)) {
      WipeCourse.restored(act, w);
    } else if (w.stage() == WipeStage.BEGUN && w.kind() == WipeKind.WORK) {
      WipeCourse.read(act, w, left(act.tx(), deviceId, c));
    }
  }

  /** What of the organisation's is on a device, by all it told. */
  private static List<String> left(Tx tx, String deviceId, Conversation c) {
    List<String> left = new ArrayList<>(c.left);
    if (c.inventoryKnown) {
      new DeviceAppStore(tx)
          .inventory(deviceId)
          .managed()
          .apps()
          .forEach((node, app) -> left.add(app.name().isEmpty() ? app.id() : app.name()));
    }
    for (Subtree subtree : c.spokenOf()) {
      int leaves = c.holding(subtree).tree().orElse(Tree.EMPTY).leaves().size();
      if (leaves > 0) {
        left.add(leaves + (leaves == 1 ? " leaf of " : " leaves of ") + subtree.root());
      }
    }
    return left.stream().distinct().limit(MOST).toList();
  }
}
