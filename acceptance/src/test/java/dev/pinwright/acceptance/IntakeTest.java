package dev.pinwright.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import dev.pinwright.sandbox.device.Agent;
import dev.pinwright.sandbox.device.Fleet;
import dev.pinwright.sandbox.device.Screen;
import java.nio.file.Files;
import java.nio.file.Path;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;

/** A cart of tablets by command line: from the sheet the reseller sent to numbered kiosks. */
class IntakeTest {
  private static Rig rig;
  private static Shell shell;

  @BeforeAll
  static void start() {
    rig = new Rig();
    shell = new Shell(rig);
    shell.type(Rig.PASSWORD + "\n", "signin", "--login", "owner", "--password-stdin");
  }

  @AfterAll
  static void stop() {
    rig.close();
  }

  private static Agent tablet(String serial) {
    return rig.fleet.make(new Fleet.Wish("T10", "7.2.1", serial, true, 100L));
  }

  private static Screen join(Agent agent, String link) {
    agent.take(link).join();
    agent.accept(null).join();
    return agent.screen();
  }

  private static JsonNode device(String name) {
    return Rig.eventually(
        () -> shell.json("device", "show", name),
        d -> d.at("/device/standing").asText().equals("settled"));
  }

  @Test
  void fromTheSheetToNumberedKiosksInTheirPlace() throws Exception {
    shell.ok("unit", "add", "VM", "Trust office");
    shell.ok("unit", "add", "VM-HAR", "Harbour Museum", "--in", "VM");
    shell.ok("site", "add", "Norhaven quay", "--latitude", "47.2335", "--longitude", "-20.357");
    shell.ok("person", "add", "Ines Orrin", "--login", "ines", "--unit", "VM-HAR");
    assertThat(shell.ok("unit", "list")).contains("VM-HAR", "Harbour Museum");

    Path sheet =
        Files.writeString(
            rig.home.resolve("cart.csv"),
            """
            Serial,Inventory no,Unit,Holder,Tags
            ar10-5001-0001,VM-00501,vm-har,,kiosk
            AR10-5001-0002,VM-00502,VM-HAR,,kiosk
            AR10-5001-0003,VM-00503,VM-HAR,ines,
            AR10-5001-0003,VM-00504,VM-HAR,,
            AR10-5001-0005,VM-00505,VM-FAR,,
            """);
    Shell.Ran report =
        shell.run("roster", "import", sheet.toString(), "--column", "Inventory no=asset");
    assertThat(report.code()).as("faulty rows").isEqualTo(1);
    assertThat(report.out())
        .contains(
            "5 rows: 3 new, 0 changed, 0 as they are; 2 faulty. Nothing is saved yet",
            "line 5: serial number AR10-5001-0003 is also in line 4",
            "line 6: there is no unit 'VM-FAR'");
    assertThat(shell.json("roster", "list").path("items")).isEmpty();
    shell.ok("roster", "import", sheet.toString(), "--save", "--leave-out-faulty");
    assertThat(shell.ok("roster", "list", "5001")).contains("AR10-5001-0002, VM-00502", "expected");

    assertThat(shell.ok("enrollment-profile", "names", "{unit} kiosk {seq:3}"))
        .contains("VM-HAR kiosk 001", "VM-HAR kiosk 002");
    shell.ok(
        "enrollment-profile",
        "add",
        "Gallery kiosks",
        "--mode",
        "supervised",
        "--roster-only",
        "--site",
        "Norhaven quay",
        "--name-pattern",
        "{unit} kiosk {seq:3}");
    String link =
        shell.json("invitation", "add", "Gallery kiosks", "--uses", "9").path("link").asText();

    assertThat(join(tablet("AR10-5001-0001"), link).managed()).isTrue();
    assertThat(join(tablet("AR10-5001-0002"), link).managed()).isTrue();
    Agent third = tablet("AR10-5001-0003");
    join(third, link);
    JsonNode kiosk = device("VM-HAR kiosk 003");
    assertThat(kiosk.at("/device/unit").asText()).isEqualTo("VM-HAR");
    assertThat(kiosk.at("/device/site").asText()).isEqualTo("Norhaven quay");
    assertThat(kiosk.at("/device/person").asText()).isEqualTo("Ines Orrin");
    assertThat(kiosk.path("asset").asText()).isEqualTo("VM-00503");
    assertThat(shell.ok("device", "list", "--unit", "VM")).contains("VM-HAR kiosk 001");

    Agent stranger = tablet("AR10-5001-0099");
    Screen refused = join(stranger, link);
    assertThat(refused.problem()).isEqualTo("not-on-roster");
    assertThat(refused.reason()).contains("AR10-5001-0099 is not on the organisation's roster");
    assertThat(shell.ok("arrival", "list", "--outcome", "refused"))
        .contains("Put its identifier on the roster, then let it try again");
    assertThat(shell.ok("arrival", "funnel", "--today")).contains("not-on-roster");
    shell.ok("roster", "add", "--serial", "AR10-5001-0099", "--unit", "VM");
    assertThat(join(stranger, link).managed()).as("after it was put on the roster").isTrue();
    assertThat(device("VM kiosk 001").at("/device/unit").asText()).isEqualTo("VM");

    shell.ok("device", "retire", "VM-HAR kiosk 002", "--reason", "fell off its stand");
    assertThat(shell.ok("roster", "numbers")).containsPattern("VM-HAR kiosk #\\s+3\\s+2\\s+2");
    third.reset();
    assertThat(join(third, link).screen())
        .as("whoever knows its number waits")
        .isEqualTo("waiting");
    assertThat(shell.ok("arrival", "list", "--outcome", "waiting")).contains("did not prove");
    shell.ok("arrival", "approve-all");
    Rig.eventually(third::screen, Screen::managed);
    assertThat(device("VM-HAR kiosk 003").at("/device/person").asText())
        .as("it has its old record back")
        .isEqualTo("Ines Orrin");
    Path out = rig.home.resolve("roster.csv");
    shell.ok("roster", "export", out.toString());
    String rows = Files.readString(out);
    assertThat(rows).contains("AR10-5001-0003", "VM-00503", "arrived");
    assertThat(shell.ok("roster", "import", out.toString()))
        .contains("4 rows: 0 new, 0 changed, 4 as they are; 0 faulty");
    Files.writeString(out, rows.replace("VM-00502", "VM-00999"));
    assertThat(shell.ok("roster", "import", out.toString(), "--save"))
        .contains("0 new, 1 changed, 3 as they are");
    shell.ok("roster", "change", "VM-00999", "--unit", "VM");
    shell.ok("roster", "bar", "AR10-5001-0444");
    Agent unwanted = tablet("AR10-5001-0444");
    assertThat(join(unwanted, link).reason()).contains("is barred");
    assertThat(shell.ok("person", "leave", "ines")).contains("VM-HAR kiosk 003, T10: ?");
    assertThat(shell.ok("person", "leave", "ines", "--others", "kept", "--take-out", "--do"))
        .contains("Ines Orrin left: 0 handed over, 1 kept, 0 retired");
    assertThat(device("VM-HAR kiosk 003").at("/device/person").isMissingNode()).isTrue();
    assertThat(shell.run("person", "remove", "ines").err()).contains("There is no person 'ines'");
    shell.ok("roster", "delete", "AR10-5001-0444");
    assertThat(join(unwanted, link).reason()).contains("is not on");
  }

  @Test
  void waitingArrivalsAreLetInTogether() {
    shell.ok("enrollment-profile", "add", "Watched", "--mode", "supervised", "--approval");
    String link = shell.json("invitation", "add", "Watched", "--uses", "9").path("link").asText();
    Agent one = tablet("AR10-6001-0001");
    Agent two = tablet("AR10-6001-0002");
    join(one, link);
    join(two, link);
    assertThat(one.screen().screen()).isEqualTo("waiting");
    assertThat(shell.ok("arrival", "approve-all")).contains("2 let in");
    Rig.eventually(one::screen, Screen::managed);
    Rig.eventually(two::screen, Screen::managed);
    assertThat(shell.ok("arrival", "approve-all")).contains("Nobody waits");
  }

  @Test
  void theBaselineIsExplainedThenWrittenAndRehearsed() {
    assertThat(shell.ok("profile", "baseline")).contains("Least length", "fewest characters");
    assertThat(shell.ok("profile", "baseline", "--write")).contains("drafted for everyone");
    assertThat(shell.ok("profile", "rehearse", "Baseline")).contains("devices change");
    assertThat(shell.run("profile", "baseline", "--write").err()).contains("already");
  }
}
