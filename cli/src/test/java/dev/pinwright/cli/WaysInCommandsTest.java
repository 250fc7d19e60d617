package dev.pinwright.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** What the command line sends and prints for the ways in and the services outside. */
class WaysInCommandsTest extends ServedTest {
  private static final String GATEWAY =
      """
      {"platform":"tarn","name":"Tarn","makers":[],"services":"https://127.0.0.1:7491/tarn",
       "push":{"state":"lapsing","devices":148,"request":"REQUEST",
               "expiresAt":"2026-12-13T10:00:00Z","daysLeft":19},
       "registrar":{"state":"connected","registered":8,"assigned":5},"store":{"state":"missing"},
       "version":4}
      """;
  private static final String PROFILE =
      """
      {"id":"p1","version":1,"name":"Kiosks","ownership":"corporate","mode":"supervised",
        "platforms":["tarn"],"kinds":["tablet"],"signIn":"none","minimumOs":{},"approval":false,
        "rosterOnly":false,"namePattern":"K {seq:3}","fillGaps":false,"groups":[],"tags":[],
        "firstRun":{"skipped":["tour"]},"readyGate":{"profiles":true,"osVersions":{"tarn":"7.2"}},
        "removable":false,"comesBack":true,"invitations":1,"identifiers":2,"devices":3,
        "createdAt":"2026-03-01T08:00:00Z"}
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
    answers.put("GET /gateways/tarn", GATEWAY);
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
        "GET /mail",
        "{\"state\":\"failing\",\"secretKept\":false,\"version\":0,\"fault\":\"No answer.\"}");
    String settings =
        "{\"host\":\"127.0.0.1\",\"port\":7494,\"security\":\"none\",\"login\":\"\","
            + "\"from\":\"it@vellmar.example\",\"noticesTo\":\"\",\"contact\":\"Jory\"}";
    String connected =
        "{\"state\":\"connected\",\"secretKept\":false,\"version\":3,\"settings\":"
            + settings
            + "}";
    answers.put("PUT /mail", connected);
    assertThat(signedIn("house", "mail").out()).contains("failing: No answer.");
    signedIn(
        "house", "mail", "--host", "127.0.0.1", "--port", "7494", "--from", "it@vellmar.example");
    assertThat(calls.get(2)).contains("\"host\":\"127.0.0.1\"", "\"port\":7494");
    answers.put("GET /mail", connected);
    signedIn("house", "mail", "--notices-to", "it@vellmar.example");
    assertThat(calls.get(calls.size() - 1))
        .as("what is not said stays")
        .contains("\"contact\":\"Jory\"", "\"host\":\"127.0.0.1\"")
        .contains("\"noticesTo\":\"it@vellmar.example\"");
  }

  @Test
  void anInvitationIsExtended() {
    answers.put(
        "POST /invitations/i1/extension",
        """
        {"id":"i1","profileId":"p1","profile":"Kiosks","codeEnds":"0H9H","note":"","state":"open",
         "uses":0,"usesAllowed":1,"expiresAt":"2026-03-15T08:00:00Z",
         "createdAt":"2026-03-01T08:00:00Z","createdBy":"owner","mailState":"none",
         "mailedTimes":0}
        """);
    assertThat(signedIn("invitation", "extend", "i1", "--days", "14").out())
        .contains("…0H9H can be used until 2026-03-15");
    assertThat(calls.get(0)).endsWith("{\"expiresInMinutes\":20160}");
  }

  @Test
  void whoOwesTheTermsIsListedAndWhoAcceptedThemWritten() throws IOException {
    answers.put("GET /devices", "{\"items\":[]}");
    signedIn("terms", "missing", "2");
    assertThat(queries.get(0)).contains("termsBelow=2");
    type = "text/csv";
    answers.put("GET /terms/2/acceptances.csv", "device,person\r\n");
    Path sheet = home.resolve("accepted.csv");
    assertThat(signedIn("terms", "export", "2", sheet.toString()).code()).isZero();
    assertThat(sheet).hasContent("device,person\r\n");
    answers.put("GET /arrivals.csv", "began\r\n");
    signedIn("arrival", "export", sheet.toString(), "--outcome", "waiting");
    assertThat(queries.get(queries.size() - 1)).contains("outcome=waiting");
    assertThat(sheet).hasContent("began\r\n");
  }

  @Test
  void anEarlierVersionOfAnEnrollmentProfileIsWrittenAgain() {
    known("enrollment-profile", "/enrollment-profiles/p1", "Kiosks", PROFILE);
    answers.put(
        "GET /enrollment-profiles/p1/versions",
        "{\"items\":[{\"number\":1,\"writtenAt\":\"2026-03-01T08:00:00Z\",\"writtenBy\":\"owner\","
            + "\"content\":"
            + PROFILE.replace("\"K {seq:3}\"", "\"Cart {seq:2}\"")
            + "}]}");
    answers.put("PUT /enrollment-profiles/p1", PROFILE);
    assertThat(signedIn("enrollment-profile", "restore", "Kiosks", "1").out())
        .contains("says again what version 1 said");
    assertThat(calls.get(calls.size() - 1)).contains("\"namePattern\":\"Cart {seq:2}\"");
    assertThat(signedIn("enrollment-profile", "restore", "Kiosks", "9").err())
        .contains("has no version 9");
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
    known("enrollment-profile", "/enrollment-profiles/p1", "Kiosks", PROFILE);
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
    known("enrollment-profile", "/enrollment-profiles/p1", "Kiosks", PROFILE);
    answers.put("POST /enrollment-profiles", PROFILE);
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
    known("enrollment-profile", "/enrollment-profiles/p1", "Kiosks", PROFILE);
    String session =
        """
        {"id":"s1","name":"Cart","profileId":"p1","profile":"Kiosks","namePattern":"K {seq:3}",
         "firstNumber":40,"assetPrefix":"VM-","wifiName":"","erase":true,"racks":1,"open":true,"fault":"",
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
        .contains("'site' is not one of device, person, unit");
  }

