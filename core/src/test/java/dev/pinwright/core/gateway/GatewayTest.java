package dev.pinwright.core.gateway;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.Test;

class GatewayTest {
  private static final Instant NOW = Instant.parse("2026-11-30T09:15:00Z");

  private static Gateway.Push push(Duration left, Optional<String> fault) {
    return Gateway.Push.of(
        Optional.of(new PushCredential("it@vellmar.example", "tarn.abc", NOW.plus(left))),
        Optional.empty(),
        12,
        fault,
        NOW);
  }

  private static Gateway tarn(Gateway.Push push) {
    return new Gateway(
        "tarn",
        "Tarn",
        Optional.of("https://tarn.example"),
        List.of("Tarn Works"),
        push,
        new Gateway.Registrar(
            Linked.FAILING,
            Optional.of("VM"),
            Optional.of(NOW),
            Optional.empty(),
            40,
            12,
            Optional.of("no answer")),
        new Gateway.Store(Linked.CONNECTED, Optional.of("VM"), Optional.of(NOW), Optional.empty()),
        1);
  }

  @Test
  void aCredentialIsSaidToLapseSixtyDaysBefore() {
    assertThat(push(Duration.ofDays(61), Optional.empty()).state())
        .isEqualTo(Gateway.Push.State.CONNECTED);
    assertThat(push(Duration.ofDays(60), Optional.empty()).state())
        .isEqualTo(Gateway.Push.State.LAPSING);
    assertThat(push(Duration.ofSeconds(-1), Optional.empty()).state())
        .isEqualTo(Gateway.Push.State.LAPSED);
    assertThat(
            Gateway.Push.of(Optional.empty(), Optional.of("PEM"), 0, Optional.empty(), NOW).state())
        .isEqualTo(Gateway.Push.State.REQUESTED);
  }

  @Test
  void beforeItIsSetUpEverythingWaitsForItsServices() {
    assertThat(Gateway.missing("tarn", "Tarn").steps())
        .extracting(s -> s.key() + " " + s.state() + " " + s.blockedBy())
        .containsExactly(
            "services tarn MISSING []",
            "push tarn BLOCKED [services tarn]",
            "registrar tarn BLOCKED [services tarn]",
            "default profile tarn BLOCKED [registrar tarn]",
            "store tarn BLOCKED [services tarn]");
  }

  @Test
  void whatLapsesOrFailsNeedsAttentionInWords() {
    assertThat(tarn(push(Duration.ofDays(14), Optional.of("refused"))).steps())
        .extracting(s -> s.state() + ": " + s.detail())
        .containsExactly(
            "DONE: at https://tarn.example",
            "ATTENTION: lapses in 14 days, on 2026-12-14",
            "ATTENTION: no answer",
            "MISSING: choose an enrollment profile",
            "DONE: connected as VM");
    assertThat(tarn(push(Duration.ofDays(90), Optional.of("refused"))).steps().get(1).detail())
        .as("what the push service said, while the credential holds")
        .isEqualTo("refused");
    assertThat(tarn(push(Duration.ofDays(-1), Optional.empty())).steps().get(1).detail())
        .isEqualTo("has lapsed on 2026-11-29");
  }
}
