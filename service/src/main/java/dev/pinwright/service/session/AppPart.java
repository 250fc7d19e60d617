package dev.pinwright.service.session;

import com.fasterxml.jackson.core.type.TypeReference;
import com.github.f4b6a3.ulid.UlidCreator;
import dev.pinwright.core.Text;
import dev.pinwright.core.Words;
import dev.pinwright.core.app.AppGoal;
import dev.pinwright.core.app.AppPlan;
import dev.pinwright.core.app.Attempt;
import dev.pinwright.core.app.Inventory;
import dev.pinwright.core.app.Outcome;
import dev.pinwright.core.app.Presence;
import dev.pinwright.core.app.Release;
import dev.pinwright.core.app.WantedApp;
import dev.pinwright.core.command.DeviceAnswer;
import dev.pinwright.core.device.DeviceState;
import dev.pinwright.core.device.Ownership;
import dev.pinwright.core.session.Subtree;
import dev.pinwright.core.tree.Leaf;
import dev.pinwright.protocol.dm.Answer;
import dev.pinwright.protocol.dm.Dm;
import dev.pinwright.protocol.dm.Heard;
import dev.pinwright.protocol.dm.InstallOrder;
import dev.pinwright.protocol.dm.Inventories;
import dev.pinwright.protocol.syncml.Element;
import dev.pinwright.protocol.syncml.Element.Item;
import dev.pinwright.service.session.Conversation.Kind;
import dev.pinwright.service.session.Conversation.Sent;
import dev.pinwright.service.work.Json;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.app.AppStore;
import dev.pinwright.storage.app.DeviceAppStore;
import dev.pinwright.storage.device.ActivityStore;
import dev.pinwright.storage.license.LicenseStore;
import dev.pinwright.storage.organisation.SiteCacheStore;
import dev.pinwright.storage.row.DeviceRow;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.function.Predicate;

/**
 * What a session has to do with the apps of a device (OMA SCOMO 1.0). What follows from the apps it
 * should have and those it has is worked out by {@link AppPlan}.
 */
final class AppPart {
  /** Most installations and removals that are ordered in one session. */
  private static final int MOST_AT_ONCE = 10;

  private static final String ACTIVITY = "app";
  private static final int NAME = 100;

  /** Before it is known which apps a device has, each of them may be on its way. */
  private static final Predicate<String> NOT_KNOWN = app -> true;

  private static final TypeReference<TreeMap<String, String>> TEXTS = new TypeReference<>() {};

  private final String content;

  /**
   * @param base address of the device listener, under which packages are fetched
   */
  AppPart(String base) {
    content = base + "/content/sha256/";
  }

  /** What is known of a device's apps at the beginning of a session, by the digest it tells. */
  static void begin(DeviceState state, Heard heard, Conversation c) {
    String told = heard.digests().get(Subtree.INVENTORY);
    c.inventory = told;
    c.tellsInventory = told != null;
    c.inventoryKnown = told != null && state.apps().inventory().filter(told::equals).isPresent();
  }

  // ---- taking in -------------------------------------------------------------------------------

  /** Takes in how installations and removals ended, and what the holder picked. */
  void heard(Tx tx, DeviceRow device, AppsOnFile file, Heard heard, Conversation c, Instant now) {
    heard.appsDone().forEach((id, data) -> ended(tx, device, file, id, Outcome.read(data), now));
    heard.wishes().stream().limit(MOST_AT_ONCE).forEach(c.picked::add);
  }

  /**
   * Takes in all the apps a device has. Of a personal one, what the organisation did not put there
   * is nobody's business and is not kept, although the device should not have told it.
   */
  void told(DeviceRow device, AppsOnFile file, Map<String, Leaf> leaves, Conversation c) {
    Inventory inventory = Inventories.read(leaves);
    boolean personal = Words.of(Ownership.PERSONAL).equals(device.ownership);
    file.keep(personal ? inventory.managed() : inventory);
    c.inventoryKnown = true;
    if (c.inventory == null) {
      c.inventory = inventory.digest();
    }
  }

