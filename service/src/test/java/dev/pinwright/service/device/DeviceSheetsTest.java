package dev.pinwright.service.device;

import static dev.pinwright.service.Node.FIRST;
import static dev.pinwright.service.Node.OWNER;
import static dev.pinwright.service.Node.READER;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.pinwright.core.change.Confirmation;
import dev.pinwright.core.device.DeviceSummary;
import dev.pinwright.core.organisation.Person;
import dev.pinwright.core.sheet.Row;
import dev.pinwright.service.Node;
import dev.pinwright.service.organisation.Attributes;
import dev.pinwright.service.organisation.People;
import dev.pinwright.service.sheet.Sheet;
import dev.pinwright.service.sheet.SheetText;
import dev.pinwright.service.work.Json;
import dev.pinwright.service.work.Problem;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class DeviceSheetsTest {
  private Node node;
  private Map<String, String> devices;

  @BeforeEach
  void start() {
    node = new Node();
    String code = node.kiosks(30);
    devices = new HashMap<>();
    for (int i = 1; i <= 3; i++) {
      String serial = "AR10-000" + i;
      devices.put(serial, node.join(code, serial));
    }
    attribute("Room", "device", "choice", "Hall", "Tower");
    attribute("Weight", "device", "number");
    attribute("Lease ends", "device", "date");
  }

  @AfterEach
  void stop() {
    node.close();
  }

  private void attribute(String name, String kind, String type, String... choices) {
    node.pinwright
        .attributes()
        .add(
            OWNER,
            new Attributes.Draft(name, kind, type, choices.length == 0 ? null : List.of(choices)));
  }

  private Sheet.Report take(String csv, boolean save, Long confirm) {
    return node.pinwright
        .deviceSheets()
        .read(
            OWNER,
            new Sheet.Draft(
                Sheet.read(SheetText.of(csv)),
                save,
                Confirmation.of(Optional.ofNullable(confirm))));
  }

  private Sheet.Report keep(String csv) {
    return take(csv, true, null);
  }

  private DeviceSummary device(String serial) {
    return node.pinwright.devices().get(READER, devices.get(serial)).device();
  }

  private List<String> where(String... conditions) {
    DeviceFilter filter =
        Json.request(
                Json.write(Map.of("attributes", List.of(conditions))), DeviceFilter.Written.class)
            .filter();
    return node.pinwright.deviceList().page(READER, filter, "name", FIRST).items().stream()
        .map(d -> d.serial().orElseThrow())
        .sorted()
        .toList();
  }

  @Test
  void whatIsWrittenOutIsTakenInAgainAndChangesNothing() {
    keep(
        "identifier,tags,Room,Weight,Lease ends\nAR10-0001,\"gallery;quay\",tower,1.50,2027-01-31\n");
    String sheet = node.pinwright.deviceSheets().write(READER, DeviceFilter.ALL);
    assertThat(sheet)
        .startsWith("identifier,name,tags,Lease ends,Room,Weight\r\n")
        .contains("AR10-0001,", ",gallery;quay,2027-01-31,Tower,1.5\r\n");
    Sheet.Report again = keep(sheet);
    assertThat(again.saved()).isTrue();
    assertThat(again.rows()).isEqualTo(3);
    assertThat(again.changed()).isZero();
  }

  @Test
  void aSheetIsOfTheDevicesOfAListAndOfNoOther() {
    keep("identifier,Room\nAR10-0001,tower\nAR10-0002,hall\n");
    DeviceFilter tower =
        Json.request("{\"attributes\":[\"Room=Tower\"]}", DeviceFilter.Written.class).filter();
    assertThat(node.pinwright.deviceSheets().write(READER, tower).lines().skip(1))
        .singleElement()
        .asString()
        .startsWith("AR10-0001,");
  }

  @Test
  void aSheetChangesWhatItHasColumnsOfAndNothingElse() {
    Sheet.Report trial = take("identifier;Room\nar10-0001;Hall\nAR10 0002;Tower\n", false, null);
    assertThat(trial.faults()).as("blanks and letter case do not matter, hyphens do").hasSize(1);
    Sheet.Report report = keep("identifier;Room\nar10-0001;Hall\n AR10-0002 ;Tower\n");
    assertThat(report.saved()).isTrue();
    assertThat(report.changed()).isEqualTo(2);
    assertThat(device("AR10-0001").attributes()).containsOnly(Map.entry("Room", "Hall"));
    assertThat(device("AR10-0001").tags()).containsExactly("gallery");
    keep("identifier,tags,Room\nAR10-0001,,\n");
    assertThat(device("AR10-0001").attributes()).isEmpty();
    assertThat(device("AR10-0001").tags()).isEmpty();
    assertThat(device("AR10-0002").attributes()).containsOnly(Map.entry("Room", "Tower"));
  }

  @ParameterizedTest
  @CsvSource({
    "AR10-9999;;;, no managed device has 'AR10-9999'",
    ";;;, 'a serial number, IMEI or asset number is needed'",
    "AR10-0001;Somebody else's;;, a sheet gives devices no other names",
    "AR10-0001;;a/b;, 'each of 1 to 40 letters'",
    "AR10-0001;;;Cellar, 'not one of Hall, Tower'",
  })
  void aFaultyRowIsNamedAndNothingIsKept(String row, String complaint) {
    Sheet.Report report = keep("identifier;name;tags;Room\nAR10-0002;;quay;Hall\n" + row + "\n");
    assertThat(report.saved()).isFalse();
    assertThat(report.faults())
        .singleElement()
        .satisfies(
            f -> {
              assertThat(f.line()).isEqualTo(3);
              assertThat(f.fault()).contains(complaint);
            });
    assertThat(device("AR10-0002").tags()).containsExactly("gallery");
    assertThat(device("AR10-0002").attributes()).isEmpty();
  }

  @Test
  void whatLooksLikeAFormulaIsKeptFromBeingOneAndComesBackAsItWas() {
    attribute("Note", "device", "text");
    keep("identifier,Note\nAR10-0001,'=1+1\nAR10-0002,'s Hall\n");
    assertThat(device("AR10-0001").attributes()).containsEntry("Note", "=1+1");
    assertThat(device("AR10-0002").attributes()).containsEntry("Note", "'s Hall");
    String sheet = node.pinwright.deviceSheets().write(READER, DeviceFilter.ALL);
    assertThat(sheet).contains(",'=1+1,").contains(",'s Hall,");
    assertThat(keep(sheet).changed()).isZero();
  }

  @Test
  void oneDeviceHasOneRow() {
    assertThat(keep("identifier,tags\nAR10-0001,quay\nar10-0001,pier\n").faults())
        .extracting(Row.Fault::fault)
        .containsExactly("the same device is on line 2");
  }

  @Test
  void aSheetThatGivesDevicesOtherSettingsSaysSoFirst() {
    node.publish(
        node.draft(
            "{\"name\":\"Quay\",\"settings\":{\"passcode.min-length\":6},"
                + "\"targets\":[{\"kind\":\"tag\",\"ref\":\"quay\"}]}"));
    String sheet = "identifier,tags\nAR10-0001,quay\nAR10-0002,pier\n";
    Sheet.Report trial = take(sheet, false, null);
    assertThat(trial.saved()).isFalse();
    assertThat(trial.changed()).isEqualTo(2);
    assertThat(trial.rehearsal().orElseThrow())
        .satisfies(
            r -> {
              assertThat(r.gain()).isEqualTo(1);
              assertThat(r.confirmDevices()).isEmpty();
            });
    assertThat(device("AR10-0001").tags()).as("a trial leaves no trace").containsExactly("gallery");
    keep(sheet);
    assertThat(node.pinwright.devices().settings(READER, devices.get("AR10-0001")).inEffect())
        .extracting(s -> s.setting())
        .containsExactly("passcode.min-length");
    assertThat(node.pinwright.changes().page(READER, FIRST).items().get(0))
        .satisfies(
            c -> {
              assertThat(c.title()).isEqualTo("Sheet of devices");
              assertThat(c.total()).isEqualTo(1);
            });
  }

  @Test
  void fromTwentyFiveDevicesOnTheirNumberIsAskedFor() {
    String code = node.invite("{\"name\":\"More\",\"mode\":\"supervised\"}", 30);
    IntStream.range(10, 35).forEach(i -> node.join(code, "AR10-00" + i));
    node.publish(
        node.draft(
            "{\"name\":\"Quay\",\"settings\":{\"passcode.min-length\":6},"
                + "\"targets\":[{\"kind\":\"tag\",\"ref\":\"quay\"}]}"));
    String sheet =
        "identifier,tags\n"
            + IntStream.range(10, 35)
                .mapToObj(i -> "AR10-00" + i + ",quay\n")
                .collect(Collectors.joining());
    assertThat(take(sheet, false, null).rehearsal().orElseThrow().confirmDevices()).hasValue(25L);
    assertThatThrownBy(() -> take(sheet, true, 24L))
        .isInstanceOfSatisfying(Problem.class, p -> assertThat(p.status()).isEqualTo(409))
        .hasMessageContaining("This changes 25 devices");
    assertThat(node.pinwright.tags().counts(READER)).doesNotContainKey("quay");
    assertThat(take(sheet + "AR10-9999,quay\n", true, null).faults())
        .as("what is faulty is said before a number is asked for")
        .hasSize(1);
    assertThat(take(sheet, true, 25L).saved()).isTrue();
    assertThat(node.pinwright.tags().counts(READER)).containsEntry("quay", 25L);
  }

  @Test
  void devicesAreFoundByTheirAttributes() {
    keep(
        "identifier,Room,Weight,Lease ends\n"
            + "AR10-0001,Tower,1.5,2027-01-31\n"
            + "AR10-0002,Hall,12,2026-12-31\n");
    assertThat(where("room=tower")).containsExactly("AR10-0001");
    assertThat(where("Room=")).containsExactly("AR10-0003");
    assertThat(where("Weight>2")).as("by number, not by letter").containsExactly("AR10-0002");
    assertThat(where("Lease ends<2027-01-01")).containsExactly("AR10-0002");
    assertThat(where("Lease ends<2027-06-01", "Room=Tower")).containsExactly("AR10-0001");
    assertThat(where("Weight<1")).isEmpty();
    assertThatThrownBy(() -> where("Colour=red"))
        .isInstanceOfSatisfying(Problem.class, p -> assertThat(p.status()).isEqualTo(400))
        .hasMessageContaining("there are Lease ends, Room, Weight");
    assertThatThrownBy(() -> where("Room")).hasMessageContaining("such as Room=Tower");
    assertThatThrownBy(() -> where("Room<Tower")).hasMessageContaining("'=' only");
  }

  @Test
  void anOrderGoesToDevicesWithAnAttribute() {
    keep("identifier,Room\nAR10-0001,Tower\n");
    assertThat(
            node.order("{\"command\":\"ring\",\"matching\":{\"attributes\":[\"Room=Tower\"]}}")
                .total())
        .isEqualTo(1);
  }

  @Test
  void peopleAreFoundByTheirAttributes() {
    attribute("Keys", "person", "choice", "yes", "no");
    People people = node.pinwright.people();
    String ines = people.add(OWNER, new People.Draft("Ines Orrin", null, null, null, null)).id();
    people.add(OWNER, new People.Draft("Runa Orrin", null, null, null, null));
    node.pinwright.attributes().set(OWNER, "person", ines, Map.of("Keys", "yes"));
    assertThat(people.page(READER, "", "", false, List.of("keys=yes"), FIRST).items())
        .extracting(Person::name)
        .containsExactly("Ines Orrin");
    assertThatThrownBy(() -> people.page(READER, "", "", false, List.of("Room=Hall"), FIRST))
        .as("devices' attributes are not people's")
        .hasMessage("There is no attribute 'Room' on a person; there are Keys.");
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "serial,tags\\nAR10-0001,quay|'serial' is not known; known are identifier, name, tags",
        "tags\\nquay|identifier is needed",
        "identifier,tags\\n|1 to 50000 rows",
      })
  void whatIsNoSuchSheetIsRefusedWhole(String sheet, String complaint) {
    assertThatThrownBy(() -> keep(sheet.replace("\\n", "\n"))).hasMessageContaining(complaint);
  }
}
