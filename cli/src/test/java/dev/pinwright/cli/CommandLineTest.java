package dev.pinwright.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.io.PrintWriter;
import java.io.StringWriter;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import picocli.CommandLine.Help.Ansi;

/** What people and scripts see of the command line, against a service that answers as told. */
class CommandLineTest extends ServedTest {
  @Test
  void withoutASignInItSaysHowToSignIn() {
    Ran r = run(Map.of(), "fleet");
    assertThat(r.code()).isEqualTo(Failure.NOT_SIGNED_IN);
    assertThat(r.err()).contains("pinwright signin --login owner");
    assertThat(calls).isEmpty();
  }

  @Test
  void aSignInThatHasEndedSaysHowToSignInAgain() {
    status = 401;
    answers.put(
        "GET /fleet",
        "{\"type\":\"x/not-signed-in\",\"title\":\"t\",\"status\":401,"
            + "\"detail\":\"Sign in to go on.\"}");
    Ran r = signedIn("fleet");
    assertThat(r.code()).isEqualTo(Failure.NOT_SIGNED_IN);
    assertThat(r.err()).contains("Sign in to go on. Sign in with: pinwright signin");
  }

  @Test
  void aSignInIsKeptForItsOwnerAlone() throws IOException {
    Path file = home.resolve("deep/signin.json");
    new Context(Map.of("PINWRIGHT_SIGNIN", file.toString()), new PrintWriter(new StringWriter()))
        .keep("http://console.vellmar.example", "secret");
    assertThat(PosixFilePermissions.toString(Files.getPosixFilePermissions(file)))
        .isEqualTo("rw-------");
    Context again =
        new Context(
            Map.of("PINWRIGHT_SIGNIN", file.toString()), new PrintWriter(new StringWriter()));
    assertThat(again.address()).isEqualTo("http://console.vellmar.example");
    again.forget();
    assertThat(file).doesNotExist();
  }

  @Test
  void aListIsATableForPeopleAndJsonForPrograms() {
    answers.put(
        "GET /groups",
        "{\"items\":[{\"id\":\"g1\",\"version\":0,\"name\":\"Glasshouse\",\"devices\":22,"
            + "\"inside\":[],\"picked\":22}]}");
    assertThat(signedIn("group", "list").out()).contains("NAME", "Glasshouse  22");
    assertThat(signedIn("--json", "group", "list").out()).contains("\"name\"", "\"Glasshouse\"");
    assertThat(signedIn("group", "list", "--json").out()).contains("\"Glasshouse\"");
  }

  @Test
  void aProblemIsPrintedInItsOwnWords() {
    status = 409;
    answers.put(
        "POST /groups",
        "{\"type\":\"x/name-taken\",\"title\":\"t\",\"status\":409,"
            + "\"detail\":\"There is a group called Quay already.\"}");
    Ran r = signedIn("group", "add", "Quay");
    assertThat(r.code()).isEqualTo(Failure.REFUSED);
    assertThat(r.err()).contains("There is a group called Quay already.");
    assertThat(r.out()).isEmpty();
  }

  @Test
  void aNameThatIsNotThereIsAnsweredWithThoseThatAre() {
    answers.put("GET /search", "[]");
    answers.put(
        "GET /search?q=Gla&kind=group&whole=false",
        "[{\"kind\":\"group\",\"id\":\"g1\",\"name\":\"Glasshouse\",\"detail\":\"\"}]");
    Ran r = signedIn("group", "delete", "Glashouse");
    assertThat(r.err()).contains("There is no group 'Glashouse'. There is: Glasshouse.");
    assertThat(calls).noneMatch(c -> c.startsWith("DELETE"));
  }

