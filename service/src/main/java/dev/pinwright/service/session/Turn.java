package dev.pinwright.service.session;

import com.fasterxml.jackson.core.type.TypeReference;
import com.fasterxml.jackson.databind.JsonNode;
import dev.pinwright.core.Words;
import dev.pinwright.core.catalog.Catalog;
import dev.pinwright.core.command.CommandState;
import dev.pinwright.core.command.DeviceAnswer;
import dev.pinwright.core.command.HolderAnswer;
import dev.pinwright.core.compliance.Order;
import dev.pinwright.core.device.DeviceState;
import dev.pinwright.core.device.Drift;
import dev.pinwright.core.device.Standing;
import dev.pinwright.core.enrollment.ReadyGate;
import dev.pinwright.core.kiosk.Kiosk;
import dev.pinwright.core.session.Holding;
import dev.pinwright.core.session.Subtree;
import dev.pinwright.core.session.Verdict;
import dev.pinwright.core.tree.Edit;
import dev.pinwright.core.tree.Leaf;
import dev.pinwright.core.tree.Tree;
import dev.pinwright.core.wipe.WipeKind;
import dev.pinwright.protocol.dm.Answer;
import dev.pinwright.protocol.dm.Dm;
import dev.pinwright.protocol.dm.Heard;
import dev.pinwright.protocol.dm.Leavings;
import dev.pinwright.protocol.syncml.Element;
import dev.pinwright.protocol.syncml.Element.Item;
import dev.pinwright.protocol.syncml.Message;
import dev.pinwright.protocol.syncml.SyncMl;
import dev.pinwright.service.acting.Commands;
import dev.pinwright.service.acting.WipeCourse;
import dev.pinwright.service.device.Retirement;
import dev.pinwright.service.enrollment.ReadyGates;
import dev.pinwright.service.live.Wakes;
import dev.pinwright.service.own.RecoveryKeys;
import dev.pinwright.service.own.Selves;
import dev.pinwright.service.own.Trails;
import dev.pinwright.service.secret.Vault;
import dev.pinwright.service.session.Conversation.Kind;
import dev.pinwright.service.session.Conversation.Sent;
import dev.pinwright.service.shape.Shapes;
import dev.pinwright.service.terms.HolderTerms;
import dev.pinwright.service.usecase.Noun;
import dev.pinwright.service.usecase.UseCases;
import dev.pinwright.service.work.Json;
import dev.pinwright.service.work.Problem;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.acting.CommandStore;
import dev.pinwright.storage.compliance.OrderStore;
import dev.pinwright.storage.device.ActivityStore;
import dev.pinwright.storage.device.DeviceStates;
import dev.pinwright.storage.row.DeviceRow;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.stream.Stream;

/**
 * One turn of a session: takes in what the device said, and says what is to be done next. Subtrees
 * go first, one after the other, then commands; facts are read last, so that they tell the outcome.
 * What an answer means and what comes next is decided in {@code core.session}; here it is loaded,
 * said and written down.
 */
final class Turn {
  private static final int COMMANDS_AT_ONCE = 10;
  private static final int AROUND_EDITS = 100;

  /**
   * After so many messages of ours that asked something nothing new is begun in a session: it comes
   * to its end, where a device is judged, and what came up meanwhile is for the next one.
   */
  private static final int MOST_TURNS = 16;

  private static final String DRIFTED = "drifted";
  private static final String REFRESH = "refresh";
  private static final String ASK = "ask";
  private static final String RELEASE = "release";
  private static final TypeReference<TreeMap<String, String>> TEXTS = new TypeReference<>() {};

  private final Catalog catalog;
  private final Shapes shapes;
  private final Selves selves;
  private final RecoveryKeys recoveryKeys;
  private final Trails trails;
  private final Refusals refusals;
  private final FactSheet facts;
  private final AppPart apps;
  private final WipePart wipes;
  private final ScreenPart screens;
  private final CommandPart commands;

