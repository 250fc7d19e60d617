package dev.pinwright.service.arrival;

import static dev.pinwright.service.Node.FIRST;
import static dev.pinwright.service.Node.OWNER;
import static dev.pinwright.service.Node.READER;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.pinwright.core.device.Identifier;
import dev.pinwright.core.device.Standing;
import dev.pinwright.protocol.join.JoinMessages;
import dev.pinwright.service.Node;
import dev.pinwright.service.device.DeviceFilter;
import dev.pinwright.service.invitation.Invitations;
import dev.pinwright.service.roster.Roster;
import dev.pinwright.service.work.Json;
import dev.pinwright.service.work.Problem;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.Callable;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** Who is let in, also when many ask at once on two nodes. */
class JoiningTest {
  private static final Invitations.Filter ANY = new Invitations.Filter("", "");
  private Node node;

  @BeforeEach
  void start() {
    node = new Node();
  }

  @AfterEach
  void stop() {
    node.close();
  }

  private Joining.Answer ask(Node at, String code, String serial) {
    return at.pinwright.joining().join(new Joining.Asking(code, "127.0.0.1"), Node.tablet(serial));
  }

  private static Arrivals.Filter all(String outcome) {
    return new Arrivals.Filter(outcome, "", Instant.EPOCH);
  }

  private static String refusal(Callable<?> asking) {
    try {
      asking.call();
      return "let in";
    } catch (Problem p) {
      return p.type();
    } catch (Exception e) {
      throw new IllegalStateException(e);
    }
  }

  private static List<String> together(List<Callable<String>> work) throws Exception {
    ExecutorService threads = Executors.newFixedThreadPool(8);
    try {
      List<String> out = new ArrayList<>();
      for (Future<String> f : threads.invokeAll(work)) {
        out.add(f.get());
      }
      return out;
    } finally {
      threads.shutdown();
    }
  }

  @Test
  void aCodeForThreeLetsThreeInHoweverManyAskOnTwoNodes() throws Exception {
    String code = node.kiosks(3);
    try (Node other = node.another()) {
      List<Callable<String>> work = new ArrayList<>();
      for (int i = 0; i < 16; i++) {
        String serial = "AR10-00%02d".formatted(i);
        Node at = i % 2 == 0 ? node : other;
        work.add(() -> refusal(() -> ask(at, code, serial)));
      }
      List<String> ends = together(work);
      assertThat(ends).filteredOn("let in"::equals).hasSize(3);
      assertThat(ends).filteredOn("spent-code"::equals).hasSize(13);
      assertThat(node.pinwright.deviceList().count(READER, DeviceFilter.ALL)).isEqualTo(3);
    }
  }

  @Test
  void aDeviceThatAsksManyTimesAtOnceIsOneRecord() throws Exception {
    String code = node.kiosks(10);
    try (Node other = node.another()) {
      List<Callable<String>> work = new ArrayList<>();
      for (int i = 0; i < 8; i++) {
        Node at = i % 2 == 0 ? node : other;
        work.add(() -> ask(at, code, "AR10-0042").admission().orElseThrow().device());
      }
      assertThat(together(work)).containsOnly(together(work).get(0));
      assertThat(node.pinwright.invitations().page(READER, ANY, FIRST).items().get(0).uses())
          .as("coming back costs no use")
          .isEqualTo(1);
    }
  }

  @Test
  void whoComesBackIsTheSameDeviceWithItsNameAndTags() {
    String code = node.kiosks(5);
    String id = node.join(code, "AR10-0001");
    node.pinwright.devices().rename(OWNER, id, node.version(id), "Quay door");
    node.pinwright.devices().tag(OWNER, id, node.version(id), List.of("gallery", "door"));
    node.pinwright.devices().retire(OWNER, id, "went missing");
    assertThat(node.join(code, "ar10 0001".replace(' ', '-'))).isEqualTo(id);
    assertThat(node.pinwright.devices().get(READER, id).device())
        .satisfies(
            d -> {
              assertThat(d.name()).isEqualTo("Quay door");
              assertThat(d.tags()).containsExactly("door", "gallery");
              assertThat(d.standing()).isEqualTo(Standing.CATCHING_UP);
            });
  }