  @Test
  void twoOfOneNameAreToldApart() {
    answers.put(
        "GET /search",
        """
        [{"kind":"person","id":"x1","name":"Ines Orrin","detail":"ines@vellmar.example"},
         {"kind":"person","id":"x2","name":"Ines Orrin","detail":"orrin@vellmar.example"}]
        """);
    Ran r = signedIn("person", "remove", "Ines Orrin");
    assertThat(r.err())
        .contains("There is more than one person Ines Orrin; use the id: x1 (ines@")
        .contains("x2 (orrin@");
    assertThat(calls).noneMatch(c -> c.startsWith("DELETE"));
  }

  @Test
  void aFileThatCannotBeReadIsSaidAndNothingIsTraced() throws IOException {
    Path latin = Files.write(home.resolve("latin.csv"), new byte[] {'a', (byte) 0xe9, '\n'});
    Map<String, String> said =
        Map.of(
            home.resolve("none.csv").toString(), "There is no file",
            home.toString(), "is a folder",
            latin.toString(), "is not text in UTF-8");
    said.forEach(
        (file, words) -> {
          for (String[] command :
              List.of(
                  new String[] {"roster", "import", file},
                  new String[] {"person", "import", file})) {
            Ran r = signedIn(command);
            assertThat(r.code()).isEqualTo(Failure.USAGE);
            assertThat(r.err()).contains(words).doesNotContain("\tat ");
          }
        });
    Ran r = signedIn("roster", "export", home.resolve("no/folder.csv").toString());
    assertThat(r.err()).contains("There is no folder for").doesNotContain("\tat ");
  }

  @Test
  void anOrderGoesToEverythingThatMatches() {
    answers.put(
        "POST /dispatches/rehearsal",
        "{\"devices\":11,\"able\":10,\"unable\":"
            + "[{\"reason\":\"it is a laptop\",\"devices\":1}]}");
    Ran r =
        signedIn(
            "restart",
            "--where",
            "standing=drifted",
            "--where",
            "platform=tarn",
            "--reason",
            "x",
            "--dry-run");
    assertThat(r.out()).contains("11 devices; 10 can carry it out", "1 cannot: it is a laptop");
    assertThat(calls.get(0)).contains("\"standing\":\"drifted\"", "\"platform\":\"tarn\"");
    assertThat(signedIn("restart", "--where", "colour=red", "--dry-run").err())
        .contains("no field 'colour'", "standing");
  }

  @Test
  void anOrderGoesToThoseOfAFile() throws Exception {
    answers.put(
        "POST /dispatches/rehearsal",
        "{\"devices\":2,\"able\":2,\"unable\":[],\"losses\":[],\"demands\":[]}");
    answers.put(
        "POST /devices/named",
        """
        {"found":[{"id":"d1","name":"Kiosk 1","identifier":"AR10-0001"},
                  {"id":"d2","name":"Kiosk 2","identifier":"AR10-0002"}],
          "unknown":[],"doubled":["AR10-0001"],"several":[]}
        """);
    Path list = home.resolve("list.csv");
    Files.writeString(list, "serial\r\nAR10-0001\r\nar10-0001; AR10-0002\r\n\r\n");
    Ran r = signedIn("ring", "--list", list.toString(), "--serial", "AR10-0003", "--dry-run");
    assertThat(r.code()).as(r.err()).isZero();
    assertThat(calls.get(calls.size() - 1))
        .contains("\"serials\":[\"AR10-0001\",\"AR10-0002\",\"AR10-0003\"]");
    assertThat(calls)
        .anyMatch(c -> c.contains("[\"serial\",\"AR10-0001\",\"ar10-0001; AR10-0002\",\"\"]"));
    answers.put(
        "POST /devices/named",
        "{\"found\":[],\"unknown\":[\"AR10-9\",\"AR10-8\"],\"doubled\":[],\"several\":[\"7\"]}");
    Ran wrong = signedIn("ring", "--list", list.toString(), "--dry-run");
    assertThat(wrong.code()).isEqualTo(1);
    assertThat(wrong.err())
        .contains("No managed device has: AR10-9, AR10-8. More than one device has: 7.");
    assertThat(signedIn("ring", "--list", home.resolve("none").toString()).err())
        .contains("There is no file");
  }

