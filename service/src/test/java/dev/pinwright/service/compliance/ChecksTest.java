package dev.pinwright.service.compliance;

import static dev.pinwright.service.Node.FIRST;
import static dev.pinwright.service.Node.OWNER;
import static dev.pinwright.service.Node.READER;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.pinwright.core.change.Confirmation;
import dev.pinwright.core.compliance.CheckTemplate;
import dev.pinwright.core.compliance.Order;
import dev.pinwright.service.Node;
import dev.pinwright.service.change.Changes;
import dev.pinwright.service.device.Groups;
import dev.pinwright.service.rules.Profiles;
import dev.pinwright.service.work.Json;
import dev.pinwright.service.work.Page;
import dev.pinwright.service.work.Problem;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.TimeoutException;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** Devices that are not in order, and what follows from it for how long. */
class ChecksTest {
  private static final String LADDER = "{\"grace\":2,\"holder\":0,\"house\":3,\"withhold\":4}";
  private Node node;
  private Checks checks;
  private String device;
  private String other;

  @BeforeEach
  void start() {
    node = new Node();
    checks = node.pinwright.checks();
    String code = node.kiosks(9);
    device = node.join(code, "AR10-0001");
    other = node.join(code, "AR10-0002");
  }

  @AfterEach
  void stop() {
    node.close();
  }

  private static Checks.Draft draft(String name, String rule, String more) {
    return Json.request(
        "{\"name\":\"%s\",\"rule\":\"%s\",\"advice\":\"Mend it.\",\"ladder\":%s%s}"
            .formatted(name, rule, LADDER, more),
        Checks.Draft.class);
  }

  private static Checks.Draft draft(String name, String rule) {
    return draft(name, rule, "");
  }

  /** The device says that it is not encrypted, or that it is. */
  private void encrypted(String of, boolean so) {
    node.sql(
        "update device set facts = '{\"security/encrypted\":\"%s\"}' where id = '%s'"
            .formatted(so, of));
    node.pinwright.groups().repair();
    node.pinwright.orders().follow();
  }

  private static final String OPEN = "fact security/encrypted is \\\"false\\\"";

  private void pass(int hours) {
    node.clock.pass(Duration.ofHours(hours));
    node.pinwright.orders().follow();
  }

  private Order order(String of) {
    return node.pinwright.orders().of(READER, of).order();
  }

  private String inEffect(String of) {
    return node.pinwright.devices().settings(READER, of).inEffect().stream()
        .map(s -> s.setting() + "=" + s.value())
        .toList()
        .toString();
  }

  private String told(String of) {
    return node.sql(
        tx ->
            tx.value(
                "select coalesce((select said from device_order where device_id = :d), '')",
                String.class,
                java.util.Map.of("d", of)));
  }

  @Test
  void aDeviceIsGivenTimeThenIsOutOfOrderAndIsInOrderAgainOnceItIsMended() {
    Checks.Shown check = checks.add(OWNER, draft("Encryption", OPEN));
    assertThat(check.rule()).contains("fact security/encrypted is \"false\"");
    assertThat(check.group().name()).isEqualTo("Encryption (check)");
    assertThat(order(device)).isEqualTo(Order.IN_ORDER);
    encrypted(device, false);
    assertThat(order(device)).isEqualTo(Order.IN_GRACE);
    assertThat(told(device)).isEqualTo("in-grace\nEncryption: Mend it. By 2026-03-02 11:00 UTC.");
    pass(2);
    assertThat(order(device)).isEqualTo(Order.OUT_OF_ORDER);
    assertThat(told(device)).isEqualTo("out-of-order\nEncryption: Mend it.");
    assertThat(order(other)).isEqualTo(Order.IN_ORDER);
    assertThat(checks.all(READER))
        .extracting(Checks.Shown::inGrace, Checks.Shown::outOfOrder, Checks.Shown::withheld)
        .containsExactly(org.assertj.core.groups.Tuple.tuple(0L, 1L, 0L));
    assertThat(
            node.pinwright
                .deviceList()
                .page(READER, filter("order is out-of-order"), "name", FIRST)
                .items())
        .extracting(d -> d.id() + d.order())
        .containsExactly(device + Order.OUT_OF_ORDER);
    encrypted(device, true);
    assertThat(order(device)).isEqualTo(Order.IN_ORDER);
    assertThat(told(device)).isEmpty();
    assertThat(node.pinwright.devices().activity(READER, device, FIRST).items())
        .extracting(l -> l.text())
        .contains("In order again", "Out of order", "A check found something; it has time left");
  }

