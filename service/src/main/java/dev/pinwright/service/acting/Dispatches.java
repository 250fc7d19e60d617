package dev.pinwright.service.acting;

import com.github.f4b6a3.ulid.UlidCreator;
import dev.pinwright.core.Words;
import dev.pinwright.core.catalog.Catalog;
import dev.pinwright.core.catalog.CommandSpec;
import dev.pinwright.core.command.CommandState;
import dev.pinwright.service.journal.Journal;
import dev.pinwright.service.live.Events;
import dev.pinwright.service.live.Wakes;
import dev.pinwright.service.secret.Vault;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Json;
import dev.pinwright.service.work.Page;
import dev.pinwright.service.work.Problem;
import dev.pinwright.service.work.Role;
import dev.pinwright.storage.Database;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.row.CommandRow;
import dev.pinwright.storage.row.DispatchRow;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** Orders of a command to many devices. Devices are expanded by one statement, however many. */
public final class Dispatches {
  /** How long a command waits for its device unless said otherwise. */
  public static final Duration DEFAULT_EXPIRY = Duration.ofDays(7);

  private static final long MAX_EXPIRY_MINUTES = 60L * 24 * 90;
  private static final int MAX_KEY = 200;

  private final Database database;
  private final Catalog catalog;
  private final Journal journal;
  private final Events events;
  private final Clock clock;

  public Dispatches(
      Database database, Catalog catalog, Journal journal, Events events, Clock clock) {
    this.database = database;
    this.catalog = catalog;
    this.journal = journal;
    this.events = events;
    this.clock = clock;
  }

  /** What an order would do. */
  public record Preview(
      long devices, long able, List<Unable> unable, Optional<Long> confirmDevices) {}

  /** Devices that cannot carry it out and why. */
  public record Unable(String reason, long devices) {}

  /** A dispatch and how far it is. */
  public record Dispatch(
      String id,
      String command,
      String title,
      Map<String, String> fields,
      String reason,
      Instant at,
      Instant expiresAt,
      String actor,
      long total,
      Map<String, Long> states,
      boolean ended) {}

  /** One command. */
  public record Command(
      String id,
      String dispatchId,
      String deviceId,
      String device,
      String command,
      String title,
      String state,
      String reason,
      Instant queuedAt,
      Optional<Instant> deliveredAt,
      Optional<Instant> endedAt,
      Instant expiresAt) {}

  /** Shows what an order would do. */
  public Preview rehearse(Caller caller, Order order) {
    caller.needs(Role.HELPDESK);
    Order.Checked checked = order.check(catalog);
    return database.rehearse(
        tx -> {
          Aim.gather(tx, checked, order);
          return Aim.preview(Aim.sorts(tx, catalog, checked.spec()));
        });
  }

  /**
   * Orders.
   *
   * <p>Commands are committed before this returns. Devices that cannot carry it out get a command
   * that has failed with the reason, so that each device ends in a state.
   *
   * @param key idempotency key: sent again with the same order, the first dispatch is answered and
   *     nothing is done again; empty for none
   * @throws Problem 400 for a bad order, 409 when it reaches no device, the number is asked for, or
   *     the key was used for another order
   */
  public Dispatch order(Caller caller, Order order, String key) {
    caller.needs(Role.HELPDESK);
    Order.Checked checked = order.check(catalog);
    long minutes = order.expiresInMinutes().orElse(DEFAULT_EXPIRY.toMinutes());
    if (minutes < 1 || minutes > MAX_EXPIRY_MINUTES) {
      throw Problem.malformed(
          "/expiresInMinutes", "A command waits from 1 minute to 90 days (129600 minutes).");
    }
    if (key.length() > MAX_KEY) {
      throw Problem.malformed("", "An Idempotency-Key has at most 200 characters.");
    }
    String hash = Vault.hash(Json.write(order));
    Dispatch made =
        database.call(
            tx -> {
              Optional<DispatchRow> before = earlier(tx, caller, key, hash);
              if (before.isPresent()) {
                return view(tx, before.get());
              }
              Aim.gather(tx, checked, order);
              List<Aim.Sort> sorts = Aim.sorts(tx, catalog, checked.spec());
              Preview preview = Aim.preview(sorts);
              if (preview.devices() == 0) {
                throw Problem.conflict("no-devices", "This reaches no device.");
              }
              if (preview.confirmDevices().isPresent()
                  && !preview.confirmDevices().equals(order.confirmDevices())) {
                throw Problem.conflict(
                        "confirm-devices",
                        "This goes to "
                            + preview.devices()
                            + " devices; repeat that number to send it.")
                    .with("confirmDevices", preview.devices());
              }
              DispatchRow row = row(caller, checked, preview, minutes);
              row.idempotencyKey = key.isEmpty() ? null : key;
              row.requestHash = hash;
              return store(tx, caller, checked, sorts, row);
            });
    events.touch("dispatches");
    events.touch("devices");
    return made;
  }

