package dev.pinwright.service.acting;

import com.fasterxml.jackson.core.type.TypeReference;
import dev.pinwright.core.Words;
import dev.pinwright.core.catalog.Catalog;
import dev.pinwright.core.catalog.CommandSpec;
import dev.pinwright.core.change.Confirmation;
import dev.pinwright.core.command.CommandForm;
import dev.pinwright.core.command.CommandState;
import dev.pinwright.core.command.Dispatch;
import dev.pinwright.core.command.Reach;
import dev.pinwright.core.command.When;
import dev.pinwright.core.device.DeviceTraits;
import dev.pinwright.core.device.Mode;
import dev.pinwright.core.device.OsVersion;
import dev.pinwright.core.device.Ownership;
import dev.pinwright.core.screen.Assist;
import dev.pinwright.core.screen.Shows;
import dev.pinwright.core.wipe.WipeKind;
import dev.pinwright.service.live.Wakes;
import dev.pinwright.service.secret.Vault;
import dev.pinwright.service.shape.Shapes;
import dev.pinwright.service.usecase.Noun;
import dev.pinwright.service.usecase.UseCases;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Json;
import dev.pinwright.service.work.Page;
import dev.pinwright.service.work.Problem;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.acting.CommandStore;
import dev.pinwright.storage.acting.DispatchStore;
import dev.pinwright.storage.acting.WipeStore;
import dev.pinwright.storage.row.CommandRow;
import dev.pinwright.storage.row.DeviceRow;
import dev.pinwright.storage.row.DispatchRow;
import dev.pinwright.storage.screen.AssistStore;
import java.time.Instant;
import java.time.LocalTime;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.Base64;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** Orders of a command to many devices. Devices are expanded by one statement, however many. */
public final class Dispatches {
  private static final int MAX_KEY = 200;
  private static final String ASK = "ask";
  private static final String MESSAGE = "message";
  private static final String HIDDEN = "••••";

  private final UseCases useCases;
  private final Catalog catalog;
  private final Shapes shapes;
  private final Vault vault;

  public Dispatches(UseCases useCases, Catalog catalog, Shapes shapes, Vault vault) {
    this.useCases = useCases;
    this.catalog = catalog;
    this.shapes = shapes;
    this.vault = vault;
  }

  /** Orders that are part of something else: they stand or fall with it. */
  public Dispatches within(UseCases.Act act) {
    return new Dispatches(useCases.within(act), catalog, shapes, vault);
  }

  /**
   * What an order would do.
   *
   * @param named some of the devices, at most ten names
   * @param losses what is lost by it, each a sentence
   * @param demands what is asked of a passcode, for one that is to be set
   * @param confirmDevices the number that has to be repeated; absent for few
   * @param reasonWanted whether a reason is asked for although the command itself wants none
   * @param secondWanted whether it can only be proposed, because a second person has to agree
   * @param secondWhy why, where it is because of what was wiped in the last hour
   */
  public record Preview(
      long devices,
      long able,
      List<Reach.Unable> unable,
      List<String> named,
      List<String> losses,
      List<String> demands,
      Optional<Long> confirmDevices,
      boolean reasonWanted,
      boolean secondWanted,
      Optional<String> secondWhy) {
    /** In sentences: which devices, what is lost, which cannot. */
    public List<String> told() {
      List<String> told = new ArrayList<>();
      if (!named.isEmpty()) {
        long more = devices - named.size();
        told.add(String.join(", ", named) + (more > 0 ? " and " + more + " more." : "."));
      }
      told.addAll(losses);
      unable.forEach(u -> told.add(u.devices() + " cannot: " + u.reason() + "."));
      return told;
    }
  }

  /** Shows what an order would do. */
  public Preview rehearse(Caller caller, DispatchOrder order) {
    DispatchOrder.Checked checked = order.begun(catalog);
    return useCases.rehearse(caller, act -> new Reached(act, catalog, shapes, checked).preview());
  }

  /**
   * Orders.
   *
   * <p>Commands are committed before this returns. Devices that cannot carry it out get a command
   * that has failed with the reason, so that each device ends in a state.
   *
   * @param key idempotency key: sent again with the same order, the first dispatch is answered and
   *     nothing is done again; empty for none
   * @throws Problem 400 for a bad order, 403 for a role that may not order this command, 409 when
   *     it reaches no device, the number, a reason or a second person is asked for, or the key was
   *     used for another order
   */
  public Dispatch order(Caller caller, DispatchOrder order, String key) {
    return order(caller, order, key, Confirmation.of(order.confirmDevices()));
  }

