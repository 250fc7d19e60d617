package dev.pinwright.service.device;

import static dev.pinwright.service.Node.FIRST;
import static dev.pinwright.service.Node.OWNER;
import static dev.pinwright.service.Node.READER;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.pinwright.core.device.ActivityLine;
import dev.pinwright.core.device.DeviceSummary;
import dev.pinwright.core.group.DeviceGroup;
import dev.pinwright.service.Node;
import dev.pinwright.service.work.Page;
import dev.pinwright.service.work.Problem;
import java.util.List;
import java.util.Optional;
import org.assertj.core.api.ThrowableAssert;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** Groups picked by hand, and devices by themselves. */
class GroupsTest {
  private Node node;
  private Groups groups;
  private String device;

  @BeforeEach
  void start() {
    node = new Node();
    groups = node.pinwright.groups();
    device = node.join(node.kiosks(3), "AR10-0001");
  }

  @AfterEach
  void stop() {
    node.close();
  }

  private String inEffect() {
    return node.pinwright.devices().settings(READER, device).inEffect().stream()
        .map(s -> s.setting() + "=" + s.value())
        .toList()
        .toString();
  }

  @Test
  void whoIsPutInGetsWhatTheGroupGetsAndLosesItAgain() {
    DeviceGroup quay = groups.add(OWNER, Groups.Draft.picked("Quay"));
    node.publish(
        node.draft(
            "{\"name\":\"P\",\"settings\":{\"passcode.min-length\":6},\"targets\":"
                + "[{\"kind\":\"group\",\"ref\":\""
                + quay.id()
                + "\"}]}"));
    assertThat(inEffect()).isEqualTo("[]");
    assertThat(
            groups
                .members(OWNER, quay.id(), Groups.Members.of(List.of(device), List.of()))
                .devices())
        .isEqualTo(1);
    assertThat(inEffect()).isEqualTo("[passcode.min-length=6]");
    assertThat(
            groups
                .members(OWNER, quay.id(), Groups.Members.of(List.of(device), List.of()))
                .devices())
        .as("once is enough")
        .isEqualTo(1);
    assertThat(
            groups
                .members(OWNER, quay.id(), Groups.Members.of(List.of(), List.of(device)))
                .devices())
        .isZero();
    assertThat(inEffect()).isEqualTo("[]");
  }

  @Test
  void whatADeviceWouldGetInAGroupIsSaidAndNothingIsStored() {
    DeviceGroup quay = groups.add(OWNER, Groups.Draft.picked("Quay"));
    DeviceGroup around =
        groups.add(
            OWNER,
            new Groups.Draft(
                "Around",
                Optional.empty(),
                Optional.of(List.of(quay.id())),
                Optional.empty(),
                Optional.empty()));
    node.publish(
        node.draft(
            "{\"name\":\"P\",\"settings\":{\"passcode.min-length\":6},\"targets\":"
                + "[{\"kind\":\"group\",\"ref\":\""
                + around.id()
                + "\"}]}"));
    Devices devices = node.pinwright.devices();
    assertThat(devices.settingsIn(READER, device, List.of(quay.id())).inEffect())
        .singleElement()
        .satisfies(
            s -> {
              assertThat(s.setting()).isEqualTo("passcode.min-length");
              assertThat(s.from()).extracting(Devices.Source::profile).containsExactly("P");
            });
    assertThat(inEffect()).isEqualTo("[]");
    assertThat(groups.page(READER, "Quay", FIRST).items().get(0).devices()).isZero();
    assertThatThrownBy(() -> devices.settingsIn(READER, device, List.of("nowhere")))
        .hasMessageContaining("nowhere");
  }

  @Test
  void aGroupSomethingIsAssignedToStays() {
    DeviceGroup quay = groups.add(OWNER, Groups.Draft.picked("Quay"));
    node.publish(
        node.draft(
            "{\"name\":\"P\",\"targets\":[{\"kind\":\"group\",\"ref\":\"" + quay.id() + "\"}]}"));
    assertThatThrownBy(() -> groups.delete(OWNER, quay.id())).isInstanceOf(Problem.class);
    DeviceGroup ridge = groups.add(OWNER, Groups.Draft.picked("Ridge"));
    groups.delete(OWNER, ridge.id());
    assertThat(groups.page(READER, "", FIRST).items()).extracting("name").containsExactly("Quay");
  }