  @Test
  void anEnrollmentProfileIsChangedOnlyWhereItIsSaid() {
    known("enrollment-profile", "/enrollment-profiles/p1", "Kiosks", PROFILE);
    answers.put("PUT /enrollment-profiles/p1", PROFILE);
    Ran r =
        signedIn(
            "enrollment-profile",
            "change",
            "Kiosks",
            "--min-os",
            "tarn=7.2",
            "--approval",
            "--removable",
            "--stays-away",
            "--language",
            "en",
            "--passphrase",
            "quay side gate");
    assertThat(r.code()).as(r.err()).isZero();
    String sent = calls.get(calls.size() - 1);
    assertThat(sent)
        .contains("\"name\":\"Kiosks\"", "\"namePattern\":\"K {seq:3}\"", "\"rosterOnly\":false")
        .contains("\"minimumOs\":{\"tarn\":\"7.2\"}", "\"approval\":true", "\"comesBack\":false")
        .contains("\"skipped\":[\"tour\"]", "\"language\":\"en\"", "\"removable\":true")
        .contains("\"signIn\":\"passphrase\"", "\"passphrase\":\"quay side gate\"")
        .contains("\"osVersions\":{\"tarn\":\"7.2\"}", "\"profiles\":true");
    signedIn("enrollment-profile", "change", "Kiosks", "--no-ready-profiles", "--directory=office");
    assertThat(calls.get(calls.size() - 1))
        .contains("\"profiles\":false", "\"signIn\":\"directory\"", "\"directoryGroup\":\"office\"")
        .contains("\"approval\":false");
    signedIn("enrollment-profile", "change", "Kiosks", "--no-sign-in", "--name", "Quay kiosks");
    assertThat(calls.get(calls.size() - 1))
        .contains("\"signIn\":\"none\"", "\"name\":\"Quay kiosks\"");
  }

