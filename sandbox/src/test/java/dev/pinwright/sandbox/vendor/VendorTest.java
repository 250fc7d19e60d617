package dev.pinwright.sandbox.vendor;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatIllegalArgumentException;

import dev.pinwright.protocol.pki.Chains;
import dev.pinwright.protocol.pki.Pki;
import dev.pinwright.protocol.pki.Pki.Identity;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.security.KeyPair;
import java.security.cert.X509Certificate;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class VendorTest {
  private static final String ACCOUNT = "it@vellmar.example";
  @TempDir Path directory;
  private Vendor vendor;

  @BeforeEach
  void open() {
    vendor = new Vendor("tarn", new Vendor.Book(), directory.resolve("tarn-store"));
  }

  private static Vendor.Sold tablet(String serial) {
    return new Vendor.Sold(serial, null, "T10", "tablet");
  }

  @Test
  void aRequestIsSignedUnderTheAccountForAsLongAsAsked() {
    KeyPair pair = Pki.newKey();
    String request = Pki.requestPem(Pki.newRequest("Vellmar Museums", pair));
    X509Certificate c = Pki.certificate(vendor.sign(ACCOUNT, request, 20));
    assertThat(Pki.organisation(c)).isEqualTo(ACCOUNT);
    assertThat(c.getPublicKey()).isEqualTo(pair.getPublic());
    assertThat(c.getNotAfter().toInstant())
        .isBetween(
            Instant.now().plus(Duration.ofDays(19)), Instant.now().plus(Duration.ofDays(21)));
    assertThat(Pki.commonName(Pki.certificate(vendor.sign(ACCOUNT, request, 9))))
        .as("the topic belongs to the account")
        .isEqualTo(Pki.commonName(c));
    assertThatIllegalArgumentException()
        .isThrownBy(() -> vendor.sign(ACCOUNT, "words", 20))
        .withMessageContaining("not a PKCS#10 request");
  }

  @Test
  void aDeviceIsTheOneItsCertificateSays() {
    Identity identity = vendor.identity("Arbor", "AR10-0001");
    assertThat(Pki.deviceSerial(identity.certificate())).isEqualTo("AR10-0001");
    List<X509Certificate> chain = List.of(identity.certificate());
    assertThat(Chains.endsIn(chain, List.of(vendor.root()), Instant.now())).isTrue();
    Vendor other = new Vendor("fjell", new Vendor.Book(), directory.resolve("fjell-store"));
    assertThat(Chains.endsIn(chain, List.of(other.root()), Instant.now())).isFalse();
    assertThat(identity.certificate().getNotAfter().toInstant())
        .as("a device's identity has no end")
        .isEqualTo(Instant.parse("9999-12-31T23:59:59Z"));
  }

  @Test
  void onlyAssignedDevicesAreSentHome() {
    List<X509Certificate> chain = List.of(vendor.identity("Arbor", "AR10-0001").certificate());
    assertThat(vendor.home(chain)).as("nobody bought it").isEmpty();
    vendor.register(ACCOUNT, "VM-114", List.of(tablet("ar10-0001"), tablet("AR10-0002")));
    vendor.server(vendor.account(ACCOUNT), new Vendor.Server("https://h/join/by-identifier", "R"));
    assertThat(vendor.home(chain)).as("not assigned yet").isEmpty();
    assertThat(vendor.assign(vendor.account(ACCOUNT), List.of("AR10-0001", "AR10-0009"), true))
        .containsExactly("AR10-0001");
    assertThat(vendor.home(chain)).hasValueSatisfying(s -> assertThat(s.root()).isEqualTo("R"));
    vendor.register(ACCOUNT, "VM-115", List.of(tablet("AR10-0001")));
    assertThat(vendor.home(chain)).as("sold again, still assigned").isPresent();
    assertThat(vendor.assign(vendor.account("bo@vellmar.example"), List.of("AR10-0001"), false))
        .as("not theirs")
        .isEmpty();
  }

  @Test
  void whatIsPushedWaitsForADeviceThatIsAwayAndOnlyTheLastOne() {
    List<String> heard = new ArrayList<>();
    String token = vendor.subscribe("AR10-0001");
    assertThat(vendor.push(token, "one".getBytes(StandardCharsets.UTF_8), 60)).isTrue();
    vendor.push(token, "two".getBytes(StandardCharsets.UTF_8), 60);
    vendor.listen(token, b -> heard.add(new String(b, StandardCharsets.UTF_8)));
    assertThat(heard).containsExactly("two");
    vendor.push(token, "three".getBytes(StandardCharsets.UTF_8), 0);
    assertThat(heard).containsExactly("two", "three");
    vendor.silence(token);
    vendor.push(token, "four".getBytes(StandardCharsets.UTF_8), 0);
    vendor.listen(token, b -> heard.add("never"));
    assertThat(heard).as("no time to live").hasSize(2);
    vendor.unsubscribe(token);
    assertThat(vendor.push(token, new byte[0], 60)).as("gone").isFalse();
  }

  @Test
  void vendorsAreKeptOverARestart() {
    String root;
    String token;
    try (Vendors all = new Vendors(directory, List.of("tarn", "fjell"), 0)) {
      root = Pki.pem(all.of("tarn").root());
      token = all.of("tarn").account(ACCOUNT).registrarToken();
      all.of("tarn").register(ACCOUNT, "VM-114", List.of(tablet("AR10-0001")));
      assertThat(all.address("tarn")).startsWith("https://127.0.0.1:").endsWith("/tarn");
      assertThat(all.address("fjell")).as("a port of its own").isNotEqualTo(all.address("tarn"));
    }
    try (Vendors again = new Vendors(directory, List.of("tarn", "fjell"), 0)) {
      assertThat(Pki.pem(again.of("tarn").root())).isEqualTo(root);
      assertThat(again.of("tarn").byRegistrarToken(token)).isPresent();
      assertThat(again.of("tarn").registered()).hasSize(1);
      assertThatIllegalArgumentException().isThrownBy(() -> again.of("zeppelin"));
    }
  }
}