  /** Takes in the status code of an installation or removal that was ordered. */
  void answered(
      Tx tx, DeviceRow device, AppsOnFile file, String id, int code, Conversation c, Instant now) {
    if (code == Dm.ACCEPTED) {
      file.attempt(id)
          .filter(a -> a.state() == Attempt.State.SENT)
          .ifPresent(a -> file.put(a.now(Attempt.State.UNDER_WAY, now)));
    } else {
      ended(tx, device, file, id, Outcome.ofStatus(code, DeviceAnswer.reason(code)), now);
      // what it told at the beginning is not so any more
      c.inventory = null;
      c.inventoryKnown = false;
      c.inventoryAsked = false;
      c.tellsInventory = true;
    }
  }

  private static void ended(
      Tx tx, DeviceRow device, AppsOnFile file, String id, Outcome outcome, Instant now) {
    file.attempt(id)
        .filter(a -> !a.over())
        .ifPresent(
            a -> {
              if (outcome.done() && a.action() == Attempt.Action.INSTALL) {
                new SiteCacheStore(tx).served(device.id, a.app(), a.release());
              }
              file.put(a.ended(outcome, now));
              String name = new AppStore(tx).ofPackage(a.app()).map(p -> p.name).orElse(a.app());
              String done =
                  switch (a.action()) {
                    case INSTALL -> "installed";
                    case REMOVE -> "removed";
                    case ACTIVATE -> "let in again";
                  };
              new ActivityStore(tx)
                  .add(
                      device.id,
                      now,
                      ACTIVITY,
                      outcome.done()
                          ? name + " " + done
                          : name + " could not be " + done + ": " + outcome.reason());
            });
  }

  // ---- saying what is next ---------------------------------------------------------------------

  /**
   * Says what is next about apps, as much as fits.
   *
   * @param before whether the message says something already, so that the next one has more room
   * @return whether anything was said
   */
  boolean next(
      Tx tx,
      DeviceRow device,
      AppsOnFile file,
      DeviceState state,
      Conversation c,
      Answer answer,
      int most,
      boolean before,
      Instant now) {
    if (!c.inventoryKnown) {
      if (!asks(state, c)) {
        return false;
      }
      Item all = Item.at(Subtree.INVENTORY.root() + Dm.STRUCT_DATA);
      String id = answer.add(i -> new Element.Get(i, List.of(all)));
      c.sent.put(id, Sent.of(Kind.TREE, Subtree.INVENTORY, ""));
      c.inventoryAsked = true;
      return true;
    }
    List<AppGoal> goals = file.goals(state);
    boolean said = wished(tx, file, goals, c, answer, now);
    for (AppPlan.Step step : file.plan(state, now).steps()) {
      if (c.apps.size() >= MOST_AT_ONCE || c.apps.contains(step.app())) {
        continue;
      }
      String id = step.repeats().orElseGet(() -> UlidCreator.getMonotonicUlid().toString());
      boolean fits =
          step instanceof AppPlan.Install install
              ? install(install.goal(), id, c, answer, most)
              : operate(operation(step), id, c, answer, most);
      if (!fits && (before || said)) {
        break; // the next message has room for it
      }
      c.apps.add(step.app());
      file.put(attempt(step, id, now));
      file.unwish(List.of(step.app()));
      if (fits) {
        said = true;
      } else {
        ended(tx, device, file, id, Outcome.TOO_LARGE, now);
      }
    }
    return said || shelf(file, goals, c, answer);
  }

  /** Whether a device is to be asked for its apps. */
  private static boolean asks(DeviceState state, Conversation c) {
    boolean speaks = c.tellsInventory || !state.apps().wanted().isEmpty();
    return speaks && !c.inventoryKnown && !c.inventoryAsked;
  }