  /** {@link #order(Caller, DispatchOrder, String)}, with what was given elsewhere. */
  public Dispatch order(Caller caller, DispatchOrder order, String key, Confirmation given) {
    return order(
        caller,
        order,
        key,
        given,
        (checked, reached) ->
            reached.confirmed(
                new Confirmation(
                    given.number(), Optional.of(checked.form().reason()), given.agreedBy())));
  }

  /**
   * Orders what was asked about when it was made to repeat: for however many devices it is by now,
   * but for no more than one person may.
   *
   * @param name of the standing order
   * @throws Problem 409 also where it has come to reach so many that a second person has to agree
   */
  Dispatch repeat(Caller maker, DispatchOrder order, String key, String name) {
    return order(
        maker,
        order,
        key,
        Confirmation.NONE,
        (checked, reached) -> {
          if (reached.wipes()) {
            throw Problem.conflict("does-not-repeat", name + " wipes, which does not repeat.");
          }
          if (reached.asked().second()) {
            throw Problem.conflict(
                "second-person",
                "It goes to "
                    + Words.counted(reached.reach().devices(), "device")
                    + " by now, and to so many only when a second person agrees.");
          }
        });
  }

  /** Looks whether an order may be given. */
  private interface Asking {
    void ask(DispatchOrder.Checked checked, Reached reached);
  }

  private Dispatch order(
      Caller caller, DispatchOrder order, String key, Confirmation given, Asking asking) {
    DispatchOrder.Checked checked = order.check(catalog);
    caller.needs(checked.form().spec().role());
    if (key.length() > MAX_KEY) {
      throw Problem.malformed("", "An Idempotency-Key has at most 200 characters.");
    }
    String hash = Vault.hash(withoutSecrets(checked.form(), Json.write(order.unconfirmed())));
    return useCases.act(
        caller,
        act -> {
          Optional<DispatchRow> before = earlier(act.tx(), caller, key, hash);
          if (before.isPresent()) {
            return view(act.tx(), before.get());
          }
          Reached reached = new Reached(act, catalog, shapes, checked);
          reached.fits();
          asking.ask(checked, reached);
          List<DispatchStore.Due> dues = dues(act, checked);
          DispatchRow row = row(act, checked, reached, dues);
          row.idempotencyKey = key.isEmpty() ? null : key;
          row.requestHash = hash;
          row.agreedBy = given.agreedBy().orElse(null);
          List<DispatchStore.Due> all = new ArrayList<>(dues);
          if (checked.when().differs()) {
            all.add(due(act, checked, DispatchStore.ELSEWHERE));
          }
          return store(act, checked.form(), reached.reach(), row, all);
        });
  }

  private static Optional<DispatchRow> earlier(Tx tx, Caller caller, String key, String hash) {
    if (key.isEmpty()) {
      return Optional.empty();
    }
    Optional<DispatchRow> row = new DispatchStore(tx).earlier(caller.accountId(), key);
    if (row.filter(r -> !r.requestHash.equals(hash)).isPresent()) {
      throw Problem.conflict("key-used", "This Idempotency-Key was used for another order.");
    }
    return row;
  }

  /** An order as it is compared with another one: nobody finds a secret by trying. */
  private static String withoutSecrets(CommandForm form, String written) {
    String out = written;
    for (CommandSpec.Field f : form.spec().fields()) {
      if (f.secret() && form.fields().containsKey(f.key())) {
        out = out.replace(Json.write(form.fields().get(f.key())), "\"\"");
      }
    }
    return out;
  }

  private String sealed(String secret) {
    return Base64.getEncoder().encodeToString(vault.seal(secret));
  }

  /** When the devices gathered get it: each zone its own time, where that differs. */
  private static List<DispatchStore.Due> dues(UseCases.Act act, DispatchOrder.Checked checked) {
    When when = checked.when();
    List<String> zones =
        when.differs() ? new DispatchStore(act.tx()).zones() : List.of(DispatchStore.EVERYWHERE);
    return zones.stream().map(zone -> due(act, checked, zone)).toList();
  }

  private static DispatchStore.Due due(
      UseCases.Act act, DispatchOrder.Checked checked, String zone) {
    When when = checked.when();
    When.Slot slot = Problem.reading("", () -> when.first(when.there(zone), act.now()));
    return new DispatchStore.Due(
        zone,
        Optional.of(slot.from()).filter(f -> f.isAfter(act.now())),
        slot.until(),
        slot.from().plus(checked.form().expiry()));
  }

