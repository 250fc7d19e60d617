package dev.pinwright.storage.compliance;

import dev.pinwright.core.Words;
import dev.pinwright.core.compliance.Order;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.device.DeviceStates;
import java.time.Instant;
import java.util.Collection;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * How devices are with the checks. The statement over all of them follows {@link
 * dev.pinwright.core.compliance.Ladder}; a property holds the two together.
 */
public final class OrderStore {
  static final String GRACE_OVER = "m.since + c.grace_hours * interval '1 hour' <= :now";
  static final String WITHHELD = reached("withhold");

  /** Whether a step of a check {@code c} is taken by now for a member {@code m} of its group. */
  static String reached(String step) {
    return "coalesce(m.since + c." + step + "_hours * interval '1 hour' <= :now, false)";
  }

  /**
   * Devices that are otherwise than they were judged last. Reasons are told from the step on that
   * tells the holder; in the order of their checks' names.
   */
  private static final String DIFFERENT =
      """
      select st.device_id, j.order_state, j.withheld, j.said
        from (select m.device_id from compliance_check c join group_member m using (group_id)
              union select device_id from device_state where order_state <> 'in-order'
              union select device_id from device_order where said <> '') maybe
        join device_state st on st.device_id = maybe.device_id
        left join device_order o on o.device_id = st.device_id
        left join (
          select m.device_id, bool_or(%1$s) as over, bool_or(%2$s) as withheld,
                 string_agg(c.name || ': ' || c.advice
                            || case when %1$s then ''
                               else ' By ' || to_char((m.since + c.grace_hours * interval '1 hour')
                                                      at time zone 'UTC', 'YYYY-MM-DD HH24:MI')
                                    || ' UTC.' end,
                            E'\n' order by lower(c.name), c.id) filter (where %3$s) as reasons
            from compliance_check c join group_member m using (group_id)
           group by m.device_id) f on f.device_id = st.device_id
        cross join lateral (
          select case when f.device_id is null then 'in-order'
                      when f.over then 'out-of-order' else 'in-grace' end as order_state,
                 coalesce(f.withheld, false) as withheld,
                 case when f.reasons is null then ''
                      else (case when f.over then 'out-of-order' else 'in-grace' end)
                           || E'\n' || f.reasons end as said) j
       where st.standing <> 'retired'
         and (st.order_state, st.withheld, coalesce(o.said, ''))
             is distinct from (j.order_state, j.withheld, j.said)
      """
          .formatted(GRACE_OVER, WITHHELD, reached("holder"));

  private final Tx tx;

  public OrderStore(Tx tx) {
    this.tx = tx;
  }

  /** A device that was judged anew. */
  public record Judged(
      String deviceId, Order orderState, Order before, boolean withheld, boolean withheldBefore) {}

  private record Different(
      String deviceId,
      Order orderState,
      Order before,
      boolean withheld,
      boolean withheldBefore,
      String said,
      String told) {
    Judged judged() {
      return new Judged(deviceId, orderState, before, withheld, withheldBefore);
    }
  }

  /** Ids of devices that are otherwise than they were judged last, in order; at most so many. */
  public List<String> different(Instant now, int most) {
    return tx.column(
        String.class,
        "select device_id from (" + DIFFERENT + ") d order by 1 limit :most",
        Map.of("now", now, "most", most));
  }

  /**
   * Judges devices anew and notes what they are to be told. Call it with their states held.
   *
   * @return those that are otherwise now
   */
  public List<Judged> judge(Collection<String> deviceIds, Instant now) {
    List<Different> all =
        tx.select(
            Different.class,
            """
            select d.device_id, d.order_state, st.order_state as before, d.withheld,
                   st.withheld as withheld_before, d.said, coalesce(o.told, '') as told
              from (%s) d join device_state st on st.device_id = d.device_id
              left join device_order o on o.device_id = d.device_id
             where d.device_id = any(cast(:ids as text[])) order by 1
            """
                .formatted(DIFFERENT),
            Map.of("now", now, "ids", deviceIds.toArray(String[]::new)));
    tx.execute(
        """
        with said as (
          insert into device_order (device_id, said)
          select * from unnest(cast(:ids as text[]), cast(:said as text[]))
          on conflict (device_id) do update set said = excluded.said)
        insert into activity (device_id, at, kind, text)
        select * from (
          select device_id, cast(:now as timestamptz), 'order',
                 case state when 'in-order' then 'In order again'
                            when 'in-grace' then 'A check found something; it has time left'
                            else 'Out of order' end
            from unnest(cast(:ids as text[]), cast(:states as text[]), cast(:moved as boolean[]))
              as j(device_id, state, moved)
           where moved) lines
        """,
        Map.of(
            "now", now,
            "ids", all.stream().map(Different::deviceId).toArray(String[]::new),
            "said", all.stream().map(Different::said).toArray(String[]::new),
            "states", all.stream().map(d -> Words.of(d.orderState())).toArray(String[]::new),
            "moved", all.stream().map(d -> d.orderState() != d.before()).toArray(Boolean[]::new)));
    new DeviceStates(tx)
        .orders(
            all.stream()
                .map(
                    d ->
                        new DeviceStates.Ordered(
                            d.deviceId(), d.orderState(), d.withheld(), !d.said().equals(d.told())))
                .toList());
    return all.stream().map(Different::judged).toList();
  }

  /**
   * What a check finds on a device.
   *
   * @param since when it came into the check's group
   */
  public record Finding(String checkId, Instant since) {}

  /** What checks find on a device, the longest first. */
  public List<Finding> of(String deviceId) {
    return tx.select(
        Finding.class,
        "select c.id as check_id, m.since from compliance_check c join group_member m using (group_id)"
            + " where m.device_id = :d order by m.since, c.id",
        Map.of("d", deviceId));
  }

  /** What a device is to be told of it: nothing before a check ever found something. */
  public Optional<String> said(String deviceId) {
    return tx
        .column(
            String.class,
            "select o.said from device_order o join device_state st using (device_id)"
                + " where o.device_id = :d and st.order_due",
            Map.of("d", deviceId))
        .stream()
        .findFirst();
  }

  /** Notes that a device was told. */
  public void told(String deviceId, String said, Instant now) {
    due(
        deviceId,
        "update device_order set told = :said, told_at = :now where device_id = :d"
            + " returning said <> :said",
        Map.of("d", deviceId, "said", said, "now", now));
  }

  /** A device that joined anew holds nothing of what it was told. */
  public void forget(String deviceId) {
    due(
        deviceId,
        "update device_order set told = '', told_at = null where device_id = :d"
            + " returning said <> ''",
        Map.of("d", deviceId));
  }

  private void due(String deviceId, String update, Map<String, Object> parameters) {
    tx.column(Boolean.class, update, parameters)
        .forEach(due -> new DeviceStates(tx).orderDue(deviceId, due));
  }

  /** When a device was told last, where it was. */
  public Optional<Instant> toldAt(String deviceId) {
    return tx
        .column(
            Instant.class,
            "select told_at from device_order where device_id = :d and told_at is not null",
            Map.of("d", deviceId))
        .stream()
        .findFirst();
  }
}
