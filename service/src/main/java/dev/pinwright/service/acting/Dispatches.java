package dev.pinwright.service.acting;

import com.github.f4b6a3.ulid.UlidCreator;
import dev.pinwright.core.Words;
import dev.pinwright.core.catalog.Catalog;
import dev.pinwright.core.catalog.CommandSpec;
import dev.pinwright.core.command.CommandState;
import dev.pinwright.core.device.DeviceTraits;
import dev.pinwright.core.device.Mode;
import dev.pinwright.core.device.OsVersion;
import dev.pinwright.core.device.Ownership;
import dev.pinwright.core.target.Target;
import dev.pinwright.service.Json;
import dev.pinwright.service.Page;
import dev.pinwright.service.Problem;
import dev.pinwright.service.access.Caller;
import dev.pinwright.service.access.Role;
import dev.pinwright.service.journal.Journal;
import dev.pinwright.service.live.Events;
import dev.pinwright.service.live.Wakes;
import dev.pinwright.service.rules.ProfileContent;
import dev.pinwright.service.rules.Rehearsal;
import dev.pinwright.service.secret.Vault;
import dev.pinwright.storage.Database;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.row.CommandRow;
import dev.pinwright.storage.row.DispatchRow;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/** Orders of a command to many devices. Devices are expanded by one statement, however many. */
public final class Dispatches {
  /** How long a command waits for its device unless said otherwise. */
  public static final Duration DEFAULT_EXPIRY = Duration.ofDays(7);

  private static final long MAX_EXPIRY_MINUTES = 60L * 24 * 90;
  private static final int MAX_REASON = 300;
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

  /** A target as written. */
  public record TargetSpec(@Nullable String kind, @Nullable String ref) {}

  /**
   * What is ordered.
   *
   * @param command catalogue key
   * @param fields what the command's form asks for
   * @param reason why, where the command needs one
   * @param targets whom; a device that matches several gets one command
   * @param serials devices by serial number, besides the targets
   * @param expiresInMinutes how long it waits for a device
   * @param confirmDevices the number of devices, when the rehearsal asks for it
   */
  public record Order(
      @Nullable String command,
      Optional<Map<String, String>> fields,
      Optional<String> reason,
      Optional<List<TargetSpec>> targets,
      Optional<List<String>> serials,
      Optional<Long> expiresInMinutes,
      Optional<Long> confirmDevices) {}

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

  private record Checked(
      CommandSpec spec, Map<String, String> fields, String reason, List<Target> targets) {}

  private Checked check(Order order) {
    CommandSpec spec =
        catalog
            .command(order.command() == null ? "" : order.command())
            .orElseThrow(
                () ->
                    Problem.malformed(
                        "/command",
                        "There is no command '"
                            + order.command()
                            + "'; there are "
                            + String.join(
                                ", ", catalog.commands().stream().map(CommandSpec::key).toList())
                            + "."));
    Map<String, String> fields = new HashMap<>();
    order
        .fields()
        .orElse(Map.of())
        .forEach(
            (k, v) -> {
              CommandSpec.Field f =
                  spec.field(k)
                      .orElseThrow(
                          () ->
                              Problem.malformed(
                                  "/fields/" + k, spec.title() + " has no field " + k + "."));
              if (v.length() > f.maxLength()) {
                throw Problem.malformed(
                    "/fields/" + k, f.title() + " has at most " + f.maxLength() + " characters.");
              }
              if (!v.isBlank()) {
                fields.put(k, v.strip());
              }
            });
    spec.fields().stream()
        .filter(f -> f.required() && !fields.containsKey(f.key()))
        .forEach(
            f -> {
              throw Problem.malformed("/fields/" + f.key(), f.title() + " has to be given.");
            });
    String reason = order.reason().orElse("").strip();
    if (spec.reasonRequired() && reason.isEmpty()) {
      throw Problem.malformed("/reason", spec.title() + " needs a reason; it is recorded.");
    }
    if (reason.length() > MAX_REASON) {
      throw Problem.malformed("/reason", "A reason has at most 300 characters.");
    }
    List<Target> targets = new ArrayList<>();
    for (TargetSpec t : order.targets().orElse(List.of())) {
      targets.add(
          ProfileContent.target(
              t.kind() == null ? "" : t.kind(), t.ref() == null ? "" : t.ref(), "/targets"));
    }
    if (targets.isEmpty() && order.serials().orElse(List.of()).isEmpty()) {
      throw Problem.malformed("/targets", "Say which devices: targets or serials.");
    }
    return new Checked(spec, fields, reason, targets);
  }

