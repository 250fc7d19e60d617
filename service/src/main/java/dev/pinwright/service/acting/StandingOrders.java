package dev.pinwright.service.acting;

import dev.pinwright.core.Words;
import dev.pinwright.core.access.Role;
import dev.pinwright.core.catalog.Catalog;
import dev.pinwright.core.catalog.CommandSpec;
import dev.pinwright.core.command.Dispatch;
import dev.pinwright.core.command.Repetition;
import dev.pinwright.core.command.StandingOrder;
import dev.pinwright.service.usecase.Noun;
import dev.pinwright.service.usecase.UseCases;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Json;
import dev.pinwright.service.work.Known;
import dev.pinwright.service.work.Page;
import dev.pinwright.service.work.Problem;
import dev.pinwright.service.work.Records;
import dev.pinwright.storage.ByName;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.acting.StandingOrderStore;
import dev.pinwright.storage.row.AccountRow;
import dev.pinwright.storage.row.StandingOrderRow;
import java.time.DateTimeException;
import java.time.DayOfWeek;
import java.time.Instant;
import java.time.LocalTime;
import java.time.ZoneId;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * Commands that repeat. Each time it is ordered anew for whoever it is for then, once, on whichever
 * node; what was missed while no node ran is ordered once, not as often as it was missed. What
 * wipes does not repeat.
 */
public final class StandingOrders implements Records<StandingOrder, StandingOrders.Draft> {
  private static final Logger LOG = LoggerFactory.getLogger(StandingOrders.class);
  private final UseCases useCases;
  private final Catalog catalog;
  private final Dispatches dispatches;

  public StandingOrders(UseCases useCases, Catalog catalog, Dispatches dispatches) {
    this.useCases = useCases;
    this.catalog = catalog;
    this.dispatches = dispatches;
  }

  /**
   * A standing order as written.
   *
   * @param order what is ordered each time; without a time of its own. The number of devices is
   *     given in it where it is asked for now
   * @param days of the week
   * @param time {@code HH:MM}
   * @param zone such as {@code Etc/GMT-1}
   */
  public record Draft(
      @Nullable String name,
      @Nullable DispatchOrder order,
      Optional<Set<DayOfWeek>> days,
      @Nullable String time,
      @Nullable String zone,
      Optional<Boolean> paused) {}

  /** Standing orders by name. */
  public Page<StandingOrder> page(Caller caller, Page.Request page) {
    return useCases.read(
        tx ->
            Page.byName(
                (after, limit) ->
                    new ByName<>(tx, StandingOrderRow.class)
                        .page(after, limit).stream().map(this::shown).toList(),
                page,
                StandingOrder::name,
                StandingOrder::id));
  }

  @Override
  public StandingOrder get(Caller caller, String id) {
    return useCases.read(tx -> shown(row(tx, id)));
  }

  private static StandingOrderRow row(Tx tx, String id) {
    return tx.find(StandingOrderRow.class, id)
        .orElseThrow(() -> Problem.notFound("standing order", id));
  }

  private StandingOrder shown(StandingOrderRow r) {
    return new StandingOrder(
        r.id,
        r.version,
        r.name,
        r.command,
        catalog.command(r.command).map(CommandSpec::title).orElse(r.command),
        r.whom,
        Stream.of(r.days).map(d -> Words.parse(DayOfWeek.class, d)).toList(),
        r.time,
        r.zone,
        r.minutes,
        r.paused,
        Optional.ofNullable(r.nextAt),
        Optional.ofNullable(r.lastAt),
        Optional.ofNullable(r.lastDispatch),
        r.fault,
        r.madeBy);
  }

  @Override
  public StandingOrder add(Caller caller, Draft draft) {
    return write(caller, null, 0, draft);
  }

  @Override
  public StandingOrder change(Caller caller, String id, int version, Draft draft) {
    return write(caller, id, version, draft);
  }

