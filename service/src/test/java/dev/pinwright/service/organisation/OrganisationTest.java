package dev.pinwright.service.organisation;

import static dev.pinwright.service.Node.FIRST;
import static dev.pinwright.service.Node.OWNER;
import static dev.pinwright.service.Node.READER;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.pinwright.core.change.Rehearsal;
import dev.pinwright.core.organisation.Person;
import dev.pinwright.core.organisation.Site;
import dev.pinwright.core.organisation.Unit;
import dev.pinwright.service.Node;
import dev.pinwright.service.device.DeviceFilter;
import dev.pinwright.service.device.Devices;
import dev.pinwright.service.work.Json;
import dev.pinwright.service.work.Page;
import dev.pinwright.service.work.Problem;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** Units, sites and people, and the devices that belong to them. */
class OrganisationTest {
  private Node node;
  private Units units;

  @BeforeEach
  void start() {
    node = new Node();
    units = node.pinwright.units();
  }

  @AfterEach
  void stop() {
    node.close();
  }

  private Unit unit(String code, String parent) {
    return units.add(OWNER, new Units.Draft(code, "Unit " + code, parent));
  }

  private void place(String device, String unit, String person) {
    node.pinwright
        .devices()
        .place(OWNER, device, node.version(device), new Devices.Placement(unit, null, person));
  }

  private String settings(String device) {
    return node.pinwright.devices().settings(READER, device).inEffect().stream()
        .map(s -> s.setting() + "=" + s.value())
        .toList()
        .toString();
  }

  private void assign(String name, int length, String kind, String ref) {
    node.publish(
        node.draft(
            "{\"name\":\"%s\",\"settings\":{\"appearance.brightness\":%d},\"targets\":[{\"kind\":\"%s\",\"ref\":\"%s\"}]}"
                .formatted(name, length, kind, ref)));
  }

  @Test
  void theTreeIsListedWholeEachUnitBeforeWhatIsBelowIt() {
    Unit trust = unit("VM", null);
    Unit harbour = unit("VM-HAR", trust.id());
    unit("VM-GLA", trust.id());
    unit("VM-HAR-CAFE", harbour.id());
    assertThat(units.all(READER))
        .extracting(u -> u.depth() + " " + u.code())
        .containsExactly("0 VM", "1 VM-GLA", "1 VM-HAR", "2 VM-HAR-CAFE");
  }

  @Test
  void aCodeIsNeverGivenTwiceAndNeverChanges() {
    Unit trust = unit(" vm ", null);
    assertThat(trust.code()).isEqualTo("VM");
    assertThatThrownBy(() -> unit("VM", null)).hasMessageContaining("There is a unit VM already");
    assertThatThrownBy(() -> unit("V M", null)).hasMessageContaining("such as VM-HAR");
    assertThatThrownBy(
            () -> units.change(OWNER, trust.id(), trust.version(), new Units.Draft("X", "Y", null)))
        .hasMessageContaining("never changes");
    assertThat(
            units
                .change(OWNER, trust.id(), trust.version(), new Units.Draft(null, "Trust", null))
                .name())
        .isEqualTo("Trust");
    assertThatThrownBy(
            () -> units.change(OWNER, trust.id(), 0, new Units.Draft(null, "Late", null)))
        .isInstanceOfSatisfying(Problem.class, p -> assertThat(p.status()).isEqualTo(412));
  }