  @Test
  void aCodeLapsesAndIsWithdrawn() {
    String code = node.kiosks(5);
    node.clock.pass(Duration.ofDays(8));
    assertThat(refusal(() -> ask(node, code, "AR10-0001"))).isEqualTo("lapsed-code");
    String other = node.invite("{\"name\":\"Others\"}", 5);
    Invitations.Shown shown =
        node.pinwright.invitations().page(READER, ANY, FIRST).items().stream()
            .filter(i -> other.endsWith(i.codeEnds()))
            .findFirst()
            .orElseThrow();
    node.pinwright.invitations().withdraw(OWNER, shown.id());
    assertThat(refusal(() -> ask(node, other, "AR10-0001"))).isEqualTo("lapsed-code");
    assertThat(refusal(() -> ask(node, "0000-0000-0000", "AR10-0001"))).isEqualTo("unknown-code");
  }

  @Test
  void aHumanLetsInOrRefusesAndTheDeviceCollectsTheAnswer() {
    String code = node.invite("{\"name\":\"Watched\",\"approval\":true}", 5);
    assertThat(ask(node, code, "AR10-0001").admission()).isEmpty();
    assertThat(ask(node, code, "AR10-0002").admission()).isEmpty();
    assertThat(ask(node, code, "AR10-0001").admission()).as("asking again waits on").isEmpty();
    List<Arrivals.Shown> waiting =
        node.pinwright.arrivals().page(READER, all("waiting"), FIRST).items();
    assertThat(waiting).hasSize(2);
    for (Arrivals.Shown a : waiting) {
      if (a.identifier().equals("AR10-0001")) {
        node.pinwright.arrivals().approve(OWNER, a.id());
      } else {
        node.pinwright.arrivals().refuse(OWNER, a.id(), "not ours");
      }
    }
    assertThat(ask(node, code, "AR10-0001").admission()).isPresent();
    assertThat(refusal(() -> ask(node, code, "AR10-0002"))).isEqualTo("not-on-roster");
    assertThatThrownBy(() -> ask(node, code, "AR10-0002"))
        .as("the holder reads why")
        .hasMessageContaining("refused this device: not ours");
    assertThat(node.pinwright.arrivals().page(READER, all("refused"), FIRST).items())
        .filteredOn(a -> a.step().equals("declined"))
        .singleElement()
        .satisfies(a -> assertThat(a.advice().orElseThrow()).doesNotContain("roster"));
  }

  @Test
  void secretsAreGuessedAtSlowly() {
    String code =
        node.invite(
            "{\"name\":\"Staff\",\"signIn\":\"passphrase\",\"passphrase\":\"lantern quay\"}", 5);
    for (int i = 0; i < 5; i++) {
      assertThat(refusal(() -> ask(node, code, "AR10-0001"))).isEqualTo("sign-in-failed");
    }
    assertThat(refusal(() -> ask(node, code, "AR10-0001"))).isEqualTo("too-many-tries");
    node.clock.pass(Duration.ofMinutes(2));
    assertThat(refusal(() -> ask(node, code, "AR10-0001"))).isEqualTo("sign-in-failed");
  }

  @Test
  void manyWhoAreRightAreNoGuessing() {
    String code =
        node.invite(
            "{\"name\":\"Staff\",\"signIn\":\"passphrase\",\"passphrase\":\"lantern quay\"}", 400);
    JoinMessages.SignIn right = new JoinMessages.SignIn(null, "lantern quay");
    for (int i = 0; i < 305; i++) {
      JoinMessages.Request tablet = Node.tablet("AR10-%04d".formatted(i));
      node.pinwright
          .joining()
          .join(
              new Joining.Asking(code, "127.0.0.1"),
              new JoinMessages.Request(tablet.device(), right, null));
    }
    assertThat(node.pinwright.deviceList().count(READER, DeviceFilter.ALL)).isEqualTo(305);
  }

