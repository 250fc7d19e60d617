package dev.pinwright.service.gateway;

import static dev.pinwright.service.Node.FIRST;
import static dev.pinwright.service.Node.OWNER;
import static dev.pinwright.service.Node.READER;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.pinwright.core.Words;
import dev.pinwright.core.enrollment.EnrollmentForm;
import dev.pinwright.core.gateway.Gateway;
import dev.pinwright.core.gateway.Linked;
import dev.pinwright.core.gateway.SetUpStep;
import dev.pinwright.protocol.join.JoinMessages;
import dev.pinwright.protocol.pki.Pki;
import dev.pinwright.service.Node;
import dev.pinwright.service.arrival.Joining;
import dev.pinwright.service.roster.Roster;
import dev.pinwright.service.work.Json;
import dev.pinwright.service.work.Problem;
import java.security.cert.X509Certificate;
import java.time.Duration;
import java.util.List;
import java.util.Map;
import java.util.function.BooleanSupplier;
import org.awaitility.Awaitility;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

class GatewaysTest {
  private static final String ACCOUNT = "it@vellmar.example";
  private Node node;
  private StandInVendor vendor;
  private Gateways gateways;
  private Registrar registrar;

  @BeforeEach
  void start() throws Exception {
    node = new Node();
    vendor = new StandInVendor(node.clock.instant());
    gateways = node.pinwright.gateways();
    registrar = node.pinwright.registrar();
    vendor.answers.put("GET /tarn/registrar/account", "{\"account\":\"" + ACCOUNT + "\"}");
    vendor.registered();
  }

  @AfterEach
  void stop() {
    vendor.close();
    node.close();
  }

  private void services() {
    gateways.setUp(
        OWNER,
        "tarn",
        gateways.get(OWNER, "tarn").version(),
        vendor.address() + "/",
        vendor.rootPem());
  }

  private Gateway credential(String account, int days) {
    String request = gateways.request(OWNER, "tarn").push().request().orElseThrow();
    return gateways.credential(
        OWNER,
        "tarn",
        gateways.get(OWNER, "tarn").version(),
        vendor.sign(account, request, node.clock.instant().plus(Duration.ofDays(days))));
  }

  private String profile(String json) {
    return node.pinwright
        .enrollmentProfiles()
        .add(OWNER, Json.request(json, EnrollmentForm.class))
        .id();
  }

  private List<String> roster() {
    return node.pinwright.roster().page(READER, Roster.Filter.ALL, FIRST).items().stream()
        .map(e -> e.serial().orElse("") + " " + Words.of(e.state()))
        .sorted()
        .toList();
  }

  private String join(List<X509Certificate> identity, String serial) {
    JoinMessages.Request asking = Node.tablet(serial);
    return node.pinwright
        .joining()
        .join(
            new Joining.Asking(Joining.Asking.BY_IDENTIFIER, identity, "127.0.0.1", List.of()),
            asking)
        .admission()
        .orElseThrow()
        .device();
  }

  @Test
  void everyPlatformHasAGatewayWhetherItIsSetUpOrNot() {
    assertThat(gateways.all(READER))
        .extracting(g -> g.platform() + " " + Words.of(g.push().state()))
        .containsExactly("tarn missing", "fjell missing", "moor missing");
    assertThatThrownBy(() -> gateways.request(OWNER, "tarn")).hasMessageContaining("Say first");
    assertThatThrownBy(() -> gateways.setUp(OWNER, "zeppelin", 0, "https://x", ""))
        .hasMessageContaining("zeppelin");
    assertThatThrownBy(
            () ->
                gateways.setUp(
                    OWNER,
                    "tarn",
                    gateways.get(OWNER, "tarn").version(),
                    "http://x",
                    vendor.rootPem()))
        .hasMessageContaining("https://");
    assertThatThrownBy(
            () ->
                gateways.setUp(
                    OWNER, "tarn", gateways.get(OWNER, "tarn").version(), "https://x", "words"))
        .hasMessageContaining("ertificate");
  }

