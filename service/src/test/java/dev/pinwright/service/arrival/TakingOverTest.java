package dev.pinwright.service.arrival;

import static dev.pinwright.service.Node.FIRST;
import static dev.pinwright.service.Node.OWNER;
import static dev.pinwright.service.Node.READER;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.catchThrowableOfType;

import dev.pinwright.protocol.join.JoinMessages.Admission;
import dev.pinwright.protocol.pki.Pki;
import dev.pinwright.service.Node;
import dev.pinwright.service.invitation.Invitations;
import dev.pinwright.service.work.Problem;
import java.security.KeyPair;
import java.security.cert.X509Certificate;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** Who gets the record of a device that is managed, and what becomes of its certificate. */
class TakingOverTest {
  private static final String SERIAL = "AR10-0001";
  private Node node;
  private String code;

  @BeforeEach
  void start() {
    node = new Node();
    code = node.kiosks(5);
  }

  @AfterEach
  void stop() {
    node.close();
  }

  private Optional<Admission> ask(String with, X509Certificate... chain) {
    return node.pinwright
        .joining()
        .join(new Joining.Asking(with, List.of(chain), "127.0.0.1", List.of()), Node.tablet(SERIAL))
        .admission();
  }

  private X509Certificate enroll(Admission a) {
    KeyPair keys = Pki.newKey();
    return Pki.readEstCertificates(
            node.pinwright
                .certificates()
                .enroll(
                    a.est().username(),
                    a.est().password(),
                    Pki.base64(Pki.newRequest(a.commonName(), keys))))
        .get(0);
  }

  private String heard(X509Certificate certificate) {
    return node.pinwright.sessions().recognise(new X509Certificate[] {certificate}, "127.0.0.1");
  }

  private String refused(Runnable asking) {
    Problem p = catchThrowableOfType(Problem.class, asking::run);
    return p == null ? "let in" : p.type();
  }

  private X509Certificate managed() {
    X509Certificate certificate = enroll(ask(code).orElseThrow());
    heard(certificate);
    return certificate;
  }

  @Test
  void whoeverKnowsASerialNumberWaitsForAPersonAndTheDeviceGoesOn() {
    X509Certificate own = managed();
    assertThat(ask(code)).as("a stranger with the code and the serial number").isEmpty();
    assertThat(heard(own)).as("the device is not cut off").isNotEmpty();
    Arrivals.Shown waiting =
        node.pinwright
            .arrivals()
            .page(READER, new Arrivals.Filter("waiting", "", Instant.EPOCH), FIRST)
            .items()
            .get(0);
    assertThat(waiting.reason()).contains("did not prove");
    node.pinwright.arrivals().approve(OWNER, waiting.id());
    X509Certificate fresh = enroll(ask(code).orElseThrow());
    assertThat(heard(own)).as("until the new certificate is used").isNotEmpty();
    assertThat(heard(fresh)).isEqualTo(Pki.commonName(own));
    assertThat(refused(() -> heard(own))).isEqualTo("certificate-revoked");
  }

  @Test
  void theOldCertificateIsProof() {
    X509Certificate own = managed();
    assertThat(ask(code, own).map(Admission::device)).contains(Pki.commonName(own));
  }

  @Test
  void aCertificateThatWasReplacedIsNone() {
    X509Certificate old = managed();
    heard(enroll(ask(code, old).orElseThrow()));
    assertThat(ask(code, old)).isEmpty();
  }

  @Test
  void aUsedUpCodeOfAPersonalProfileTurnsNoKioskIntoAPersonalDevice() {
    X509Certificate own = managed();
    String personal =
        node.invite("{\"name\":\"Own\",\"ownership\":\"personal\",\"mode\":\"work-profile\"}", 1);
    node.pinwright
        .joining()
        .join(new Joining.Asking(personal, "127.0.0.1"), Node.tablet("AR10-0002"));
    assertThat(refused(() -> ask(personal))).isEqualTo("spent-code");
    assertThat(refused(() -> ask(personal, own))).as("with proof too").isEqualTo("spent-code");
    assertThat(node.pinwright.devices().get(READER, Pki.commonName(own)).device().ownership())
        .isEqualTo("corporate");
  }

  @Test
  void anotherOwnershipTakesProofAndAPersonsWord() {
    X509Certificate own = managed();
    String personal =
        node.invite("{\"name\":\"Own\",\"ownership\":\"personal\",\"mode\":\"work-profile\"}", 9);
    assertThat(refused(() -> ask(personal))).isEqualTo("identifier-taken");
    assertThat(ask(personal, own)).isEmpty();
    node.pinwright
        .arrivals()
        .page(READER, new Arrivals.Filter("waiting", "", Instant.EPOCH), FIRST)
        .items()
        .forEach(a -> node.pinwright.arrivals().approve(OWNER, a.id()));
    assertThat(ask(personal, own)).isPresent();
    assertThat(node.pinwright.devices().get(READER, Pki.commonName(own)).device().ownership())
        .isEqualTo("personal");
  }

  @Test
  void everyStepOfJoiningCanBeRepeated() {
    Admission first = ask(code).orElseThrow();
    X509Certificate lost = enroll(first);
    X509Certificate again = enroll(first);
    assertThat(heard(again)).isEqualTo(first.device());
    assertThat(refused(() -> heard(lost)))
        .as("a certificate whose answer was lost is nobody's")
        .isEqualTo("certificate-revoked");
    assertThat(refused(() -> enroll(first)))
        .as("a password is spent by the first use of what it got")
        .isEqualTo("est-sign-in-failed");
  }

  @Test
  void aDeviceThatWasNeverHeardAsksAgainWithAUsedUpCode() {
    String once = node.invite("{\"name\":\"Once\",\"mode\":\"supervised\"}", 1);
    String id = ask(once).orElseThrow().device();
    Admission again = ask(once).orElseThrow();
    assertThat(again.device()).isEqualTo(id);
    assertThat(heard(enroll(again))).isEqualTo(id);
  }

  @Test
  void aReaderIsShownNothingThatLetsSomebodyIn() {
    Invitations invitations = node.pinwright.invitations();
    Invitations.Shown listed =
        invitations.page(OWNER, new Invitations.Filter("", ""), FIRST).items().get(0);
    assertThat(listed.code()).as("nor does a list show it to anybody").isEmpty();
    assertThat(code).endsWith(listed.codeEnds());
    Invitations.Shown read = invitations.get(READER, listed.id());
    assertThat(read.code()).isEmpty();
    assertThat(read.link()).isEmpty();
    assertThat(invitations.get(OWNER, listed.id()).code()).contains(code);
    assertThat(invitations.get(OWNER, listed.id()).link()).isPresent();
    assertThat(node.pinwright.journal().page(READER, "", "invitation.shown", FIRST).items())
        .as("who was shown it is noted, once for a look")
        .hasSize(1);
  }
}