  private static Optional<DispatchRow> earlier(Tx tx, Caller caller, String key, String hash) {
    if (key.isEmpty()) {
      return Optional.empty();
    }
    tx.rows(
        "select 1, cast(pg_advisory_xact_lock(hashtextextended(:k, 1)) as text)",
        Map.of("k", caller.accountId() + " " + key));
    Optional<DispatchRow> row =
        tx
            .list(
                DispatchRow.class,
                "from DispatchRow where accountId = :a and idempotencyKey = :k",
                Map.of("a", caller.accountId(), "k", key),
                1)
            .stream()
            .findFirst();
    if (row.filter(r -> !r.requestHash.equals(hash)).isPresent()) {
      throw Problem.conflict("key-used", "This Idempotency-Key was used for another order.");
    }
    return row;
  }

  private DispatchRow row(Caller caller, Order.Checked checked, Preview preview, long minutes) {
    DispatchRow row = new DispatchRow();
    row.id = UlidCreator.getMonotonicUlid().toString();
    row.command = checked.spec().key();
    row.fields = Json.write(checked.fields());
    row.reason = checked.reason();
    row.at = clock.instant();
    row.expiresAt = row.at.plus(Duration.ofMinutes(minutes));
    row.actor = caller.login();
    row.total = (int) preview.devices();
    row.accountId = caller.accountId();
    return row;
  }

  private Dispatch store(
      Tx tx, Caller caller, Order.Checked checked, List<Aim.Sort> sorts, DispatchRow row) {
    tx.insert(row);
    tx.flush();
    tx.execute(
        """
        insert into command (id, dispatch_id, device_id, command, state, reason, queued_at,
                             ended_at, expires_at)
        select :id || '-' || row_number() over (order by a.device_id), :id, a.device_id, :command,
               case when s.no = '' then 'queued' else 'failed' end, s.no, :now,
               case when s.no = '' then null else cast(:now as timestamptz) end, :expires
          from aimed a join device d on d.id = a.device_id
          join unnest(cast(:platforms as text[]), cast(:modes as text[]),
                      cast(:ownerships as text[]), cast(:nos as text[]))
                 as s(platform, mode, ownership, no)
            on s.platform = d.platform and s.mode = d.mode and s.ownership = d.ownership
        """,
        Map.of(
            "id",
            row.id,
            "command",
            row.command,
            "now",
            row.at,
            "expires",
            row.expiresAt,
            "platforms",
            sorts.stream().map(Aim.Sort::platform).toArray(String[]::new),
            "modes",
            sorts.stream().map(Aim.Sort::mode).toArray(String[]::new),
            "ownerships",
            sorts.stream().map(Aim.Sort::ownership).toArray(String[]::new),
            "nos",
            sorts.stream().map(Aim.Sort::no).toArray(String[]::new)));
    tx.execute(
        "insert into activity (device_id, at, kind, text) select device_id, :now, 'command',"
            + " :text from aimed",
        Map.of(
            "now",
            row.at,
            "text",
            row.command
                + " ordered by "
                + caller.login()
                + (row.reason.isEmpty() ? "" : ": " + row.reason)));
    journal.write(
        tx,
        caller,
        "command.dispatched",
        "dispatch:" + row.id,
        checked.spec().title()
            + " to "
            + row.total
            + (row.total == 1 ? " device" : " devices")
            + (row.reason.isEmpty() ? "" : "; reason: " + row.reason));
    Wakes.dispatch(tx, row.id);
    return view(tx, row);
  }

  /** Dispatches, newest first. */
  public Page<Dispatch> page(Caller caller, Page.Request page) {
    caller.needs(Role.READER);
    String[] c = page.parts(Page.Part.TEXT);
    return database.call(
        tx ->
            Page.of(
                tx.list(
                    DispatchRow.class,
                    "from DispatchRow where id < :b order by id desc",
                    Map.of("b", c.length == 0 ? "~" : c[0]),
                    page.limit() + 1),
                page.limit(),
                r -> view(tx, r),
                r -> Page.cursor(r.id)));
  }

  /** One dispatch. */
  public Dispatch get(Caller caller, String id) {
    caller.needs(Role.READER);
    return database.call(tx -> view(tx, row(tx, id)));
  }

