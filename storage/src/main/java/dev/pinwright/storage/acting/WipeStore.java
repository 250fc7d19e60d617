package dev.pinwright.storage.acting;

import dev.pinwright.core.Words;
import dev.pinwright.core.wipe.AtStake;
import dev.pinwright.core.wipe.Proof;
import dev.pinwright.core.wipe.Wipe;
import dev.pinwright.core.wipe.WipeKind;
import dev.pinwright.storage.Tx;
import java.time.Duration;
import java.time.Instant;
import java.util.Collection;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** Wipes: what is known of each beyond its command. Every step is taken at most once. */
public final class WipeStore {
  private static final Duration UNSEEN = Duration.ofDays(7);

  private static final String WIPE =
      """
      select w.command_id as id, w.device_id, d.name as device, w.kind, o.reason, o.actor,
             o.agreed_by, w.retire, c.state as command, c.reason as outcome,
             c.queued_at as asked_at, c.delivered_at, w.begun_at, w.proved_at, w.proof, w.denied_at,
             w.revoked_at, w.revoked_by, w.restored_at, w.before, w.after
        from wipe w join command c on c.id = w.command_id join dispatch o on o.id = c.dispatch_id
        join device d on d.id = w.device_id
      """;

  private final Tx tx;

  public WipeStore(Tx tx) {
    this.tx = tx;
  }

  /** Notes that the commands of a dispatch that were not refused are wipes. */
  public void ordered(String dispatchId, WipeKind kind, boolean retire) {
    tx.execute(
        "insert into wipe (command_id, device_id, kind, retire)"
            + " select id, device_id, :kind, :retire from command"
            + " where dispatch_id = :d and state <> 'failed'",
        Map.of("d", dispatchId, "kind", Words.of(kind), "retire", retire));
  }

  /** One wipe. */
  public Optional<Wipe> find(String id) {
    return tx.select(Wipe.class, WIPE + " where w.command_id = :id", Map.of("id", id)).stream()
        .findFirst();
  }

  /** One wipe, held. */
  public Optional<Wipe> lock(String id) {
    return tx
        .select(Wipe.class, WIPE + " where w.command_id = :id for update of w", Map.of("id", id))
        .stream()
        .findFirst();
  }

  /** The latest wipe of a device that was not cancelled, failed or restored. */
  public Optional<Wipe> latest(String deviceId) {
    return tx
        .select(
            Wipe.class,
            WIPE
                + " where w.device_id = :d and w.restored_at is null"
                + " and c.state not in ('failed', 'cancelled')"
                + " order by w.command_id desc limit 1",
            Map.of("d", deviceId))
        .stream()
        .findFirst();
  }

  /**
   * Wipes, newest first.
   *
   * @param deviceId of one device; empty for all
   * @param open only those that are not over: under way, begun, or to be revoked
   * @param before id of the last one shown; {@code ~} for none
   */
  public List<Wipe> page(String deviceId, boolean open, String before, int limit) {
    return tx.select(
        Wipe.class,
        WIPE
            + """
               where (:device = '' or w.device_id = :device) and w.command_id < :before
                 and (not :open or (d.retired_at is null and w.restored_at is null
                      and w.denied_at is null
                      and (c.state in ('planned', 'queued', 'delivered', 'done')
                           or c.state = 'expired' and c.delivered_at is not null)))
               order by w.command_id desc limit :limit
              """,
        Map.of("device", deviceId, "open", open, "before", before, "limit", limit));
  }

  /** Of some devices, those that are being erased and have not said so: names, at most ten. */
  public List<String> underWay(Collection<String> deviceIds) {
    return tx.column(
        String.class,
        "select d.name from wipe w join command c on c.id = w.command_id"
            + " join device d on d.id = w.device_id"
            + " where w.device_id = any(cast(:ids as text[])) and w.kind = 'device'"
            + " and c.state in ('planned', 'queued', 'delivered') and w.begun_at is null"
            + " and w.proved_at is null order by d.name limit 10",
        Map.of("ids", deviceIds.toArray(String[]::new)));
  }

  /** The device said that it begins; false when it had said so. */
  public boolean begun(String id, Instant now) {
    return noted(id, "begun_at", now);
  }

  /** The device speaks as if nothing had happened. */
  public boolean denied(String id, Instant now) {
    return noted(id, "denied_at", now);
  }

  /** Everything is back. */
  public boolean restored(String id, Instant now) {
    return noted(id, "restored_at", now);
  }

  private boolean noted(String id, String column, Instant now) {
    return tx.execute(
            "update wipe set "
                + column
                + " = :now where command_id = :id and "
                + column
                + " is null",
            Map.of("id", id, "now", now))
        > 0;
  }

  /** It is known to have happened; false when it was already. */
  public boolean proved(String id, Proof proof, Instant now) {
    return tx.execute(
            "update wipe set proved_at = :now, proof = :proof, begun_at = coalesce(begun_at, :now),"
                + " denied_at = null where command_id = :id and proved_at is null",
            Map.of("id", id, "now", now, "proof", Words.of(proof)))
        > 0;
  }

  /** Somebody revoked it; false when somebody had. */
  public boolean revoked(String id, String by, Instant now) {
    return tx.execute(
            "update wipe set revoked_at = :now, revoked_by = :by"
                + " where command_id = :id and revoked_at is null",
            Map.of("id", id, "now", now, "by", by))
        > 0;
  }

  /** What the device says it will take, or what of it is still there. */
  public void told(String id, boolean afterwards, List<String> list) {
    tx.execute(
        "update wipe set "
            + (afterwards ? "after" : "before")
            + " = cast(:list as text[]) where command_id = :id",
        Map.of("id", id, "list", list.toArray(String[]::new)));
  }

  // ---- before it is ordered --------------------------------------------------------------------

  /** What the devices gathered have to lose, of those that can carry a command out. */
  public AtStake atStake(Collection<String> modes, Collection<String> ownerships, Instant now) {
    return tx.select(
            AtStake.class,
            """
            select count(*) as devices,
                   count(*) filter (where d.ownership = 'personal') as personal,
                   count(*) filter (where exists (
                     select 1 from device_app p where p.device_id = d.id and p.managed)) as apps,
                   count(*) filter (where coalesce(d.facts ->> 'backup/last', '') < :backed)
                     as unsaved,
                   count(*) filter (where d.kind = 'laptop' and not exists (
                     select 1 from recovery_key k where k.device_id = d.id)) as keyless,
                   count(*) filter (where coalesce(st.last_seen, d.enrolled_at) < :unseen) as unseen
              from aimed a join device d on d.id = a.device_id
              join device_state st on st.device_id = d.id
             where d.mode = any(cast(:modes as text[]))
               and d.ownership = any(cast(:ownerships as text[]))
            """,
            Map.of(
                "modes", modes.toArray(String[]::new),
                "ownerships", ownerships.toArray(String[]::new),
                "backed", now.minus(UNSEEN).toString(),
                "unseen", now.minus(UNSEEN)))
        .get(0);
  }

  /** How many devices were wiped or released since a moment by people who were alone in it. */
  public long alone(Instant since) {
    // of two who order at the same time, the second counts the first
    tx.advisoryLock("wiping");
    return tx.value(
        "select coalesce(sum(wiping), 0) from dispatch"
            + " where wiping > 0 and agreed_by is null and at > :since",
        Long.class,
        Map.of("since", since));
  }
}
