package dev.pinwright.service.organisation;

import static dev.pinwright.service.Node.FIRST;
import static dev.pinwright.service.Node.OWNER;
import static dev.pinwright.service.Node.READER;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.pinwright.core.change.Confirmation;
import dev.pinwright.core.organisation.Attribute;
import dev.pinwright.core.organisation.Unit;
import dev.pinwright.service.Node;
import dev.pinwright.service.organisation.OrganisationSheets.Kind;
import dev.pinwright.service.sheet.Sheet;
import dev.pinwright.service.sheet.Sheet.Report;
import dev.pinwright.service.sheet.SheetText;
import dev.pinwright.service.work.Json;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class SheetsAndAttributesTest {
  private static final String UNITS =
      "code,name,parent\nVM,Trust office,\nVM-HAR,Harbour Museum,vm\nVM-GLA,Glasshouse,VM\n";
  private Node node;

  @BeforeEach
  void start() {
    node = new Node();
  }

  @AfterEach
  void stop() {
    node.close();
  }

  private Report take(Kind kind, String csv, boolean save) {
    return node.pinwright
        .organisationSheets()
        .read(OWNER, kind, new Sheet.Draft(Sheet.read(SheetText.of(csv)), save, Confirmation.NONE));
  }

  private Attribute attribute(String json) {
    return node.pinwright.attributes().add(OWNER, Json.request(json, Attributes.Draft.class));
  }

  @Test
  void aSheetIsCheckedFirstAndThenTakenWhole() {
    assertThat(take(Kind.UNITS, UNITS, false))
        .satisfies(
            r -> {
              assertThat(r.added()).isEqualTo(3);
              assertThat(r.saved()).isFalse();
            });
    assertThat(node.pinwright.units().all(READER)).isEmpty();
    assertThat(take(Kind.UNITS, UNITS, true).saved()).isTrue();
    assertThat(node.pinwright.units().all(READER))
        .extracting(Unit::code)
        .containsExactly("VM", "VM-GLA", "VM-HAR");
    Report again = take(Kind.UNITS, UNITS.replace("Harbour Museum", "Harbour"), true);
    assertThat(again.changed()).isEqualTo(3);
    assertThat(node.pinwright.organisationSheets().write(READER, Kind.UNITS))
        .contains("VM-HAR,Harbour,VM");
  }

  @Test
  void sitesHaveOutlinesAndWhatASheetHasNoColumnOfStays() {
    String outline = "POLYGON ((-20.51 47.19, -20.4 47.19, -20.4 47.25, -20.51 47.19))";
    take(
        Kind.SITES,
        "name,address,latitude,longitude,outline\nQuay,1 Old Quay,47.2,-20.45,\""
            + outline
            + "\"\n",
        true);
    String written = node.pinwright.organisationSheets().write(READER, Kind.SITES);
    assertThat(written).contains("Quay,1 Old Quay,47.2,-20.45,\"" + outline + "\"");
    assertThat(take(Kind.SITES, "name,address\nQuay,2 Old Quay\n", true).changed()).isEqualTo(1);
    assertThat(node.pinwright.organisationSheets().write(READER, Kind.SITES))
        .isEqualTo(written.replace("1 Old Quay", "2 Old Quay"));
    Report wrong = take(Kind.SITES, "name,outline\nQuay,POINT (1 2)\n", true);
    assertThat(wrong.faults().get(0).fault()).startsWith("an outline is written POLYGON ((");
    take(Kind.SITES, "name,outline\nQuay,\n", true);
    assertThat(node.pinwright.sites().page(READER, FIRST).items().get(0).outline()).isEmpty();
  }

  @Test
  void withOneFaultyRowNothingIsKept() {
    take(Kind.UNITS, UNITS, true);
    Report r =
        take(
            Kind.PEOPLE,
            "name;login;mail;unit\nInes Orrin;ines;ines@vellmar.example;vm-har\n"
                + ";bo;;\nTeo;teo;nowhere;\nRuna;runa;;VM-FAR\n",
            true);
    assertThat(r.saved()).isFalse();
    assertThat(r.faults())
        .extracting(f -> f.line() + " " + f.fault())
        .containsExactly(
            "3 a name has 1 to 120 characters",
            "4 'nowhere' is not a mail address such as ines@vellmar.example",
            "5 there is no unit 'VM-FAR'");
    assertThat(node.pinwright.people().page(READER, "", "", false, List.of(), FIRST).items())
        .isEmpty();
  }

  @Test
  void aSheetNeverMovesAUnit() {
    take(Kind.UNITS, UNITS, true);
    assertThat(take(Kind.UNITS, "code,name,parent\nVM-GLA,Glasshouse,VM-HAR\n", true).faults())
        .singleElement()
        .satisfies(f -> assertThat(f.fault()).contains("moving a unit is rehearsed"));
  }

  @Test
  void attributesTravelInSheetsAndAreReadByTheirType() {
    attribute("{\"name\":\"Opened\",\"kind\":\"unit\",\"type\":\"date\"}");
    attribute("{\"name\":\"Floors\",\"kind\":\"unit\",\"type\":\"number\"}");
    Report bad = take(Kind.UNITS, "code,name,opened\nVM,Trust,yesterday\n", true);
    assertThat(bad.faults().get(0).fault()).contains("not a day such as 2026-05-01");
    take(Kind.UNITS, "code,name,Opened,FLOORS\nVM,Trust,1998-04-02,3.0\n", true);
    String id = node.pinwright.units().all(READER).get(0).id();
    assertThat(node.pinwright.attributes().values(READER, "unit", id))
        .extracting(Attributes.Value::value)
        .containsExactly(Optional.of("3"), Optional.of("1998-04-02"));
    assertThat(node.pinwright.organisationSheets().write(READER, Kind.UNITS))
        .contains("code,name,parent,Floors,Opened", "VM,Trust,,3,1998-04-02");
    assertThatThrownBy(() -> take(Kind.UNITS, "code,name,colour\nVM,Trust,red\n", true))
        .hasMessageContaining("column 'colour' is not known; known are code, name, parent");
  }

  @Test
  void aDeviceHasAttributesThatAreSetAndTakenAway() {
    String device = node.join(node.kiosks(1), "AR10-0001");
    Attribute room =
        attribute(
            "{\"name\":\"Room\",\"kind\":\"device\",\"type\":\"choice\","
                + "\"choices\":[\"Hall\",\"Tower\"]}");
    Attributes attributes = node.pinwright.attributes();
    assertThat(attributes.set(OWNER, "device", device, Map.of("room", "hall")).get(0).value())
        .contains("Hall");
    assertThatThrownBy(() -> attributes.set(OWNER, "device", device, Map.of("Room", "Cellar")))
        .hasMessageContaining("not one of Hall, Tower");
    assertThatThrownBy(() -> attributes.set(OWNER, "device", device, Map.of("Shelf", "3")))
        .hasMessageContaining("no attribute Shelf on a device");
    assertThatThrownBy(() -> attributes.values(READER, "device", "nobody"))
        .hasMessageContaining("no device nobody");
    assertThat(attributes.all(READER).get(0).used()).isEqualTo(1);
    assertThat(attributes.set(OWNER, "device", device, Map.of("Room", "")).get(0).value())
        .isEmpty();
    attributes.delete(OWNER, room.id(), version(room.id()));
    assertThat(attributes.values(READER, "device", device)).isEmpty();
  }

  private int version(String id) {
    return node.pinwright.attributes().all(READER).stream()
        .filter(a -> a.id().equals(id))
        .map(Attribute::version)
        .findFirst()
        .orElse(0);
  }

  private Attribute change(String id, String json) {
    return node.pinwright
        .attributes()
        .change(OWNER, id, version(id), Json.request(json, Attributes.Draft.class));
  }

  @Test
  void anAttributeTakesAnotherNameAndOtherWordsButKeepsThoseInUse() {
    String device = node.join(node.kiosks(1), "AR10-0001");
    String room =
        attribute(
                "{\"name\":\"Room\",\"kind\":\"device\",\"type\":\"choice\","
                    + "\"choices\":[\"Hall\",\"Tower\"]}")
            .id();
    attribute("{\"name\":\"Shelf\",\"kind\":\"device\"}");
    node.pinwright.attributes().set(OWNER, "device", device, Map.of("Room", "Hall"));

    assertThat(change(room, "{\"name\":\"Place\"}").choices()).containsExactly("Hall", "Tower");
    assertThat(change(room, "{\"choices\":[\"Hall\",\"Cellar\"]}"))
        .satisfies(
            a -> {
              assertThat(a.name()).isEqualTo("Place");
              assertThat(a.choices()).containsExactly("Hall", "Cellar");
              assertThat(a.used()).isEqualTo(1);
            });
    assertThatThrownBy(() -> change(room, "{\"choices\":[\"Cellar\"]}"))
        .hasMessageContaining("'Hall' is the value of 1")
        .hasMessageContaining("another value first");
    assertThatThrownBy(() -> change(room, "{\"name\":\"shelf\"}"))
        .hasMessageContaining("There is an attribute shelf of this kind already");
    assertThatThrownBy(() -> change(room, "{\"type\":\"text\"}"))
        .hasMessageContaining("never change");
    assertThatThrownBy(() -> change(room, "{\"choices\":[]}"))
        .hasMessageContaining("1 to 50 words");
    assertThatThrownBy(() -> change("nothing", "{}")).hasMessageContaining("no attribute nothing");
    assertThat(node.pinwright.attributes().values(READER, "device", device).get(0).value())
        .contains("Hall");
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      quoteCharacter = '`',
      value = {
        "{\"kind\":\"device\"}|1 to 40 letters",
        "{\"name\":\"X\",\"kind\":\"site\"}|device, person, unit",
        "{\"name\":\"X\",\"kind\":\"device\",\"type\":\"colour\"}|colour",
        "{\"name\":\"X\",\"kind\":\"device\",\"type\":\"choice\"}|1 to 50 words",
        "{\"name\":\"X\",\"kind\":\"device\",\"choices\":[\"a\"]}|another type none"
      })
  void anAttributeThatCannotBeIsNamed(String json, String words) {
    assertThatThrownBy(() -> attribute(json)).hasMessageContaining(words);
  }
}