  private DispatchRow row(
      UseCases.Act act,
      DispatchOrder.Checked checked,
      Reached reached,
      List<DispatchStore.Due> dues) {
    CommandForm form = checked.form();
    When when = checked.when();
    DispatchRow row = new DispatchRow();
    row.id = act.newId();
    row.command = form.spec().key();
    row.fields = Json.write(form.spec().secretsAs(form.fields(), this::sealed));
    row.reason = form.reason();
    row.at = act.now();
    boolean later = dues.stream().allMatch(d -> d.due().isPresent());
    row.dueAt =
        later
            ? dues.stream().flatMap(d -> d.due().stream()).min(Instant::compareTo).orElse(null)
            : null;
    row.expiresAt =
        dues.stream().map(DispatchStore.Due::expiresAt).max(Instant::compareTo).orElseThrow();
    row.windowFrom = when.window().map(w -> w.from().toString()).orElse(null);
    row.windowTo = when.window().map(w -> w.to().toString()).orElse(null);
    row.zone = when.differs() ? when.zone().getId() : null;
    row.notInUse = when.notInUse();
    row.actor = act.caller().login();
    row.total = (int) reached.reach().devices();
    row.accountId = act.caller().accountId();
    row.wiping = reached.wipes() ? (int) reached.reach().able() : 0;
    return row;
  }

  private Dispatch store(
      UseCases.Act act,
      CommandForm form,
      Reach reach,
      DispatchRow row,
      List<DispatchStore.Due> dues) {
    act.tx().insert(row);
    new DispatchStore(act.tx())
        .command(
            row,
            reach,
            dues,
            row.command
                + " ordered by "
                + row.actor
                + (row.agreedBy == null ? "" : " and " + row.agreedBy)
                + (row.reason.isEmpty() ? "" : ": " + row.reason));
    WipeKind.of(row.command)
        .ifPresent(
            kind -> {
              new WipeStore(act.tx())
                  .ordered(row.id, kind, "true".equals(form.fields().get("retire")));
              act.touch(Noun.WIPE);
            });
    if (row.command.equals(Assist.COMMAND)) {
      Shows shows = Shows.of(reach.parts().get(0).alike().ownership(), form.fields());
      new AssistStore(act.tx())
          .ordered(row.id, row.accountId, shows, "true".equals(form.fields().get("taps")));
      act.touch(Noun.ASSIST);
    }
    act.done(
        Noun.COMMAND,
        "dispatched",
        Noun.DISPATCH,
        row.id,
        form.spec().title()
            + " to "
            + Words.counted(row.total, "device")
            + (row.agreedBy == null ? "" : "; agreed by " + row.agreedBy)
            + (row.reason.isEmpty() ? "" : "; reason: " + row.reason));
    act.touch(Noun.DEVICE);
    if (row.dueAt == null) {
      Wakes.dispatch(act.tx(), row.id);
    }
    return view(act.tx(), row);
  }

  private static When.Window window(String from, String to) {
    return new When.Window(LocalTime.parse(from), LocalTime.parse(to));
  }

  /** Sends what was ordered for a time that has come, and plans anew what is out of its hours. */
  public void begin() {
    useCases.run(
        Caller.SERVICE,
        act -> {
          DispatchStore store = new DispatchStore(act.tx());
          for (DispatchStore.Over over : store.over(act.now())) {
            When nightly =
                new When(
                    Optional.empty(),
                    Optional.empty(),
                    Optional.of(window(over.windowFrom(), over.windowTo())),
                    ZoneId.of(over.zone()),
                    false);
            When.Slot next = nightly.slot(nightly.there(over.told()), act.now());
            store.again(over, next.from(), next.until().orElseThrow(), act.now());
          }
          List<String> begun = store.begin(act.now());
          begun.forEach(id -> Wakes.dispatch(act.tx(), id));
          if (!begun.isEmpty()) {
            act.touch(Noun.DISPATCH, Noun.DEVICE);
          }
        });
  }

  /** A command a device cannot carry out, and why. */
  public record Cannot(String command, String reason) {}

