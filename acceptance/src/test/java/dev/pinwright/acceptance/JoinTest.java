package dev.pinwright.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import dev.pinwright.client.http.ApiException;
import dev.pinwright.client.model.Arrival;
import dev.pinwright.client.model.DeviceKind;
import dev.pinwright.client.model.EnrollmentProfileDraft;
import dev.pinwright.client.model.Invitation;
import dev.pinwright.client.model.JournalEntry;
import dev.pinwright.client.model.Mode;
import dev.pinwright.client.model.PlatformKey;
import dev.pinwright.protocol.join.JoinLink;
import dev.pinwright.protocol.pki.Pki;
import dev.pinwright.sandbox.device.Agent;
import dev.pinwright.sandbox.device.Screen;
import java.security.KeyPair;
import java.security.KeyPairGenerator;
import java.security.cert.X509Certificate;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;

/** Joining and enrolling over the wire, with every way it can go wrong. */
class JoinTest {
  private static Rig rig;
  private static Desk desk;
  private static X509Certificate root;
  private static Wire stranger;
  private static Invitation open;

  @BeforeAll
  static void start() throws ApiException {
    rig = new Rig();
    desk = new Desk(rig);
    desk.terms();
    open =
        desk.invite(
            desk.enrollment(
                new EnrollmentProfileDraft()
                    .name("Gallery kiosks")
                    .mode(Mode.SUPERVISED)
                    .platforms(List.of(PlatformKey.TARN))
                    .kinds(List.of(DeviceKind.TABLET))
                    .minimumOs(Map.of("tarn", "7.0"))
                    .termsVersion(1)),
            100);
    root = Pki.certificate(rig.client.intake().getJoinFile(open.getId()).getRoot());
    stranger = new Wire(rig.deviceUrl(), root, null, null);
  }

  @AfterAll
  static void stop() {
    rig.close();
  }

  private static Map<String, Object> request(String os, String serial) {
    return Map.of("device", Wire.device("tarn", os, "tablet", serial), "termsAccepted", 1);
  }

  @Test
  void theOfferSaysWhatIsSeenWhatIsNeverSeenAndWhereToGo() {
    JsonNode offer =
        stranger.get("/join/" + open.getCode().toLowerCase(java.util.Locale.ROOT)).json();
    assertThat(offer.path("organisation").asText()).isEqualTo("Vellmar Museums");
    assertThat(offer.at("/profile/mode").asText()).isEqualTo("supervised");
    assertThat(offer.at("/terms/version").asInt()).isEqualTo(1);
    assertThat(offer.path("signIn").asText()).isEqualTo("none");
    assertThat(offer.path("visible").toString()).contains("Model");
    assertThat(offer.path("never").toString()).contains("calls");
    assertThat(offer.path("dm").asText()).isEqualTo(rig.deviceUrl() + "/dm");
    assertThat(offer.path("wake").asText()).startsWith("wss://");
    assertThat(Pki.certificate(offer.path("root").asText())).isEqualTo(root);
    assertThat(JoinLink.parse(open.getLink()).fingerprint()).isEqualTo(JoinLink.fingerprint(root));
  }