  @Test
  void aCredentialIsTakenForTheRequestMadeLastAndFromTheVendorOnly() throws Exception {
    services();
    String first = gateways.request(OWNER, "tarn").push().request().orElseThrow();
    gateways.request(OWNER, "tarn");
    String old = vendor.sign(ACCOUNT, first, node.clock.instant().plus(Duration.ofDays(9)));
    assertThatThrownBy(
            () -> gateways.credential(OWNER, "tarn", gateways.get(OWNER, "tarn").version(), old))
        .hasMessageContaining("not for the signing request made last");
    String request = gateways.get(READER, "tarn").push().request().orElseThrow();
    try (StandInVendor other = new StandInVendor(node.clock.instant())) {
      String strange = other.sign(ACCOUNT, request, node.clock.instant().plus(Duration.ofDays(9)));
      assertThatThrownBy(
              () ->
                  gateways.credential(
                      OWNER, "tarn", gateways.get(OWNER, "tarn").version(), strange))
          .hasMessageContaining("not signed by this platform's vendor");
    }
    assertThatThrownBy(
            () ->
                gateways.credential(OWNER, "tarn", gateways.get(OWNER, "tarn").version(), "words"))
        .hasMessageContaining("not a certificate");
    assertThat(credential(ACCOUNT, 365).push())
        .satisfies(
            p -> {
              assertThat(p.state()).isEqualTo(Gateway.Push.State.CONNECTED);
              assertThat(p.account()).contains(ACCOUNT);
              assertThat(p.request()).isEmpty();
            });
  }

  @Test
  void aRenewalUnderAnotherAccountIsRefusedAndTheOldOneStays() {
    services();
    credential(ACCOUNT, 40);
    assertThatThrownBy(() -> credential("bo@vellmar.example", 365))
        .isInstanceOfSatisfying(
            Problem.class, p -> assertThat(p.type()).isEqualTo("another-account"))
        .hasMessageContaining("would have to join again");
    assertThat(gateways.get(READER, "tarn").push().account()).contains(ACCOUNT);
    assertThat(credential(ACCOUNT, 365).push().state()).isEqualTo(Gateway.Push.State.CONNECTED);
  }

  @Test
  void whatLapsesIsSaidOnceForEachStepAndIsOverWhenRenewed() {
    services();
    credential(ACCOUNT, 61);
    node.pinwright.notices().lookAtCredentials();
    assertThat(node.pinwright.notices().page(READER, FIRST).items()).isEmpty();
    for (int day = 0; day < 62; day++) {
      node.clock.pass(Duration.ofDays(1));
      node.pinwright.notices().lookAtCredentials();
      node.pinwright.notices().lookAtCredentials();
    }
    assertThat(node.pinwright.notices().page(READER, FIRST).items())
        .as("only the last is not over")
        .singleElement()
        .satisfies(
            n -> {
              assertThat(n.title()).isEqualTo("Push credential of tarn has lapsed");
              assertThat(n.urgent()).isTrue();
            });
    Long said = node.sql(tx -> tx.value("select count(*) from house_notice", Long.class, Map.of()));
    assertThat(said).as("60, 30, 14, 7, 1 and the end").isEqualTo(6);
    credential(ACCOUNT, 365);
    assertThat(node.pinwright.notices().page(READER, FIRST).items()).isEmpty();
  }

  @Test
  void theSetUpListSaysWhatComesFirst() {
    assertThat(step("push tarn").state()).isEqualTo(SetUpStep.State.BLOCKED);
    assertThat(step("push tarn").blockedBy()).containsExactly("services tarn");
    services();
    assertThat(step("push tarn").state()).isEqualTo(SetUpStep.State.MISSING);
    credential(ACCOUNT, 20);
    assertThat(step("push tarn").state()).isEqualTo(SetUpStep.State.ATTENTION);
    assertThat(step("push tarn").detail()).contains("lapses in 20 days");
    assertThat(step("mail").state()).isEqualTo(SetUpStep.State.MISSING);
  }

