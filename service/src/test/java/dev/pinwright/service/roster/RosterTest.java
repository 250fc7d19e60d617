package dev.pinwright.service.roster;

import static dev.pinwright.service.Node.FIRST;
import static dev.pinwright.service.Node.OWNER;
import static dev.pinwright.service.Node.READER;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.pinwright.core.device.DeviceSummary;
import dev.pinwright.core.organisation.Site;
import dev.pinwright.core.organisation.Unit;
import dev.pinwright.core.roster.RosterEntry;
import dev.pinwright.service.Node;
import dev.pinwright.service.organisation.People;
import dev.pinwright.service.organisation.Sites;
import dev.pinwright.service.organisation.Units;
import dev.pinwright.service.work.Json;
import dev.pinwright.service.work.Problem;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.awaitility.Awaitility;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** Sheets of identifiers, and the devices that arrive by them. */
class RosterTest {
  private Node node;
  private Roster roster;
  private RosterImports imports;

  @BeforeEach
  void start() {
    node = new Node();
    roster = node.pinwright.roster();
    imports = node.pinwright.rosterImports();
  }

  @AfterEach
  void stop() {
    node.close();
  }

  private RosterImports.Import checked(String csv) {
    return checked(csv, Map.of());
  }

  private RosterImports.Import checked(String csv, Map<String, String> columns) {
    String id = imports.check(OWNER, new RosterImports.Draft(csv, columns, null, "cart")).id();
    return Awaitility.await()
        .atMost(Duration.ofSeconds(60))
        .pollInterval(Duration.ofMillis(20))
        .until(() -> imports.get(READER, id), i -> !i.state().equals("checking"));
  }

  private List<String> faults(RosterImports.Import sheet) {
    return imports.rows(READER, sheet.id(), "faulty", FIRST).items().stream()
        .map(r -> r.line() + ": " + String.join("; ", r.faults()))
        .toList();
  }

  @Test
  void everyBadRowIsNamedBeforeAnythingIsSaved() {
    node.pinwright.units().add(OWNER, new Units.Draft("VM-HAR", "Harbour", null));
    roster.add(
        OWNER, new Roster.Draft("AR10-0009", null, null, null, null, null, null, null, null));
    RosterImports.Import sheet =
        checked(
            """
            Serial;IMEI;Unit;Person
            ar10-0001 ;;vm-har;
            AR10-0001;;;
            AR10-0002;004401230000017;;
            AR10-0003;;VM-NOWHERE;
            AR10-0009;;;
            AR10-0004;;;nobody@vellmar.example
            ;;;
            AR10-0005;;Harbour;
            """);
    assertThat(sheet.state()).isEqualTo("checked");
    assertThat(faults(sheet))
        .containsExactly(
            "3: serial number AR10-0001 is also in line 2",
            "4: IMEI 004401230000017 has a wrong check digit: it would have to end in 6",
            "5: there is no unit 'VM-NOWHERE'",
            "6: serial number AR10-0009 is on the roster already",
            "7: there is no person 'nobody@vellmar.example'",
            "8: it has no serial number, IMEI or asset number");
    assertThat(sheet.sound()).isEqualTo(2);
    assertThat(sheet.repaired()).isEqualTo(1);
    assertThat(imports.rows(READER, sheet.id(), "repaired", FIRST).items().get(0).notes())
        .containsExactly("'ar10-0001 ' was read as AR10-0001");
    assertThat(roster.page(READER, "", "", FIRST).items()).hasSize(1);

    assertThatThrownBy(() -> imports.takeOver(OWNER, sheet.id(), false))
        .hasMessageContaining("6 rows are faulty");
    assertThat(imports.takeOver(OWNER, sheet.id(), true).state()).isEqualTo("saved");
    assertThat(roster.page(READER, "", "", FIRST).items())
        .extracting(e -> e.serial().orElse("") + " " + e.unit().orElse(""))
        .containsExactlyInAnyOrder("AR10-0001 VM-HAR", "AR10-0005 VM-HAR", "AR10-0009 ");
    assertThatThrownBy(() -> imports.takeOver(OWNER, sheet.id(), true))
        .hasMessageContaining("This sheet is saved");
  }