  private static dev.pinwright.service.device.DeviceFilter filter(String rule) {
    return new dev.pinwright.service.device.DeviceFilter(
        "", "", "", "", "", "", "", "", "", "", "", List.of(), rule, 0, false);
  }

  @Test
  void whatAKitGivesOnlyToDevicesInOrderIsWithheldAndGivenBack() {
    Profiles.Detail dim =
        node.draft("{\"name\":\"Dim\",\"settings\":{\"appearance.brightness\":20}}");
    Profiles.Detail quiet =
        node.draft("{\"name\":\"Quiet\",\"settings\":{\"passcode.min-length\":6}}");
    node.publish(dim);
    node.publish(quiet);
    node.publish(
        node.draft(
            ("{\"kind\":\"kit\",\"name\":\"Kit\",\"targets\":[{\"kind\":\"everyone\"}],\"parts\":"
                    + "[{\"profile\":\"%s\",\"whenInOrder\":true},{\"profile\":\"%s\"}]}")
                .formatted(dim.id(), quiet.id())));
    String all = "[appearance.brightness=20, passcode.min-length=6]";
    checks.add(OWNER, draft("Encryption", OPEN));
    encrypted(device, false);
    pass(3);
    assertThat(inEffect(device)).as("not yet").isEqualTo(all);
    pass(1);
    assertThat(inEffect(device)).isEqualTo("[passcode.min-length=6]");
    assertThat(inEffect(other)).isEqualTo(all);
    assertThat(changes()).first().isEqualTo("Withheld from devices that are out of order");
    assertThat(node.pinwright.orders().of(READER, device).withheld()).isTrue();
    encrypted(device, true);
    assertThat(inEffect(device)).isEqualTo(all);
    assertThat(changes()).first().isEqualTo("Given back to devices that are in order again");
  }

  private List<String> changes() {
    return node.pinwright.changes().page(OWNER, FIRST).items().stream()
        .map(Changes.Change::title)
        .toList();
  }

  @Test
  void itIsRehearsedAndAskedForLikeEveryChange() {
    encrypted(device, false);
    encrypted(other, false);
    node.pinwright
        .thresholds()
        .set(
            OWNER,
            node.pinwright.thresholds().get(OWNER).version(),
            Json.request(
                "{\"number\":2}", dev.pinwright.service.proposal.HouseThresholds.Draft.class));
    Checks.Draft draft =
        Json.request(
            "{\"name\":\"Encryption\",\"rule\":\"%s\",\"advice\":\"Mend it.\",\"ladder\":{\"grace\":0}}"
                .formatted(OPEN),
            Checks.Draft.class);
    Checks.Rehearsed r = checks.rehearse(OWNER, Optional.empty(), draft);
    assertThat(r.found()).isEqualTo(2);
    assertThat(r.outOfOrder()).isEqualTo(2);
    assertThat(r.confirmDevices()).contains(2L);
    assertThat(order(device)).as("nothing was stored").isEqualTo(Order.IN_ORDER);
    assertThatThrownBy(() -> checks.add(OWNER, draft)).hasMessageContaining("repeat that number");
    Checks.Shown made = checks.add(OWNER, draft, Confirmation.of(Optional.of(2L)));
    assertThat(made.outOfOrder()).isEqualTo(2);
    Checks.Draft later =
        Json.request(
            "{\"name\":\"Encryption\",\"rule\":\"%s\",\"advice\":\"Mend it.\",\"ladder\":{\"grace\":5}}"
                .formatted(OPEN),
            Checks.Draft.class);
    assertThat(checks.rehearse(OWNER, Optional.of(made.id()), later).inOrder()).isEqualTo(2);
    Checks.Shown now =
        checks.change(OWNER, made.id(), made.version(), later, Confirmation.of(Optional.of(2L)));
    assertThat(now.inGrace()).isEqualTo(2);
    assertThat(checks.rehearseDeletion(OWNER, made.id()).found()).isEqualTo(2);
    checks.delete(OWNER, made.id(), now.version(), Confirmation.of(Optional.of(2L)));
    assertThat(order(device)).isEqualTo(Order.IN_ORDER);
    assertThat(node.pinwright.groups().page(OWNER, "", FIRST).items())
        .as("its own group goes with it")
        .isEmpty();
  }