  private StandingOrder write(Caller caller, @Nullable String id, int version, Draft draft) {
    String name = Known.name(draft.name());
    if (draft.order() == null) {
      throw Problem.malformed("/order", "Say what is ordered each time.");
    }
    DispatchOrder order = draft.order();
    DispatchOrder.Checked checked = order.check(catalog);
    CommandSpec spec = checked.form().spec();
    caller.needs(spec.role());
    if (spec.danger() == CommandSpec.Danger.WIPES || spec.secrets()) {
      throw Problem.malformed("/order/command", spec.title() + " does not repeat.");
    }
    boolean timed =
        order.at().isPresent() || order.there().flatMap(DispatchOrder.There::local).isPresent();
    if (timed || order.again().isPresent()) {
      throw Problem.malformed(
          "/order", "What repeats has no time of its own, and is not for those of one dispatch.");
    }
    Repetition repetition = repetition(draft.days().orElse(Set.of()), draft.time(), draft.zone());
    // rehearsed now, so that a number, a reason or a second person is asked for before it repeats
    Dispatches.Preview preview = dispatches.rehearse(caller, order);
    if (preview.secondWanted()) {
      throw Problem.conflict(
          "second-person",
          "So many devices are told this only when a second person has agreed, each time; it cannot"
              + " repeat by itself.");
    }
    boolean numbered =
        preview.confirmDevices().isEmpty()
            || preview.confirmDevices().equals(order.confirmDevices());
    if (!numbered) {
      throw Problem.conflict(
              "confirm-devices",
              "This goes to "
                  + Words.counted(preview.devices(), "device")
                  + " now; repeat that number to keep it.")
          .with("confirmDevices", preview.devices());
    }
    return useCases.act(
        caller,
        act -> {
          Tx tx = act.tx();
          if (new ByName<>(tx, StandingOrderRow.class)
              .find(name)
              .filter(r -> !r.id.equals(id))
              .isPresent()) {
            throw Problem.conflict(
                "name-taken", "There is a standing order called " + name + " already.");
          }
          StandingOrderRow row =
              id == null
                  ? new StandingOrderRow()
                  : Known.locked(
                      tx, StandingOrderRow.class, "standing order", id, version, r -> r.version);
          row.name = name;
          row.wanted = Json.write(order);
          row.command = spec.key();
          row.whom = Words.counted(preview.devices(), "device");
          row.days =
              new TreeSet<>(repetition.days()).stream().map(Words::of).toArray(String[]::new);
          row.time = repetition.time().toString();
          row.zone = repetition.zone().getId();
          row.minutes = checked.form().expiry().toMinutes();
          row.paused = draft.paused().orElse(false);
          row.nextAt = row.paused ? null : repetition.after(act.now());
          row.fault = "";
          row.accountId = caller.accountId();
          row.madeBy = caller.login();
          if (id == null) {
            row.id = act.newId();
            tx.insert(row);
          }
          tx.flush();
          act.done(
              Noun.STANDING_ORDER,
              id == null ? "made" : "changed",
              row.id,
              name
                  + ": "
                  + spec.title()
                  + " on "
                  + String.join(", ", row.days)
                  + " at "
                  + row.time);
          return shown(row);
        });
  }

  private static Repetition repetition(
      Set<DayOfWeek> days, @Nullable String time, @Nullable String zone) {
    try {
      return Problem.reading(
          "/days",
          () ->
              new Repetition(
                  days,
                  LocalTime.parse(time == null ? "" : time).withSecond(0).withNano(0),
                  ZoneId.of(zone == null ? "" : zone)));
    } catch (DateTimeException e) {
      throw Problem.malformed(
          "/time", "A time is written like 02:30, and a zone like Etc/GMT-1 or UTC.");
    }
  }

  @Override
  public void delete(Caller caller, String id, int version) {
    useCases.run(
        caller,
        act -> {
          StandingOrderRow row =
              Known.locked(
                  act.tx(), StandingOrderRow.class, "standing order", id, version, r -> r.version);
          act.tx().delete(row);
          act.done(Noun.STANDING_ORDER, "deleted", id, row.name + " deleted");
        });
  }

  /**
   * Orders what is due, each on behalf of whoever made it, and each for itself: what goes wrong
   * with one keeps no other waiting.
   */
  public void follow() {
    for (String id : useCases.read(tx -> new StandingOrderStore(tx).due(useCases.now()))) {
      try {
        useCases.run(maker(id), act -> once(act, id));
      } catch (RuntimeException e) {
        LOG.warn("standing order {} could not be ordered and is tried again", id, e);
      }
    }
  }

  /** Whoever made it, with the role they have by now. */
  private Caller maker(String id) {
    return useCases.read(
        tx -> {
          StandingOrderRow row = row(tx, id);
          Role role =
              tx.find(AccountRow.class, row.accountId)
                  .filter(a -> a.disabledAt == null)
                  .map(a -> Words.parse(Role.class, a.role))
                  .orElse(Role.READER);
          return new Caller(row.accountId, row.madeBy, role);
        });
  }

  private void once(UseCases.Act act, String id) {
    Optional<StandingOrderRow> held =
        act.tx()
            .lock(StandingOrderRow.class, id)
            .filter(r -> r.nextAt != null && !r.nextAt.isAfter(act.now()));
    if (held.isEmpty()) {
      return; // another node was faster, or somebody paused it
    }
    StandingOrderRow row = held.get();
    Instant due = row.nextAt;
    row.nextAt = repetition(days(row), row.time, row.zone).after(act.now());
    row.lastAt = act.now();
    try {
      Dispatch made =
          dispatches
              .within(act)
              .repeat(
                  act.caller(),
                  Json.request(row.wanted, DispatchOrder.class),
                  row.id + " " + due,
                  row.name);
      row.lastDispatch = made.id();
      row.fault = "";
    } catch (Problem p) {
      row.fault = String.valueOf(p.getMessage());
    }
    act.done(
        Noun.STANDING_ORDER,
        row.fault.isEmpty() ? "ordered" : "failed",
        id,
        row.name + (row.fault.isEmpty() ? " ordered" : " was not ordered: " + row.fault));
  }

  private static Set<DayOfWeek> days(StandingOrderRow row) {
    Set<DayOfWeek> days = new TreeSet<>();
    for (String d : row.days) {
      days.add(Words.parse(DayOfWeek.class, d));
    }
    return days;
  }
}