  /** Which apps, by id, are on their way to a device that does not have them. */
  static Predicate<String> arriving(
      AppsOnFile file, DeviceState state, Conversation c, Instant now) {
    if (!c.inventoryKnown) {
      return asks(state, c) ? NOT_KNOWN : app -> false;
    }
    return file.plan(state, now).arriving()::contains;
  }

  /**
   * Notes what the holder picked, to be installed as soon as it can be; says why where it cannot.
   *
   * @return whether anything was said
   */
  private static boolean wished(
      Tx tx, AppsOnFile file, List<AppGoal> goals, Conversation c, Answer answer, Instant now) {
    List<String> reasons = new ArrayList<>();
    for (String app : c.picked) {
      Optional<AppGoal> offered =
          goals.stream()
              .filter(g -> g.id().equals(app) && g.wanted().presence() == Presence.OFFERED)
              .findFirst();
      if (offered.isEmpty()) {
        String name =
            new AppStore(tx).ofPackage(app).map(a -> a.name).orElse(Text.cleaned(app, NAME));
        reasons.add(name + " is not on the shelf any more.");
        continue;
      }
      if (file.wish(app, now)) {
        new LicenseStore(tx).due(now);
      }
      AppGoal goal = offered.get();
      goal.objection()
          .ifPresent(
              why ->
                  reasons.add(
                      goal.name()
                          + " cannot be installed now: "
                          + why
                          + (goal.cannot().isEmpty() ? ". It comes as soon as it can." : ".")));
    }
    c.picked.clear();
    if (reasons.isEmpty()) {
      return false;
    }
    List<Item> shown = List.of(Item.data("MINDT=10"), Item.data(String.join("\n", reasons)));
    answer.add(i -> new Element.Alert(i, Dm.ALERT_SHOW, null, shown));
    return true;
  }

  /**
   * Tells a device what its holder may pick, when that is not what it was told last. One that has
   * no shelf has its last word with that.
   */
  private static boolean shelf(
      AppsOnFile file, List<AppGoal> goals, Conversation c, Answer answer) {
    Map<String, String> before = file.shelf().map(t -> Json.read(t, TEXTS)).orElseGet(TreeMap::new);
    Map<String, String> after = new TreeMap<>();
    goals.stream()
        .filter(g -> g.wanted().presence() == Presence.OFFERED && g.cannot().isEmpty())
        .forEach(g -> g.release().ifPresent(r -> after.put(Dm.SHELF + g.id(), shelved(g, r))));
    if (after.equals(before) || c.shelved) {
      return false;
    }
    c.shelved = true;
    List<Item> put =
        after.entrySet().stream()
            .filter(e -> !e.getValue().equals(before.get(e.getKey())))
            .map(e -> Item.put(e.getKey(), "chr", e.getValue()))
            .toList();
    List<Item> gone =
        before.keySet().stream().filter(p -> !after.containsKey(p)).map(Item::at).toList();
    String told = Json.write(after);
    if (!put.isEmpty()) {
      c.sent.put(answer.add(i -> new Element.Replace(i, put)), Sent.of(Kind.SHELF, told));
    }
    if (!gone.isEmpty()) {
      c.sent.put(answer.add(i -> new Element.Delete(i, gone)), Sent.of(Kind.SHELF, told));
    }
    return true;
  }

  private static String shelved(AppGoal goal, Release release) {
    Map<String, Object> said = new TreeMap<>(goal.about());
    said.put("id", goal.id());
    said.put("name", goal.name());
    said.put("version", release.version());
    said.put("size", release.bytes());
    return Json.write(said);
  }

  /** Notes what a device was told its holder may pick. */
  static void shelved(Tx tx, DeviceRow device, String told) {
    new DeviceAppStore(tx).shelf(device.id, told);
  }