  @Test
  void sitesAndPeopleAreChangedOnlyWhereItIsSaid() {
    known(
        "site",
        "/sites/s1",
        "ulby",
        """
        {"id":"s1","version":2,"name":"Ulby","address":"Mill Lane","latitude":47.2,
          "longitude":-20.4,"devices":3}
        """);
    answers.put(
        "PUT /sites/s1",
        "{\"id\":\"s1\",\"version\":3,\"name\":\"Ulby\",\"address\":\"Mill Lane 2\",\"devices\":3}");
    assertThat(signedIn("site", "change", "ulby", "--address", "Mill Lane 2").out())
        .contains("Site Ulby changed.");
    assertThat(calls.get(calls.size() - 1))
        .contains("\"name\":\"Ulby\"", "\"address\":\"Mill Lane 2\"", "\"latitude\":47.2")
        .as("its outline stays, and when large packages come in")
        .doesNotContain("outline", "largePackages");
    signedIn(
        "site",
        "change",
        "ulby",
        "--corner=-20.4,47.1",
        "--corner=-20.3,47.1",
        "--corner=-20.3, 47.2");
    assertThat(calls.get(calls.size() - 1))
        .contains("\"outline\":[[-20.4,47.1],[-20.3,47.1],[-20.3,47.2]]");
    signedIn("site", "change", "ulby", "--no-outline");
    assertThat(calls.get(calls.size() - 1)).contains("\"outline\":[]");
    signedIn(
        "site", "change", "ulby", "--large-above", "50", "--large-hours", "Mon-Sun 22:00-06:00");
    assertThat(calls.get(calls.size() - 1))
        .contains("\"largePackages\":{\"aboveMegabytes\":50,\"hours\":\"Mon-Sun 22:00-06:00\"}");
    signedIn("site", "change", "ulby", "--no-large-hours");
    assertThat(calls.get(calls.size() - 1)).contains("\"largePackages\":{}");
    assertThat(signedIn("site", "change", "ulby", "--corner", "north").err())
        .contains("A corner is a longitude and a latitude");
    known(
        "person",
        "/people/x1",
        "ines",
        """
        {"id":"x1","version":4,"name":"Ines Orrin","login":"ines","unitId":"u1",
          "unit":"VM-HAR","siteId":"s1","site":"Ulby","devices":1}
        """);
    answers.put(
        "PUT /people/x1", "{\"id\":\"x1\",\"version\":5,\"name\":\"Ines Orrin\",\"devices\":1}");
    assertThat(
            signedIn("person", "change", "ines", "--mail", "i@vellmar.example", "--unit", "").out())
        .contains("Ines Orrin changed.");
    assertThat(calls.get(calls.size() - 1))
        .contains("\"login\":\"ines\"", "\"mail\":\"i@vellmar.example\"", "\"siteId\":\"s1\"")
        .doesNotContain("unitId");
  }

  @Test
  void tagsAreListedRenamedAndTakenAway() {
    answers.put("GET /tags", "{\"audio\":12,\"gallery\":84}");
    assertThat(signedIn("tag", "list").out()).contains("TAG", "gallery  84");
    assertThat(signedIn("tag", "rename", "gallery", "on show").out())
        .contains("Tag gallery is now on show.");
    assertThat(signedIn("tag", "remove", "audio").out()).contains("Tag audio taken away.");
    assertThat(calls)
        .containsExactly(
            "GET /tags", "PATCH /tags/gallery {\"name\":\"on show\"}", "DELETE /tags/audio");
  }

  @Test
  void aSheetOfDevicesSaysWhatItChangesBeforeItDoes() throws IOException {
    String report =
        """
        {"saved":false,"rows":30,"added":0,"changed":30,"faults":[],
         "rehearsal":{"devices":30,"changing":30,"gain":28,"change":2,"lose":0,"effects":[],
                      "conflicts":[],"unsupported":[],"shortages":[],"confirmDevices":30}}
        """;
    answers.put("POST /organisation/devices.csv", report);
    Path sheet = file("devices.csv", "identifier,tags\nAR10-0001,quay\n");
    assertThat(signedIn("device", "import", sheet.toString()).out())
        .contains("Other settings would go to 30 devices: 28 gain, 2 change, 0 lose.")
        .contains("add --save --confirm 30");
    answers.put(
        "POST /organisation/devices.csv", report.replace("\"saved\":false", "\"saved\":true"));
    assertThat(signedIn("device", "import", sheet.toString(), "--save", "--confirm", "30").out())
        .contains("30 changed.", "Other settings go to 30 devices")
        .doesNotContain("Nothing is saved");
    assertThat(calls.get(1)).endsWith("identifier,tags\nAR10-0001,quay\n");
    assertThat(queries.get(1)).isEqualTo("save=true&confirmDevices=30");
  }

