package dev.pinwright.protocol.pki;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatIllegalArgumentException;
import static org.assertj.core.api.Assertions.catchThrowableOfType;

import dev.pinwright.core.enrollment.InvitationCode;
import dev.pinwright.protocol.join.JoinLink;
import dev.pinwright.protocol.pki.CsrRefused.Reason;
import java.security.KeyPair;
import java.security.KeyPairGenerator;
import java.security.cert.X509Certificate;
import java.time.Instant;
import java.util.List;
import org.junit.jupiter.api.Test;

class PkiTest {
  private static final Instant NOW = Instant.parse("2026-05-01T10:00:00Z");
  private final Pki.Identity root = Pki.newRoot("Root", NOW, NOW.plusSeconds(9999));

  private static Reason refused(byte[] der) {
    return catchThrowableOfType(CsrRefused.class, () -> Pki.checkRequest(der, "01J0")).reason();
  }

  @Test
  void aGoodRequestBecomesAClientCertificate() throws Exception {
    KeyPair pair = Pki.newKey();
    var key = Pki.checkRequest(Pki.newRequest("01J0", pair), "01J0");
    X509Certificate c = Pki.issueDevice(root, "01J0", key, NOW, NOW.plusSeconds(60));
    c.verify(root.certificate().getPublicKey());
    assertThat(Pki.commonName(c)).isEqualTo("01J0");
    assertThat(c.getExtendedKeyUsage()).containsExactly("1.3.6.1.5.5.7.3.2");
    assertThat(Pki.readEstCertificates(Pki.estCertificates(List.of(c)))).containsExactly(c);
  }

  @Test
  void anEstBodyIsDerInBase64WithoutBreaks() throws Exception {
    String body = Pki.estCertificates(List.of(root.certificate()));
    assertThat(body).matches("[A-Za-z0-9+/]+=*");
    byte[] der = java.util.Base64.getDecoder().decode(body);
    assertThat(org.bouncycastle.asn1.ASN1Primitive.fromByteArray(der).getEncoded("DER"))
        .isEqualTo(der);
    assertThat(Pki.readEstCertificates(body.replaceAll("(.{64})", "$1\r\n")))
        .as("what older servers send")
        .containsExactly(root.certificate());
  }

  @Test
  void requestsForAnotherNameWithAWeakKeyOrDamagedAreRefused() throws Exception {
    assertThat(refused(Pki.newRequest("someone-else", Pki.newKey()))).isEqualTo(Reason.WRONG_NAME);
    KeyPairGenerator weak = KeyPairGenerator.getInstance("RSA");
    weak.initialize(1024);
    assertThat(refused(Pki.newRequest("01J0", weak.generateKeyPair()))).isEqualTo(Reason.WEAK_KEY);
    KeyPairGenerator odd = KeyPairGenerator.getInstance("EC");
    odd.initialize(new java.security.spec.ECGenParameterSpec("secp521r1"));
    assertThat(refused(Pki.newRequest("01J0", odd.generateKeyPair()))).isEqualTo(Reason.WEAK_KEY);
    byte[] der = Pki.newRequest("01J0", Pki.newKey());
    der[der.length - 5] ^= 1;
    assertThat(refused(der)).isEqualTo(Reason.BAD_SIGNATURE);
    assertThat(refused(new byte[] {1, 2, 3})).isEqualTo(Reason.UNREADABLE);
  }

  @Test
  void nativeAndOwnSignaturesAgree() throws Exception {
    KeyPair pair = Pki.newKey();
    byte[] before = Pki.newRequest("01J0", pair);
    assertThat(NativeSignatures.install()).isTrue();
    assertThat(java.security.Signature.getInstance("SHA256withECDSA").getProvider().getName())
        .isEqualTo("native-signatures");
    assertThat(javax.net.ssl.SSLContext.getInstance("TLS").getProvider().getName())
        .isEqualTo("SunJSSE");
    assertThat(Pki.checkRequest(before, "01J0")).isEqualTo(pair.getPublic());
    byte[] after = Pki.newRequest("01J0", pair);
    java.security.Security.removeProvider("native-signatures");
    assertThat(Pki.checkRequest(after, "01J0")).isEqualTo(pair.getPublic());
  }

  @Test
  void aRequestWithAnyBitTurnedIsRefusedInWords() {
    int taken = 0;
    byte[] good = Pki.newRequest("01J0", Pki.newKey());
    for (int bit = 0; bit < good.length * 8; bit++) {
      byte[] spoilt = good.clone();
      spoilt[bit / 8] ^= (byte) (1 << bit % 8);
      try {
        Pki.checkRequest(spoilt, "01J0");
        taken++;
      } catch (CsrRefused e) {
        assertThat(e.reason()).isNotNull();
      }
    }
    // a few bits mean nothing, as the tag of the attributes when there are none
    assertThat(taken).isLessThan(16);
  }

  @Test
  void anRsaKeyOf2048BitsIsGoodEnough() throws Exception {
    KeyPairGenerator rsa = KeyPairGenerator.getInstance("RSA");
    rsa.initialize(2048);
    assertThat(Pki.checkRequest(Pki.newRequest("01J0", rsa.generateKeyPair()), "01J0")).isNotNull();
  }

  @Test
  void keysAndCertificatesSurvivePem() {
    assertThat(Pki.certificate(Pki.pem(root.certificate()))).isEqualTo(root.certificate());
    assertThat(Pki.privateKey(Pki.pem(root.key())).getEncoded()).isEqualTo(root.key().getEncoded());
  }

  @Test
  void aJoinLinkNamesTheRootItTrusts() {
    JoinLink link =
        JoinLink.of(
            "https://127.0.0.1:7443", InvitationCode.parse("4T7K91QMXZ3A"), root.certificate());
    assertThat(JoinLink.parse(link.toString())).isEqualTo(link);
    assertThat(link.fingerprint()).hasSize(43);
    assertThatIllegalArgumentException()
        .isThrownBy(() -> JoinLink.parse("http://127.0.0.1/join/4T7K91QMXZ3A#x"))
        .withMessageContaining("https://");
    assertThatIllegalArgumentException()
        .isThrownBy(() -> JoinLink.parse("https://127.0.0.1/join/4T7K91QMXZ3A"))
        .withMessageContaining("fingerprint");
  }
}
