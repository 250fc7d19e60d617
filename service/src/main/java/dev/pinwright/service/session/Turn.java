package dev.pinwright.service.session;

import dev.pinwright.core.Words;
import dev.pinwright.core.catalog.Catalog;
import dev.pinwright.core.catalog.CommandSpec;
import dev.pinwright.core.command.CommandState;
import dev.pinwright.core.command.DeviceAnswer;
import dev.pinwright.core.device.DeviceState;
import dev.pinwright.core.device.Standing;
import dev.pinwright.core.tree.Edit;
import dev.pinwright.core.tree.Leaf;
import dev.pinwright.core.tree.Tree;
import dev.pinwright.protocol.dm.Answer;
import dev.pinwright.protocol.dm.Dm;
import dev.pinwright.protocol.dm.Heard;
import dev.pinwright.protocol.syncml.Element;
import dev.pinwright.protocol.syncml.Element.Item;
import dev.pinwright.protocol.syncml.Message;
import dev.pinwright.protocol.syncml.SyncMl;
import dev.pinwright.service.Json;
import dev.pinwright.service.acting.Commands;
import dev.pinwright.service.device.Activity;
import dev.pinwright.service.device.Retirement;
import dev.pinwright.service.intake.HolderTerms;
import dev.pinwright.service.intake.ReadyGates;
import dev.pinwright.service.journal.Journal;
import dev.pinwright.service.live.Wakes;
import dev.pinwright.service.session.Conversation.Kind;
import dev.pinwright.service.session.Conversation.Sent;
import dev.pinwright.service.shape.Shapes;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.device.DeviceStates;
import dev.pinwright.storage.row.DeviceRow;
import java.time.Clock;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;

/**
 * One turn of a session: takes in what the device said, and says what is to be done next. Settings
 * go first and together, then commands; facts are read last, so that they tell the outcome.
 */
final class Turn {
  private static final int MAX_ROUNDS = 60;
  private static final int COMMANDS_AT_ONCE = 10;
  private static final int EDIT_OVERHEAD = 300;
  private static final int MESSAGE_OVERHEAD = 2_000;
  private static final int SMALLEST_MESSAGE = 5_000;
  private static final Set<Integer> NOT_A_REFUSAL =
      Set.of(Dm.NOT_EXECUTED, Dm.ROLLED_BACK, Dm.ATOMIC_FAILED, 516);
  private static final String POLICY = Catalog.POLICY_ROOT;

  private final Catalog catalog;
  private final Shapes shapes;
  private final Journal journal;
  private final Clock clock;
  private final Refusals refusals;
  private final FactSheet facts;

  Turn(Catalog catalog, Shapes shapes, Journal journal, Clock clock) {
    this.catalog = catalog;
    this.shapes = shapes;
    this.journal = journal;
    this.clock = clock;
    refusals = new Refusals(catalog, shapes);
    facts = new FactSheet(catalog, shapes, refusals);
  }

  /** A device in its session: its row and its state, both held, and the conversation. */
  private static final class Subject {
    private final DeviceRow device;
    private final Conversation c;
    private final Instant now;
    private DeviceState state;

    Subject(Tx tx, String deviceId, Conversation c, Instant now) {
      device = tx.lock(DeviceRow.class, deviceId).orElseThrow();
      state = new DeviceStates(tx).lock(deviceId).orElseThrow();
      this.c = c;
      this.now = now;
    }
  }

  /** Begins a session. */
  Conversation begin(Tx tx, String deviceId, Heard heard) {
    DeviceStates states = new DeviceStates(tx);
    DeviceState state = states.lock(deviceId).orElseThrow();
    Conversation c = new Conversation();
    c.reported = heard.treeDigest().orElse(null);
    c.language = heard.devInfo().getOrDefault("Lang", "");
    c.factsWanted = state.factsAt().isEmpty() || state.standing() == Standing.CATCHING_UP;
    if (c.reported != null && state.agreed() && !c.reported.equals(state.desired())) {
      states.put(state.standing(Standing.drifted()));
      Activity.add(tx, deviceId, clock.instant(), "drifted", "Its settings were changed on it");
    }
    return c;
  }

