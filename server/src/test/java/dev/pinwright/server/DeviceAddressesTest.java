package dev.pinwright.server;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.Map;
import org.junit.jupiter.api.Test;

/** What devices talk to, asked by whoever comes along. */
class DeviceAddressesTest {
  private static final String TYPE = "application/vnd.syncml.dm+xml";
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

  @Test
  void messagesOfASessionArePostedByDevicesWeKnow() throws Exception {
    try (House house = new House()) {
      House.Answer read = house.device("GET", "/dm", "", Map.of());
      assertThat(read.status()).isEqualTo(405);
      assertThat(read.header("Allow")).isEqualTo("POST");
      House.Answer stranger =
          house.device("POST", "/dm", "<SyncML/>", Map.of("Content-Type", TYPE));
      assertThat(stranger.status()).isEqualTo(401);
      assertThat(stranger.header("Content-Type")).isEqualTo("application/problem+json");
      assertThat(stranger.json().path("type").asText()).endsWith("certificate-required");
    }
  }

  @Test
  void aPictureOfAStrangerIsRefusedBeforeItComesIn() throws Exception {
    try (House house = new House()) {
      String head =
          house.head(
              "PUT",
              "/content/sha256/" + "0".repeat(64),
              Map.of("Authorization", "Bearer x", "Content-Length", "5000000"));
      assertThat(head).startsWith("HTTP/1.1 401").contains("WWW-Authenticate: Bearer");
    }
  }
}