  @Test
  void columnsThatWereMatchedByHandAreRememberedForTheNextSheet() {
    assertThatThrownBy(() -> checked("Nummer,Raum\nAR10-0001,Quay\n"))
        .isInstanceOfSatisfying(Problem.class, p -> assertThat(p.extras()).containsKey("headings"))
        .hasMessageContaining("Headings: Nummer, Raum");
    checked("Nummer,Raum\nAR10-0001,Quay\n", Map.of("Nummer", "serial", "Raum", "name"));
    RosterImports.Import next = checked("Raum,Nummer\nRidge,AR10-0002\n");
    assertThat(next.columns()).containsEntry("Nummer", "serial").containsEntry("Raum", "name");
    assertThat(imports.rows(READER, next.id(), "", FIRST).items().get(0).name()).isEqualTo("Ridge");
  }

  @Test
  void whatIsNoSheetIsRefused() {
    assertThatThrownBy(() -> checked("")).hasMessageContaining("heading line");
    assertThatThrownBy(() -> checked("serial\n")).hasMessageContaining("at least one row");
    assertThatThrownBy(() -> checked("serial,name\n\"AR10-1,unclosed\n"))
        .hasMessageContaining("not a sheet");
  }

  @Test
  void thousandsOfRowsAreCheckedAndTakenOverAndFoundByAnyPart() {
    StringBuilder csv = new StringBuilder("Serial,Asset,Name,Tags\n");
    for (int i = 0; i < 5_000; i++) {
      csv.append("AR10-%06d,VM-%06d,Kiosk %d,gallery\n".formatted(i, i, i));
    }
    RosterImports.Import sheet = checked(csv.toString());
    assertThat(sheet.sound()).isEqualTo(5_000);
    imports.takeOver(OWNER, sheet.id(), false);
    assertThat(roster.counts(READER)).containsEntry(RosterEntry.State.EXPECTED, 5_000L);
    assertThat(roster.page(READER, "10-0049", "", FIRST).items()).hasSize(100);
  }

  @Test
  void whoArrivesIsNamedTaggedAndPlacedAsTheRosterSays() {
    Unit trust = node.pinwright.units().add(OWNER, new Units.Draft("VM", "Trust", null));
    Unit harbour =
        node.pinwright.units().add(OWNER, new Units.Draft("VM-HAR", "Harbour", trust.id()));
    Site office = node.pinwright.sites().add(OWNER, new Sites.Draft("Office", "", null, null));
    Site quay = node.pinwright.sites().add(OWNER, new Sites.Draft("Quay", "", null, null));
    node.pinwright
        .people()
        .add(OWNER, new People.Draft("Ines Orrin", "ines", null, trust.id(), quay.id()));
    RosterImports.Import sheet =
        checked(
            "serial,asset,name,person,unit,tags\n"
                + "AR10-0001,VM-00071,Quay door,ines,VM-HAR,kiosk;door\n"
                + "AR10-0002,,,ines,,\n");
    imports.takeOver(OWNER, sheet.id(), false);
    String code =
        node.invite(
            "{\"name\":\"Listed\",\"rosterOnly\":true,\"tags\":[\"gallery\"],\"unitId\":\""
                + trust.id()
                + "\",\"siteId\":\""
                + office.id()
                + "\",\"namePattern\":\"{person} {model}\"}",
            9);
    DeviceSummary first = device(node.join(code, "AR10-0001"));
    assertThat(first.name()).as("the name on the sheet").isEqualTo("Quay door");
    assertThat(first.unit()).as("the roster before the person").hasValue("VM-HAR");
    assertThat(first.site()).as("the person before the profile").hasValue("Quay");
    assertThat(first.tags()).containsExactly("door", "gallery", "kiosk");
    DeviceSummary second = device(node.join(code, "AR10-0002"));
    assertThat(second.name()).isEqualTo("Ines Orrin T10");
    assertThat(second.unit()).hasValue("VM");
    assertThatThrownBy(() -> node.join(code, "AR10-0003"))
        .hasMessageContaining("AR10-0003 is not on the organisation's roster");
    assertThat(roster.counts(READER))
        .containsEntry(RosterEntry.State.ARRIVED, 2L)
        .containsEntry(RosterEntry.State.EXPECTED, 0L);
    String asset =
        node.sql(
            tx ->
                tx.value(
                    "select asset from device where serial = 'AR10-0001'", String.class, Map.of()));
    assertThat(asset).as("the asset number on the sheet").isEqualTo("VM-00071");
    assertThat(harbour.code()).isEqualTo("VM-HAR");
  }