  @Test
  void listsAndOrdersTakeConditionsOnAttributes() {
    answers.put("GET /devices", "{\"items\":[]}");
    answers.put("GET /people", "{\"items\":[]}");
    signedIn("device", "list", "--attribute", "Room=Tower", "--attribute", "Weight>2");
    signedIn("person", "list", "--attribute", "Keys=yes");
    assertThat(queries.get(0)).contains("attribute=Room%3DTower", "attribute=Weight%3E2");
    assertThat(queries.get(1)).contains("attribute=Keys%3Dyes");
    answers.put("POST /dispatches/rehearsal", "{\"devices\":1,\"able\":1,\"unable\":[]}");
    signedIn("ring", "--where", "attribute=Room=Tower", "--dry-run");
    assertThat(calls.get(calls.size() - 1)).contains("\"attributes\":[\"Room=Tower\"]");
  }

  @Test
  void whatAHolderGoesThroughIsListedScreenByScreen() {
    known("enrollment-profile", "/enrollment-profiles/p1", "Kiosks", PROFILE);
    answers.put(
        "POST /enrollment-profiles/holder-preview",
        """
        [{"kind":"code","title":"Hello.","text":"Scan the code.","lines":[]},
         {"kind":"gate","title":"Getting ready","text":"","lines":["Its settings are on it"]}]
        """);
    assertThat(signedIn("enrollment-profile", "preview", "Kiosks").out())
        .contains("STEP", "Scan the code.", "Its settings are on it");
    assertThat(queries.get(2)).isEqualTo("platform=tarn");
  }

  @Test
  void whatIsSeenIsToldAsHoldersAreTold() {
    answers.put(
        "GET /privacy",
        """
        {"ownership":"personal","mode":"work-profile","visible":["Model"],"never":["calls"],
         "may":["Lock"],"mayNot":["Locate"]}
        """);
    assertThat(signedIn("terms", "privacy").out())
        .contains("personal, work-profile", "it never sees", "calls", "it cannot", "Locate");
  }

  @Test
  void everyDeviceOfABenchSessionIsListedAndTheJsonIsWhole() {
    String device =
        "{\"serial\":\"AR8-1\",\"state\":\"ready\",\"name\":\"Cart 101\",\"asset\":\"VM-0101\","
            + "\"reason\":\"\",\"rack\":1,\"slot\":2}";
    answers.put("GET /bench-sessions/s1/devices", "{\"items\":[" + device + "]}");
    answers.put("GET /bench-sessions/s1/slots", "[" + device + "]");
    answers.put("GET /bench-sessions/s1", "{\"id\":\"s1\",\"fault\":\"\",\"missing\":[\"103\"]}");
    assertThat(signedIn("bench", "devices", "s1").out()).contains("1.2", "Cart 101", "VM-0101");
    assertThat(signedIn("bench", "show", "s1").out()).contains("Missing numbers: 103", "Cart 101");
    assertThat(signedIn("bench", "show", "s1", "--json").out())
        .contains("\"Cart 101\"")
        .doesNotContain("Missing numbers");
  }

