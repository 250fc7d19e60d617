package dev.pinwright.storage.acting;

import dev.pinwright.core.Words;
import dev.pinwright.core.command.CommandState;
import dev.pinwright.storage.Planning;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.query.Sought;
import java.time.Instant;
import java.util.Collection;
import java.util.EnumMap;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** Commands. Each step of one is taken at most once, on any number of nodes. */
public final class CommandStore {
  private final Tx tx;

  public CommandStore(Tx tx) {
    this.tx = tx;
  }

  /**
   * A command to be delivered.
   *
   * @param fields JSON
   * @param actor login of whoever ordered it
   * @param reason why
   * @param notInUse whether it is carried out once nobody is using it
   */
  public record Queued(
      String id,
      String dispatchId,
      String command,
      String fields,
      String actor,
      String reason,
      boolean notInUse) {}

  /** Commands waiting for a device, oldest first, at most {@code limit}. */
  public List<Queued> queued(String deviceId, Instant now, int limit) {
    return tx.select(
        Queued.class,
        """
        select c.id, c.dispatch_id, c.command, cast(d.fields as text) as fields, d.actor, d.reason,
               d.not_in_use
          from command c
          join dispatch d on d.id = c.dispatch_id
         where c.device_id = :device and c.state = 'queued' and c.expires_at > :now
           and (c.until_at is null or c.until_at > :now)
         order by c.rank, c.queued_at, c.id limit :limit
        """,
        Map.of("device", deviceId, "now", now, "limit", limit));
  }

  /**
   * Takes a step, when it is allowed from where the command is. The check is part of the statement,
   * so two nodes cannot both take it.
   *
   * @return the catalogue key of the command; empty when the step was not taken
   */
  public Optional<String> step(
      String deviceId, String commandId, CommandState to, String reason, Instant now) {
    String time = to == CommandState.DELIVERED ? "delivered_at" : "ended_at";
    return tx
        .column(
            String.class,
            "update command set state = :to, reason = :reason, "
                + time
                + " = :now where id = :id and device_id = :device"
                + " and state = any(cast(:from as text[])) returning command",
            Map.of(
                "to", Words.of(to),
                "reason", reason,
                "now", now,
                "id", commandId,
                "device", deviceId,
                "from", before(to)))
        .stream()
        .findFirst();
  }

  private static String[] before(CommandState to) {
    return CommandState.before(to).stream().map(Words::of).toArray(String[]::new);
  }

  /** The fields, as JSON, of a command if it is one of this kind. */
  public Optional<String> fields(String commandId, String command) {
    return tx
        .column(
            String.class,
            "select cast(d.fields as text) from command c join dispatch d on d.id = c.dispatch_id"
                + " where c.id = :c and c.command = :command",
            Map.of("c", commandId, "command", command))
        .stream()
        .findFirst();
  }

  /** Of a command of this kind that a device has and has not ended: what was filled in, as JSON. */
  public Optional<String> underWay(String commandId, String command, String deviceId) {
    return tx
        .column(
            String.class,
            "select cast(d.fields as text) from command c join dispatch d on d.id = c.dispatch_id"
                + " where c.id = :c and c.command = :command and c.device_id = :device"
                + " and c.state = 'delivered'",
            Map.of("c", commandId, "command", command, "device", deviceId))
        .stream()
        .findFirst();
  }

  /** Keeps what a command brought back. */
  public void output(String commandId, String output) {
    tx.execute(
        "insert into command_output (command_id, output) values (:c, :output)"
            + " on conflict (command_id) do update set output = excluded.output",
        Map.of("c", commandId, "output", output));
  }

  /** What a command brought back. */
  public Optional<String> output(String commandId) {
    return tx
        .column(
            String.class,
            "select output from command_output where command_id = :c",
            Map.of("c", commandId))
        .stream()
        .findFirst();
  }

  /** Notes what a holder answered. */
  public void answered(String commandId, String answer) {
    tx.execute(
        "update command set answer = :answer where id = :c",
        Map.of("c", commandId, "answer", answer));
  }

  /** Notes that messages were read; those that were are left as they are. */
  public void read(String deviceId, Collection<String> commandIds, Instant now) {
    tx.execute(
        "update command set read_at = :now where id = any(cast(:ids as text[]))"
            + " and device_id = :d and read_at is null",
        Map.of("d", deviceId, "ids", commandIds.toArray(String[]::new), "now", now));
  }

  /** How often an answer was given. */
  public record Answered(String answer, long n) {}

  /** What was answered to a dispatch, most often first. */
  public List<Answered> answers(String dispatchId) {
    return tx.select(
        Answered.class,
        "select answer, count(*) as n from command where dispatch_id = :d and answer is not null"
            + " group by answer order by n desc, answer",
        Map.of("d", dispatchId));
  }

  /** How many messages of a dispatch were read. */
  public long read(String dispatchId) {
    return tx.value(
        "select count(*) from command where dispatch_id = :d and read_at is not null",
        Long.class,
        Map.of("d", dispatchId));
  }