  private static Attempt attempt(AppPlan.Step step, String id, Instant now) {
    AppGoal goal = step instanceof AppPlan.Install i ? i.goal() : null;
    return new Attempt(
        id,
        step.app(),
        step instanceof AppPlan.Install
            ? Attempt.Action.INSTALL
            : step instanceof AppPlan.Activate ? Attempt.Action.ACTIVATE : Attempt.Action.REMOVE,
        goal == null ? 0 : goal.release().orElseThrow().code(),
        goal == null ? "" : goal.configuration(),
        Attempt.State.SENT,
        step.triedBefore() + 1,
        now,
        0,
        "");
  }

  private boolean install(AppGoal goal, String id, Conversation c, Answer answer, int most) {
    Release release = goal.release().orElseThrow();
    WantedApp wanted = goal.wanted();
    String node = Dm.DOWNLOAD + id;
    InstallOrder order =
        new InstallOrder(
            release.sha256(),
            release.bytes(),
            wanted.presence() == Presence.REQUIRED,
            wanted.held(),
            wanted.options(),
            InstallOrder.merged(wanted.configuration(), wanted.secrets()));
    List<Item> items =
        List.of(
            Item.put(node + "/PkgID", "chr", goal.id()),
            Item.put(node + "/Name", "chr", goal.name()),
            Item.put(
                node + "/PkgURL",
                "chr",
                release.address().orElseGet(() -> content + release.sha256())),
            Item.put(node + "/InstallOpts", "chr", order.json()));
    answer.add(i -> new Element.Add(i, items));
    String exec = answer.add(i -> new Element.Exec(i, id, Item.at(node + Dm.DOWNLOAD_INSTALL)));
    if (answer.bytes() > most) {
      answer.takeBack();
      answer.takeBack();
      return false;
    }
    c.sent.put(exec, Sent.of(Kind.APP, id));
    return true;
  }

  private static String operation(AppPlan.Step step) {
    return step instanceof AppPlan.Activate back
        ? Inventories.activation(back.there())
        : Inventories.removal(((AppPlan.Remove) step).there());
  }

  private static boolean operate(
      String operation, String id, Conversation c, Answer answer, int most) {
    String exec = answer.add(i -> new Element.Exec(i, id, Item.at(operation)));
    if (answer.bytes() > most) {
      answer.takeBack();
      return false;
    }
    c.sent.put(exec, Sent.of(Kind.APP, id));
    return true;
  }

  // ---- the end ---------------------------------------------------------------------------------

  /** How a device is with its apps at the end of a session. */
  record End(DeviceState.Apps apps, int coming, List<String> failing) {}

  static End end(AppsOnFile file, DeviceState state, Conversation c, Instant now) {
    DeviceState.Apps before = state.apps();
    if (!c.inventoryKnown) {
      List<String> failing =
          before.wanted().isEmpty() || c.tellsInventory
              ? List.of()
              : List.of("it does not tell which apps it has");
      return new End(
          new DeviceState.Apps(before.wanted(), before.inventory(), Optional.empty()), 0, failing);
    }
    forgetWishes(file, file.goals(state));
    AppPlan plan = file.plan(state, now);
    // what did not fit, or became possible meanwhile, is for the next session
    boolean more = plan.steps().stream().anyMatch(s -> !c.apps.contains(s.app()));
    return new End(
        new DeviceState.Apps(
            before.wanted(),
            Optional.ofNullable(c.inventory),
            more ? Optional.of(now) : plan.due()),
        plan.underWay().size(),
        plan.failing());
  }

  /** A wish for what is no longer on the shelf was answered already, or is moot. */
  private static void forgetWishes(AppsOnFile file, List<AppGoal> goals) {
    Set<String> wishes = new HashSet<>(file.wishes());
    goals.stream()
        .filter(g -> g.wanted().presence() == Presence.OFFERED)
        .map(AppGoal::id)
        .forEach(wishes::remove);
    file.unwish(wishes);
  }
}
