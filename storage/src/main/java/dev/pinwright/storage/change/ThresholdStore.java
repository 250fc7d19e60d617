package dev.pinwright.storage.change;

import dev.pinwright.core.change.Runaway;
import dev.pinwright.core.change.Thresholds;
import dev.pinwright.storage.Tx;
import java.util.HashMap;
import java.util.Map;
import java.util.Optional;

/** What the owner wants asked before devices are changed. */
public final class ThresholdStore {
  private final Tx tx;

  public ThresholdStore(Tx tx) {
    this.tx = tx;
  }

  /** The thresholds and how often they were set. */
  public record Set(int version, Thresholds thresholds) {}

  private record Row(
      int version,
      long number,
      Optional<Long> reason,
      Optional<Long> second,
      Optional<Long> wiping,
      long alone) {
    Thresholds thresholds() {
      return new Thresholds(number, reason, second, wiping, new Runaway(alone));
    }
  }

  /** As they are set; the usual ones where nobody has. */
  public Set get() {
    return tx
        .select(
            Row.class,
            "select version, number, reason, second, wiping, alone from thresholds",
            Map.of())
        .stream()
        .findFirst()
        .map(r -> new Set(r.version(), r.thresholds()))
        .orElse(new Set(0, Thresholds.USUAL));
  }

  /** Sets them; false when somebody did since {@code version}. */
  public boolean set(int version, Thresholds t) {
    Map<String, Object> p = new HashMap<>();
    p.put("version", version);
    p.put("number", t.number());
    p.put("reason", t.reason().orElse(null));
    p.put("second", t.second().orElse(null));
    p.put("wiping", t.wiping().orElse(null));
    p.put("alone", t.runaway().most());
    return tx.execute(
                """
            insert into thresholds (version, number, reason, second, wiping, alone)
            select 1, :number, cast(:reason as bigint), cast(:second as bigint),
                   cast(:wiping as bigint), :alone
             where :version = 0
            on conflict (only_one) do nothing
            """,
                p)
            + tx.execute(
                """
            update thresholds set version = version + 1, number = :number,
                   reason = cast(:reason as bigint), second = cast(:second as bigint),
                   wiping = cast(:wiping as bigint), alone = :alone
             where version = :version and :version > 0
            """,
                p)
        > 0;
  }
}