  @Test
  void whoRehearsesAndWhoSavesNeverWaitForEachOtherInACircle() {
    encrypted(device, false);
    Checks.Draft draft = draft("Encryption", OPEN);
    ExecutorService typing = Executors.newFixedThreadPool(3);
    try {
      List<Future<?>> all = new ArrayList<>();
      for (int i = 0; i < 24; i++) {
        all.add(typing.submit(() -> checks.rehearse(OWNER, Optional.empty(), draft)));
      }
      Checks.Shown made = checks.add(OWNER, draft);
      for (Future<?> one : all) {
        try {
          one.get(60, TimeUnit.SECONDS);
        } catch (ExecutionException e) {
          assertThat(e.getCause()).as("by then it is there").isInstanceOf(Problem.class);
        }
      }
      assertThat(made.inGrace()).isEqualTo(1);
    } catch (InterruptedException | TimeoutException e) {
      throw new AssertionError(e);
    } finally {
      typing.shutdownNow();
    }
  }

  @Test
  void itMayWatchAGroupThatIsThereAnyway() {
    String group = node.pinwright.groups().add(OWNER, Groups.Draft.byRule("Old", "os < 9")).id();
    Checks.Shown check =
        checks.add(
            OWNER,
            Json.request(
                "{\"name\":\"OS\",\"groupId\":\"%s\",\"advice\":\"Update it.\",\"ladder\":%s}"
                    .formatted(group, LADDER),
                Checks.Draft.class));
    assertThat(check.ownGroup()).isFalse();
    assertThat(check.inGrace()).isEqualTo(2);
    assertThatThrownBy(() -> node.pinwright.groups().delete(OWNER, group))
        .hasMessageContaining("the check OS");
    checks.delete(OWNER, check.id(), check.version(), Confirmation.NONE);
    assertThat(node.pinwright.groups().get(OWNER, group).name()).isEqualTo("Old");
  }

  @Test
  void theAdministratorsAreToldOnceTheirStepHasCome() {
    checks.add(OWNER, draft("Encryption", OPEN));
    encrypted(device, false);
    pass(2);
    node.pinwright.notices().lookAround();
    assertThat(notices()).isEmpty();
    pass(1);
    node.pinwright.notices().lookAround();
    assertThat(notices()).containsExactly("Encryption: 1 device is out of order");
    encrypted(device, true);
    node.pinwright.notices().lookAround();
    assertThat(notices()).isEmpty();
  }

  private List<String> notices() {
    return node.pinwright.notices().page(OWNER, new Page.Request("", 50)).items().stream()
        .map(n -> n.title())
        .toList();
  }

  @Test
  void everyTemplateIsACheck() {
    for (CheckTemplate t : checks.templates()) {
      Checks.Shown made =
          checks.add(
              OWNER,
              new Checks.Draft(
                  t.title(),
                  Optional.of(t.rule()),
                  Optional.empty(),
                  t.advice(),
                  Optional.empty(),
                  Optional.empty(),
                  Optional.empty()));
      assertThat(made.rule()).contains(t.rule());
    }
    assertThat(checks.all(READER)).hasSameSizeAs(checks.templates());
  }

  @Test
  void whatIsNoCheckIsRefusedInWords() {
    assertRefused(draft("", "os < 7"), "1 to 60");
    assertRefused(draft("X", "os is"), "OS version");
    assertRefused(draft("X", ""), "one of the two");
    assertRefused(draft("X", "os < 7", ",\"groupId\":\"g\""), "one of the two");
    assertRefused(
        Json.request(
            "{\"name\":\"X\",\"groupId\":\"nowhere\",\"advice\":\"a\"}", Checks.Draft.class),
        "nowhere");
    assertRefused(
        Json.request("{\"name\":\"X\",\"rule\":\"os < 7\",\"advice\":\" \"}", Checks.Draft.class),
        "what a holder does");
    assertRefused(
        Json.request(
            "{\"name\":\"X\",\"rule\":\"os < 7\",\"advice\":\"a\",\"ladder\":{\"grace\":5,\"withhold\":4}}",
            Checks.Draft.class),
        "before the grace");
    checks.add(OWNER, draft("Taken", "os < 7"));
    assertRefused(draft("taken", "os < 7"), "called taken");
  }

  private void assertRefused(Checks.Draft draft, String why) {
    assertThatThrownBy(() -> checks.add(OWNER, draft))
        .isInstanceOf(Problem.class)
        .hasMessageContaining(why);
  }
}
