package dev.pinwright.storage.acting;

import dev.pinwright.core.Words;
import dev.pinwright.core.command.Reach;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.row.DispatchRow;
import java.time.Instant;
import java.util.Collection;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;
import org.jspecify.annotations.Nullable;

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

  /** Zones the devices gathered told; an empty text for those that told none. */
  public List<String> zones() {
    return tx.column(
        String.class,
        "select distinct coalesce(d.facts ->> 'system/zone', '') from aimed a"
            + " join device d on d.id = a.device_id",
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
   * When devices of a zone get a command.
   *
   * @param zone as devices tell it; of {@link #EVERYWHERE} all do
   * @param due planned until then; empty for at once
   * @param until the end of the hours it may be delivered in
   */
  public record Due(
      String zone, Optional<Instant> due, Optional<Instant> until, Instant expiresAt) {}

  /** The zone of a {@link Due} that is for all of them. */
  public static final String EVERYWHERE = "*";

  /** That of a {@link Due} for devices of a zone none is for: they told it just now, or none. */
  public static final String ELSEWHERE = "?";

  private static final String CHANGED =
      "it joined anew, in another way, while this was ordered; order it again";

  /**
   * Gives every device gathered its command: queued, or planned, where it can carry it out, failed
   * with the reason where it cannot. Devices go on telling while they are gathered: whatever one
   * has become meanwhile, it gets one.
   *
   * @param dues one of {@link #EVERYWHERE}, or one for each zone and one of {@link #ELSEWHERE}
   * @param told the line each device's activity gets
   */
  public void command(DispatchRow dispatch, Reach reach, List<Due> dues, String told) {
    tx.flush();
    tx.execute(
        """
        insert into command (id, dispatch_id, device_id, command, state, reason, queued_at,
                             due_at, until_at, ended_at, expires_at)
        select :id || '-' || row_number() over (order by a.device_id), :id, a.device_id, :command,
               case when r.no <> '' then 'failed' when z.due > :now then 'planned'
                    else 'queued' end, r.no, :now, z.due, z.until,
               case when r.no = '' then null else cast(:now as timestamptz) end, z.expires
          from aimed a join device d on d.id = a.device_id
          left join unnest(cast(:platforms as text[]), cast(:modes as text[]),
                      cast(:ownerships as text[]), cast(:nos as text[]))
                 as s(platform, mode, ownership, no)
            on s.platform = d.platform and s.mode = d.mode and s.ownership = d.ownership
          cross join lateral (select coalesce(s.no, :changed) as no) r
          join unnest(cast(:zones as text[]), cast(:dues as timestamptz[]),
                      cast(:untils as timestamptz[]), cast(:expires as timestamptz[]))
                 as z(zone, due, until, expires)
            on z.zone in ('*', case when d.facts ->> 'system/zone' = any(cast(:zones as text[]))
                                    then d.facts ->> 'system/zone' else '?' end)
        """,
        Map.ofEntries(
            Map.entry("id", dispatch.id),
            Map.entry("command", dispatch.command),
            Map.entry("now", dispatch.at),
            Map.entry("changed", CHANGED),
            Map.entry("platforms", each(reach, p -> p.alike().platform())),
            Map.entry("modes", each(reach, p -> Words.of(p.alike().mode()))),
            Map.entry("ownerships", each(reach, p -> Words.of(p.alike().ownership()))),
            Map.entry("nos", each(reach, p -> p.objection().orElse(""))),
            Map.entry("zones", each(dues, Due::zone)),
            Map.entry("dues", each(dues, d -> d.due().map(Instant::toString).orElse(null))),
            Map.entry("untils", each(dues, d -> d.until().map(Instant::toString).orElse(null))),
            Map.entry("expires", each(dues, d -> d.expiresAt().toString()))));
    tx.execute(
        "insert into activity (device_id, at, kind, text)"
            + " select device_id, :now, 'command', :text from aimed",
        Map.of("now", dispatch.at, "text", told));
  }

  private static String[] each(Reach reach, Function<Reach.Part, String> of) {
    return each(reach.parts(), of);
  }

  private static <T> String[] each(List<T> of, Function<T, @Nullable String> text) {
    return of.stream().map(text).toArray(String[]::new);
  }

  /** Queues what is due; the dispatches it is of. */
  public List<String> begin(Instant now) {
    return tx.column(
        String.class,
        """
        with begun as (
          update command set state = 'queued' where state = 'planned' and due_at <= :now
             and expires_at > :now
          returning dispatch_id)
        select distinct dispatch_id from begun
        """,
        Map.of("now", now));
  }

  /**
   * Commands whose hours are over and that were not delivered, by what decides of their next ones.
   *
   * @param told the zone their devices tell; empty for none
   * @param zone of those that tell none
   */
  public record Over(
      String dispatchId, String told, String zone, String windowFrom, String windowTo) {}

  /** Those whose hours are over, at most a thousand. */
  public List<Over> over(Instant now) {
    return tx.select(
        Over.class,
        """
        select distinct c.dispatch_id, coalesce(d.facts ->> 'system/zone', '') as told, o.zone,
               o.window_from, o.window_to
          from command c join dispatch o on o.id = c.dispatch_id join device d on d.id = c.device_id
         where c.state = 'queued' and c.until_at <= :now and o.window_from is not null
         order by 1, 2 limit 1000
        """,
        Map.of("now", now));
  }

  /** Plans them for their next hours. */
  public void again(Over over, Instant due, Instant until, Instant now) {
    tx.execute(
        """
        update command c set state = 'planned', due_at = :due, until_at = :until from device d
         where d.id = c.device_id and c.dispatch_id = :id and c.state = 'queued'
           and c.until_at <= :now and coalesce(d.facts ->> 'system/zone', '') = :told
        """,
        Map.of(
            "id", over.dispatchId(), "told", over.told(), "due", due, "until", until, "now", now));
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
