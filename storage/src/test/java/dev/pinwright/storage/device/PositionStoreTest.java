package dev.pinwright.storage.device;

import static org.assertj.core.api.Assertions.assertThat;

import dev.pinwright.core.device.Position;
import dev.pinwright.storage.Database;
import dev.pinwright.storage.TestDatabase;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.Test;

class PositionStoreTest {
  private static final Instant NOW = Instant.parse("2026-03-01T10:00:00Z");

  private static Position at(Instant when) {
    return new Position(when, 47.1985, -20.589, Optional.empty(), Position.Source.WIFI);
  }

  @Test
  void pointsAreKeptForTheirDaysWhetherOrNotTheDeviceIsHeardAgain() {
    try (Database db = TestDatabase.open()) {
      db.run(
          tx -> {
            TestDatabase.device(tx, "D1");
            PositionStore store = new PositionStore(tx);
            List<Position> two = List.of(at(NOW.minus(Duration.ofDays(1))), at(NOW));
            store.keep("D1", two, 2);
            store.keep("D1", two, 2);
            assertThat(store.extent("D1", NOW).points()).isEqualTo(2);
            assertThat(page(store, NOW)).containsExactly(two.get(1), two.get(0));
            Instant later = NOW.plus(Duration.ofHours(25));
            assertThat(page(store, later)).as("over, though still there").hasSize(1);
            assertThat(store.extent("D1", later).first()).contains(NOW);
            assertThat(store.forget(later)).isFalse();
            assertThat(page(store, NOW)).containsExactly(two.get(1));
            store.forget("D1", NOW.plusSeconds(1));
            assertThat(page(store, NOW)).isEmpty();
          });
    }
  }

  private static List<Position> page(PositionStore store, Instant now) {
    return store.page("D1", Instant.EPOCH, NOW, NOW.plusSeconds(1), now, 10);
  }
}
