package dev.pinwright.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import org.junit.jupiter.api.Test;

/** What the command line sends and prints for the ways in and the services outside. */
class WaysInCommandsTest extends ServedTest {
  private static final String GATEWAY =
      """
      {"platform":"tarn","name":"Tarn","makers":[],"services":"https://127.0.0.1:7491/tarn",
       "push":{"state":"lapsing","devices":148,"request":"REQUEST",
               "expiresAt":"2026-12-13T10:00:00Z","daysLeft":19},
       "registrar":{"state":"connected","registered":8,"assigned":5},"store":{"state":"missing"}}
      """;
  private static final String PROFILES =
      """
      {"items":[{"id":"p1","version":1,"name":"Kiosks","ownership":"corporate","mode":"supervised",
        "platforms":["tarn"],"kinds":["tablet"],"signIn":"none","minimumOs":{},"approval":false,
        "rosterOnly":false,"namePattern":"K {seq:3}","fillGaps":false,"groups":[],"tags":[],
        "firstRun":{"skipped":["tour"]},"readyGate":{"profiles":true,"osVersions":{"tarn":"7.2"}},
        "removable":false,"comesBack":true,"invitations":1,"identifiers":2,"devices":3,
        "createdAt":"2026-03-01T08:00:00Z"}]}
      """;

  private Path file(String name, String text) throws IOException {
    return Files.writeString(home.resolve(name), text);
  }

  @Test
  void gatewaysAreListedWithWhatLapses() {
    answers.put("GET /gateways", "[" + GATEWAY + "]");
    assertThat(signedIn("gateway", "list").out())
        .contains("tarn", "lapsing", "connected", "5 of 8", "missing");
  }

  @Test
  void aSigningRequestIsWrittenToAFileAndTheSignedOneRead() throws IOException {
    answers.put("POST /gateways/tarn/push/request", GATEWAY);
    answers.put("PUT /gateways/tarn/push/credential", GATEWAY);
    Path request = home.resolve("request.pem");
    assertThat(signedIn("gateway", "push-request", "tarn", request.toString()).out())
        .contains("vendor's portal");
    assertThat(request).hasContent("REQUEST");
    Path signed = file("signed.pem", "SIGNED");
    assertThat(signedIn("gateway", "push-credential", "tarn", signed.toString()).code()).isZero();
    assertThat(calls.get(calls.size() - 1)).contains("\"certificate\":\"SIGNED\"");
    Ran missing = signedIn("gateway", "push-credential", "tarn", "nowhere.pem");
    assertThat(missing.code()).isEqualTo(Failure.USAGE);
    assertThat(missing.err()).contains("no file nowhere.pem to read the credential from");
  }

  @Test
  void registeredDevicesAreAssignedAndTakenBack() {
    answers.put("POST /gateways/tarn/registrar/assignment", "{\"count\":2}");
    assertThat(signedIn("gateway", "assign", "tarn", "A-0001", "A-0002").out())
        .contains("2 assigned.");
    assertThat(signedIn("gateway", "assign", "tarn", "A-0001", "--take-back").out())
        .contains("2 taken back.");
    assertThat(calls.get(1)).contains("\"assign\":false");
  }

  @Test
  void theSetUpListSaysWhatIsMissingWithoutEachStep() {
    answers.put(
        "GET /set-up",
        """
        [{"key":"mail","title":"Outgoing mail","state":"missing","detail":"not connected",
          "blockedBy":[],"blocks":"invitations are not mailed","link":"/house/mail"}]
        """);
    assertThat(signedIn("house", "set-up").out())
        .contains("missing", "Outgoing mail", "invitations are not mailed");
  }

  @Test
  void mailIsShownAndSetUp() {
    answers.put(
        "GET /mail", "{\"state\":\"failing\",\"secretKept\":false,\"fault\":\"No answer.\"}");
    answers.put("PUT /mail", "{\"state\":\"connected\",\"secretKept\":false}");
    assertThat(signedIn("house", "mail").out()).contains("failing: No answer.");
    signedIn(
        "house", "mail", "--host", "127.0.0.1", "--port", "7494", "--from", "it@vellmar.example");
    assertThat(calls.get(1)).contains("\"host\":\"127.0.0.1\"", "\"port\":7494");
  }

  @Test
  void theDirectoryTellsWhatAReadingBrought() {
    answers.put(
        "POST /directory/reading",
        "{\"found\":90,\"added\":2,\"changed\":1,\"gone\":0,\"unknownUnits\":[\"VM-XYZ\"]}");
    answers.put("GET /directory/groups", "[\"office\"]");
    assertThat(signedIn("house", "read-directory").out())
        .contains("90 people found, 2 added, 1 changed", "Units not known here: VM-XYZ");
    assertThat(signedIn("house", "directory-groups").out()).contains("office");
  }