  @Test
  void whatCannotDoItIsNotSaidToHaveBeenSent() {
    String dispatch =
        """
        {"id":"x1","command":"locate","title":"Locate","reason":"x","actor":"owner","total":3,
         "orderedAt":"2026-11-30T07:24:23Z","expiresAt":"2026-11-30T08:24:23Z","ended":false,
         "states":{%s}}
        """;
    answers.put("POST /dispatches", dispatch.formatted("\"queued\":2,\"failed\":1"));
    Ran some = signedIn("locate", "--where", "platform=tarn", "--reason", "x");
    assertThat(some.out())
        .contains("1 device cannot, and the reasons are in: pinwright dispatch show x1")
        .contains("Locate sent to 2 devices.");
    assertThat(some.code()).isZero();
    answers.put("POST /dispatches", dispatch.formatted("\"failed\":3"));
    Ran none = signedIn("locate", "--where", "platform=tarn", "--reason", "x");
    assertThat(none.out()).contains("3 devices cannot").doesNotContain("sent to");
    assertThat(none.code()).isEqualTo(Failure.SOME_FAILED);
  }

  @ParameterizedTest
  @ValueSource(
      strings = {
        "account",
        "arrival",
        "change",
        "device",
        "dispatch",
        "enrollment-profile",
        "fleet",
        "group",
        "invitation",
        "journal",
        "profile",
        "setting",
        "signin",
        "signout",
        "terms",
        "lock",
        "message",
        "refresh"
      })
  void everyCommandHelpsWithoutAService(String command) {
    service.stop(0);
    Ran r = run(Map.of(), command, "--help");
    assertThat(r.code()).isZero();
    assertThat(r.out()).contains("Usage: pinwright " + command);
  }

  @Test
  void wordsItDoesNotKnowAreAnsweredWithTheUsage() {
    assertThat(signedIn("device", "paint").code()).isEqualTo(2);
    Ran r = signedIn("device", "list", "--colour", "red");
    assertThat(r.code()).isEqualTo(2);
    assertThat(r.err()).contains("--colour");
  }

  @Test
  void aTablesColumnsAreAsWideAsTheyNeedToBe() {
    StringWriter out = new StringWriter();
    new Table("NAME", "N")
        .row("Glasshouse kiosks", 22)
        .row("Quay", null)
        .print(new PrintWriter(out, true), Ansi.OFF);
    assertThat(out.toString().lines().toList())
        .containsExactly("NAME               N", "Glasshouse kiosks  22", "Quay               ");
  }

  @Test
  void accountsAreChangedByTheirLogin() {
    answers.put(
        "GET /accounts",
        "[{\"id\":\"1\",\"login\":\"tova\",\"name\":\"Tova\",\"role\":\"helpdesk\","
            + "\"disabled\":false,\"createdAt\":\"2026-03-01T08:00:00Z\",\"version\":4}]");
    answers.put(
        "PATCH /accounts/1",
        "{\"id\":\"1\",\"login\":\"tova\",\"name\":\"Tova\",\"role\":\"operator\","
            + "\"disabled\":false,\"createdAt\":\"2026-03-01T08:00:00Z\",\"version\":5}");
    assertThat(signedIn("account", "change", "tova", "--role", "operator").out())
        .contains("tova, operator, is changed.");
    assertThat(calls).contains("PATCH /accounts/1 {\"role\":\"operator\"}");
    assertThat(signedIn("account", "disable", "Tova").code()).isZero();
    assertThat(calls).contains("PATCH /accounts/1 {\"disabled\":true}");
    assertThat(signedIn("account", "delete", "nobody").err())
        .contains("There is no account nobody");
    assertThat(signedIn("account", "change", "tova", "--role", "king").err())
        .contains("'king' is not one of owner, operator, helpdesk, reader");
  }
}
