package dev.pinwright.storage.compliance;

import dev.pinwright.storage.Tx;
import dev.pinwright.storage.row.CheckRow;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;
import java.util.stream.Collectors;

/** Checks, and how many devices they find. */
public final class CheckStore {
  private final Tx tx;

  public CheckStore(Tx tx) {
    this.tx = tx;
  }

  /** Every check, by name; there are few. */
  public List<CheckRow> all() {
    return tx.list(CheckRow.class, "from CheckRow order by lower(name)", Map.of(), 200);
  }

  /** The check of a name. */
  public Optional<CheckRow> byName(String name) {
    return tx
        .list(CheckRow.class, "from CheckRow where lower(name) = lower(:n)", Map.of("n", name), 1)
        .stream()
        .findFirst();
  }

  /** Names of the checks that watch a group. */
  public List<String> of(String groupId) {
    return tx.column(
        String.class,
        "select name from compliance_check where group_id = :g order by lower(name)",
        Map.of("g", groupId));
  }

  /** How many managed devices a group has. */
  public long size(String groupId) {
    return tx.value(
        "select count(*) from group_member m join device_state st using (device_id)"
            + " where m.group_id = :g and st.standing <> 'retired'",
        Long.class,
        Map.of("g", groupId));
  }

  /**
   * What a check finds.
   *
   * @param inGrace devices that still count as in order
   * @param outOfOrder devices that no longer do
   * @param house devices whose administrators are told of it by now
   * @param withheld devices something is withheld from because of it
   */
  public record Found(String checkId, long inGrace, long outOfOrder, long house, long withheld) {}

  /** What the checks find, by check; those that find nothing are left out. */
  public Map<String, Found> found(Instant now) {
    return tx
        .select(
            Found.class,
            """
            select c.id as check_id,
                   count(*) filter (where not %1$s) as in_grace,
                   count(*) filter (where %1$s) as out_of_order,
                   count(*) filter (where %2$s) as house,
                   count(*) filter (where %3$s) as withheld
              from compliance_check c join group_member m using (group_id)
              join device_state st on st.device_id = m.device_id and st.standing <> 'retired'
             group by c.id
            """
                .formatted(OrderStore.GRACE_OVER, OrderStore.reached("house"), OrderStore.WITHHELD),
            Map.of("now", now))
        .stream()
        .collect(Collectors.toMap(Found::checkId, Function.identity()));
  }
}