  @Test
  void everyRefusalHasItsOwnErrorArrivalAndJournalEntry() throws ApiException {
    String code = open.getCode();
    refused(stranger.get("/join/0000-0000-0000"), 404, "unknown-code");
    refused(stranger.join("not-a-code", request("7.2", "S-1000")), 404, "unknown-code");
    refused(
        stranger.join(
            code,
            Map.of("device", Wire.device("fjell", "13.0", "tablet", "S-1001"), "termsAccepted", 1)),
        422,
        "platform-refused");
    refused(
        stranger.join(
            code,
            Map.of("device", Wire.device("tarn", "7.2", "phone", "S-1002"), "termsAccepted", 1)),
        422,
        "platform-refused");
    Wire.Answer old = stranger.join(code, request("6.3", "S-1003"));
    refused(old, 422, "os-too-old");
    assertThat(old.json().path("minimum").asText()).isEqualTo("7.0");
    assertThat(old.detail()).isEqualTo("OS 6.3 is below 7.0.");
    refused(
        stranger.join(code, Map.of("device", Wire.device("tarn", "7.2", "tablet", "S-1004"))),
        409,
        "terms-required");
    refused(stranger.join(code, Map.of("nonsense", 1)), 400, "malformed");
    refused(stranger.join(code, "text"), 400, "malformed");
    Wire.Answer imei =
        stranger.join(
            code,
            Map.of(
                "device",
                Map.of(
                    "platform",
                    "tarn",
                    "osVersion",
                    "7.2",
                    "kind",
                    "tablet",
                    "maker",
                    "Arbor",
                    "model",
                    "T10",
                    "identifiers",
                    List.of(Map.of("kind", "imei", "value", "004401230000017")))));
    refused(imei, 400, "malformed");
    assertThat(imei.detail()).contains("wrong check digit", "end in 6");

    List<Arrival> arrivals =
        rig.client.intake().listArrivals("refused", null, null, null, 50).getItems();
    assertThat(arrivals)
        .extracting(Arrival::getReason)
        .contains("OS 6.3 is below 7.0", "a phone is not let in here");
    assertThat(rig.client.records().listJournal(null, "os-too-old", null, 10).getItems())
        .extracting(JournalEntry::getAction)
        .contains("arrival.refused");
  }

  private static void refused(Wire.Answer a, int status, String type) {
    assertThat(a.header("content-type")).startsWith("application/problem+json");
    assertThat(a.status() + " " + a.problem()).isEqualTo(status + " " + type);
    assertThat(a.detail()).isNotBlank();
  }

  @Test
  void aSpentAWithdrawnAndALapsedCodeAreToldApart() throws Exception {
    Invitation single = desk.kiosks("Single", 1);
    stranger.joined(single.getCode(), "S-2000", root);
    refused(stranger.join(single.getCode(), request("7.2", "S-2001")), 410, "spent-code");
    refused(stranger.get("/join/" + single.getCode()), 410, "spent-code");
    assertThat(rig.client.intake().getInvitation(single.getId()).getState().getValue())
        .isEqualTo("spent");

    Invitation withdrawn = desk.kiosks("Withdrawn", 1);
    rig.client.intake().withdrawInvitation(withdrawn.getId());
    Wire.Answer a = stranger.join(withdrawn.getCode(), request("7.2", "S-2002"));
    refused(a, 410, "lapsed-code");
    assertThat(a.detail()).contains("withdrawn");

    Invitation lapsed = desk.kiosks("Lapsed", 1);
    Sql.run(
        rig,
        "update invitation set expires_at = now() - interval '1 minute' where id = '"
            + lapsed.getId()
            + "'");
    refused(stranger.join(lapsed.getCode(), request("7.2", "S-2003")), 410, "lapsed-code");
  }

  @Test
  void aPassphraseIsCheckedAndGuessingItIsSlowedDown() throws ApiException {
    Invitation i =
        desk.invite(
            desk.enrollment(
                new EnrollmentProfileDraft()
                    .name("With passphrase")
                    .mode(Mode.SUPERVISED)
                    .signIn("passphrase")
                    .passphrase("herring and rye")),
            5);
    Map<String, Object> device = Wire.device("tarn", "7.2", "tablet", "S-3000");
    refused(stranger.join(i.getCode(), Map.of("device", device)), 401, "sign-in-failed");
    assertThat(
            stranger
                .join(
                    i.getCode(),
                    Map.of("device", device, "signIn", Map.of("secret", "herring and rye")))
                .status())
        .isEqualTo(201);
    for (int n = 0; n < 5; n++) {
      stranger.join(i.getCode(), Map.of("device", device, "signIn", Map.of("secret", "guess" + n)));
    }
    Wire.Answer slowed =
        stranger.join(i.getCode(), Map.of("device", device, "signIn", Map.of("secret", "guess")));
    refused(slowed, 429, "too-many-tries");
    assertThat(Integer.parseInt(slowed.header("Retry-After"))).isBetween(1, 60);
    assertThat(rig.client.records().listJournal(null, "guess", null, 10).getItems()).isEmpty();
  }