  Turn(
      Catalog catalog,
      Shapes shapes,
      Selves selves,
      RecoveryKeys recoveryKeys,
      Trails trails,
      WipeCourse wipes,
      String base,
      Vault vault) {
    screens = new ScreenPart(base, vault);
    commands = new CommandPart(catalog, selves, screens, vault);
    this.wipes = new WipePart(wipes);
    apps = new AppPart(base);
    this.trails = trails;
    this.recoveryKeys = recoveryKeys;
    this.catalog = catalog;
    this.shapes = shapes;
    this.selves = selves;
    refusals = new Refusals(catalog, shapes);
    facts = new FactSheet(catalog, shapes, refusals);
  }

  /** A device in its session: its row and its state, both held, and the conversation. */
  private static final class Subject {
    private final UseCases.Act act;
    private final DeviceRow device;
    private final Conversation c;
    private final Instant now;
    private final Optional<Selves.Wanted> own;
    private final AppsOnFile apps;
    private DeviceState state;

    Subject(UseCases.Act act, Selves selves, Shapes shapes, String deviceId, Conversation c) {
      Tx tx = act.tx();
      this.act = act;
      device = tx.lock(DeviceRow.class, deviceId).orElseThrow();
      state = held(tx, deviceId);
      apps = new AppsOnFile(tx, device, shapes);
      own = c.speaksOf(Subtree.SELF) ? Optional.of(selves.wanted(tx, deviceId)) : Optional.empty();
      this.c = c;
      now = act.now();
    }

    /** The tree a device should hold of its own, without what it turned down in this session. */
    Tree own() {
      return own.map(o -> o.tree().without(leaf -> c.unwanted.contains(leaf.getKey())))
          .orElse(Tree.EMPTY);
    }
  }

  /**
   * A device's state, held. It was known before; whoever retired it since then has the last word.
   *
   * @throws Problem 403 when it is managed no longer
   */
  private static DeviceState held(Tx tx, String deviceId) {
    DeviceState state = new DeviceStates(tx).lock(deviceId).orElseThrow();
    if (state.standing() == Standing.RETIRED) {
      throw DeviceSessions.retired(state.standingReason());
    }
    return state;
  }

  /** Begins a session. */
  Conversation begin(UseCases.Act act, String deviceId, Heard heard) {
    Tx tx = act.tx();
    Conversation c = new Conversation();
    wipes.begin(act, held(tx, deviceId), heard, c);
    DeviceState state = held(tx, deviceId);
    c.language = heard.devInfo().getOrDefault("Lang", "");
    c.factsWanted = state.factsAt().isEmpty() || state.standing() == Standing.CATCHING_UP;
    Optional.ofNullable(heard.digests().get(Subtree.SELF))
        .ifPresent(told -> c.holds(Subtree.SELF, OwnPart.begin(selves.wanted(tx, deviceId), told)));
    Optional<String> digest = Optional.ofNullable(heard.digests().get(Subtree.POLICY));
    AppPart.begin(state, heard, c);
    Holding holding = Holding.reporting(digest);
    c.holds(
        Subtree.POLICY,
        digest.flatMap(d -> shapes.tree(tx, d)).map(holding::knowing).orElse(holding));
    if (digest.isPresent()) {
      Standing.Judgement judged =
          Standing.judge(
              Standing.Evidence.ofDigest(digest.get().equals(state.desired()), state.agreed()));
      if (judged.standing() == Standing.DRIFTED) {
        drifted(act, state, judged, c);
      }
    }
    return c;
  }

  /** Settings were changed on it: they are put right now, or later where that happens too often. */
  private static void drifted(
      UseCases.Act act, DeviceState state, Standing.Judgement judged, Conversation c) {
    Tx tx = act.tx();
    ActivityStore activity = new ActivityStore(tx);
    boolean asked =
        new CommandStore(tx)
            .queued(state.deviceId(), act.now(), COMMANDS_AT_ONCE).stream()
                .anyMatch(q -> q.command().equals(REFRESH));
    Optional<Instant> waits =
        asked
            ? Optional.empty()
            : Drift.waits(
                activity.latest(
                    state.deviceId(), DRIFTED, act.now().minus(Drift.COUNTED), Drift.MOST),
                act.now());
    c.leftUntil = waits.map(Instant::toString).orElse(null);
    if (waits.isEmpty()) {
      new DeviceStates(tx).put(state.standing(judged));
      activity.add(state.deviceId(), act.now(), DRIFTED, "Its settings were changed on it");
    }
  }