  private SetUpStep step(String key) {
    return node.pinwright.setUpList().steps(READER).stream()
        .filter(s -> s.key().equals(key))
        .findFirst()
        .orElseThrow();
  }

  @Test
  void whatTheRegistrarAssignsIsOnTheRosterAndWhatItTakesBackIsNot() {
    services();
    assertThatThrownBy(() -> registrar.sync(OWNER, "tarn")).hasMessageContaining("not connected");
    assertThatThrownBy(
            () ->
                gateways.connectRegistrar(
                    OWNER, "tarn", gateways.get(OWNER, "tarn").version(), "wrong"))
        .isInstanceOfSatisfying(Problem.class, p -> assertThat(p.status()).isEqualTo(502))
        .hasMessageContaining("does not accept the token");
    vendor.registered("AR10-0001", "AR10-0002", "-AR10-0003");
    assertThat(
            gateways
                .connectRegistrar(
                    OWNER, "tarn", gateways.get(OWNER, "tarn").version(), StandInVendor.TOKEN)
                .registrar())
        .satisfies(
            r -> {
              assertThat(r.account()).contains(ACCOUNT);
              assertThat(r.registered()).isEqualTo(3);
              assertThat(r.assigned()).isEqualTo(2);
            });
    assertThat(roster()).containsExactly("AR10-0001 expected", "AR10-0002 expected");
    assertThat(vendor.asked)
        .anyMatch(a -> a.contains("PUT /tarn/registrar/server") && a.contains("by-identifier"));
    vendor.registered("AR10-0001", "-AR10-0002", "-AR10-0003");
    assertThat(registrar.sync(OWNER, "tarn").withdrawn()).isEqualTo(1);
    assertThat(roster()).contains("AR10-0002 withdrawn");
    assertThat(registrar.page(READER, "tarn", "0003", "false", FIRST).items()).hasSize(1);
    assertThat(registrar.page(READER, "tarn", "", "true", FIRST).items()).hasSize(1);
  }

  @Test
  void aRegistrarThatFailsIsSaidToAndKeepsWhatItBrought() {
    services();
    vendor.registered("AR10-0001");
    gateways.connectRegistrar(
        OWNER, "tarn", gateways.get(OWNER, "tarn").version(), StandInVendor.TOKEN);
    vendor.close();
    assertThatThrownBy(() -> registrar.sync(OWNER, "tarn"))
        .hasMessageContaining("cannot be reached");
    assertThat(gateways.get(READER, "tarn").registrar().state()).isEqualTo(Linked.FAILING);
    assertThat(roster()).containsExactly("AR10-0001 expected");
    registrar.syncAll();
  }

  @Test
  void assigningPutsDevicesOnTheRosterWithTheirProfile() {
    services();
    vendor.registered("-AR10-0001", "-AR10-0002");
    gateways.connectRegistrar(
        OWNER, "tarn", gateways.get(OWNER, "tarn").version(), StandInVendor.TOKEN);
    String kiosks = profile("{\"name\":\"Kiosks\"}");
    vendor.answers.put("POST /tarn/registrar/assignment", "{\"serials\":[\"AR10-0001\"]}");
    assertThat(
            registrar.assign(
                OWNER, "tarn", new Registrar.Assignment(List.of("AR10-0001"), true, kiosks)))
        .isEqualTo(1);
    assertThat(roster()).containsExactly("AR10-0001 expected");
    assertThat(registrar.page(READER, "tarn", "0001", "", FIRST).items().get(0).profile())
        .contains("Kiosks");
    assertThatThrownBy(
            () -> registrar.assign(OWNER, "tarn", new Registrar.Assignment(List.of(), true, null)))
        .hasMessageContaining("1 to 1000");
  }

