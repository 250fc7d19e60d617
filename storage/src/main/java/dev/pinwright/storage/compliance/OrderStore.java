package dev.pinwright.storage.compliance;

import dev.pinwright.core.compliance.Order;
import dev.pinwright.storage.Tx;
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
    return tx.select(
        Judged.class,
        """
        with different as materialized (
          select d.*, st.order_state as before, st.withheld as withheld_before
            from (%s) d join device_state st on st.device_id = d.device_id
           where d.device_id = any(cast(:ids as text[]))),
        said as (
          insert into device_order (device_id, said)
          select device_id, said from different
          on conflict (device_id) do update set said = excluded.said
          returning device_id, said <> told as due),
        judged as (
          update device_state st
             set order_state = d.order_state, withheld = d.withheld, order_due = said.due
            from different d join said using (device_id) where st.device_id = d.device_id),
        lines as (
          insert into activity (device_id, at, kind, text)
          select device_id, cast(:now as timestamptz), 'order',
                 case order_state when 'in-order' then 'In order again'
                                  when 'in-grace' then 'A check found something; it has time left'
                                  else 'Out of order' end
            from different where order_state <> before)
        select device_id, order_state, before, withheld, withheld_before from different order by 1
        """
            .formatted(DIFFERENT),
        Map.of("now", now, "ids", deviceIds.toArray(String[]::new)));
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
    tx.execute(
        """
        with told as (
          update device_order set told = :said, told_at = :now where device_id = :d
          returning said)
        update device_state set order_due = told.said <> :said from told where device_id = :d
        """,
        Map.of("d", deviceId, "said", said, "now", now));
  }

  /** A device that joined anew holds nothing of what it was told. */
  public void forget(String deviceId) {
    tx.execute(
        """
        with forgotten as (
          update device_order set told = '', told_at = null where device_id = :d returning said)
        update device_state set order_due = forgotten.said <> '' from forgotten
         where device_id = :d
        """,
        Map.of("d", deviceId));
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