  @Test
  void whoeverGuessesCodesHoldsUpNobodyWhoHasOne() {
    String code = node.kiosks(5);
    for (int i = 0; i < 60; i++) {
      assertThat(refusal(() -> ask(node, "0000-0000-0000", "AR10-0001"))).isEqualTo("unknown-code");
    }
    assertThat(refusal(() -> ask(node, "0000-0000-0000", "AR10-0001"))).isEqualTo("too-many-tries");
    assertThat(refusal(() -> ask(node, code, "AR10-0002")))
        .as("behind the same router")
        .isEqualTo("let in");
    assertThat(node.pinwright.arrivals().page(READER, all("refused"), FIRST).items())
        .as("what is beyond leaves no trace")
        .hasSizeLessThanOrEqualTo(60);
  }

  private static JoinMessages.Request phone(String serial, String... imeis) {
    List<JoinMessages.Ident> all = new ArrayList<>();
    all.add(new JoinMessages.Ident("serial", serial));
    for (String imei : imeis) {
      all.add(new JoinMessages.Ident("imei", imei));
    }
    return new JoinMessages.Request(
        new JoinMessages.Device("fjell", "13.1", "phone", "Kestre", "P5", all), null, null);
  }

  private void list(String json) {
    node.pinwright.roster().add(OWNER, Json.request(json, Roster.Draft.class));
  }

  private static String imei(int number) {
    String first = "00440123%06d".formatted(number);
    return first + Identifier.checkDigit(first);
  }

  @Test
  void everyIdentifierCountsAndConflictsAreRefusedInWords() {
    Joining.Asking asking = new Joining.Asking(node.kiosks(20), "127.0.0.1");
    node.pinwright.joining().join(asking, phone("KE5-0001", imei(1)));
    node.pinwright.joining().join(asking, phone("KE5-0002", imei(2)));
    assertThatThrownBy(
            () -> node.pinwright.joining().join(asking, phone("KE5-0003", imei(1), imei(2))))
        .as("two IMEIs of two devices")
        .hasMessageContaining("different devices");
    list("{\"serial\":\"KE5-0004\"}");
    list("{\"imei\":\"" + imei(4) + "\"}");
    assertThatThrownBy(() -> node.pinwright.joining().join(asking, phone("KE5-0004", imei(4))))
        .as("two rows of the roster")
        .hasMessageContaining("different rows of the roster");
    list("{\"serial\":\"KE5-0005\",\"imei\":\"" + imei(5) + "\"}");
    node.sql("update device set imei = '" + imei(5) + "' where serial = 'KE5-0002'");
    assertThatThrownBy(() -> node.pinwright.joining().join(asking, phone("KE5-0005")))
        .as("a row with another device's identifier")
        .hasMessageContaining("identifier of another device, ");
    assertThat(node.pinwright.arrivals().page(READER, all("refused"), FIRST).items()).hasSize(3);
  }

  @Test
  void everyAttemptIsOnTheLogWithItsReason() {
    String code = node.invite("{\"name\":\"Fjell only\",\"platforms\":[\"fjell\"]}", 5);
    assertThat(refusal(() -> ask(node, code, "AR10-0001"))).isEqualTo("platform-refused");
    assertThat(node.pinwright.arrivals().page(READER, all("refused"), FIRST).items())
        .singleElement()
        .satisfies(
            a -> {
              assertThat(a.identifier()).isEqualTo("AR10-0001");
              assertThat(a.reason()).contains("tarn");
            });
    assertThatThrownBy(() -> node.pinwright.arrivals().page(READER, all("lost"), FIRST))
        .isInstanceOf(Problem.class);
  }
}
