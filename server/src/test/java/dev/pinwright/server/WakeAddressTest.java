package dev.pinwright.server;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.Map;
import org.junit.jupiter.api.Test;

/** The address of the wake socket, asked by whoever comes along. */
class WakeAddressTest {
  private static final Map<String, String> UPGRADE =
      Map.of(
          "Upgrade", "websocket",
          "Connection", "Upgrade",
          "Sec-WebSocket-Version", "13",
          "Sec-WebSocket-Key", "dGhlIHNhbXBsZSBub25jZQ==");

  @Test
  void anUpgradeLeavesNoSessionBehind() throws Exception {
    try (House house = new House()) {
      for (int i = 0; i < 50; i++) {
        String answer = house.head("GET", "/wake", UPGRADE);
        assertThat(answer).startsWith("HTTP/1.1 401").doesNotContainIgnoringCase("set-cookie");
      }
    }
  }

  @Test
  void withoutAnUpgradeItSaysWhatIsMissing() throws Exception {
    try (House house = new House()) {
      House.Answer answer = house.device("GET", "/wake", "", Map.of());
      assertThat(answer.status()).isEqualTo(426);
      assertThat(answer.header("Upgrade")).isEqualTo("websocket");
      assertThat(answer.header("Sec-WebSocket-Version")).isEqualTo("13");
      assertThat(answer.json().path("type").asText()).endsWith("upgrade-required");
    }
  }
}