  private DeviceSummary device(String id) {
    return node.pinwright.devices().get(READER, id).device();
  }

  @Test
  void rowsAreAddedChangedTogetherAndWithdrawn() {
    String code = node.invite("{\"name\":\"Listed\",\"rosterOnly\":true}", 9);
    for (int i = 0; i < 5; i++) {
      roster.add(
          OWNER, new Roster.Draft("ar10-000" + i, null, null, null, null, null, null, null, null));
    }
    assertThatThrownBy(
            () ->
                roster.add(
                    OWNER,
                    new Roster.Draft("AR10-0001", null, null, null, null, null, null, null, null)))
        .hasMessageContaining("on the roster already");
    Unit unit = node.pinwright.units().add(OWNER, new Units.Draft("VM", "Trust", null));
    assertThat(edit("{\"q\":\"ar10\",\"unitId\":\"" + unit.id() + "\",\"tags\":[\"field\"]}"))
        .isEqualTo(5);
    String kept = roster.page(READER, "0004", "", FIRST).items().get(0).id();
    assertThat(edit("{\"tags\":[\"spare\"],\"except\":[\"" + kept + "\"]}")).isEqualTo(4);
    assertThat(roster.page(READER, "0004", "", FIRST).items().get(0).tags())
        .as("it was left out")
        .containsExactly("field");
    assertThat(device(node.join(code, "AR10-0000")).unit()).hasValue("VM");
    assertThat(edit("{\"withdraw\":true}")).as("who has arrived stays").isEqualTo(4);
    assertThatThrownBy(() -> node.join(code, "AR10-0001")).hasMessageContaining("not on the");
    assertThatThrownBy(() -> edit("{\"q\":\"ar10\"}")).hasMessageContaining("Say what to change");
    assertThatThrownBy(() -> edit("{\"unitId\":\"nowhere\"}")).hasMessageContaining("no unit");
    roster.add(
        OWNER, new Roster.Draft("AR10-0001", null, null, null, null, null, null, null, null));
    assertThat(roster.counts(READER))
        .containsEntry(RosterEntry.State.ARRIVED, 1L)
        .containsEntry(RosterEntry.State.EXPECTED, 1L)
        .containsEntry(RosterEntry.State.WITHDRAWN, 4L);
    List<String> exported = new ArrayList<>();
    roster.export(READER, e -> exported.add(e.serial().orElse("")));
    assertThat(exported).hasSize(6);
  }

  private int edit(String json) {
    return roster.change(OWNER, Json.request(json, Roster.BulkEdit.class));
  }

  @Test
  void aChangeOfManyRowsTakesOnlyWhatCanBeATag() {
    roster.add(
        OWNER, new Roster.Draft("AR10-0001", null, null, null, null, null, null, null, null));
    String id = roster.page(READER, "", "", FIRST).items().get(0).id();
    assertThatThrownBy(() -> edit("{\"ids\":[\"" + id + "\"],\"tags\":[\"a/b\"]}"))
        .hasMessageContaining("each of 1 to 40 letters");
    assertThat(edit("{\"ids\":[\"" + id + "\"],\"tags\":[\" quay\",\"quay\"]}")).isEqualTo(1);
    assertThat(roster.page(READER, "", "", FIRST).items().get(0).tags()).containsExactly("quay");
  }

  @Test
  void aDeviceThatIsManagedAlreadyHasArrivedAtOnce() {
    node.join(node.kiosks(1), "AR10-0001");
    assertThat(
            roster
                .add(
                    OWNER,
                    new Roster.Draft("AR10-0001", null, null, null, null, null, null, null, null))
                .state())
        .isEqualTo(RosterEntry.State.ARRIVED);
    RosterImports.Import sheet = checked("serial\nAR10-0002\n");
    assertThat(sheet.sound()).isEqualTo(1);
    assertThatThrownBy(() -> roster.page(READER, "", "lost", FIRST))
        .hasMessageContaining("expected, arrived, withdrawn");
  }
}
