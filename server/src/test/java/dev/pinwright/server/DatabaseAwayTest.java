package dev.pinwright.server;

import static org.assertj.core.api.Assertions.assertThat;
import static org.awaitility.Awaitility.await;

import dev.pinwright.storage.TestDatabase;
import java.time.Duration;
import java.util.Map;
import org.junit.jupiter.api.Test;

/** The database is stopped and started again while the service runs. */
class DatabaseAwayTest {
  private static final Duration PATIENCE = Duration.ofSeconds(60);

  @Test
  void whileItIsAwayThatIsSaidAtOnceAndAllGoesOnWhenItIsBack() throws Exception {
    try (Forwarder database = new Forwarder(TestDatabase.create());
        House house = new House(database.url())) {
      assertThat(house.page("/health").status()).isEqualTo(200);
      database.stop();
      await().atMost(PATIENCE).until(() -> house.page("/health").status() == 503);
      for (int i = 0; i < 20; i++) {
        House.Answer answer = house.call("owner", "GET", "/devices", "");
        assertThat(answer.status()).isEqualTo(503);
        assertThat(answer.header("Retry-After")).isEqualTo("3");
        assertThat(answer.json().path("type").asText()).endsWith("database-away");
      }
      assertThat(house.device("GET", "/join/0000-0000-0000", "", Map.of()).status())
          .as("devices are told to come again")
          .isEqualTo(503);
      database.start();
      await()
          .atMost(PATIENCE)
          .until(() -> house.call("owner", "GET", "/devices", "").status() == 200);
      assertThat(house.page("/health").status()).isEqualTo(200);
    }
  }
}
