package dev.pinwright.storage;

import static org.assertj.core.api.Assertions.assertThat;

import dev.pinwright.core.compliance.Ladder;
import dev.pinwright.core.compliance.Order;
import dev.pinwright.storage.compliance.OrderStore;
import dev.pinwright.storage.row.CheckRow;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Random;
import java.util.TreeMap;
import org.junit.jupiter.api.Test;

/** The statement that judges all devices, held against the decision for one finding. */
class OrdersAgreeTest extends MovesOnFile {
  private static final Instant NOW = Instant.parse("2026-03-02T09:00:00Z");
  private static final List<String> DEVICES = List.of("D0", "D1", "D2", "D3", "D4", "D5");

  private record Found(CheckRow check, Instant since) {}

  private record Expected(Order order, boolean withheld, String said) {}

  @Test
  void theStatementAndTheDecisionAgree() {
    long seed = System.nanoTime();
    Random random = new Random(seed);
    for (int round = 0; round < 40; round++) {
      trying(
          tx -> {
            Map<String, List<Found>> found = new TreeMap<>();
            DEVICES.forEach(
                d -> {
                  TestDatabase.device(tx, d);
                  found.put(d, new ArrayList<>());
                });
            for (int n = 0; n < 3; n++) {
              CheckRow check = check(tx, "c" + n, ladder(random));
              for (String d : DEVICES) {
                if (random.nextInt(3) == 0) {
                  Instant since = NOW.minus(Duration.ofHours(random.nextInt(8)));
                  tx.execute(
                      "insert into group_member values (:g, :d, :since)",
                      Map.of("g", check.groupId, "d", d, "since", since));
                  found.get(d).add(new Found(check, since));
                }
              }
            }
            Map<String, Expected> wanted = new TreeMap<>();
            found.forEach((d, all) -> wanted.put(d, decided(all)));
            OrderStore store = new OrderStore(tx);
            store.judge(DEVICES, NOW);
            wanted.forEach(
                (d, e) -> {
                  assertThat(stored(tx, d)).as("seed %d: %s", seed, found.get(d)).isEqualTo(e);
                });
            assertThat(store.different(NOW, 100)).as("judged already, seed %d", seed).isEmpty();
            return true;
          });
    }
  }

  private static Ladder ladder(Random random) {
    int grace = random.nextInt(5);
    return new Ladder(grace, maybe(random, 0), maybe(random, 0), maybe(random, grace));
  }

  private static Optional<Integer> maybe(Random random, int least) {
    return random.nextInt(3) == 0 ? Optional.empty() : Optional.of(least + random.nextInt(4));
  }

  private static CheckRow check(Tx tx, String id, Ladder ladder) {
    tx.execute(
        "insert into device_group (id, version, name, created_at) values (:g, 0, :g, now())",
        Map.of("g", "g" + id));
    CheckRow row = new CheckRow();
    row.id = id;
    row.name = id;
    row.groupId = "g" + id;
    row.advice = "Mend " + id + ".";
    row.ladder(ladder);
    row.createdAt = NOW;
    tx.insert(row);
    tx.flush();
    return row;
  }

  private static Expected decided(List<Found> all) {
    Order order =
        all.stream()
            .map(f -> f.check().ladder().order(f.since(), NOW))
            .max(Comparator.naturalOrder())
            .orElse(Order.IN_ORDER);
    List<String> reasons =
        all.stream()
            .filter(f -> Ladder.reached(f.check().ladder().holder(), f.since(), NOW))
            .map(OrdersAgreeTest::reason)
            .toList();
    String state = order == Order.OUT_OF_ORDER ? "out-of-order" : "in-grace";
    return new Expected(
        order,
        all.stream().anyMatch(f -> Ladder.reached(f.check().ladder().withhold(), f.since(), NOW)),
        reasons.isEmpty() ? "" : state + "\n" + String.join("\n", reasons));
  }

  private static String reason(Found f) {
    Ladder ladder = f.check().ladder();
    String by = ladder.due(f.since()).toString().substring(0, 16).replace('T', ' ');
    return f.check().name
        + ": "
        + f.check().advice
        + (ladder.order(f.since(), NOW) == Order.IN_GRACE ? " By " + by + " UTC." : "");
  }

  private record Row(Order orderState, boolean withheld, Optional<String> said) {}

  private static Expected stored(Tx tx, String device) {
    Row row =
        tx.select(
                Row.class,
                "select st.order_state, st.withheld, o.said from device_state st"
                    + " left join device_order o using (device_id) where st.device_id = :d",
                Map.of("d", device))
            .get(0);
    return new Expected(row.orderState(), row.withheld(), row.said().orElse(""));
  }
}