  @Test
  void aDeviceIsLetInByItsMakersCertificateAndNothingElse() throws Exception {
    services();
    vendor.registered("AR10-0001", "AR10-0002");
    gateways.connectRegistrar(
        OWNER, "tarn", gateways.get(OWNER, "tarn").version(), StandInVendor.TOKEN);
    assertThatThrownBy(() -> join(vendor.identity("AR10-0001"), "AR10-0001"))
        .hasMessageContaining("without an enrollment profile");
    gateways.defaultProfile(
        OWNER, "tarn", gateways.get(OWNER, "tarn").version(), profile("{\"name\":\"Kiosks\"}"));
    assertThatThrownBy(() -> join(List.of(), "AR10-0001"))
        .hasMessageContaining("present its maker's certificate");
    assertThatThrownBy(() -> join(vendor.identity("AR10-0001"), "AR10-0002"))
        .hasMessageContaining("has to be AR10-0001, as the device's certificate says");
    assertThatThrownBy(() -> join(vendor.identity("AR10-0009"), "AR10-0009"))
        .hasMessageContaining("not on the organisation's roster");
    var refused =
        node.pinwright
            .arrivals()
            .page(
                READER,
                new dev.pinwright.service.arrival.Arrivals.Filter(
                    "refused", "0009", java.time.Instant.EPOCH),
                FIRST)
            .items()
            .get(0);
    node.pinwright.arrivals().retry(OWNER, refused.id());
    assertThat(join(vendor.identity("AR10-0009"), "AR10-0009")).as("listed now").isNotEmpty();
    try (StandInVendor other = new StandInVendor(node.clock.instant())) {
      assertThatThrownBy(() -> join(other.identity("AR10-0001"), "AR10-0001"))
          .hasMessageContaining("not from a maker trusted here");
    }
    String device = join(vendor.identity("AR10-0001"), "AR10-0001");
    assertThat(join(vendor.identity("AR10-0001"), "AR10-0001"))
        .as("after a reset")
        .isEqualTo(device);
    assertThat(roster()).contains("AR10-0001 arrived");
    assertThatThrownBy(
            () ->
                node.pinwright
                    .enrollmentProfiles()
                    .delete(
                        OWNER,
                        gateways.get(READER, "tarn").registrar().defaultProfileId().orElseThrow(),
                        0))
        .hasMessageContaining("gateway tarn");
  }

  @Test
  void aPushGoesToThePlatformsOwnServiceAndIsForgottenWhenItIsGone() throws Exception {
    services();
    credential(ACCOUNT, 365);
    String device = node.join(node.kiosks(1), "AR10-0001");
    String endpoint = vendor.address() + "/push/abc";
    node.sql(
        "insert into push_subscription values ('"
            + device
            + "', 'tarn', '"
            + endpoint
            + "', null)");
    PushServices push = new PushServices(node.database(), node.vault(), node.clock);
    push.wake(List.of(device));
    await(() -> vendor.asked.stream().anyMatch(a -> a.contains("/push/abc TTL=86400")));
    push.wake(List.of(device));
    vendor.pushAnswer = 410;
    node.sql("update push_subscription set pushed_at = null");
    push.wake(List.of(device));
    await(() -> subscriptions() == 0);
    assertThat(vendor.asked.stream().filter(a -> a.contains("/push/")).count())
        .as("one push is enough for ten seconds")
        .isEqualTo(2);
  }

  private long subscriptions() {
    return node.sql(tx -> tx.value("select count(*) from push_subscription", Long.class, Map.of()));
  }

  private static void await(BooleanSupplier so) {
    Awaitility.await().atMost(Duration.ofSeconds(60)).until(so::getAsBoolean);
  }

  @Test
  void theRequestIsSignedByAKeyThatNeverLeaves() {
    services();
    String request = gateways.request(OWNER, "tarn").push().request().orElseThrow();
    assertThat(Pki.requestedKey(request)).isNotNull();
    Long open =
        node.sql(
            tx ->
                tx.value(
                    "select count(*) from gateway where position('PRIVATE' in"
                        + " encode(push_request_key, 'escape')) > 0",
                    Long.class,
                    Map.of()));
    assertThat(open).as("kept sealed").isZero();
  }
}