  @Test
  void whatAUnitGetsIsForAllBelowItAndTheNearerTargetWins() {
    Unit trust = unit("VM", null);
    Unit harbour = unit("VM-HAR", trust.id());
    People people = node.pinwright.people();
    Person ines = people.add(OWNER, new People.Draft("Ines Orrin", null, null, null, null));
    String device = node.join(node.kiosks(1), "AR10-0001");
    assign("Everyone", 10, "everyone", "");
    assertThat(settings(device)).contains("brightness=10");
    place(device, harbour.id(), null);
    assign("Trust", 20, "unit", trust.id());
    assertThat(settings(device)).as("a unit above its own").contains("brightness=20");
    assign("Galleries", 30, "tag", "gallery");
    assertThat(settings(device)).as("a tag is nearer than a unit").contains("brightness=30");
    assign("Ines", 40, "person", ines.id());
    place(device, harbour.id(), ines.id());
    assertThat(settings(device)).as("a person is nearer than a tag").contains("brightness=40");
    assign("This", 50, "device", device);
    assertThat(settings(device)).contains("brightness=50");
    assertThat(node.pinwright.deviceList().count(READER, filter("unit", trust.id()))).isEqualTo(1);
    assertThat(node.pinwright.deviceList().count(READER, filter("person", ines.id()))).isEqualTo(1);
  }

  private static DeviceFilter filter(String field, String id) {
    return Json.request("{\"%s\":\"%s\"}".formatted(field, id), DeviceFilter.Written.class)
        .filter();
  }

  @Test
  void movingAUnitIsRehearsedAndMovesWhatIsInIt() {
    Unit trust = unit("VM", null);
    Unit harbour = unit("VM-HAR", trust.id());
    Unit cafe = unit("VM-CAFE", null);
    String device = node.join(node.kiosks(1), "AR10-0001");
    place(device, cafe.id(), null);
    assign("Harbour", 60, "unit", harbour.id());
    assertThat(settings(device)).isEqualTo("[]");
    Units.Move move = new Units.Move(harbour.id(), Optional.empty(), Optional.empty());
    Rehearsal rehearsal = units.rehearseMove(READER, cafe.id(), move);
    assertThat(rehearsal.gain()).isEqualTo(1);
    assertThat(settings(device)).as("a rehearsal moves nothing").isEqualTo("[]");
    assertThat(units.get(READER, cafe.id()).parentId()).isEmpty();
    assertThat(units.move(OWNER, cafe.id(), cafe.version(), move).depth()).isEqualTo(2);
    assertThat(settings(device)).contains("brightness=60");
    assertThatThrownBy(
            () ->
                units.rehearseMove(
                    READER,
                    trust.id(),
                    new Units.Move(cafe.id(), Optional.empty(), Optional.empty())))
        .hasMessageContaining("within itself");
  }

  @Test
  void aUnitThatIsUsedIsNotDeletedAndSaysByWhat() {
    Unit trust = unit("VM", null);
    Unit harbour = unit("VM-HAR", trust.id());
    place(node.join(node.kiosks(1), "AR10-0001"), harbour.id(), null);
    assign("Harbour", 60, "unit", harbour.id());
    assertThatThrownBy(
            () -> units.delete(OWNER, trust.id(), units.get(OWNER, trust.id()).version()))
        .hasMessageContaining("1 unit below it");
    assertThatThrownBy(
            () -> units.delete(OWNER, harbour.id(), units.get(OWNER, harbour.id()).version()))
        .hasMessageContaining("1 device")
        .hasMessageContaining("Harbour");
    Unit empty = unit("VM-X", null);
    units.delete(OWNER, empty.id(), units.get(OWNER, empty.id()).version());
    assertThat(units.all(READER)).extracting(Unit::code).doesNotContain("VM-X");
  }