  /**
   * Takes one message and adds to the answer what follows from it.
   *
   * @return whether our package ends with this answer
   */
  boolean take(
      UseCases.Act act,
      String deviceId,
      Message message,
      Heard heard,
      Conversation c,
      Answer answer) {
    Tx tx = act.tx();
    Subject s = new Subject(act, selves, shapes, deviceId, c);
    DeviceState before = s.state;
    c.factsWanted |= heard.factsChanged();
    if (heard.leaving().isPresent() && s.device.retiredAt == null) {
      leave(act, s.device, heard.leaving().get());
      return true;
    }
    OwnPart.kioskLeft(act, s.device, heard.kioskLeft());
    recoveryKeys.heard(act, s.device, heard.recoveryKeys());
    trails.heard(act, s.device, heard.positions(), () -> shapes.desired(tx, s.state));
    trails.located(act, s.device, heard.located());
    apps.heard(tx, s.device, s.apps, heard, c, s.now);
    screens.heard(act, s.device, heard.screenshots());
    LaptopPart.heard(act, s.device, heard);
    if (!heard.read().isEmpty()) {
      new CommandStore(tx).read(deviceId, heard.read(), s.now);
    }
    hear(tx, s, heard);
    if (!message.last()) {
      answer.askForMore();
    } else {
      c.sent.clear();
      if (c.wipes != null) {
        // what it held is gone, or about to go: there is nothing to say
        s.state = WipePart.standing(s.state, c.wipes);
        if (c.wipes == WipeKind.WORK) {
          Wakes.device(tx, deviceId);
        }
      } else if (heard.aborted() || !work(tx, s, message, answer)) {
        finish(tx, s);
      }
    }
    if (!s.state.equals(before)) {
      new DeviceStates(tx).put(s.state);
    }
    return true;
  }

  // ---- taking in -------------------------------------------------------------------------------

  private void hear(Tx tx, Subject s, Heard heard) {
    for (Heard.Report report : heard.reports()) {
      ended(tx, s, report.correlator(), report.code(), report.words());
    }
    heard
        .answers()
        .forEach(
            (cmdId, code) -> {
              Sent sent = s.c.sent.get(cmdId);
              if (sent != null) {
                answered(tx, s, heard, sent, code);
              }
            });
    heard
        .told()
        .forEach(
            (cmdId, items) -> {
              Sent sent = s.c.sent.get(cmdId);
              if (sent != null && sent.subtree() == Subtree.INVENTORY) {
                apps.told(s.device, s.apps, leaves(items), s.c);
              } else if (sent != null && sent.kind() == Kind.TREE && sent.subtree() != null) {
                Holding told = s.c.holding(sent.subtree());
                s.c.holds(sent.subtree(), told.knowing(new Tree(leaves(items))));
              } else if (sent != null
                  && (sent.kind() == Kind.BEFORE_WIPE || sent.kind() == Kind.AFTER_WIPE)) {
                WipePart.told(tx, sent, items, s.c);
              } else if (sent != null && sent.kind() == Kind.FACTS) {
                s.state = facts.take(tx, s.device, s.state, items, s.c, s.now);
              }
            });
  }

  private void answered(Tx tx, Subject s, Heard heard, Sent sent, int code) {
    switch (sent.kind()) {
      case COMMAND -> {
        ended(tx, s, sent.ref(), code, "");
        s.c.factsWanted = true;
      }
      case ATOMIC -> judged(tx, s, heard, sent, code);
      case APP -> apps.answered(tx, s.device, s.apps, sent.ref(), code, s.c, s.now);
      case SHELF -> AppPart.shelved(tx, s.device, sent.ref());
      case GATE -> ReadyGates.told(s.device, sent.ref());
      // one that has no such node has its last word with that
      case ORDER -> new OrderStore(tx).told(s.device.id, sent.ref(), s.now);
      case TREE -> {
        if (sent.subtree() == Subtree.INVENTORY) {
          if (code == Dm.NOT_FOUND && s.c.tellsInventory) {
            apps.told(s.device, s.apps, Map.of(), s.c); // there is not one app
          }
        } else if (code == Dm.NOT_FOUND && sent.subtree() != null) {
          s.c.holds(sent.subtree(), s.c.holding(sent.subtree()).knowing(Tree.EMPTY));
        }
      }
      default -> {
        // edits are judged with their atomic, facts by their results
      }
    }
  }