  /** What a device cannot be told to do, or not by whoever asks. */
  public List<Cannot> cannot(Caller caller, String deviceId) {
    DeviceRow device =
        useCases.read(
            tx ->
                tx.find(DeviceRow.class, deviceId)
                    .orElseThrow(() -> Problem.notFound("device", deviceId)));
    DeviceTraits traits =
        new DeviceTraits(
            device.platform,
            Words.parse(Mode.class, device.mode),
            OsVersion.parse(device.osVersion));
    Ownership ownership = Words.parse(Ownership.class, device.ownership);
    return catalog.commands().stream()
        .flatMap(
            c ->
                catalog
                    .objection(c, traits, ownership)
                    .or(() -> caller.objection(c.role()))
                    .stream()
                    .map(reason -> new Cannot(c.key(), reason)))
        .toList();
  }

  /** Dispatches, newest first. */
  public Page<Dispatch> page(Caller caller, Page.Request page) {
    String[] c = page.parts(Page.Part.TEXT);
    return useCases.read(
        tx ->
            Page.of(
                new DispatchStore(tx).page(c.length == 0 ? "~" : c[0], page.limit() + 1),
                page.limit(),
                r -> view(tx, r),
                r -> Page.cursor(r.id)));
  }

  /** One dispatch. */
  public Dispatch get(Caller caller, String id) {
    return useCases.read(tx -> view(tx, row(tx, id)));
  }

  private static DispatchRow row(Tx tx, String id) {
    return tx.find(DispatchRow.class, id).orElseThrow(() -> Problem.notFound("dispatch", id));
  }

  /**
   * Cancels what has not been delivered.
   *
   * @return how many commands were cancelled
   */
  public int cancel(Caller caller, String dispatchId) {
    return useCases.act(
        caller,
        act -> {
          DispatchRow row = row(act.tx(), dispatchId);
          int n =
              new CommandStore(act.tx())
                  .cancelDispatch(dispatchId, "cancelled by " + caller.login(), act.now());
          if (n > 0) {
            act.done(
                Noun.COMMAND,
                "cancelled",
                Noun.DISPATCH,
                dispatchId,
                title(row.command) + " cancelled on " + Words.counted(n, "device"));
          }
          return n;
        });
  }

  /**
   * Cancels one command.
   *
   * @throws Problem 409 when the device has it already
   */
  public void cancelCommand(Caller caller, String commandId) {
    useCases.run(
        caller,
        act -> {
          CommandRow row =
              act.tx()
                  .find(CommandRow.class, commandId)
                  .orElseThrow(() -> Problem.notFound("command", commandId));
          boolean cancelled =
              Commands.step(
                      act.tx(),
                      row.deviceId,
                      commandId,
                      CommandState.CANCELLED,
                      "cancelled by " + caller.login(),
                      act.now())
                  .isPresent();
          if (!cancelled) {
            throw Problem.conflict(
                "not-cancellable",
                "The command is " + row.state + "; what a device has cannot be cancelled.");
          }
          act.done(
              Noun.COMMAND,
              "cancelled",
              Noun.DEVICE,
              row.deviceId,
              title(row.command) + " cancelled");
        });
  }

  /**
   * What an order is called: {@code Wipe device}.
   *
   * @throws Problem 400 when the command is none
   */
  public String title(DispatchOrder order) {
    return order.check(catalog).form().spec().title();
  }

  /** Whether something in an order is secret. */
  public boolean secret(DispatchOrder order) {
    return order.check(catalog).form().spec().secrets();
  }

  private String title(String command) {
    return catalog.command(command).map(CommandSpec::title).orElse(command);
  }

  /** What was filled in, without what is secret. */
  private Map<String, String> shown(DispatchRow r) {
    Map<String, String> fields = Json.read(r.fields, new TypeReference<>() {});
    return catalog
        .command(r.command)
        .map(spec -> spec.secretsAs(fields, secret -> HIDDEN))
        .orElse(fields);
  }

  private Dispatch view(Tx tx, DispatchRow r) {
    CommandStore commands = new CommandStore(tx);
    Map<CommandState, Long> states = commands.states(r.id);
    Map<String, Long> answers = new LinkedHashMap<>();
    if (r.command.equals(ASK)) {
      commands.answers(r.id).forEach(a -> answers.put(a.answer(), a.n()));
    }
    return new Dispatch(
        r.id,
        r.command,
        title(r.command),
        shown(r),
        r.reason,
        r.at,
        Optional.ofNullable(r.dueAt),
        Optional.ofNullable(r.windowFrom).map(from -> window(from, r.windowTo)),
        r.notInUse,
        r.expiresAt,
        r.actor,
        r.total,
        states,
        states.keySet().stream().allMatch(CommandState::ended),
        r.command.equals(MESSAGE) ? commands.read(r.id) : 0,
        answers);
  }
}
