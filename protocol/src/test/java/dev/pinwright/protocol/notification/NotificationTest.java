package dev.pinwright.protocol.notification;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatIllegalArgumentException;

import java.util.HexFormat;
import org.junit.jupiter.api.Test;

class NotificationTest {
  private final byte[] bytes = new Notification(0x1234, "pinwright").encode("01J0");

  @Test
  void theHeaderHasEveryFieldInItsBits() {
    // 12 in 10 bits, 2 in 2, 1 in 1, 27 zeros, 1234 in 16, 9 in 8, then "pinwright"
    assertThat(HexFormat.of().formatHex(bytes, 16, bytes.length))
        .isEqualTo("0328000000123409" + HexFormat.of().formatHex("pinwright".getBytes()));
  }

  @Test
  void itReadsBackAsItself() {
    assertThat(Notification.decode(bytes, "01J0")).isEqualTo(new Notification(0x1234, "pinwright"));
  }

  @Test
  void anotherSecretADamagedByteOrTooFewAreRefused() {
    assertThatIllegalArgumentException().isThrownBy(() -> Notification.decode(bytes, "other"));
    byte[] damaged = bytes.clone();
    damaged[20] ^= 1;
    assertThatIllegalArgumentException().isThrownBy(() -> Notification.decode(damaged, "01J0"));
    assertThatIllegalArgumentException()
        .isThrownBy(() -> Notification.decode(new byte[10], "01J0"));
  }
}