  private static void ownTold(Tx tx, Subject s) {
    s.own.ifPresent(
        wanted -> OwnPart.end(tx, s.device.id, wanted, s.c.holding(Subtree.SELF), s.own()));
  }

  private void ended(Tx tx, Subject s, String command, int code, String words) {
    CommandStore store = new CommandStore(tx);
    Optional<String> answer =
        store
            .fields(command, ASK)
            .flatMap(fields -> HolderAnswer.of(choices(Json.tree(fields)), code, words));
    DeviceAnswer a =
        answer.isPresent() ? new DeviceAnswer(CommandState.DONE, "") : DeviceAnswer.of(code, words);
    Optional<String> stepped =
        Commands.step(tx, s.device.id, command, a.state(), a.reason(), s.now);
    if (stepped.isPresent() && a.state() == CommandState.DONE) {
      answer.ifPresent(said -> store.answered(command, said));
      HolderTerms.confirmed(tx, s.device.id, s.device.personId, command, s.c.language, s.now);
      if (WipeKind.of(stepped.get()).isPresent() && wipes.begun(s.act, command, s.c)) {
        s.state = held(tx, s.device.id);
      }
    }
  }

  private static List<String> choices(JsonNode fields) {
    return HolderAnswer.choices(fields.path("choices").asText(""));
  }

  static Map<String, Leaf> leaves(List<Item> items) {
    Map<String, Leaf> out = new TreeMap<>();
    for (Item i : items) {
      if (i.source() != null && !"node".equals(i.format())) {
        String format = i.format() == null ? "chr" : i.format();
        out.put(i.source(), new Leaf(format, i.data() == null ? "" : i.data()));
      }
    }
    return out;
  }

  private void judged(Tx tx, Subject s, Heard heard, Sent atomic, int code) {
    List<Verdict.Part> parts =
        Stream.of(atomic.ref().split(","))
            .map(
                id ->
                    new Verdict.Part(
                        s.c.sent.get(id).edit(), heard.answers().getOrDefault(id, Dm.NOT_EXECUTED)))
            .toList();
    Verdict verdict = Verdict.of(code, parts);
    Subtree subtree = atomic.subtree() == null ? Subtree.POLICY : atomic.subtree();
    s.c.holds(subtree, s.c.holding(subtree).after(verdict));
    if (subtree == Subtree.SELF) {
      if (verdict instanceof Verdict.Refused refused) {
        refused.leaves().forEach(leaf -> s.c.unwanted.add(leaf.path()));
      }
      ownTold(tx, s); // before a policy can make a kiosk of it that a code must open
      return;
    }
    if (verdict instanceof Verdict.Applied applied) {
      s.c.factsWanted = true;
      int n = applied.edits().size();
      new ActivityStore(tx)
          .add(s.device.id, s.now, "settings", Words.counted(n, "setting") + " applied");
    } else if (verdict instanceof Verdict.Refused refused) {
      refused.leaves().forEach(leaf -> s.state = refusals.refuse(tx, s.state, leaf, s.now));
    }
  }

  // ---- saying what is next ---------------------------------------------------------------------

  private boolean work(Tx tx, Subject s, Message message, Answer answer) {
    Conversation c = s.c;
    boolean said = c.turns < MOST_TURNS && begins(tx, s, message, answer);
    said |= !said && WipePart.askAfter(answer, c);
    if (!said && c.factsWanted) {
      String id = answer.add(i -> new Element.Get(i, List.of(Item.at(Dm.FACTS + Dm.STRUCT_DATA))));
      c.sent.put(id, Sent.of(Kind.FACTS, ""));
      c.factsWanted = false;
      said = true;
    }
    said = said || gate(tx, s, answer) || order(tx, s, answer);
    c.turns += said ? 1 : 0;
    return said;
  }

