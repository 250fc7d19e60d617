package dev.pinwright.storage.acting;

import dev.pinwright.core.Words;
import dev.pinwright.core.command.CommandState;
import dev.pinwright.core.command.Reach;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.row.DispatchRow;
import java.time.Instant;
import java.util.Collection;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;

/** Dispatches. Devices are gathered and given their commands by statements, however many. */
public final class DispatchStore {
  private final Tx tx;

  public DispatchStore(Tx tx) {
    this.tx = tx;
  }

  /**
   * Which of these serial numbers, IMEIs and asset numbers, in capitals, no managed device has; at
   * most twenty.
   */
  public List<String> unknown(Collection<String> identifiers) {
    return tx.column(
        String.class,
        """
        select s from unnest(cast(:s as text[])) s
         where s not in (
           select unnest(array[serial, imei, upper(asset)]) from device
            where retired_at is null
              and (serial = any(cast(:s as text[])) or imei = any(cast(:s as text[]))
                   or upper(asset) = any(cast(:s as text[])))
           except select null)
         limit 20
        """,
        Map.of("s", identifiers.toArray(String[]::new)));
  }

  /** The devices gathered, by what they are. */
  public List<Reach.Alike> gathered() {
    return tx.select(
        Reach.Alike.class,
        "select d.platform, d.mode, d.ownership, count(*) as devices from aimed a"
            + " join device d on d.id = a.device_id group by 1, 2, 3 order by 1, 2, 3",
        Map.of());
  }

  /** Digests of the trees the devices gathered are to hold. */
  public List<String> desired() {
    return tx.column(
        String.class,
        "select distinct st.desired_digest from aimed a"
            + " join device_state st on st.device_id = a.device_id",
        Map.of());
  }

  /** Names of some of the devices gathered. */
  public List<String> named(int limit) {
    return tx.column(
        String.class,
        "select d.name from aimed a join device d on d.id = a.device_id"
            + " order by lower(d.name), d.id limit :n",
        Map.of("n", limit));
  }

  /**
   * Gives every device gathered its command: queued, or planned, where it can carry it out, failed
   * with the reason where it cannot.
   *
   * @param told the line each device's activity gets
   */
  public void command(DispatchRow dispatch, Reach reach, String told) {
    tx.flush();
    tx.execute(
        """
        insert into command (id, dispatch_id, device_id, command, state, reason, queued_at,
                             ended_at, expires_at)
        select :id || '-' || row_number() over (order by a.device_id), :id, a.device_id, :command,
               case when s.no = '' then :waiting else 'failed' end, s.no, :now,
               case when s.no = '' then null else cast(:now as timestamptz) end, :expires
          from aimed a join device d on d.id = a.device_id
          join unnest(cast(:platforms as text[]), cast(:modes as text[]),
                      cast(:ownerships as text[]), cast(:nos as text[]))
                 as s(platform, mode, ownership, no)
            on s.platform = d.platform and s.mode = d.mode and s.ownership = d.ownership
        """,
        Map.of(
            "id",
            dispatch.id,
            "waiting",
            Words.of(dispatch.dueAt == null ? CommandState.QUEUED : CommandState.PLANNED),
            "command",
            dispatch.command,
            "now",
            dispatch.at,
            "expires",
            dispatch.expiresAt,
            "platforms",
            each(reach, p -> p.alike().platform()),
            "modes",
            each(reach, p -> Words.of(p.alike().mode())),
            "ownerships",
            each(reach, p -> Words.of(p.alike().ownership())),
            "nos",
            each(reach, p -> p.objection().orElse(""))));
    tx.execute(
        "insert into activity (device_id, at, kind, text)"
            + " select device_id, :now, 'command', :text from aimed",
        Map.of("now", dispatch.at, "text", told));
  }

  private static String[] each(Reach reach, Function<Reach.Part, String> of) {
    return reach.parts().stream().map(of).toArray(String[]::new);
  }

  /** Queues what is due; the dispatches it is of. */
  public List<String> begin(Instant now) {
    return tx.column(
        String.class,
        """
        with begun as (
          update command c set state = 'queued' from dispatch d
           where d.id = c.dispatch_id and d.due_at <= :now and c.state = 'planned'
          returning c.dispatch_id)
        select distinct dispatch_id from begun
        """,
        Map.of("now", now));
  }

  /** The dispatch an account made under a key; whoever asks alike waits for this transaction. */
  public Optional<DispatchRow> earlier(String accountId, String key) {
    tx.advisoryLock(accountId + " " + key);
    return tx
        .list(
            DispatchRow.class,
            "from DispatchRow where accountId = :a and idempotencyKey = :k",
            Map.of("a", accountId, "k", key),
            1)
        .stream()
        .findFirst();
  }

  /** Dispatches before an id, newest first. */
  public List<DispatchRow> page(String before, int limit) {
    return tx.list(
        DispatchRow.class,
        "from DispatchRow where id < :b order by id desc",
        Map.of("b", before),
        limit);
  }
}