  @Test
  void anArrivalWaitsUntilSomebodyLetsItInOrRefusesIt() throws ApiException {
    Invitation i =
        desk.invite(
            desk.enrollment(
                new EnrollmentProfileDraft().name("Approved").mode(Mode.SUPERVISED).approval(true)),
            5);
    Wire.Answer first = stranger.join(i.getCode(), request("7.2", "S-4000"));
    assertThat(first.status()).isEqualTo(202);
    assertThat(first.header("Retry-After")).isEqualTo("5");
    assertThat(stranger.join(i.getCode(), request("7.2", "S-4000")).status()).isEqualTo(202);
    rig.client.intake().approveArrival(waiting("S-4000"));
    assertThat(stranger.join(i.getCode(), request("7.2", "S-4000")).status()).isEqualTo(201);

    assertThat(stranger.join(i.getCode(), request("7.2", "S-4001")).status()).isEqualTo(202);
    rig.client
        .intake()
        .refuseArrival(
            waiting("S-4001"), new dev.pinwright.client.model.Reason().reason("not ours"));
    refused(stranger.join(i.getCode(), request("7.2", "S-4001")), 403, "not-on-roster");
  }

  private static String waiting(String serial) throws ApiException {
    return rig.client.intake().listArrivals("waiting", null, null, null, 50).getItems().stream()
        .filter(a -> a.getIdentifier().equals(serial))
        .findFirst()
        .orElseThrow()
        .getId();
  }

  @Test
  void aDeviceThatComesBackGetsItsRecordAndItsOldCertificateStopsWorking() throws ApiException {
    Wire.Joined before = stranger.joined(open.getCode(), "S-5000", root);
    assertThat(before.wire().dm(Wire.packageOne("1", 1, "")).status()).isEqualTo(200);
    rig.client
        .devices()
        .changeDevice(
            before.id(),
            Desk.onVersion(desk.card(before.id()).getVersion()),
            new dev.pinwright.client.model.DeviceChange().name("Quay 5"));
    Wire.Answer unproved = stranger.join(open.getCode(), request("7.2", "S-5000"));
    assertThat(unproved.status()).as("whoever knows a code and a serial number").isEqualTo(202);
    assertThat(before.wire().dm(Wire.packageOne("2", 1, "")).status()).isEqualTo(200);
    Wire.Joined after = before.wire().joined(open.getCode(), "S-5000", root);
    assertThat(after.id()).isEqualTo(before.id());
    assertThat(desk.card(after.id()).getDevice().getName()).isEqualTo("Quay 5");
    assertThat(after.wire().dm(Wire.packageOne("1", 1, "")).status()).isEqualTo(200);
    refused(before.wire().dm(Wire.packageOne("3", 1, "")), 403, "certificate-revoked");
  }

  @Test
  void anIdentifierOfAnotherModelOrOfTwoRecordsIsTaken() {
    stranger.joined(open.getCode(), "S-6000", root);
    Map<String, Object> other =
        Map.of(
            "platform",
            "tarn",
            "osVersion",
            "7.2",
            "kind",
            "tablet",
            "maker",
            "Arbor",
            "model",
            "T8 mini",
            "identifiers",
            List.of(Map.of("kind", "serial", "value", "s-6000")));
    refused(
        stranger.join(open.getCode(), Map.of("device", other, "termsAccepted", 1)),
        409,
        "identifier-taken");
  }