  @Test
  void badNamesAndUnknownDevicesAreNamed() {
    groups.add(OWNER, Groups.Draft.picked("Quay"));
    assertThatThrownBy(() -> groups.add(OWNER, Groups.Draft.picked("Quay")))
        .hasMessageContaining("Quay");
    assertThatThrownBy(() -> groups.add(OWNER, Groups.Draft.picked(" ")))
        .hasMessageContaining("1 to 80");
    String id = groups.page(READER, "", FIRST).items().get(0).id();
    assertThatThrownBy(
            () -> groups.members(OWNER, id, Groups.Members.of(List.of("nobody"), List.of())))
        .hasMessageContaining("nobody");
  }

  @Test
  void groupsArePagedByNameWithoutRegardToCase() {
    for (String name : List.of("ridge", "Quay", "dig", "Glass", "mill")) {
      groups.add(OWNER, Groups.Draft.picked(name));
    }
    Page<DeviceGroup> first = groups.page(READER, "", new Page.Request("", 3));
    assertThat(first.items()).extracting("name").containsExactly("dig", "Glass", "mill");
    assertThat(groups.page(READER, "", new Page.Request(first.next().orElseThrow(), 3)).items())
        .extracting("name")
        .containsExactly("Quay", "ridge");
    assertThat(groups.page(READER, "ID", FIRST).items())
        .extracting("name")
        .containsExactly("ridge");
  }

  @Test
  void nobodyWritesOverWhatSomebodyElseWroteOfADevice() {
    Devices devices = node.pinwright.devices();
    int seen = node.version(device);
    assertThat(devices.get(READER, device).version())
        .as("as long as nobody writes")
        .isEqualTo(seen);
    int renamed = devices.rename(OWNER, device, seen, "Quay door").version();
    for (ThrowableAssert.ThrowingCallable late :
        List.<ThrowableAssert.ThrowingCallable>of(
            () -> devices.rename(OWNER, device, seen, "Mill door"),
            () -> devices.tag(OWNER, device, seen, List.of("late")),
            () -> devices.place(OWNER, device, seen, new Devices.Placement(null, null, null)))) {
      assertThatThrownBy(late)
          .isInstanceOfSatisfying(
              Problem.class,
              p -> {
                assertThat(p.status()).isEqualTo(412);
                assertThat(p.body()).containsEntry("version", renamed);
              });
    }
    int tagged = devices.tag(OWNER, device, renamed, List.of("quay")).version();
    assertThat(tagged).isNotIn(seen, renamed);
    assertThat(devices.get(READER, device).device().name()).isEqualTo("Quay door");
  }

  @Test
  void aDeviceIsRenamedTaggedAndRetiredWithinBounds() {
    Devices devices = node.pinwright.devices();
    assertThat(devices.rename(OWNER, device, node.version(device), " Quay door ").device().name())
        .isEqualTo("Quay door");
    assertThatThrownBy(() -> devices.rename(OWNER, device, node.version(device), "x".repeat(81)))
        .hasMessageContaining("1 to 80");
    assertThatThrownBy(() -> devices.tag(OWNER, device, node.version(device), List.of("a;b")))
        .hasMessageContaining("letters, digits");
    assertThatThrownBy(() -> devices.retire(OWNER, device, " ")).hasMessageContaining("Say why");
    devices.retire(OWNER, device, "dropped into Lake Orre");
    assertThatThrownBy(() -> devices.retire(OWNER, device, "again"))
        .hasMessageContaining("retired already");
    assertThat(devices.get(READER, device).device().retired().map(DeviceSummary.Retired::at))
        .hasValue(node.clock.instant());
    assertThat(devices.activity(READER, device, FIRST).items())
        .extracting(ActivityLine::text)
        .startsWith("Retired: dropped into Lake Orre");
    assertThatThrownBy(() -> devices.get(READER, "nobody"))
        .isInstanceOfSatisfying(Problem.class, p -> assertThat(p.status()).isEqualTo(404));
  }
}
