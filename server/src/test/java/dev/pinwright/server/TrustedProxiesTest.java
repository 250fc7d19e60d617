package dev.pinwright.server;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.net.InetAddress;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

/** Addresses are those of documentation (RFC 5737, RFC 3849). */
class TrustedProxiesTest {
  private final TrustedProxies proxies =
      new TrustedProxies(List.of("192.0.2.7", "198.51.100.0/24", "2001:db8:1::/48"));

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      nullValues = "-",
      textBlock =
          """
          203.0.113.9  | for=203.0.113.77                               | 203.0.113.9
          192.0.2.7    | for=203.0.113.77                               | 203.0.113.77
          192.0.2.7    | for="203.0.113.77:4711";proto=https            | 203.0.113.77
          192.0.2.7    | By=192.0.2.7; For=203.0.113.77                 | 203.0.113.77
          192.0.2.7    | for=198.51.100.1, for=203.0.113.5              | 203.0.113.5
          192.0.2.7    | for=203.0.113.5, for=198.51.100.1              | 203.0.113.5
          192.0.2.7    | for=203.0.113.1, for=203.0.113.5               | 203.0.113.5
          192.0.2.7    | for="[2001:db8:2::1]:99"                       | 2001:db8:2:0:0:0:0:1
          2001:db8:1::9| for=203.0.113.5                                | 203.0.113.5
          192.0.2.7    | for=unknown                                    | 192.0.2.7
          192.0.2.7    | for=_hidden, for=198.51.100.1                  | 198.51.100.1
          192.0.2.7    | for=printer.example                            | 192.0.2.7
          192.0.2.7    | nothing of the kind                            | 192.0.2.7
          192.0.2.7    | for="203.0.113.1, for=203.0.113.2"             | 192.0.2.7
          """)
  void whoAsksIsReadFromTheEndAsFarAsItIsTrusted(String neighbour, String said, String asker)
      throws Exception {
    assertThat(proxies.asker(InetAddress.getByName(neighbour), List.of(said)).getHostAddress())
        .isEqualTo(asker);
  }

  @ParameterizedTest
  @ValueSource(strings = {"proxy.example", "10.0.0.0/33", "10.0.0", "", "10.0.0.0/x", ":::"})
  void whatIsNoAddressIsRefusedInWords(String text) {
    assertThatThrownBy(() -> new TrustedProxies(List.of(text)))
        .hasMessageContaining("has to hold addresses or ranges")
        .hasMessageContaining("'" + text + "'");
  }

  @Test
  void wrongPasswordsBehindAProxyAreCountedForEachWhoAsks() throws Exception {
    try (House house = new House(List.of("127.0.0.0/8"))) {
      for (int i = 0; i < 8; i++) {
        assertThat(guess(house, "203.0.113.1")).isEqualTo(401);
      }
      assertThat(guess(house, "203.0.113.1")).as("who guesses").isEqualTo(429);
      assertThat(guess(house, "203.0.113.2")).as("another one").isEqualTo(401);
    }
    try (House house = new House()) {
      for (int i = 0; i < 8; i++) {
        guess(house, "203.0.113." + i);
      }
      assertThat(guess(house, "203.0.113.9"))
          .as("an address anybody could have made up counts for nothing")
          .isEqualTo(429);
    }
  }

  private static int guess(House house, String address) {
    return house.forwarded(
        "for=" + address, "/sign-in", "{\"login\":\"somebody\",\"password\":\"a guess at it\"}");
  }
}