  @Test
  void sitesHaveAPlaceOnTheMapOrNone() {
    Sites sites = node.pinwright.sites();
    Site quay =
        sites.add(
            OWNER,
            new Sites.Draft(
                "Norhaven quay", "Quay 1", 47.21, -20.38, Optional.empty(), Optional.empty()));
    sites.add(
        OWNER, new Sites.Draft("Lake Orre", null, null, null, Optional.empty(), Optional.empty()));
    assertThat(sites.page(READER, FIRST).items())
        .extracting(Site::name)
        .containsExactly("Lake Orre", "Norhaven quay");
    assertThatThrownBy(
            () ->
                sites.add(
                    OWNER,
                    new Sites.Draft("X", "", 47.0, null, Optional.empty(), Optional.empty())))
        .hasMessageContaining("or neither");
    assertThatThrownBy(
            () ->
                sites.add(
                    OWNER,
                    new Sites.Draft("X", "", 147.0, 20.0, Optional.empty(), Optional.empty())))
        .hasMessageContaining("-90 to 90");
    assertThatThrownBy(
            () ->
                sites.add(
                    OWNER,
                    new Sites.Draft(
                        "Norhaven quay", "", null, null, Optional.empty(), Optional.empty())))
        .hasMessageContaining("already");
    Sites.Draft moved =
        new Sites.Draft(
            "Norhaven quay", "Quay 2", 47.22, -20.39, Optional.empty(), Optional.empty());
    assertThat(sites.change(OWNER, quay.id(), quay.version(), moved).address()).isEqualTo("Quay 2");
    sites.delete(OWNER, quay.id(), sites.get(OWNER, quay.id()).version());
    assertThat(sites.page(READER, FIRST).items()).hasSize(1);
  }

  @Test
  void peopleAreFoundByAnyPartAndPaged() {
    People people = node.pinwright.people();
    Unit trust = unit("VM", null);
    Unit harbour = unit("VM-HAR", trust.id());
    for (int i = 0; i < 7; i++) {
      people.add(
          OWNER,
          new People.Draft(
              "Person " + i,
              "p" + i,
              "p" + i + "@vellmar.example",
              i % 2 == 0 ? harbour.id() : null,
              null));
    }
    assertThat(people.page(READER, "p3@vell", "", false, List.of(), FIRST).items())
        .extracting(Person::name)
        .containsExactly("Person 3");
    assertThat(people.page(READER, "", trust.id(), false, List.of(), FIRST).items()).hasSize(4);
    List<String> names = new ArrayList<>();
    String after = "";
    do {
      Page<Person> page = people.page(READER, "", "", false, List.of(), new Page.Request(after, 3));
      page.items().forEach(p -> names.add(p.name()));
      after = page.next().orElse("");
    } while (!after.isEmpty());
    assertThat(names).hasSize(7).isSorted();
  }

  @Test
  void whatAPersonNeedsIsSaidAndWhoHoldsDevicesStays() {
    People people = node.pinwright.people();
    assertThatThrownBy(() -> people.add(OWNER, new People.Draft(" ", null, null, null, null)))
        .hasMessageContaining("1 to 120");
    assertThatThrownBy(() -> people.add(OWNER, new People.Draft("Bo", "b o", null, null, null)))
        .hasMessageContaining("login");
    assertThatThrownBy(
            () -> people.add(OWNER, new People.Draft("Bo", null, "bo at home", null, null)))
        .hasMessageContaining("ines@vellmar.example");
    assertThatThrownBy(() -> people.add(OWNER, new People.Draft("Bo", null, null, "nowhere", null)))
        .hasMessageContaining("There is no unit nowhere");
    Person bo = people.add(OWNER, new People.Draft("Bo", "BO", null, null, null));
    assertThat(bo.login()).hasValue("bo");
    assertThatThrownBy(() -> people.add(OWNER, new People.Draft("Bo B", "bo", null, null, null)))
        .hasMessageContaining("Somebody has the login bo");
    String device = node.join(node.kiosks(1), "AR10-0001");
    place(device, null, bo.id());
    assertThatThrownBy(() -> people.delete(OWNER, bo.id(), people.get(OWNER, bo.id()).version()))
        .hasMessageContaining("1 device");
    node.pinwright.devices().retire(OWNER, device, "given back");
    people.delete(OWNER, bo.id(), people.get(OWNER, bo.id()).version());
    assertThat(people.page(READER, "", "", false, List.of(), FIRST).items()).isEmpty();
  }
}
