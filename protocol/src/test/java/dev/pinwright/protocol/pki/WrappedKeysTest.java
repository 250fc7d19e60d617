package dev.pinwright.protocol.pki;

import static org.assertj.core.api.Assertions.assertThat;

import dev.pinwright.protocol.pki.Pki.Identity;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class WrappedKeysTest {
  private static final String KEY = "011223-445566-778899";
  private static final Instant NOW = Instant.now();
  private static final Identity ROOT =
      Pki.newRoot("Root", NOW.minusSeconds(60), NOW.plus(Duration.ofDays(9)));
  private static final Identity RECIPIENT = recipient();
  @TempDir Path here;

  private static Identity recipient() {
    return Pki.newRecipient(ROOT, "Keys", NOW.minusSeconds(60), NOW.plus(Duration.ofDays(9)));
  }

  @Test
  void whatIsWrappedIsOpenedByItsRecipientAlone() {
    byte[] wrapped = WrappedKeys.wrap(KEY, RECIPIENT.certificate());
    assertThat(new String(wrapped, java.nio.charset.StandardCharsets.ISO_8859_1))
        .doesNotContain("445566");
    assertThat(WrappedKeys.unwrap(wrapped, RECIPIENT)).contains(KEY);
    assertThat(WrappedKeys.unwrap(wrapped, recipient())).isEmpty();
  }

  @Test
  void whatIsNoWrappedKeyIsNone() {
    byte[] wrapped = WrappedKeys.wrap(KEY, RECIPIENT.certificate());
    byte[] torn = java.util.Arrays.copyOf(wrapped, wrapped.length - 20);
    assertThat(WrappedKeys.unwrap(torn, RECIPIENT)).isEmpty();
    assertThat(WrappedKeys.unwrap(new byte[0], RECIPIENT)).isEmpty();
    assertThat(WrappedKeys.unwrap("no CMS".getBytes(), RECIPIENT)).isEmpty();
    assertThat(WrappedKeys.unwrap(new byte[WrappedKeys.MAX_WRAPPED + 1], RECIPIENT)).isEmpty();
    for (String key : new String[] {"", " ", "a\nb", "\u0000", "x".repeat(201)}) {
      assertThat(WrappedKeys.unwrap(WrappedKeys.wrap(key, RECIPIENT.certificate()), RECIPIENT))
          .as("a key '%s'", key)
          .isEmpty();
    }
    wrapped[wrapped.length - 1] ^= 1;
    assertThat(WrappedKeys.unwrap(wrapped, RECIPIENT)).isNotEqualTo(java.util.Optional.of(KEY));
  }

  @Test
  void whatAnotherProgramWrappedIsOpened() throws Exception {
    Path certificate = here.resolve("keys.pem");
    Path key = Files.writeString(here.resolve("key"), KEY + "\n");
    Files.writeString(certificate, Pki.pem(RECIPIENT.certificate()));
    for (String[] how : new String[][] {{}, {"-keyopt", "ecdh_kdf_md:sha256"}}) {
      assertThat(WrappedKeys.unwrap(openssl(certificate, key, how), RECIPIENT))
          .as(String.join(" ", how))
          .contains(KEY);
    }
  }

  private byte[] openssl(Path certificate, Path key, String... how)
      throws IOException, InterruptedException {
    Path out = here.resolve("wrapped");
    java.util.List<String> command =
        new java.util.ArrayList<>(
            java.util.List.of(
                "openssl",
                "cms",
                "-encrypt",
                "-aes-256-cbc",
                "-binary",
                "-outform",
                "DER",
                "-in",
                key.toString(),
                "-out",
                out.toString(),
                "-recip",
                certificate.toString()));
    command.addAll(java.util.List.of(how));
    assertThat(new ProcessBuilder(command).inheritIO().start().waitFor()).isZero();
    return Files.readAllBytes(out);
  }
}
