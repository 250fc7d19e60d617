package dev.pinwright.storage;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.tuple;

import dev.pinwright.core.command.Reach;
import dev.pinwright.core.device.Mode;
import dev.pinwright.core.device.Ownership;
import dev.pinwright.storage.acting.DispatchStore;
import dev.pinwright.storage.acting.DispatchStore.Due;
import dev.pinwright.storage.query.Selection;
import dev.pinwright.storage.row.DispatchRow;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.junit.jupiter.api.Test;

/** What is ordered while devices go on telling. */
class DispatchStoreTest {
  private static final Instant NOW = Instant.parse("2026-03-02T09:00:00Z");

  private record Given(String device, String state, String reason, Optional<Instant> due) {}

  private static Due at(String zone, int hours) {
    Instant due = NOW.plusSeconds(3_600L * hours);
    return new Due(zone, Optional.of(due), Optional.empty(), due.plusSeconds(3_600));
  }

  private static DispatchRow dispatch() {
    DispatchRow row = new DispatchRow();
    row.id = "order";
    row.command = "restart";
    row.fields = "{}";
    row.reason = "drill";
    row.at = NOW;
    row.expiresAt = NOW.plusSeconds(86_400);
    row.actor = "owner";
    row.total = 3;
    row.accountId = "owner-id";
    row.requestHash = "hash";
    return row;
  }

  @Test
  void everyDeviceGetsItsCommandWhateverItBecameMeanwhile() {
    try (Database database = TestDatabase.open()) {
      database.run(
          tx -> {
            TestDatabase.device(tx, "as-told");
            TestDatabase.device(tx, "travelled");
            TestDatabase.device(tx, "anew", "standard");
            tx.execute(
                "update device set facts = jsonb_build_object('system/zone', case id"
                    + " when 'as-told' then 'Etc/GMT-5' else 'Etc/GMT+3' end)",
                Map.of());
          });
      // gathered while all were supervised, and none had told of another zone
      Reach reach =
          new Reach(
              List.of(
                  new Reach.Part(
                      new Reach.Alike("tarn", Mode.SUPERVISED, Ownership.CORPORATE, 3),
                      Optional.empty())));
      List<Given> given =
          database.call(
              tx -> {
                new Selection(tx).ids(List.of("as-told", "travelled", "anew"));
                DispatchRow row = dispatch();
                tx.insert(row);
                new DispatchStore(tx)
                    .command(
                        row,
                        reach,
                        List.of(at("Etc/GMT-5", 2), at(DispatchStore.ELSEWHERE, 4)),
                        "ordered");
                return tx.select(
                    Given.class,
                    "select device_id as device, state, reason, due_at as due from command"
                        + " order by device_id",
                    Map.of());
              });
      assertThat(given)
          .extracting(Given::device, Given::state)
          .containsExactly(
              tuple("anew", "failed"), tuple("as-told", "planned"), tuple("travelled", "planned"));
      assertThat(given.get(0).reason()).contains("joined anew");
      assertThat(given.get(1).due()).contains(NOW.plusSeconds(7_200));
      assertThat(given.get(2).due()).contains(NOW.plusSeconds(14_400));
    }
  }
}