  /** Begins what is new: edits, apps, commands. */
  private boolean begins(Tx tx, Subject s, Message message, Answer answer) {
    boolean said = false;
    for (Subtree subtree : s.c.workedOn()) {
      said |= next(tx, s, subtree, message, answer, said);
    }
    said |= apps.next(tx, s.device, s.apps, s.state, s.c, answer, most(message), said, s.now);
    said |= commands.next(tx, s.device, s.c, answer, most(message), said, s.now);
    return said;
  }

  /** Tells a device how it is with the checks, when that is not what it was told last. */
  private static boolean order(Tx tx, Subject s, Answer answer) {
    Optional<String> news = new OrderStore(tx).said(s.device.id).filter(n -> !n.equals(s.c.order));
    news.ifPresent(
        said -> {
          String[] parts = said.split("\n", 2);
          String state = parts[0].isEmpty() ? Words.of(Order.IN_ORDER) : parts[0];
          List<Item> items =
              List.of(
                  Item.put(Dm.COMPLIANCE_STATE, "chr", state),
                  Item.put(Dm.COMPLIANCE_REASONS, "chr", parts.length > 1 ? parts[1] : ""));
          String id = answer.add(i -> new Element.Replace(i, items));
          s.c.sent.put(id, Sent.of(Kind.ORDER, said));
          s.c.order = said;
        });
    return news.isPresent();
  }

  private Tree desired(Tx tx, Subject s, Subtree subtree) {
    return switch (subtree) {
      case SELF -> s.own();
      case POLICY -> policy(tx, s);
      case INVENTORY -> throw new IllegalArgumentException("apps are no leaves to be edited");
    };
  }

  /** Settings it should hold for now: a kiosk closes once its apps are there. */
  private Tree policy(Tx tx, Subject s) {
    Tree held = s.c.holding(Subtree.POLICY).tree().orElse(Tree.EMPTY);
    return Kiosk.closingLast(
        shapes.desired(tx, s.state), held, () -> AppPart.arriving(s.apps, s.state, s.c, s.now));
  }

  private boolean next(
      Tx tx, Subject s, Subtree subtree, Message message, Answer answer, boolean before) {
    Holding holding = s.c.holding(subtree);
    int room = most(message) - answer.bytes() - AROUND_EDITS;
    Holding.Next next = holding.next(desired(tx, s, subtree), room);
    while (next instanceof Holding.TooLarge large) {
      if (before) {
        return false; // the next message has room for it
      }
      if (subtree == Subtree.SELF) {
        s.c.unwanted.add(large.edit().path());
      } else {
        s.state = refusals.refuse(tx, s.state, Verdict.tooLarge(large.edit()), s.now);
      }
      next = holding.next(desired(tx, s, subtree), room);
    }
    if (next instanceof Holding.Read) {
      Item all = Item.at(subtree.root() + Dm.STRUCT_DATA);
      String id = answer.add(i -> new Element.Get(i, List.of(all)));
      s.c.sent.put(id, Sent.of(Kind.TREE, subtree, ""));
      s.c.holds(subtree, holding.asking());
      return true;
    }
    if (next instanceof Holding.Apply apply) {
      atomic(subtree, apply.edits(), s.c, answer);
      s.c.holds(subtree, holding.sending());
      return true;
    }
    return false;
  }

  /** Bytes of the largest message the device takes. */
  private static int most(Message message) {
    int told = message.header().maxMsgSize();
    return told == 0 ? SyncMl.MAX_BYTES : Math.min(told, SyncMl.MAX_BYTES);
  }

  private static void atomic(Subtree subtree, List<Edit> edits, Conversation c, Answer answer) {
    List<String> ids = new ArrayList<>();
    String atomicId =
        answer.add(
            id -> {
              List<Element> parts = new ArrayList<>();
              for (Edit e : edits) {
                String partId = answer.partId();
                ids.add(partId);
                parts.add(part(partId, e));
                c.sent.put(partId, Sent.of(e));
              }
              return new Element.Atomic(id, parts);
            });
    c.sent.put(atomicId, Sent.of(Kind.ATOMIC, subtree, String.join(",", ids)));
  }

  private static Element part(String id, Edit e) {
    if (e instanceof Edit.Add a) {
      return new Element.Add(id, List.of(Item.put(a.path(), a.leaf().format(), a.leaf().value())));
    }
    if (e instanceof Edit.Replace r) {
      return new Element.Replace(
          id, List.of(Item.put(r.path(), r.leaf().format(), r.leaf().value())));
    }
    return new Element.Delete(id, List.of(Item.at(e.path())));
  }