  @Test
  void manyAreInvitedOnlyOnceSomebodySaysSo() throws IOException {
    answers.put("GET /enrollment-profiles", PROFILES);
    answers.put(
        "POST /invitations/many",
        """
        {"saved":false,"invited":1,"leftOut":1,
         "rows":[{"line":2,"who":"Ines"},{"line":3,"who":"Teo","fault":"has no mail address"}]}
        """);
    Path sheet = file("people.csv", "name,mail\nInes,ines@vellmar.example\nTeo,\n");
    Ran r =
        signedIn(
            "invitation", "many", "Kiosks", "--sheet", sheet.toString(), "--mail", "--dry-run");
    assertThat(r.out()).contains("1 would be invited, 1 left out", "line 3, Teo: has no mail");
    assertThat(calls.get(calls.size() - 1)).contains("\"save\":false", "\"mail\":true");
  }

  @Test
  void anEnrollmentProfileTakesTheFirstRunAndTheGate() {
    answers.put("GET /enrollment-profiles", PROFILES);
    answers.put(
        "POST /enrollment-profiles",
        PROFILES.replace("{\"items\":[", "").replaceFirst("\\]\\}\\s*$", ""));
    signedIn(
        "enrollment-profile",
        "add",
        "Lighthouse kiosks",
        "--mode",
        "supervised",
        "--skip",
        "tour",
        "--language",
        "nb",
        "--ready-profiles",
        "--ready-os",
        "tarn=7.2.1",
        "--directory",
        "office",
        "--stays-away");
    assertThat(calls.get(calls.size() - 1))
        .contains("\"skipped\":[\"tour\"]", "\"tarn\":\"7.2.1\"", "\"signIn\":\"directory\"")
        .contains("\"directoryGroup\":\"office\"", "\"comesBack\":false");
    assertThat(signedIn("enrollment-profile", "show", "Kiosks").out())
        .contains("first-run screens left out", "tour", "ready gate", "profiles OS {tarn=7.2}");
  }

  @Test
  void aBenchSessionPrintsTheLinkOfItsCable() {
    answers.put("GET /enrollment-profiles", PROFILES);
    String session =
        """
        {"id":"s1","name":"Cart","profileId":"p1","profile":"Kiosks","namePattern":"K {seq:3}",
         "firstNumber":40,"assetPrefix":"VM-","wifiName":"","erase":true,"racks":1,"open":true,
         "link":"https://h/join/X#F","devices":2,"prepared":1,"troubled":0,"missing":["11"],
         "doubled":[],"createdAt":"2026-03-01T08:00:00Z","createdBy":"owner"}
        """;
    answers.put("POST /bench-sessions", session);
    answers.put("GET /bench-sessions/s1", session);
    answers.put(
        "GET /bench-sessions/s1/slots",
        "[{\"rack\":1,\"slot\":3,\"pluggedIn\":true,\"serial\":\"A-1\",\"state\":\"ready\","
            + "\"reason\":\"\",\"name\":\"K 040\",\"changedAt\":\"2026-03-01T08:00:00Z\"}]");
    assertThat(signedIn("bench", "open", "Cart", "Kiosks", "--first-number", "40", "--erase").out())
        .contains("Session s1 is open", "https://h/join/X#F");
    assertThat(calls.get(calls.size() - 1)).contains("\"firstNumber\":40", "\"erase\":true");
    assertThat(signedIn("bench", "show", "s1").out())
        .contains("Missing numbers: 11", "1.3", "ready", "K 040");
  }

  @Test
  void termsAreWrittenWithTheirTranslations() throws IOException {
    answers.put(
        "POST /terms",
        "{\"version\":2,\"language\":\"en\",\"title\":\"T\",\"text\":\"x\","
            + "\"translations\":[],\"accepted\":0,\"createdAt\":\"2026-03-01T08:00:00Z\"}");
    Path text = file("terms.txt", "Bring it back.");
    Path nb = file("nb.txt", "Bruk\nLever den.");
    signedIn("terms", "add", "Using it", text.toString(), "--translation", "nb=" + nb);
    assertThat(calls.get(0))
        .contains(
            "\"title\":\"Using it\"", "\"language\":\"nb\"", "\"title\":\"Bruk\"", "Lever den.");
  }

  @Test
  void aSheetOfPeopleIsCheckedFirst() throws IOException {
    answers.put(
        "POST /organisation/people.csv",
        "{\"saved\":false,\"rows\":2,\"added\":1,\"changed\":0,"
            + "\"faults\":[{\"line\":3,\"fault\":\"there is no unit 'VM-FAR'\"}]}");
    Path sheet = file("people.csv", "name,unit\nInes,VM\nBo,VM-FAR\n");
    Ran r = signedIn("person", "import", sheet.toString());
    assertThat(r.code()).isEqualTo(Failure.REFUSED);
    assertThat(r.out())
        .contains("2 rows: 1 would be added", "line 3: there is no unit 'VM-FAR'", "add --save");
  }

  @Test
  void attributesAreMadeAndSet() {
    answers.put(
        "POST /attributes",
        "{\"id\":\"a1\",\"name\":\"Room\",\"kind\":\"device\",\"type\":\"choice\","
            + "\"choices\":[\"Hall\"],\"used\":0}");
    assertThat(signedIn("attribute", "add", "Room", "--type", "choice", "--choice", "Hall").out())
        .contains("Attribute Room made.");
    assertThat(signedIn("attribute", "show", "site", "Quay").err())
        .contains("a device, a person or a unit");
  }
}