  @Test
  void aPasswordIsGoodForOneRightRequest() throws Exception {
    JsonNode admission = stranger.join(open.getCode(), request("7.2", "S-7000")).json();
    String id = admission.path("commonName").asText();
    String user = admission.at("/est/username").asText();
    String password = admission.at("/est/password").asText();
    KeyPair keys = Pki.newKey();
    String good = Pki.base64(Pki.newRequest(id, keys));
    refused(stranger.enroll(user, "wrong", good), 401, "est-sign-in-failed");
    refused(
        stranger.enroll(user, password, Pki.base64(Pki.newRequest("another", keys))),
        400,
        "csr-wrong-name");
    KeyPairGenerator weak = KeyPairGenerator.getInstance("RSA");
    weak.initialize(1024);
    refused(
        stranger.enroll(user, password, Pki.base64(Pki.newRequest(id, weak.generateKeyPair()))),
        400,
        "csr-weak-key");
    refused(stranger.enroll(user, password, "not base64 at all"), 400, "csr-unreadable");
    Wire.Answer issued = stranger.enroll(user, password, good);
    assertThat(issued.status()).isEqualTo(200);
    assertThat(issued.header("content-type")).startsWith("application/pkcs7-mime");
    X509Certificate c = Pki.readEstCertificates(issued.response().body()).get(0);
    c.verify(root.getPublicKey());
    assertThat(c.getNotAfter().toInstant())
        .isAfter(java.time.Instant.now().plusSeconds(364L * 86400));
    Wire.Answer repeated = stranger.enroll(user, password, good);
    assertThat(repeated.status()).as("when the answer was lost").isEqualTo(200);
    Wire with =
        new Wire(
            rig.deviceUrl(),
            root,
            keys.getPrivate(),
            Pki.readEstCertificates(repeated.response().body()).get(0));
    assertThat(with.dm(Wire.packageOne("1", 1, "")).status()).isEqualTo(200);
    Wire.Answer again = stranger.enroll(user, password, good);
    refused(again, 401, "est-sign-in-failed");
    assertThat(again.detail()).contains("used already");
    assertThat(again.header("WWW-Authenticate")).startsWith("Basic");
    String journal = rig.client.records().listJournal("device:" + id, null, null, 50).toString();
    assertThat(journal)
        .contains("certificate.refused", "certificate.issued")
        .doesNotContain(password);
  }

  @Test
  void aCertificateIsRenewedWithTheOldOneAndTheOldOneThenStops() throws Exception {
    Wire.Joined d = stranger.joined(open.getCode(), "S-8000", root);
    KeyPair keys = Pki.newKey();
    Wire.Answer a =
        d.wire()
            .send(
                "POST",
                "/.well-known/est/simplereenroll",
                Map.of("Content-Type", "application/pkcs10"),
                Pki.base64(Pki.newRequest(d.id(), keys)).getBytes());
    X509Certificate renewed = Pki.readEstCertificates(a.response().body()).get(0);
    assertThat(d.wire().dm(Wire.packageOne("1", 1, "")).status()).as("still good").isEqualTo(200);
    Wire with = new Wire(rig.deviceUrl(), root, keys.getPrivate(), renewed);
    assertThat(with.dm(Wire.packageOne("2", 1, "")).status()).isEqualTo(200);
    refused(d.wire().dm(Wire.packageOne("3", 1, "")), 403, "certificate-revoked");
    assertThat(Pki.readEstCertificates(stranger.get("/.well-known/est/cacerts").response().body()))
        .containsExactly(root);
    assertThat(stranger.get("/.well-known/est/csrattrs").header("content-type"))
        .startsWith("application/csrattrs");
  }

  @Test
  void theHandHeldViewTellsTheHolderWhy() throws ApiException {
    Agent phone = rig.unpack("P5");
    phone.take(open.getLink()).join();
    assertThat(phone.screen().screen()).isEqualTo("offered");
    phone.accept(null).join();
    Screen refused = Rig.eventually(phone::screen, s -> s.screen().equals("refused"));
    assertThat(refused.problem()).isEqualTo("platform-refused");
    assertThat(refused.reason()).containsIgnoringCase("fjell is not let in here");
    Agent deceived = rig.unpack("T10");
    deceived
        .take(open.getLink().replaceFirst("#.", open.getLink().contains("#A") ? "#B" : "#A"))
        .join();
    assertThat(deceived.screen().problem()).isEqualTo("unreachable");
    assertThat(deceived.screen().reason()).contains("not the one the join link names");
  }
}