  /** Tells a device at the ready gate how far it is, when that is not what it was told last. */
  private boolean gate(Tx tx, Subject s, Answer answer) {
    if (s.device.readyGate != null) {
      // what is no longer wanted keeps no gate shut
      s.state = refusals.forgetOld(tx, s.state);
    }
    Optional<String> news = ReadyGates.news(s.device, settings(tx, s, matches(tx, s)));
    news.ifPresent(
        text -> {
          String id =
              answer.add(
                  i -> new Element.Replace(i, List.of(Item.put(Dm.READY_GATE, "chr", text))));
          s.c.sent.put(id, Sent.of(Kind.GATE, text));
        });
    return news.isPresent();
  }

  private ReadyGate.Settings settings(Tx tx, Subject s, boolean there) {
    // asked for devices at a gate alone; others are told nothing
    return s.device.readyGate == null || s.state.refused().leaves().isEmpty()
        ? new ReadyGate.Settings(there, List.of())
        : new ReadyGate.Settings(there, refusals.titles(tx, s.device.id));
  }

  private boolean matches(Tx tx, Subject s) {
    return s.c.spokenOf().stream().allMatch(t -> s.c.holding(t).matches(desired(tx, s, t)));
  }

  private static void leave(UseCases.Act act, DeviceRow device, Heard.Leaving leaving) {
    Tx tx = act.tx();
    String words = Leavings.read(leaving.data()).words();
    Optional<String> released =
        leaving
            .correlator()
            .filter(
                id ->
                    Commands.step(tx, device.id, id, CommandState.DONE, words, act.now())
                        .filter(RELEASE::equals)
                        .isPresent())
            .flatMap(new CommandStore(tx)::orderedBy);
    String why = released.map(by -> "released by " + by).orElse("its holder ended management");
    Retirement.leave(act, device.id, why, released.orElse("its holder"));
    act.done(
        Noun.DEVICE,
        "retired",
        device.id,
        device.name + " retired: " + why + (words.isEmpty() ? "" : "; " + words));
  }

  // ---- the end ---------------------------------------------------------------------------------

  private void finish(Tx tx, Subject s) {
    Tree desired = desired(tx, s, Subtree.POLICY);
    Holding holding = s.c.holding(Subtree.POLICY);
    s.state = refusals.forgetOld(tx, s.state);
    AppPart.End end = AppPart.end(s.apps, s.state, s.c, s.now);
    s.state = s.state.with(end.apps());
    Standing.Judgement judged =
        s.c.leftUntil != null
            ? Drift.left(Instant.parse(s.c.leftUntil))
            : Standing.judge(
                new Standing.Evidence(
                    Optional.empty(),
                    holding.matches(desired),
                    false,
                    holding.stuck(),
                    catalog.holderMust(desired, Json.read(s.device.facts, TEXTS)),
                    s.state.refused().leaves().size(),
                    end.coming(),
                    end.failing()));
    boolean news = judged.standing() != s.state.standing();
    if (news) {
      String words = judged.reason().isEmpty() ? "" : ": " + judged.reason();
      new ActivityStore(tx)
          .add(s.device.id, s.now, "standing", "Now " + Words.of(judged.standing()) + words);
    }
    // what is left as it is for now is known not to be as wanted, and looked at again next time
    s.state =
        s.c.leftUntil == null
            ? s.state.standing(judged).reporting(holding.digest(desired))
            : s.state.standing(judged);
    ownTold(tx, s);
    WipePart.end(s.act, s.device.id, s.c, s.state.standing(), news);
    ReadyGates.arrival(tx, s.device, settings(tx, s, s.state.agreed()), s.now);
    boolean appsDue = end.apps().due().filter(due -> !due.isAfter(s.now)).isPresent();
    boolean behind = !holding.matches(desired) && !holding.stuck() && s.c.leftUntil == null;
    if (appsDue || behind || s.c.turns >= MOST_TURNS) {
      // the goal moved while we spoke, or there was more to say than may be said at once
      Wakes.device(tx, s.device.id);
    }
  }
}
