package dev.pinwright.service.roster;

import static dev.pinwright.service.Node.FIRST;
import static dev.pinwright.service.Node.OWNER;
import static dev.pinwright.service.Node.READER;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.pinwright.core.device.DeviceSummary;
import dev.pinwright.core.device.Standing;
import dev.pinwright.core.organisation.Site;
import dev.pinwright.core.organisation.Unit;
import dev.pinwright.core.roster.RosterEntry;
import dev.pinwright.core.roster.SheetState;
import dev.pinwright.service.Node;
import dev.pinwright.service.UseCasesOn;
import dev.pinwright.service.organisation.People;
import dev.pinwright.service.organisation.Sites;
import dev.pinwright.service.organisation.Units;
import dev.pinwright.service.sheet.SheetText;
import dev.pinwright.service.work.Json;
import java.io.ByteArrayInputStream;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.charset.Charset;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.awaitility.Awaitility;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

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
    String id =
        imports
            .bring(OWNER, new RosterImports.Draft(SheetText.of(csv), Optional.empty(), "cart"))
            .id();
    if (!columns.isEmpty()) {
      imports.match(OWNER, id, new RosterImports.Columns(columns));
    }
    return Awaitility.await()
        .atMost(Duration.ofSeconds(60))
        .pollInterval(Duration.ofMillis(20))
        .until(() -> imports.get(READER, id), i -> i.state() != SheetState.CHECKING);
  }

  private List<String> faults(RosterImports.Import sheet) {
    return imports.rows(READER, sheet.id(), "faulty", FIRST).items().stream()
        .map(r -> r.line() + ": " + String.join("; ", r.faults()))
        .toList();
  }

  @Test
  void everyBadRowIsNamedBeforeAnythingIsSaved() {
    node.pinwright.units().add(OWNER, new Units.Draft("VM-HAR", "Harbour", null));
    roster.add(OWNER, row("AR10-0009"));
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
    assertThat(sheet.state()).isEqualTo(SheetState.CHECKED);
    assertThat(faults(sheet))
        .containsExactly(
            "3: serial number AR10-0001 is also in line 2",
            "4: IMEI 004401230000017 has a wrong check digit: it would have to end in 6",
            "5: there is no unit 'VM-NOWHERE'",
            "7: there is no person 'nobody@vellmar.example'",
            "8: it has no serial number, IMEI or asset number");
    assertThat(sheet.sound()).isEqualTo(3);
    assertThat(sheet.added()).as("one is on the roster as it is").isEqualTo(2);
    assertThat(sheet.repaired()).isEqualTo(1);
    assertThat(imports.rows(READER, sheet.id(), "repaired", FIRST).items().get(0).notes())
        .containsExactly("'ar10-0001 ' was read as AR10-0001");
    assertThat(roster.page(READER, Roster.Filter.ALL, FIRST).items()).hasSize(1);

    assertThatThrownBy(() -> imports.takeOver(OWNER, sheet.id(), false))
        .hasMessageContaining("5 rows are faulty");
    assertThat(imports.takeOver(OWNER, sheet.id(), true).state()).isEqualTo(SheetState.SAVED);
    assertThat(roster.page(READER, Roster.Filter.ALL, FIRST).items())
        .extracting(e -> e.serial().orElse("") + " " + e.unit().orElse(""))
        .containsExactlyInAnyOrder("AR10-0001 VM-HAR", "AR10-0005 VM-HAR", "AR10-0009 ");
    assertThatThrownBy(() -> imports.takeOver(OWNER, sheet.id(), true))
        .hasMessageContaining("This sheet is saved");
  }

  @Test
  void columnsThatWereMatchedByHandAreRememberedForTheNextSheet() {
    RosterImports.Import unknown = checked("Nummer,Raum\nAR10-0001,Quay\n");
    assertThat(unknown.state()).isEqualTo(SheetState.UNMATCHED);
    assertThat(unknown.columns()).containsOnlyKeys("Nummer", "Raum");
    assertThat(unknown.reason()).contains("say which does");
    assertThatThrownBy(
            () ->
                imports.match(
                    OWNER, unknown.id(), new RosterImports.Columns(Map.of("Numer", "serial"))))
        .hasMessageContaining("The sheet has no column 'Numer'; it has Nummer, Raum.");
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
    assertThat(roster.page(READER, new Roster.Filter("10-0049", "", "", 0), FIRST).items())
        .hasSize(100);
  }

  @Test
  void whoArrivesIsNamedTaggedAndPlacedAsTheRosterSays() {
    Unit trust = node.pinwright.units().add(OWNER, new Units.Draft("VM", "Trust", null));
    Unit harbour =
        node.pinwright.units().add(OWNER, new Units.Draft("VM-HAR", "Harbour", trust.id()));
    Site office =
        node.pinwright
            .sites()
            .add(
                OWNER,
                new Sites.Draft("Office", "", null, null, Optional.empty(), Optional.empty()));
    Site quay =
        node.pinwright
            .sites()
            .add(
                OWNER, new Sites.Draft("Quay", "", null, null, Optional.empty(), Optional.empty()));
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
      roster.add(OWNER, row("ar10-000" + i));
    }
    assertThatThrownBy(() -> roster.add(OWNER, row("AR10-0001")))
        .hasMessageContaining("on the roster already");
    Unit unit = node.pinwright.units().add(OWNER, new Units.Draft("VM", "Trust", null));
    assertThat(edit("{\"q\":\"ar10\",\"unitId\":\"" + unit.id() + "\",\"tags\":[\"field\"]}"))
        .isEqualTo(5);
    String kept =
        roster.page(READER, new Roster.Filter("0004", "", "", 0), FIRST).items().get(0).id();
    assertThat(edit("{\"tags\":[\"spare\"],\"except\":[\"" + kept + "\"]}")).isEqualTo(4);
    assertThat(
            roster.page(READER, new Roster.Filter("0004", "", "", 0), FIRST).items().get(0).tags())
        .as("it was left out")
        .containsExactly("field");
    assertThat(device(node.join(code, "AR10-0000")).unit()).hasValue("VM");
    assertThat(edit("{\"becomes\":\"withdrawn\",\"state\":\"expected\"}")).isEqualTo(4);
    assertThatThrownBy(() -> node.join(code, "AR10-0001")).hasMessageContaining("not on the");
    assertThatThrownBy(() -> edit("{\"q\":\"ar10\"}")).hasMessageContaining("Say what to change");
    assertThatThrownBy(() -> edit("{\"unitId\":\"nowhere\"}")).hasMessageContaining("no unit");
    roster.add(OWNER, row("AR10-0001"));
    assertThat(roster.counts(READER))
        .containsEntry(RosterEntry.State.ARRIVED, 1L)
        .containsEntry(RosterEntry.State.EXPECTED, 1L)
        .containsEntry(RosterEntry.State.WITHDRAWN, 4L);
    List<String> exported = new ArrayList<>();
    roster.export(READER, Roster.Filter.ALL, e -> exported.add(e.serial().orElse("")));
    assertThat(exported).hasSize(6);
  }

  private int edit(String json) {
    return roster.change(OWNER, Json.request(json, Roster.BulkEdit.class));
  }

  @Test
  void aChangeOfManyRowsTakesOnlyWhatCanBeATag() {
    roster.add(OWNER, row("AR10-0001"));
    String id = roster.page(READER, Roster.Filter.ALL, FIRST).items().get(0).id();
    assertThatThrownBy(() -> edit("{\"ids\":[\"" + id + "\"],\"tags\":[\"a/b\"]}"))
        .hasMessageContaining("each of 1 to 40 letters");
    assertThat(edit("{\"ids\":[\"" + id + "\"],\"tags\":[\" quay\",\"quay\"]}")).isEqualTo(1);
    assertThat(roster.page(READER, Roster.Filter.ALL, FIRST).items().get(0).tags())
        .containsExactly("quay");
  }

  @Test
  void aDeviceThatIsManagedAlreadyHasArrivedAtOnce() {
    node.join(node.kiosks(1), "AR10-0001");
    assertThat(roster.add(OWNER, row("AR10-0001")).state()).isEqualTo(RosterEntry.State.ARRIVED);
    RosterImports.Import sheet = checked("serial\nAR10-0002\n");
    assertThat(sheet.sound()).isEqualTo(1);
    assertThatThrownBy(() -> roster.page(READER, new Roster.Filter("", "", "lost", 0), FIRST))
        .hasMessageContaining("expected, arrived, withdrawn, barred");
  }

  private static Roster.Draft row(String serial) {
    return new Roster.Draft(serial, null, null, null, null, null, null, null, null, null);
  }

  private String exported() {
    ByteArrayOutputStream out = new ByteArrayOutputStream();
    try {
      RosterSheet.write(roster, READER, Roster.Filter.ALL, out);
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
    return out.toString(StandardCharsets.UTF_8);
  }

  @Test
  void aSheetThatWasTakenOutChangesNothingAndAChangedCellOneRow() {
    node.pinwright.units().add(OWNER, new Units.Draft("VM-HAR", "Harbour", null));
    for (String login : List.of("ines", "orrin")) {
      node.pinwright.people().add(OWNER, new People.Draft("Ines Orrin", login, null, null, null));
    }
    imports.takeOver(
        OWNER,
        checked(
                "serial,imei,name,person,unit,tags,state\n"
                    + "AR10-0001,,=Quay door,ines,VM-HAR,kiosk;door,\n"
                    + "AR10-0002,004401230000016,,,,,\n"
                    + "AR10-0003,,,,,,barred\n"
                    + "AR10-0004,,,,,,\n")
            .id(),
        false);
    node.join(node.kiosks(1), "AR10-0002");
    edit("{\"q\":\"0004\",\"becomes\":\"withdrawn\"}");
    roster.add(OWNER, row("AR10-0004"));

    String out = exported();
    RosterImports.Import same = checked(out);
    assertThat(faults(same)).isEmpty();
    assertThat(same.added() + same.changed()).isZero();
    imports.takeOver(OWNER, same.id(), false);
    assertThat(exported()).isEqualTo(out);

    RosterImports.Import other =
        checked(
            out.replace("VM-HAR", "")
                .replace("kiosk", "tour")
                .replace("AR10-0004,,,,,,,,,expected", "AR10-0004,,,,,,,,,barred"));
    assertThat(imports.rows(READER, other.id(), "changed", FIRST).items())
        .extracting(r -> String.join("; ", r.notes()))
        .containsExactly("it is barred", "unit is taken away; tags become tour, door");
    imports.takeOver(OWNER, other.id(), false);
    assertThat(found("AR10-0001"))
        .satisfies(e -> assertThat(e.tags()).containsExactly("tour", "door"))
        .satisfies(e -> assertThat(e.unit()).isEmpty())
        .satisfies(e -> assertThat(e.personLogin()).hasValue("ines"))
        .satisfies(e -> assertThat(e.name()).isEqualTo("=Quay door"));
    assertThat(faults(checked("serial,person\nAR10-0001,Ines Orrin\nAR10-0003,\n")))
        .containsExactly(
            "2: there is more than one person called 'Ines Orrin'; give the login",
            "3: it is barred; lift the bar first, or say so in a column “state”");
    assertThat(faults(checked("serial,imei\nAR10-0001,004401230000016\n")))
        .containsExactly("2: its identifiers stand in different rows of the roster");
  }

  private RosterEntry found(String identifier) {
    return roster.page(READER, new Roster.Filter("", identifier, "", 0), FIRST).items().get(0);
  }

  @Test
  void aRowThatSomebodyChangedSinceTheSheetWasCheckedIsNotOverwritten() {
    RosterEntry before = roster.add(OWNER, row("AR10-0001"));
    RosterImports.Import sheet = checked("serial,name\nAR10-0001,Quay\n");
    node.clock.pass(Duration.ofSeconds(1));
    roster.change(OWNER, before.id(), before.version(), row("AR10-0001"));
    assertThatThrownBy(() -> imports.takeOver(OWNER, sheet.id(), false))
        .hasMessageContaining("changed since the sheet was checked");
    assertThat(found("ar10-0001").name()).isEmpty();
  }

  @Test
  void aRowIsCorrectedAndTakenAwayByWhoeverHasSeenIt() {
    RosterEntry first = roster.add(OWNER, row("AR10-0001"));
    roster.add(OWNER, row("AR10-0002"));
    assertThatThrownBy(() -> roster.change(OWNER, first.id(), first.version(), row("AR10-0002")))
        .hasMessageContaining("AR10-0002 is on the roster already");
    RosterEntry corrected = roster.change(OWNER, first.id(), first.version(), row("AR10-0007"));
    assertThat(corrected.serial()).hasValue("AR10-0007");
    assertThatThrownBy(() -> roster.change(OWNER, first.id(), first.version(), row("AR10-0008")))
        .hasMessageContaining("after you opened it");
    roster.delete(OWNER, first.id(), roster.get(OWNER, first.id()).version());
    assertThatThrownBy(() -> roster.get(READER, first.id())).hasMessageContaining("no row");
  }

  @Test
  void whatIsBarredComesInByNoWayUntilTheBarIsLifted() {
    String code = node.kiosks(9);
    RosterEntry barred =
        roster.add(
            OWNER,
            new Roster.Draft("AR10-0001", null, null, null, null, null, null, null, null, true));
    assertThatThrownBy(() -> node.join(code, "AR10-0001"))
        .hasMessageContaining("AR10-0001 is barred on the organisation's roster");
    assertThatThrownBy(() -> roster.add(OWNER, row("AR10-0001")))
        .hasMessageContaining("lift the bar");
    assertThat(edit("{\"ids\":[\"" + barred.id() + "\"],\"becomes\":\"expected\"}")).isEqualTo(1);
    String device = node.join(code, "AR10-0001");
    assertThat(found("AR10-0001").state()).isEqualTo(RosterEntry.State.ARRIVED);
    assertThat(edit("{\"becomes\":\"withdrawn\"}")).as("one that has arrived").isEqualTo(1);
    assertThat(device(device).standing()).isNotEqualTo(Standing.RETIRED);
    assertThat(edit("{\"becomes\":\"expected\"}")).isEqualTo(1);
    assertThat(found("AR10-0001").state()).isEqualTo(RosterEntry.State.ARRIVED);
  }

  @Test
  void aSheetWhoseNodeStoppedIsCheckedByAnother() {
    RosterImports stopped = new RosterImports(UseCasesOn.database(node.database(), node.clock));
    stopped.close();
    RosterImports.Import sheet =
        stopped.bring(
            OWNER,
            new RosterImports.Draft(SheetText.of("serial\nAR10-0001\n"), Optional.empty(), "cart"));
    assertThat(sheet.state()).isEqualTo(SheetState.CHECKING);
    imports.checkOpen();
    assertThat(imports.get(READER, sheet.id()).state()).isEqualTo(SheetState.CHECKED);
    assertThat(imports.takeOver(OWNER, sheet.id(), false).added()).isEqualTo(1);
  }

  @ParameterizedTest
  @ValueSource(strings = {"UTF-8", "UTF-16LE", "UTF-16BE"})
  void aSheetMayBeginWithAByteOrderMark(String charset) {
    byte[] bytes = "\ufeffserial;name\nAR10-0001;Þórshöfn\n".getBytes(Charset.forName(charset));
    RosterImports.Import sheet =
        imports.bring(
            OWNER,
            new RosterImports.Draft(
                SheetText.of(new ByteArrayInputStream(bytes)), Optional.empty(), ""));
    assertThat(sheet.columns()).containsEntry("serial", "serial");
    Awaitility.await().until(() -> imports.get(READER, sheet.id()).state() == SheetState.CHECKED);
    assertThat(imports.rows(READER, sheet.id(), "", FIRST).items().get(0).name())
        .isEqualTo("Þórshöfn");
  }

  @Test
  void bytesThatAreNoTextAreRefusedAndLeaveNothing() {
    byte[] latin = "serial,name\nAR10-0001,Þórshöfn\n".getBytes(StandardCharsets.ISO_8859_1);
    assertThatThrownBy(
            () ->
                imports.bring(
                    OWNER,
                    new RosterImports.Draft(
                        SheetText.of(new ByteArrayInputStream(latin)), Optional.empty(), "")))
        .hasMessageContaining("not text in UTF-8");
    assertThat(
            node.<Long>sql(
                tx -> tx.value("select count(*) from roster_import", Long.class, Map.of())))
        .isZero();
  }
}