  /** Who ordered a command. */
  public Optional<String> orderedBy(String commandId) {
    return tx
        .column(
            String.class,
            "select d.actor from command c join dispatch d on d.id = c.dispatch_id where c.id = :c",
            Map.of("c", commandId))
        .stream()
        .findFirst();
  }

  /** A command that waits for its device. */
  public record Waiting(String id, String command) {}

  /** Commands that wait for a device in the order they are handed over in; at most 500. */
  public List<Waiting> waiting(String deviceId) {
    return tx.select(
        Waiting.class,
        "select id, command from command where device_id = :d"
            + " and state in ('planned', 'queued') order by rank, queued_at, id limit 500",
        Map.of("d", deviceId));
  }

  /** Hands these over in this order, before all others. */
  public void place(String deviceId, List<String> ids) {
    tx.execute(
        "update command c set rank = p.rank"
            + " from unnest(cast(:ids as text[])) with ordinality as p(id, rank)"
            + " where c.id = p.id and c.device_id = :d and c.state in ('planned', 'queued')",
        Map.of("d", deviceId, "ids", ids.toArray(String[]::new)));
  }

  /** Cancels what waits for a device. */
  public int cancelQueued(String deviceId, String reason, Instant now) {
    return cancel("device_id", deviceId, reason, now);
  }

  /** Cancels what is still queued of a dispatch; says how many. */
  public int cancelDispatch(String dispatchId, String reason, Instant now) {
    return cancel("dispatch_id", dispatchId, reason, now);
  }

  private int cancel(String column, String id, String reason, Instant now) {
    return tx.execute(
        "update command set state = 'cancelled', reason = :why, ended_at = :now where "
            + column
            + " = :id and state = any(cast(:from as text[]))",
        Map.of("id", id, "now", now, "why", reason, "from", before(CommandState.CANCELLED)));
  }

  /** Lets commands expire that waited long enough; says how many. */
  public int expire(Instant now) {
    return tx.execute(
        "update command set state = 'expired', reason = 'the device was not heard in time',"
            + " ended_at = :now where state in ('planned', 'queued', 'delivered')"
            + " and expires_at <= :now",
        Map.of("now", now));
  }

  private record Counted(CommandState state, long n) {}

  /** How many commands of a dispatch are in each state. */
  public Map<CommandState, Long> states(String dispatchId) {
    Map<CommandState, Long> out = new EnumMap<>(CommandState.class);
    tx.select(
            Counted.class,
            "select state, count(*) as n from command where dispatch_id = :d group by state",
            Map.of("d", dispatchId))
        .forEach(c -> out.put(c.state(), c.n()));
    return out;
  }

  /**
   * A command in a list.
   *
   * @param by login of whoever ordered it
   * @param wherefore why it was ordered
   */
  public record Line(
      String id,
      String dispatchId,
      String deviceId,
      String device,
      String command,
      CommandState state,
      String reason,
      Instant queuedAt,
      Optional<Instant> dueAt,
      Optional<Instant> deliveredAt,
      Optional<Instant> endedAt,
      Instant expiresAt,
      Optional<String> answer,
      Optional<Instant> readAt,
      String by,
      String wherefore) {}

  /**
   * Which commands are asked for. Empty texts ask for nothing.
   *
   * @param words of the device's name
   * @param first the least id; ids grow with time
   */
  public record Asked(
      String dispatchId,
      String deviceId,
      String command,
      String state,
      String by,
      String words,
      String first) {}

  /**
   * Commands, newest first.
   *
   * @param before id of the last command shown; empty for none
   */
  public List<Line> page(Asked asked, String before, int limit) {
    Map<String, Object> p = new HashMap<>();
    p.put("limit", limit);
    StringBuilder where = new StringBuilder("true");
    asked(where, p, "c.dispatch_id = :dispatch", asked.dispatchId());
    asked(where, p, "c.device_id = :device", asked.deviceId());
    asked(where, p, "c.command = :command", asked.command());
    asked(where, p, "c.state = :state", asked.state());
    asked(where, p, "s.actor = :by", asked.by());
    asked(where, p, "c.id >= :first", asked.first());
    asked(where, p, "c.id < :before", before);
    where.append(" and ").append(Sought.in("lower(d.name)", asked.words(), p));
    // which index serves depends on what is asked for
    tx.plan(Planning.EACH_TIME);
    return tx.select(
        Line.class,
        """
        select c.id, c.dispatch_id, c.device_id, d.name as device, c.command, c.state, c.reason,
               c.queued_at, c.due_at, c.delivered_at, c.ended_at, c.expires_at, c.answer, c.read_at,
               s.actor as by, s.reason as wherefore
          from command c join device d on d.id = c.device_id join dispatch s on s.id = c.dispatch_id
         where %s order by c.id desc limit :limit
        """
            .formatted(where),
        p);
  }

  private static void asked(
      StringBuilder where, Map<String, Object> parameters, String condition, String value) {
    if (!value.isEmpty()) {
      where.append(" and ").append(condition);
      parameters.put(condition.substring(condition.indexOf(':') + 1), value);
    }
  }
}