  /** Gathers the devices an order is for in a temporary table. */
  private void gather(Tx tx, Checked checked, Order order) {
    String[] serials =
        order.serials().orElse(List.of()).stream()
            .map(s -> s.strip().toUpperCase(java.util.Locale.ROOT))
            .filter(s -> !s.isEmpty())
            .distinct()
            .toArray(String[]::new);
    List<Object[]> unknown =
        tx.rows(
            "select s, 1 from unnest(cast(:s as text[])) s where not exists (select 1 from"
                + " device d where d.serial = s and d.retired_at is null) limit 20",
            Map.of("s", serials));
    if (!unknown.isEmpty()) {
      throw Problem.malformed(
          "/serials",
          "No device has the serial "
              + String.join(", ", unknown.stream().map(r -> (String) r[0]).toList())
              + ".");
    }
    tx.execute(
        "create temporary table if not exists aimed (device_id text) on commit delete rows",
        Map.of());
    tx.execute(
        """
        insert into aimed
        select distinct dt.device_id from device_target dt
          join unnest(cast(:kinds as text[]), cast(:refs as text[])) t(kind, ref)
            on t.kind = dt.kind and t.ref = dt.ref
          join device d on d.id = dt.device_id and d.retired_at is null
        union
        select id from device where serial = any(cast(:serials as text[])) and retired_at is null
        """,
        Map.of(
            "kinds", checked.targets().stream().map(t -> Words.of(t.kind())).toArray(String[]::new),
            "refs", checked.targets().stream().map(Target::ref).toArray(String[]::new),
            "serials", serials));
  }

  private record Sort(String platform, String mode, String ownership, long devices, String no) {}

  private List<Sort> sorts(Tx tx, CommandSpec spec) {
    return tx
        .rows(
            "select d.platform, d.mode, d.ownership, count(*) from aimed a"
                + " join device d on d.id = a.device_id group by 1, 2, 3 order by 1, 2, 3",
            Map.of())
        .stream()
        .map(
            r ->
                new Sort(
                    (String) r[0],
                    (String) r[1],
                    (String) r[2],
                    ((Number) r[3]).longValue(),
                    catalog
                        .objection(
                            spec,
                            new DeviceTraits(
                                (String) r[0],
                                Words.parse(Mode.class, (String) r[1]),
                                new OsVersion(0, 0, 0)),
                            Words.parse(Ownership.class, (String) r[2]))
                        .orElse("")))
        .toList();
  }

  /** Shows what an order would do. */
  public Preview rehearse(Caller caller, Order order) {
    caller.needs(Role.HELPDESK);
    Checked checked = check(order);
    return database.rehearse(
        tx -> {
          gather(tx, checked, order);
          return preview(sorts(tx, checked.spec()));
        });
  }

  private static Preview preview(List<Sort> sorts) {
    long devices = sorts.stream().mapToLong(Sort::devices).sum();
    Map<String, Long> unable = new java.util.TreeMap<>();
    sorts.stream()
        .filter(s -> !s.no().isEmpty())
        .forEach(s -> unable.merge(s.no(), s.devices(), Long::sum));
    return new Preview(
        devices,
        devices - unable.values().stream().mapToLong(Long::longValue).sum(),
        unable.entrySet().stream().map(e -> new Unable(e.getKey(), e.getValue())).toList(),
        devices >= Rehearsal.CONFIRM_FROM ? Optional.of(devices) : Optional.empty());
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
    Checked checked = check(order);
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
              gather(tx, checked, order);
              List<Sort> sorts = sorts(tx, checked.spec());
              Preview preview = preview(sorts);
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

  private DispatchRow row(Caller caller, Checked checked, Preview preview, long minutes) {
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

  private Dispatch store(Tx tx, Caller caller, Checked checked, List<Sort> sorts, DispatchRow row) {
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
            sorts.stream().map(Sort::platform).toArray(String[]::new),
            "modes",
            sorts.stream().map(Sort::mode).toArray(String[]::new),
            "ownerships",
            sorts.stream().map(Sort::ownership).toArray(String[]::new),
            "nos",
            sorts.stream().map(Sort::no).toArray(String[]::new)));
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
    String[] c = page.parts(1);
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
    String[] c = page.parts(2);
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
