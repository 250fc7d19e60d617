package dev.pinwright.service.session;

import dev.pinwright.core.Words;
import dev.pinwright.core.catalog.Catalog;
import dev.pinwright.core.catalog.CommandSpec;
import dev.pinwright.core.command.CommandState;
import dev.pinwright.core.command.DeviceAnswer;
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
import dev.pinwright.service.rules.Shapes;
import dev.pinwright.service.session.Conversation.Kind;
import dev.pinwright.service.session.Conversation.Sent;
import dev.pinwright.storage.Tx;
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

  /** Begins a session. */
  Conversation begin(Tx tx, String deviceId, Heard heard) {
    DeviceRow device = lock(tx, deviceId);
    Conversation c = new Conversation();
    c.reported = heard.treeDigest().orElse(null);
    c.language = heard.devInfo().getOrDefault("Lang", "");
    c.factsWanted = device.factsAt == null || device.standing.equals("catching-up");
    boolean wasSettled = device.desiredDigest.equals(device.agreedDigest);
    if (c.reported != null && wasSettled && !c.reported.equals(device.desiredDigest)) {
      device.standing = Words.of(Standing.DRIFTED);
      device.standingReason = "its settings were changed on the device";
      Activity.add(tx, deviceId, clock.instant(), "drifted", "Its settings were changed on it");
    }
    return c;
  }

  private static DeviceRow lock(Tx tx, String deviceId) {
    DeviceRow device = tx.lock(DeviceRow.class, deviceId).orElseThrow();
    tx.session().refresh(device);
    return device;
  }

  /**
   * Takes one message and adds to the answer what follows from it.
   *
   * @return whether our package ends with this answer
   */
  boolean take(
      Tx tx, String deviceId, Message message, Heard heard, Conversation c, Answer answer) {
    Instant now = clock.instant();
    DeviceRow device = lock(tx, deviceId);
    c.factsWanted |= heard.factsChanged();
    if (heard.leaving() && device.retiredAt == null) {
      leave(tx, device, now);
      return true;
    }
    hear(tx, device, heard, c, now);
    if (!message.last()) {
      answer.askForMore();
      return true;
    }
    c.sent.clear();
    if (!heard.aborted() && work(tx, device, message, c, answer, now)) {
      return true;
    }
    finish(tx, device, c, now);
    return true;
  }

  // ---- taking in -------------------------------------------------------------------------------

  private void hear(Tx tx, DeviceRow device, Heard heard, Conversation c, Instant now) {
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
                case ATOMIC -> settings(tx, device, heard, c, sent, code, now);
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
                facts.take(tx, device, items, c, now);
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

  private void settings(
      Tx tx, DeviceRow device, Heard heard, Conversation c, Sent atomic, int code, Instant now) {
    List<String> partIds = List.of(atomic.ref().split(","));
    if (code < 300) {
      List<Edit> edits = partIds.stream().map(id -> c.sent.get(id).edit()).toList();
      c.applied(edits);
      c.factsWanted = true;
      Activity.add(
          tx,
          device.id,
          now,
          "settings",
          edits.size() + (edits.size() == 1 ? " setting" : " settings") + " applied");
      return;
    }
    boolean refused = false;
    for (String id : partIds) {
      int partCode = heard.answers().getOrDefault(id, Dm.NOT_EXECUTED);
      Sent edit = c.sent.get(id);
      if (partCode >= 300 && !NOT_A_REFUSAL.contains(partCode) && edit.value() != null) {
        refusals.refuse(tx, device, edit, partCode, now);
        refused = true;
      }
    }
    c.stuck |= !refused;
  }

  // ---- saying what is next ---------------------------------------------------------------------

  private boolean work(
      Tx tx, DeviceRow device, Message message, Conversation c, Answer answer, Instant now) {
    boolean said = settings(tx, device, message, c, answer);
    said |= commands(tx, device, c, answer, now);
    if (!said && c.factsWanted) {
      String id = answer.add(i -> new Element.Get(i, List.of(Item.at(Dm.FACTS + Dm.STRUCT_DATA))));
      c.sent.put(id, new Sent(Kind.FACTS, "", null, null));
      c.factsWanted = false;
      said = true;
    }
    return said || gate(tx, device, c, answer);
  }

  /** Tells a device at the ready gate how far it is, when that is not what it was told last. */
  private boolean gate(Tx tx, DeviceRow device, Conversation c, Answer answer) {
    Optional<String> news = ReadyGates.news(device, matches(tx, device, c));
    news.ifPresent(
        text -> {
          String id =
              answer.add(
                  i -> new Element.Replace(i, List.of(Item.put(Dm.READY_GATE, "chr", text))));
          c.sent.put(id, new Sent(Kind.GATE, text, null, null));
        });
    return news.isPresent();
  }

  private boolean matches(Tx tx, DeviceRow device, Conversation c) {
    Tree tree = c.tree();
    return tree != null && tree.equals(shapes.tree(tx, device.desiredDigest).orElse(Tree.EMPTY));
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

  private boolean settings(
      Tx tx, DeviceRow device, Message message, Conversation c, Answer answer) {
    Tree desired = shapes.tree(tx, device.desiredDigest).orElse(Tree.EMPTY);
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

  private void finish(Tx tx, DeviceRow device, Conversation c, Instant now) {
    Tree desired = shapes.tree(tx, device.desiredDigest).orElse(Tree.EMPTY);
    Tree tree = c.tree();
    boolean matches = tree != null && tree.equals(desired);
    refusals.forgetOld(tx, device);
    Leaf required = desired.leaves().get(POLICY + "/passcode/required");
    boolean choose =
        required != null
            && required.value().equals("true")
            && "false".equals(Json.tree(device.facts).path("security/passcode-compliant").asText());
    Standing.Judgement j =
        Standing.judge(
            new Standing.Evidence(matches, false, choose, Refusals.lines(device.refused).size()));
    String standing = Words.of(j.standing());
    if (!standing.equals(device.standing)) {
      String words = j.reason().isEmpty() ? "" : ": " + j.reason();
      Activity.add(tx, device.id, now, "standing", "Now " + standing + words);
    }
    device.standing = standing;
    device.standingReason =
        c.stuck ? "the device could not apply its settings and gave no reason" : j.reason();
    device.reportedDigest = matches ? device.desiredDigest : c.reported;
    if (matches) {
      device.agreedDigest = device.desiredDigest;
    }
    device.lastSeen = now;
    tx.flush();
    ReadyGates.arrival(tx, device, now);
    if (!matches && !c.stuck) {
      // the goal moved while we spoke
      Wakes.device(tx, device.id);
    }
  }
}