  /**
   * Takes one message and adds to the answer what follows from it.
   *
   * @return whether our package ends with this answer
   */
  boolean take(
      Tx tx, String deviceId, Message message, Heard heard, Conversation c, Answer answer) {
    Subject s = new Subject(tx, deviceId, c, clock.instant());
    DeviceState before = s.state;
    c.factsWanted |= heard.factsChanged();
    if (heard.leaving() && s.device.retiredAt == null) {
      leave(tx, s.device, s.now);
      return true;
    }
    hear(tx, s, heard);
    if (!message.last()) {
      answer.askForMore();
    } else {
      c.sent.clear();
      if (heard.aborted() || !work(tx, s, message, answer)) {
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
    DeviceRow device = s.device;
    Conversation c = s.c;
    Instant now = s.now;
    for (Heard.Report report : heard.reports()) {
      DeviceAnswer end = DeviceAnswer.of(report.code());
      ended(tx, device, report.correlator(), end, c, now);
    }
    heard
        .answers()
        .forEach(
            (cmdId, code) -> {
              Sent sent = c.sent.get(cmdId);
              if (sent == null) {
                return;
              }
              switch (sent.kind()) {
                case COMMAND -> {
                  DeviceAnswer a = DeviceAnswer.of(code);
                  ended(tx, device, sent.ref(), a, c, now);
                  c.factsWanted = true;
                }
                case ATOMIC -> settings(tx, s, heard, sent, code);
                case GATE -> ReadyGates.told(device, sent.ref());
                case TREE -> {
                  if (code == Dm.NOT_FOUND) {
                    c.treeIs(Tree.EMPTY);
                  }
                }
                default -> {
                  // edits are judged with their atomic, facts by their results
                }
              }
            });
    heard
        .told()
        .forEach(
            (cmdId, items) -> {
              Sent sent = c.sent.get(cmdId);
              if (sent != null && sent.kind() == Kind.TREE) {
                c.treeIs(new Tree(leaves(items)));
              } else if (sent != null && sent.kind() == Kind.FACTS) {
                s.state = facts.take(tx, device, s.state, items, c, now);
              }
            });
  }

  private static void ended(
      Tx tx, DeviceRow device, String command, DeviceAnswer a, Conversation c, Instant now) {
    boolean stepped = Commands.step(tx, device.id, command, a.state(), a.reason(), now);
    if (stepped && a.state() == CommandState.DONE) {
      HolderTerms.confirmed(tx, device.id, device.personId, command, c.language, now);
    }
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

  private void settings(Tx tx, Subject s, Heard heard, Sent atomic, int code) {
    Conversation c = s.c;
    List<String> partIds = List.of(atomic.ref().split(","));
    if (code < 300) {
      List<Edit> edits = partIds.stream().map(id -> c.sent.get(id).edit()).toList();
      c.applied(edits);
      c.factsWanted = true;
      Activity.add(
          tx,
          s.device.id,
          s.now,
          "settings",
          edits.size() + (edits.size() == 1 ? " setting" : " settings") + " applied");
      return;
    }
    boolean refused = false;
    for (String id : partIds) {
      int partCode = heard.answers().getOrDefault(id, Dm.NOT_EXECUTED);
      Sent edit = c.sent.get(id);
      if (partCode >= 300 && !NOT_A_REFUSAL.contains(partCode) && edit.value() != null) {
        s.state = refusals.refuse(tx, s.state, edit, partCode, s.now);
        refused = true;
      }
    }
    c.stuck |= !refused;
  }

  // ---- saying what is next ---------------------------------------------------------------------

  private boolean work(Tx tx, Subject s, Message message, Answer answer) {
    Conversation c = s.c;
    boolean said = settings(tx, s, message, answer);
    said |= commands(tx, s.device, c, answer, s.now);
    if (!said && c.factsWanted) {
      String id = answer.add(i -> new Element.Get(i, List.of(Item.at(Dm.FACTS + Dm.STRUCT_DATA))));
      c.sent.put(id, new Sent(Kind.FACTS, "", null, null));
      c.factsWanted = false;
      said = true;
    }
    return said || gate(tx, s, answer);
  }

  /** Tells a device at the ready gate how far it is, when that is not what it was told last. */
  private boolean gate(Tx tx, Subject s, Answer answer) {
    Optional<String> news = ReadyGates.news(s.device, matches(tx, s));
    news.ifPresent(
        text -> {
          String id =
              answer.add(
                  i -> new Element.Replace(i, List.of(Item.put(Dm.READY_GATE, "chr", text))));
          s.c.sent.put(id, new Sent(Kind.GATE, text, null, null));
        });
    return news.isPresent();
  }

  private boolean matches(Tx tx, Subject s) {
    Tree tree = s.c.tree();
    return tree != null && tree.equals(shapes.desired(tx, s.state));
  }

  private void leave(Tx tx, DeviceRow device, Instant now) {
    Retirement.retire(tx, device, "its holder ended management", now);
    journal.write(
        tx,
        "device:" + device.id,
        "device.retired",
        "device:" + device.id,
        device.name + " retired: its holder ended management");
  }

  private boolean settings(Tx tx, Subject s, Message message, Answer answer) {
    Conversation c = s.c;
    Tree desired = shapes.desired(tx, s.state);
    Tree tree = c.tree();
    if (tree == null && c.reported != null) {
      tree = shapes.tree(tx, c.reported).orElse(null);
      if (tree != null) {
        c.treeIs(tree);
      }
    }
    if (tree == null) {
      if (c.treeAsked) {
        c.treeIs(Tree.EMPTY);
        tree = Tree.EMPTY;
      } else {
        String id = answer.add(i -> new Element.Get(i, List.of(Item.at(POLICY + Dm.STRUCT_DATA))));
        c.sent.put(id, new Sent(Kind.TREE, "", null, null));
        c.treeAsked = true;
        return true;
      }
    }
    List<Edit> edits = Edit.between(tree, desired);
    if (edits.isEmpty() || c.stuck || ++c.rounds > MAX_ROUNDS) {
      return false;
    }
    int max = message.header().maxMsgSize();
    int room = (max == 0 ? SyncMl.MAX_BYTES : Math.max(max, SMALLEST_MESSAGE)) - MESSAGE_OVERHEAD;
    List<Edit> fitting = new ArrayList<>();
    for (Edit e : edits) {
      room -= EDIT_OVERHEAD + e.path().length() + (leaf(e).map(l -> l.value().length()).orElse(0));
      if (room < 0 && !fitting.isEmpty()) {
        break;
      }
      fitting.add(e);
    }
    atomic(fitting, c, answer);
    return true;
  }

  private static Optional<Leaf> leaf(Edit e) {
    if (e instanceof Edit.Add add) {
      return Optional.of(add.leaf());
    }
    return e instanceof Edit.Replace replace ? Optional.of(replace.leaf()) : Optional.empty();
  }

  private static void atomic(List<Edit> edits, Conversation c, Answer answer) {
    List<String> ids = new ArrayList<>();
    String atomicId =
        answer.add(
            id -> {
              List<Element> parts = new ArrayList<>();
              for (Edit e : edits) {
                String partId = answer.partId();
                ids.add(partId);
                parts.add(part(partId, e));
                Leaf leaf = leaf(e).orElse(null);
                c.sent.put(
                    partId,
                    new Sent(
                        Kind.EDIT,
                        e.path(),
                        leaf == null ? null : leaf.format(),
                        leaf == null ? null : leaf.value()));
              }
              return new Element.Atomic(id, parts);
            });
    c.sent.put(atomicId, new Sent(Kind.ATOMIC, String.join(",", ids), null, null));
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

  private boolean commands(Tx tx, DeviceRow device, Conversation c, Answer answer, Instant now) {
    boolean said = false;
    for (Commands.Queued q : Commands.queued(tx, device.id, now, COMMANDS_AT_ONCE * 2)) {
      if (!c.commands.add(q.id())) {
        continue;
      }
      CommandSpec spec = catalog.command(q.command()).orElse(null);
      if (spec == null) {
        Commands.step(
            tx, device.id, q.id(), CommandState.FAILED, "the catalogue no longer has it", now);
      } else if (spec.delivery() == CommandSpec.Delivery.READ) {
        Commands.step(tx, device.id, q.id(), CommandState.DELIVERED, "", now);
        c.refreshing.add(q.id());
        c.factsWanted = true;
      } else {
        String asked = spec.delivery() == CommandSpec.Delivery.CONFIRM ? asked(tx, q, c) : "";
        String id = answer.add(i -> element(i, spec, q, asked));
        c.sent.put(id, new Sent(Kind.COMMAND, q.id(), null, null));
        said = true;
      }
    }
    return said;
  }

  /** What the holder is asked to accept, in the device's language. */
  private static String asked(Tx tx, Commands.Queued q, Conversation c) {
    String version = Json.tree(q.fields()).path("version").asText("");
    return Optional.of(version)
        .filter(v -> v.matches("\\d{1,6}"))
        .flatMap(v -> HolderTerms.read(tx, Integer.parseInt(v), List.of(c.language)))
        .map(t -> t.title() + " (version " + t.version() + ")\n\n" + t.text())
        .orElse("There is no version " + version + " of the terms.");
  }

  private static Element element(String id, CommandSpec spec, Commands.Queued q, String asked) {
    if (spec.delivery() == CommandSpec.Delivery.CONFIRM) {
      return new Element.Alert(
          id, Dm.ALERT_CONFIRM, q.id(), List.of(Item.data("MINDT=10"), Item.data(asked)));
    }
    if (spec.delivery() == CommandSpec.Delivery.SHOW) {
      String text = Json.tree(q.fields()).path("text").asText();
      return new Element.Alert(
          id, Dm.ALERT_SHOW, q.id(), List.of(Item.data("MINDT=10"), Item.data(text)));
    }
    Item plain = Item.at(spec.path());
    Item item =
        q.fields().equals("{}")
            ? plain
            : new Item(spec.path(), null, "chr", "application/json", q.fields(), false);
    return new Element.Exec(id, q.id(), item);
  }

  // ---- the end ---------------------------------------------------------------------------------

  private void finish(Tx tx, Subject s) {
    Conversation c = s.c;
    Tree desired = shapes.desired(tx, s.state);
    Tree tree = c.tree();
    boolean matches = tree != null && tree.equals(desired);
    s.state = refusals.forgetOld(tx, s.state);
    Leaf required = desired.leaves().get(POLICY + "/passcode/required");
    boolean choose =
        required != null
            && required.value().equals("true")
            && "false"
                .equals(Json.tree(s.device.facts).path("security/passcode-compliant").asText());
    Standing.Judgement j =
        Standing.judge(
            new Standing.Evidence(matches, false, choose, s.state.refused().leaves().size()));
    if (j.standing() != s.state.standing()) {
      String words = j.reason().isEmpty() ? "" : ": " + j.reason();
      Activity.add(tx, s.device.id, s.now, "standing", "Now " + Words.of(j.standing()) + words);
    }
    Standing.Judgement told =
        c.stuck
            ? new Standing.Judgement(
                j.standing(), "the device could not apply its settings and gave no reason")
            : j;
    s.state =
        s.state
            .standing(told)
            .reporting(matches ? Optional.of(s.state.desired()) : Optional.ofNullable(c.reported));
    tx.flush();
    ReadyGates.arrival(tx, s.device, s.state.agreed(), s.now);
    if (!matches && !c.stuck) {
      // the goal moved while we spoke
      Wakes.device(tx, s.device.id);
    }
  }
}