  @Test
  void commandsOverAllDevicesAreListedAndWritten() {
    answers.put(
        "GET /commands",
        """
        {"items":[{"id":"x1-1","dispatchId":"x1","deviceId":"d1","device":"Kiosk 003",
          "command":"lock","title":"Lock","state":"failed","reason":"not now","by":"tova",
          "queuedAt":"2026-03-02T09:00:00Z","expiresAt":"2026-03-09T09:00:00Z"}]}
        """);
    assertThat(
            signedIn(
                    "dispatch",
                    "commands",
                    "--state",
                    "failed",
                    "--command",
                    "lock",
                    "--by",
                    "tova",
                    "--search",
                    "kiosk",
                    "--since",
                    "2026-03-01")
                .out())
        .contains("Kiosk 003", "Lock", "failed", "not now", "tova");
    assertThat(queries.get(queries.size() - 1))
        .contains("state=failed", "command=lock", "by=tova", "q=kiosk", "since=2026-0");
    type = "text/csv";
    answers.put("GET /commands.csv", "ordered,device\r\n");
    Path sheet = home.resolve("commands.csv");
    assertThat(signedIn("dispatch", "export", sheet.toString(), "--state", "failed").out())
        .contains("Written to");
    assertThat(sheet).hasContent("ordered,device\r\n");
  }

  @Test
  void aCommandThatWaitsIsCancelled() {
    assertThat(signedIn("device", "cancel", "c1").out()).contains("Cancelled.");
    assertThat(calls).containsExactly("POST /commands/c1/cancellation");
  }

  @ParameterizedTest
  @CsvSource({
    "unit, /organisation/units.csv",
    "site, /organisation/sites.csv",
    "person, /organisation/people.csv",
    "device, /organisation/devices.csv",
    "roster, /roster/sheet",
  })
  void aListIsWrittenToAFileAsASheet(String noun, String path) {
    type = "text/csv";
    answers.put("GET " + path, "code,name\r\nVM,Trust office\r\n");
    Path sheet = home.resolve("out.csv");
    assertThat(signedIn(noun, "export", sheet.toString()).out()).contains("Written to");
    assertThat(sheet).hasContent("code,name\r\nVM,Trust office\r\n");
  }

  @Test
  void aSheetIsOfTheDevicesThatAreAskedFor() {
    type = "text/csv";
    answers.put("GET /organisation/devices.csv", "identifier,name,tags\r\n");
    Path sheet = home.resolve("out.csv");
    signedIn("device", "export", sheet.toString(), "--standing", "blocked", "--tag", "quay");
    assertThat(queries.get(queries.size() - 1)).contains("standing=blocked", "tag=quay");
    assertThat(signedIn("device", "export", sheet.toString(), "--standing", "happy").err())
        .contains("'happy' is not one of settled, catching-up, drifted, blocked, silent, retired");
  }

  @Test
  void anAttributeIsNamedByItsNameAndByWhatItIsOfWhereTwoHaveIt() {
    String room =
        "{\"id\":\"%s\",\"name\":\"Room\",\"kind\":\"%s\",\"type\":\"choice\",\"choices\":[\"Hall\"],"
            + "\"used\":2,\"version\":0}";
    answers.put(
        "GET /attributes",
        "[" + room.formatted("a1", "device") + "," + room.formatted("a2", "unit") + "]");
    answers.put("PATCH /attributes/a2", room.formatted("a2", "unit"));
    assertThat(signedIn("attribute", "change", "room", "--choice", "Tower").err())
        .contains("more than one attribute room");
    assertThat(signedIn("attribute", "change", "room", "--of", "unit", "--choice", "Tower").out())
        .contains("Attribute Room changed.");
    assertThat(calls.get(calls.size() - 1)).endsWith("{\"choices\":[\"Tower\"]}");
    assertThat(signedIn("attribute", "delete", "Room", "--of", "device").out())
        .contains("Attribute Room deleted with 2 values.");
    assertThat(calls.get(calls.size() - 1)).isEqualTo("DELETE /attributes/a1");
  }

  @Test
  void everythingIsFoundByWords() {
    answers.put(
        "GET /search",
        "[{\"kind\":\"site\",\"id\":\"s1\",\"name\":\"Norhaven quay\",\"detail\":\"2 Quay Street\"}]");
    assertThat(signedIn("find", "quay", "street").out()).contains("site", "Norhaven quay", "s1");
    assertThat(queries.get(0)).contains("q=quay");
  }
}