  private static DispatchRow row(Tx tx, String id) {
    return tx.find(DispatchRow.class, id).orElseThrow(() -> Problem.notFound("dispatch", id));
  }

  /** Commands of a dispatch or of a device, newest first. */
  public Page<Command> commands(
      Caller caller, String dispatchId, String deviceId, String state, Page.Request page) {
    caller.needs(Role.READER);
    String[] c = page.parts(Page.Part.TIME, Page.Part.TEXT);
    List<Object[]> rows =
        database.call(
            tx ->
                tx.rows(
                    """
                    select c.id, c.dispatch_id, c.device_id, d.name, c.command, c.state, c.reason,
                           c.queued_at, c.delivered_at, c.ended_at, c.expires_at,
                           cast(c.queued_at as text)
                      from command c join device d on d.id = c.device_id
                     where (:dispatch = '' or c.dispatch_id = :dispatch)
                       and (:device = '' or c.device_id = :device)
                       and (:state = '' or c.state = :state)
                       and (c.queued_at, c.id) < (cast(:at as timestamptz), :id)
                     order by c.queued_at desc, c.id desc limit :limit
                    """,
                    Map.of(
                        "dispatch",
                        dispatchId,
                        "device",
                        deviceId,
                        "state",
                        state,
                        "at",
                        c.length == 0 ? "infinity" : c[0],
                        "id",
                        c.length == 0 ? "" : c[1],
                        "limit",
                        page.limit() + 1)));
    return Page.of(
        rows,
        page.limit(),
        r ->
            new Command(
                (String) r[0],
                (String) r[1],
                (String) r[2],
                (String) r[3],
                (String) r[4],
                title((String) r[4]),
                (String) r[5],
                (String) r[6],
                (Instant) r[7],
                Optional.ofNullable((Instant) r[8]),
                Optional.ofNullable((Instant) r[9]),
                (Instant) r[10]),
        r -> Page.cursor((String) r[11], (String) r[0]));
  }

  /**
   * Cancels what has not been delivered.
   *
   * @return how many commands were cancelled
   */
  public int cancel(Caller caller, String dispatchId) {
    caller.needs(Role.HELPDESK);
    int cancelled =
        database.call(
            tx -> {
              DispatchRow row = row(tx, dispatchId);
              int n =
                  tx.execute(
                      "update command set state = 'cancelled', reason = :why, ended_at = :now"
                          + " where dispatch_id = :d and state = 'queued'",
                      Map.of(
                          "d",
                          dispatchId,
                          "now",
                          clock.instant(),
                          "why",
                          "cancelled by " + caller.login()));
              if (n > 0) {
                journal.write(
                    tx,
                    caller,
                    "command.cancelled",
                    "dispatch:" + dispatchId,
                    title(row.command) + " cancelled on " + n + " devices");
              }
              return n;
            });
    events.touch("dispatches");
    return cancelled;
  }

  /**
   * Cancels one command.
   *
   * @throws Problem 409 when the device has it already
   */
  public void cancelCommand(Caller caller, String commandId) {
    caller.needs(Role.HELPDESK);
    database.run(
        tx -> {
          CommandRow row =
              tx.find(CommandRow.class, commandId)
                  .orElseThrow(() -> Problem.notFound("command", commandId));
          boolean cancelled =
              Commands.step(
                  tx,
                  row.deviceId,
                  commandId,
                  CommandState.CANCELLED,
                  "cancelled by " + caller.login(),
                  clock.instant());
          if (!cancelled) {
            throw Problem.conflict(
                "not-cancellable",
                "The command is " + row.state + "; only queued commands can be cancelled.");
          }
          journal.write(
              tx,
              caller,
              "command.cancelled",
              "device:" + row.deviceId,
              title(row.command) + " cancelled");
        });
    events.touch("dispatches");
  }

  private String title(String command) {
    return catalog.command(command).map(CommandSpec::title).orElse(command);
  }

  private Dispatch view(Tx tx, DispatchRow r) {
    Map<String, Long> states = new java.util.TreeMap<>();
    tx.rows(
            "select state, count(*) from command where dispatch_id = :d group by state",
            Map.of("d", r.id))
        .forEach(s -> states.put((String) s[0], ((Number) s[1]).longValue()));
    boolean ended =
        states.keySet().stream().allMatch(s -> Words.parse(CommandState.class, s).ended());
    return new Dispatch(
        r.id,
        r.command,
        title(r.command),
        Json.read(r.fields, new com.fasterxml.jackson.core.type.TypeReference<>() {}),
        r.reason,
        r.at,
        r.expiresAt,
        r.actor,
        r.total,
        states,
        ended);
  }
}
