package dev.pinwright.service.bench;

import static dev.pinwright.service.Node.FIRST;
import static dev.pinwright.service.Node.OWNER;
import static dev.pinwright.service.Node.READER;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.pinwright.core.enrollment.EnrollmentForm;
import dev.pinwright.protocol.join.BenchMessages;
import dev.pinwright.service.Node;
import dev.pinwright.service.device.Groups;
import dev.pinwright.service.work.Json;
import dev.pinwright.service.work.Problem;
import dev.pinwright.storage.bench.BenchStore;
import java.util.List;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class BenchTest {
  private Node node;
  private Bench bench;
  private String profile;

  @BeforeEach
  void start() {
    node = new Node();
    bench = node.pinwright.bench();
    profile =
        node.pinwright
            .enrollmentProfiles()
            .add(
                OWNER,
                Json.request(
                    "{\"name\":\"Carts\",\"namePattern\":\"Cart {seq:3}\"}", EnrollmentForm.class))
            .id();
  }

  @AfterEach
  void stop() {
    node.close();
  }

  private Bench.Session open(String more) {
    return bench.open(
        OWNER,
        Json.request(
            "{\"name\":\"Cart 3\",\"profileId\":\"" + profile + "\"" + more + "}",
            Bench.Draft.class));
  }

  private static String code(Bench.Session s) {
    return s.link().orElseThrow().replaceAll(".*/join/(\\w+)#.*", "$1");
  }

  private BenchMessages.Order say(Bench.Session s, int slot, String serial, String stage) {
    return node.pinwright
        .benchCable()
        .heard(code(s), new BenchMessages.Word(1, slot, serial, stage));
  }

  private BenchStore.OnBench at(Bench.Session s, int slot) {
    return bench.slots(READER, s.id()).stream()
        .filter(d -> d.slot() == slot)
        .findFirst()
        .orElseThrow();
  }

  @Test
  void aSlotTellsHowFarItsDeviceIs() {
    Bench.Session s =
        open(",\"assetPrefix\":\"vm-\",\"wifiName\":\"Staff\",\"wifiSecret\":\"lantern quay\"");
    BenchMessages.Order order = say(s, 1, "ar10-0001", "plugged");
    assertThat(order.erase()).isFalse();
    assertThat(order.wifi().name()).isEqualTo("Staff");
    assertThat(order.toString()).doesNotContain("lantern");
    assertThat(at(s, 1).state()).isEqualTo("plugged");
    say(s, 1, "AR10-0001", "erasing");
    assertThat(at(s, 1).state()).isEqualTo("erasing");
    say(s, 1, "AR10-0001", "erased");
    assertThat(at(s, 1).state()).isEqualTo("joining");
    String device = node.join(code(s), "AR10-0001");
    assertThat(at(s, 1))
        .satisfies(
            d -> {
              assertThat(d.state()).isEqualTo("setting-up");
              assertThat(d.name()).contains("Cart 001");
              assertThat(d.asset()).contains("VM-0001");
            });
    node.sql(
        "update device_state set standing = 'settled', facts_at = now() where device_id = '"
            + device
            + "'");
    assertThat(at(s, 1).state()).isEqualTo("ready");
    assertThat(bench.get(READER, s.id()).prepared()).isEqualTo(1);
  }

  @Test
  void aSlotHoldsOneDeviceAndWhoIsPulledOutStaysOnTheList() {
    Bench.Session s = open("");
    say(s, 1, "AR10-0001", "plugged");
    say(s, 1, "AR10-0002", "plugged");
    assertThat(bench.slots(READER, s.id()))
        .extracting(BenchStore.OnBench::serial)
        .containsExactly("AR10-0002");
    say(s, 1, "AR10-0002", "unplugged");
    assertThat(bench.slots(READER, s.id())).isEmpty();
    assertThat(bench.devices(READER, s.id(), FIRST).items()).hasSize(2);
  }

  @Test
  void whoIsRefusedSaysWhy() {
    Bench.Session s = open("");
    node.pinwright
        .enrollmentProfiles()
        .change(
            OWNER,
            profile,
            node.pinwright.enrollmentProfiles().get(READER, profile).version(),
            Json.request("{\"name\":\"Carts\",\"kinds\":[\"laptop\"]}", EnrollmentForm.class));
    say(s, 4, "AR10-0001", "plugged");
    assertThatThrownBy(() -> node.join(code(s), "AR10-0001")).isInstanceOf(Problem.class);
    assertThat(at(s, 4).state()).isEqualTo("refused");
    assertThat(at(s, 4).reason()).isEqualTo("a tablet is not let in here");
    assertThat(bench.get(READER, s.id()).troubled()).isEqualTo(1);
  }

  @Test
  void closedAndOpenedAgainItsNumbersGoOn() {
    Bench.Session s = open(",\"firstNumber\":40");
    node.join(code(s), "AR10-0001");
    bench.close(OWNER, s.id(), false);
    assertThatThrownBy(() -> say(s, 1, "AR10-0002", "plugged")).hasMessageContaining("is closed");
    assertThatThrownBy(() -> node.join(code(s), "AR10-0002")).hasMessageContaining("withdrawn");
    bench.close(OWNER, s.id(), true);
    String second = node.join(code(s), "AR10-0002");
    assertThat(node.pinwright.devices().get(READER, second).device().name()).isEqualTo("Cart 041");
  }

  @Test
  void aMissingNumberIsNamedFromTheFirstOn() {
    Bench.Session s = open(",\"firstNumber\":40");
    for (int i = 1; i <= 3; i++) {
      say(s, i, "AR10-000" + i, "plugged");
      String id = node.join(code(s), "AR10-000" + i);
      if (i == 2) {
        node.pinwright.devices().retire(OWNER, id, "broken");
      }
    }
    assertThat(bench.get(READER, s.id()).missing()).containsExactly("41");
  }

  private String name(String device) {
    return node.pinwright.devices().get(READER, device).device().name();
  }

  @Test
  void numbersGoBySlotAndNotByWhoWasQuickest() {
    Bench.Session s = open(",\"assetPrefix\":\"VM-\"");
    for (int slot : List.of(3, 1, 5)) {
      say(s, slot, "AR10-000" + slot, "plugged");
    }
    assertThat(name(node.join(code(s), "AR10-0005"))).isEqualTo("Cart 003");
    say(s, 1, "AR10-0001", "unplugged");
    say(s, 2, "AR10-0002", "plugged");
    say(s, 7, "AR10-0007", "plugged");
    assertThat(name(node.join(code(s), "AR10-0003"))).isEqualTo("Cart 002");
    assertThat(name(node.join(code(s), "AR10-0007"))).isEqualTo("Cart 004");
    assertThat(name(node.join(code(s), "AR10-0002")))
        .as("the number of the one that was pulled out")
        .isEqualTo("Cart 001");
    assertThat(at(s, 2).asset()).contains("VM-0001");
    assertThat(name(node.join(code(s), "AR10-0009"))).as("without a slot").isEqualTo("Cart 005");
    assertThat(bench.get(READER, s.id()).missing()).isEmpty();
  }

  @Test
  void aManagedDeviceIsErasedOnlyWhenSomebodySaysSo() {
    String kiosk = node.join(node.kiosks(1), "AR10-0001");
    node.sql(
        "insert into device_certificate (serial, device_id, state, not_after, created_at)"
            + " values ('01', '"
            + kiosk
            + "', 'active', now() + interval '1 year', now())");
    Bench.Session s = open(",\"erase\":true");
    BenchMessages.Order order = say(s, 1, "AR10-0001", "plugged");
    assertThat(order.leave()).isTrue();
    assertThat(order.erase()).isFalse();
    assertThat(at(s, 1).state()).isEqualTo("held");
    assertThat(at(s, 1).reason()).contains("is managed as " + name(kiosk));
    assertThatThrownBy(() -> say(s, 1, "AR10-0001", "erasing")).hasMessageContaining("is managed");
    assertThatThrownBy(() -> bench.release(OWNER, s.id(), "AR10-0002")).isInstanceOf(Problem.class);

    bench.release(OWNER, s.id(), "AR10-0001");
    order = say(s, 1, "AR10-0001", "plugged");
    assertThat(order.leave()).isFalse();
    assertThat(order.erase()).isTrue();
    say(s, 1, "AR10-0001", "erased");
    assertThat(node.join(code(s), "AR10-0001")).as("with nobody else's word").isEqualTo(kiosk);
    assertThatThrownBy(() -> bench.release(OWNER, s.id(), "AR10-0001")).isInstanceOf(Problem.class);
    assertThat(
            node.<Long>sql(
                tx ->
                    tx.value(
                        "select count(*) from bench_device where erase_said_by is not null",
                        Long.class,
                        java.util.Map.of())))
        .as("the word is for once")
        .isZero();
    assertThat(say(s, 2, "AR10-0003", "plugged").erase()).isTrue();
  }

  @Test
  void aRackTheSessionHasNotIsSaidToWhoeverLooks() {
    Bench.Session s = open("");
    assertThatThrownBy(
            () ->
                node.pinwright
                    .benchCable()
                    .heard(code(s), new BenchMessages.Word(3, 1, "AR10-0001", "plugged")))
        .hasMessageContaining("spoke of rack 3; this session has 1 rack");
    assertThat(bench.get(READER, s.id()).fault()).contains("rack 3");
    say(s, 1, "AR10-0001", "plugged");
    assertThat(bench.get(READER, s.id()).fault()).isEmpty();
  }

  @Test
  void labelsCarryTheAssetNumberOrTheSerial() {
    Bench.Session s = open("");
    say(s, 1, "AR10-0001", "plugged");
    node.join(code(s), "AR10-0001");
    byte[] pdf = bench.labels(READER, s.id());
    assertThat(new String(pdf, 0, 5, java.nio.charset.StandardCharsets.US_ASCII))
        .isEqualTo("%PDF-");
    assertThat(pdf.length).isGreaterThan(1_000);
  }

  @Test
  void theSessionsPlaceAndGroupComeBeforeTheProfiles() {
    var unit =
        node.pinwright
            .units()
            .add(
                OWNER,
                new dev.pinwright.service.organisation.Units.Draft("VM-HAR", "Harbour", null));
    var group = node.pinwright.groups().add(OWNER, Groups.Draft.picked("Cart group"));
    Bench.Session s = open(",\"unitId\":\"" + unit.id() + "\",\"groupId\":\"" + group.id() + "\"");
    var device = node.pinwright.devices().get(READER, node.join(code(s), "AR10-0001"));
    assertThat(device.device().unit()).contains("VM-HAR");
    assertThat(device.groups()).extracting(g -> g.name()).containsExactly("Cart group");
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      quoteCharacter = '`',
      value = {
        ",\"firstNumber\":0|begin with 1",
        ",\"racks\":9|1 to 8 racks",
        ",\"assetPrefix\":\"a b\"|letters, digits or hyphens",
        ",\"namePattern\":\"{colour}\"|not {colour}",
        ",\"namePattern\":\"{serial}\",\"assetPrefix\":\"VM-\"|need a running number",
        ",\"wifiName\":\"S\",\"wifiSecret\":\"short\"|8 to 63"
      })
  void whatCannotBeIsNamed(String more, String words) {
    assertThatThrownBy(() -> open(more)).hasMessageContaining(words);
  }

  @Test
  void aProfileThatAsksToSignInIsNotForABench() {
    profile =
        node.pinwright
            .enrollmentProfiles()
            .add(
                OWNER,
                Json.request(
                    "{\"name\":\"Own\",\"signIn\":\"passphrase\",\"passphrase\":\"by the quay\"}",
                    EnrollmentForm.class))
            .id();
    assertThatThrownBy(() -> open("")).hasMessageContaining("there is no holder");
  }

  @Test
  void theCableIsHeldToItsWords() {
    Bench.Session s = open("");
    assertThatThrownBy(() -> say(s, 17, "AR10-0001", "plugged"))
        .hasMessageContaining("slots 1 to 16");
    assertThatThrownBy(() -> say(s, 1, "AR10-0001", "dancing"))
        .hasMessageContaining("plugged, erasing, erased, there, unplugged");
    assertThatThrownBy(() -> say(s, 1, "", "plugged")).isInstanceOf(Problem.class);
    for (String other : List.of("0000-0000-0000", "words")) {
      assertThatThrownBy(
              () ->
                  node.pinwright
                      .benchCable()
                      .heard(other, new BenchMessages.Word(1, 1, "A-0001", "plugged")))
          .isInstanceOfSatisfying(Problem.class, p -> assertThat(p.status()).isEqualTo(404));
    }
  }
}
