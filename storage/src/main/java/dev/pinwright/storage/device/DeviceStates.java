package dev.pinwright.storage.device;

import dev.pinwright.core.Words;
import dev.pinwright.core.compliance.Order;
import dev.pinwright.core.device.DeviceState;
import dev.pinwright.core.device.Standing;
import dev.pinwright.core.session.WakeQueue;
import dev.pinwright.core.tree.Refused;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.change.Moves;
import java.time.Instant;
import java.util.Collection;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * The narrow table of what changes with every publication and session. Besides {@link Moves}, which
 * points devices at other shapes, this is the only writer of it: who sets {@code standing} is here.
 *
 * <p>Whoever writes one device's state holds its row ({@link #lock}) and, before that, the lock
 * that changes of rules take alone ({@link Moves#besideRules}); so nobody writes what they read
 * before a publication after it.
 */
public final class DeviceStates {
  private final Tx tx;

  public DeviceStates(Tx tx) {
    this.tx = tx;
  }

  private static final String COLUMNS =
      """
      select device_id, shape_key, desired_digest, reported_digest, standing, standing_reason,
             refused, facts_at, wanted, inventory, apps_due
        from device_state
      """;

  private record Row(
      String deviceId,
      Optional<String> shapeKey,
      String desiredDigest,
      Optional<String> reportedDigest,
      Standing standing,
      String standingReason,
      String refused,
      Optional<Instant> factsAt,
      String wanted,
      Optional<String> inventory,
      Optional<Instant> appsDue) {
    DeviceState state() {
      return new DeviceState(
          deviceId,
          shapeKey,
          desiredDigest,
          reportedDigest,
          standing,
          standingReason,
          Refused.parse(refused),
          factsAt,
          new DeviceState.Apps(wanted, inventory, appsDue));
    }
  }

  /** A device's state. */
  public Optional<DeviceState> find(String deviceId) {
    return read(" where device_id = :d", deviceId);
  }

  /** A device's state, held against other writers until the transaction ends. */
  public Optional<DeviceState> lock(String deviceId) {
    return read(" where device_id = :d for update", deviceId);
  }

  private Optional<DeviceState> read(String which, String deviceId) {
    return tx.select(Row.class, COLUMNS + which, Map.of("d", deviceId)).stream()
        .findFirst()
        .map(Row::state);
  }

  /**
   * Puts a state on file, or over the one that is there; the shape and what is wanted besides the
   * policy are left to {@link Moves}.
   */
  public void put(DeviceState s) {
    tx.execute(
        """
        insert into device_state (device_id, desired_digest, reported_digest, standing,
                                  standing_reason, refused, facts_at, inventory, apps_due)
        values (:d, :desired, cast(:reported as text), :standing, :reason, :refused,
                cast(:facts as timestamptz), cast(:inventory as text),
                cast(:appsDue as timestamptz))
        on conflict (device_id) do update
          set desired_digest = excluded.desired_digest,
              reported_digest = excluded.reported_digest, standing = excluded.standing,
              standing_reason = excluded.standing_reason, refused = excluded.refused,
              facts_at = excluded.facts_at, inventory = excluded.inventory,
              apps_due = excluded.apps_due
        """,
        parameters(s));
  }

  private static Map<String, Object> parameters(DeviceState s) {
    Map<String, Object> p = new HashMap<>();
    p.put("d", s.deviceId());
    p.put("desired", s.desired());
    p.put("reported", s.reported().orElse(null));
    p.put("standing", Words.of(s.standing()));
    p.put("reason", s.standingReason());
    p.put("refused", s.refused().text());
    p.put("facts", s.factsAt().map(Instant::toString).orElse(null));
    p.put("inventory", s.apps().inventory().orElse(null));
    p.put("appsDue", s.apps().due().map(Instant::toString).orElse(null));
    return p;
  }

  /**
   * Lets a device hold nothing whatever is assigned to it, or no longer. {@link Moves} takes it
   * there.
   *
   * @return whether that is news
   */
  public boolean empty(String deviceId, boolean emptied) {
    return tx.execute(
            "update device_state set emptied = :e where device_id = :d and emptied <> :e",
            Map.of("d", deviceId, "e", emptied))
        > 0;
  }

  /** The end of devices' management. */
  public void retire(Collection<String> deviceIds, String reason) {
    tx.execute(
        "update device_state set standing = 'retired', standing_reason = :reason"
            + " where device_id = any(cast(:ids as text[]))",
        Map.of("ids", deviceIds.toArray(String[]::new), "reason", reason));
  }

  /**
   * Notes when devices were last heard; an earlier time than the one on file changes nothing.
   *
   * @param heard time by device id
   * @return false when a change of rules goes on, which it would hold up: say it again later
   */
  public boolean heard(Map<String, Instant> heard) {
    if (!Moves.besideRulesIfFree(tx)) {
      return false;
    }
    List<String> ids = heard.keySet().stream().sorted().toList();
    tx.execute(
        """
        with held as (
          select device_id from device_state where device_id = any(cast(:ids as text[]))
           order by device_id for update
        )
        update device_state st set last_seen = b.at
          from held, unnest(cast(:ids as text[]), cast(:ats as timestamptz[])) as b(id, at)
         where st.device_id = held.device_id and b.id = held.device_id
           and (st.last_seen is null or st.last_seen < b.at)
        """,
        Map.of(
            "ids", ids.toArray(String[]::new),
            "ats", ids.stream().map(id -> heard.get(id).toString()).toArray(String[]::new)));
    return true;
  }

  /**
   * Marks devices that were not heard of since a time.
   *
   * @param judged what they are then
   * @return how many
   */
  public int silent(Instant limit, Standing.Judgement judged) {
    if (!Moves.besideRulesIfFree(tx)) {
      return 0;
    }
    return tx.execute(
        """
        with quiet as (
          select st.device_id from device_state st join device d on d.id = st.device_id
           where st.standing not in ('silent', 'retired')
             and coalesce(st.last_seen, d.enrolled_at) < :limit
           order by st.device_id for update of st skip locked
        )
        update device_state st
           set standing = :standing, standing_reason = :reason
          from quiet where quiet.device_id = st.device_id
        """,
        Map.of(
            "limit", limit,
            "standing", Words.of(judged.standing()),
            "reason", judged.reason()));
  }

  /**
   * How a device is with the checks.
   *
   * @param due whether it has yet to be told
   */
  public record Ordered(String deviceId, Order order, boolean withheld, boolean due) {}

  /** Notes how devices are with the checks. */
  public void orders(Collection<Ordered> all) {
    tx.execute(
        """
        update device_state st set order_state = o.state, withheld = o.withheld, order_due = o.due
          from unnest(cast(:ids as text[]), cast(:states as text[]), cast(:withheld as boolean[]),
                      cast(:due as boolean[])) as o(device_id, state, withheld, due)
         where st.device_id = o.device_id
        """,
        Map.of(
            "ids", all.stream().map(Ordered::deviceId).toArray(String[]::new),
            "states", all.stream().map(o -> Words.of(o.order())).toArray(String[]::new),
            "withheld", all.stream().map(Ordered::withheld).toArray(Boolean[]::new),
            "due", all.stream().map(Ordered::due).toArray(Boolean[]::new)));
  }

  /** Notes whether a device has yet to be told how it is with the checks. */
  public void orderDue(String deviceId, boolean due) {
    tx.execute(
        "update device_state set order_due = :due where device_id = :d",
        Map.of("d", deviceId, "due", due));
  }

  /** Notes that the apps of devices are to be looked at. */
  public void appsDue(Collection<String> deviceIds, Instant at) {
    Moves.hold(tx, deviceIds);
    tx.execute(
        "update device_state set apps_due = cast(:at as timestamptz)"
            + " where device_id = any(cast(:ids as text[]))",
        Map.of("ids", deviceIds.toArray(String[]::new), "at", at.toString()));
  }

  /** Who of these waits for something to be sent; see {@link Waiting}. */
  public List<String> waiting(Waiting which, String ref) {
    return tx.column(String.class, which.sql, Map.of("ref", ref));
  }

  /** Devices that have to be woken, by what makes it necessary. */
  public enum Waiting {
    /** Those a change moved that do not have it; the reference is the change. */
    FOR_CHANGE(
        "select device_id from device_state where change_id = :ref and standing <> 'retired'"
            + " and (reported_digest is distinct from desired_digest or apps_due <= now())"),
    /** Those with a command of a dispatch; the reference is the dispatch. */
    FOR_DISPATCH("select device_id from command where dispatch_id = :ref and state = 'queued'"),
    /** One device, if anything is outstanding; the reference is the device. */
    ITSELF(
        "select st.device_id from device_state st where st.device_id = :ref"
            + " and st.standing <> 'retired'"
            + " and (st.order_due or st.apps_due <= now() or st.reported_digest is distinct from st.desired_digest or exists"
            + " (select 1 from command c where c.device_id = st.device_id and c.state = 'queued'))"),
    /** One device, if one of its commands was ordered for few; the reference is the device. */
    ORDERED(
        "select c.device_id from command c join dispatch d on d.id = c.dispatch_id"
            + " where c.device_id = :ref and c.state = 'queued' and d.total <= "
            + WakeQueue.FEW
            + " limit 1"),
    /**
     * All that something is outstanding for and that were not heard just now, and whose management
     * ended and who do not know it; no reference.
     */
    ANY(
        "select device_id from device_state where standing in ('catching-up', 'drifted')"
            + " and reported_digest is distinct from desired_digest"
            + " and coalesce(last_seen, '-infinity') < now() - interval '15 seconds'"
            + " and :ref = ''"
            + " union select device_id from command where state = 'queued'"
            + " and queued_at < now() - interval '15 seconds' and expires_at > now()"
            + " union select device_id from device_state"
            + " where (order_due or apps_due <= now()) and standing <> 'retired'"
            + " and coalesce(last_seen, '-infinity') < now() - interval '15 seconds'"
            + " union select s.device_id from device d join push_subscription s"
            + " on s.device_id = d.id where d.retired_at > now() - interval '2 days'"
            + " and d.let_go_at is null");

    private final String sql;

    Waiting(String sql) {
      this.sql = sql;
    }
  }
}
