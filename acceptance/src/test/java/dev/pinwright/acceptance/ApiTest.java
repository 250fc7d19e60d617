package dev.pinwright.acceptance;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import com.fasterxml.jackson.dataformat.yaml.YAMLMapper;
import com.networknt.schema.JsonSchemaFactory;
import com.networknt.schema.SpecVersion;
import com.networknt.schema.ValidationMessage;
import dev.pinwright.client.http.ApiException;
import dev.pinwright.client.model.AttributeChange;
import dev.pinwright.client.model.AttributeDraft;
import dev.pinwright.client.model.AttributeKind;
import dev.pinwright.client.model.BenchSessionDraft;
import dev.pinwright.client.model.CommandKey;
import dev.pinwright.client.model.DispatchOrder;
import dev.pinwright.client.model.GroupDraft;
import dev.pinwright.client.model.Invitation;
import dev.pinwright.client.model.PersonDraft;
import dev.pinwright.client.model.Profile;
import dev.pinwright.client.model.RosterDraft;
import dev.pinwright.client.model.SiteDraft;
import dev.pinwright.client.model.UnitDraft;
import dev.pinwright.sandbox.device.Agent;
import java.io.IOException;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.file.Path;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;

/** The API as its contract has it: shapes, errors, versions, pages, roles and sign-ins. */
class ApiTest {
  private static final HttpClient HTTP = HttpClient.newHttpClient();
  private static Rig rig;
  private static Desk desk;
  private static JsonNode contract;
  private static String device;
  private static Profile profile;

  @BeforeAll
  static void start() throws Exception {
    contract = strict(new YAMLMapper().readTree(Path.of("../api/openapi.yaml").toFile()));
    rig = new Rig();
    desk = new Desk(rig);
    desk.terms();
    Invitation invitation = desk.kiosks("Kiosks", 20);
    for (int i = 0; i < 5; i++) {
      rig.join(rig.unpackAutomatic("T10"), invitation.getLink());
    }
    device = desk.onlyDevice();
    furnish(invitation.getProfileId());
    profile = desk.profile("Baseline", Desk.BASELINE, Desk.everyone());
    desk.publish(profile);
    desk.order(
        new DispatchOrder()
            .command(CommandKey.MESSAGE)
            .fields(Map.of("text", "hello"))
            .targets(List.of(Desk.everyone())),
        "api-1");
    Rig.eventually(() -> desk.standing(device), "settled"::equals);
  }

  /** One of each thing, all with an a in their names. */
  private static void furnish(String profileId) throws ApiException {
    var organisation = rig.client.organisation();
    organisation.addUnit(new UnitDraft().code("VM-ARC").name("Archive"));
    organisation.addSite(new SiteDraft().name("Norhaven"));
    organisation.addPerson(new PersonDraft().name("Maren Orrin").mail("maren@vellmar.example"));
    organisation.addAttribute(
        new AttributeDraft().name("Shelf").kind(AttributeKind.DEVICE).type("text"));
    organisation.setAttributeValues(
        AttributeKind.DEVICE, device, new AttributeChange().values(Map.of("Shelf", "A 4")));
    rig.client.intake().addToRoster(new RosterDraft().serial("AR10-0042-7731"));
    rig.client.devices().addGroup(new GroupDraft().name("Gallery"));
    rig.client.bench().openBenchSession(new BenchSessionDraft().name("Cart").profileId(profileId));
  }

  @AfterAll
  static void stop() {
    rig.close();
  }

  /** Objects may hold what the contract lists and nothing else. */
  private static JsonNode strict(JsonNode root) {
    root.at("/components/schemas")
        .forEach(
            s -> {
              if (s.has("properties") && !s.has("additionalProperties")) {
                ((ObjectNode) s).put("additionalProperties", false);
              }
            });
    return root;
  }

  private static HttpResponse<String> call(
      String method, String path, String body, String... headers) {
    HttpRequest.Builder r =
        HttpRequest.newBuilder(URI.create(rig.consoleUrl() + "/api/v1" + path))
            .method(method, HttpRequest.BodyPublishers.ofString(body));
    if (!body.isEmpty()) {
      r.header("Content-Type", "application/json");
    }
    if (headers.length == 0) {
      r.header("Authorization", "Bearer " + rig.token);
    } else {
      r.headers(headers);
    }
    try {
      return HTTP.send(r.build(), HttpResponse.BodyHandlers.ofString());
    } catch (IOException | InterruptedException e) {
      throw new IllegalStateException(e);
    }
  }

  private static JsonNode json(HttpResponse<String> r) {
    try {
      return Wire.JSON.readTree(r.body());
    } catch (IOException e) {
      throw new IllegalStateException(r.body(), e);
    }
  }

  private static void fits(JsonNode schema, JsonNode value, String what) {
    ObjectNode document = Wire.JSON.createObjectNode();
    document.setAll((ObjectNode) schema);
    document.set("components", contract.path("components"));
    Set<ValidationMessage> faults =
        JsonSchemaFactory.getInstance(SpecVersion.VersionFlag.V202012)
            .getSchema(document)
            .validate(value);
    assertThat(faults).as(what + " " + value).isEmpty();
  }

  @Test
  void everyAnswerThatCanBeReadFitsTheContract() throws ApiException {
    Map<String, String> ids =
        Map.of(
            "/devices/{id}", device,
            "/profiles/{id}", profile.getId(),
            "/dispatches/{id}",
                rig.client.acting().listDispatches(null, 1).getItems().get(0).getId(),
            "/changes/{id}", rig.client.rules().listChanges(null, 1).getItems().get(0).getId(),
            "/invitations/{id}",
                rig.client.intake().listInvitations(null, null, null, 1).getItems().get(0).getId(),
            "/enrollment-profiles/{id}",
                rig.client.intake().listEnrollmentProfiles(null, 1).getItems().get(0).getId());
    List<String> read = new ArrayList<>();
    contract
        .path("paths")
        .properties()
        .forEach(
            p -> {
              JsonNode schema =
                  p.getValue().at("/get/responses/200/content/application~1json/schema");
              String path = p.getKey();
              for (Map.Entry<String, String> id : ids.entrySet()) {
                if (path.startsWith(id.getKey())) {
                  path = path.replace("{id}", id.getValue());
                }
              }
              // theirs alone, and read by them in HolderTest
              boolean ofHolders = p.getValue().at("/get/x-least-role").asText().equals("holder");
              if (!schema.isMissingNode() && !path.contains("{") && !ofHolders) {
                boolean sought = p.getValue().at("/get/parameters").toString().contains("\"q\"");
                HttpResponse<String> r = call("GET", path + (sought ? "?q=a" : ""), "");
                assertThat(r.statusCode()).as(path).isEqualTo(200);
                fits(schema, json(r), path);
                read.add(path);
              }
            });
    assertThat(read).hasSizeGreaterThan(25);
  }

  private static void problem(HttpResponse<String> r, int status, String type) {
    assertThat(r.headers().firstValue("content-type")).contains("application/problem+json");
    JsonNode body = json(r);
    assertThat(r.statusCode() + " " + body.path("type").asText().replaceAll(".*/", ""))
        .isEqualTo(status + " " + type);
    fits(contract.at("/components/schemas/Problem"), body, type);
  }

  @Test
  void errorsSayWhatWasWrongAndWhere() {
    problem(call("GET", "/devices/nobody", ""), 404, "not-found");
    problem(call("GET", "/no-such-thing", ""), 404, "not-found");
    problem(call("GET", "/devices?limit=9999", ""), 400, "malformed");
    problem(call("GET", "/devices?after=rubbish", ""), 400, "malformed");
    problem(call("POST", "/profiles", "{"), 400, "malformed");
    HttpResponse<String> unknown = call("POST", "/profiles", "{\"nmae\":\"x\"}");
    problem(unknown, 400, "malformed");
    assertThat(json(unknown).path("detail").asText()).contains("nmae", "name");
    HttpResponse<String> two =
        call(
            "POST",
            "/profiles",
            "{\"name\":\"x\",\"settings\":{\"passcode.min-length\":99,\"no.such\":1}}");
    problem(two, 400, "malformed");
    assertThat(json(two).path("errors")).hasSize(2);
    problem(call("POST", "/profiles", "{\"name\":\"Baseline\"}"), 409, "name-taken");
    problem(
        call(
            "POST",
            "/dispatches",
            "{\"command\":\"explode\",\"targets\":[{\"kind\":\"everyone\"}]}"),
        400,
        "malformed");
    problem(
        call("POST", "/dispatches", "{\"command\":\"refresh\",\"serials\":[\"NOBODY-1\"]}"),
        400,
        "malformed");
  }

  @Test
  void aChangeMadeOnAnOldVersionIsRefused() {
    String path = "/profiles/" + profile.getId();
    problem(call("PUT", path, "{}"), 428, "version-required");
    problem(
        call("PUT", path, "{}", "Authorization", "Bearer " + rig.token, "If-Match", "\"999\""),
        412,
        "changed-meanwhile");
    assertThat(call("GET", path, "").headers().firstValue("etag")).isPresent();
  }

  @Test
  void pagesFollowOneAnotherWithoutGapsOrRepeats() {
    List<String> names = new ArrayList<>();
    String after = "";
    do {
      JsonNode page = json(call("GET", "/devices?limit=2&after=" + after, ""));
      page.path("items").forEach(d -> names.add(d.path("name").asText()));
      after = page.path("next").asText("");
    } while (!after.isEmpty());
    assertThat(names).hasSize(5).doesNotHaveDuplicates().isSorted();
    assertThat(json(call("GET", "/devices?sort=last-seen&limit=3", "")).path("items")).hasSize(3);
    assertThat(json(call("GET", "/devices?q=100%25", "")).path("items")).isEmpty();
  }

  @Test
  void theSameOrderUnderOneKeyIsOneDispatch() throws ApiException {
    DispatchOrder order =
        new DispatchOrder().command(CommandKey.REFRESH).targets(List.of(Desk.device(device)));
    String first = desk.order(order, "same").getId();
    assertThat(desk.order(order, "same").getId()).isEqualTo(first);
    assertThatThrownBy(() -> desk.order(order.reason("other"), "same"))
        .isInstanceOf(ApiException.class)
        .hasMessageContaining("409");
    assertThat(Rig.eventually(() -> desk.dispatch(first), d -> d.getEnded()).getStates())
        .containsEntry("done", 1L);
  }

  @Test
  void aCommandThatWaitsCanBeCancelledAndOneThatLapsesSaysSo() throws Exception {
    Agent agent = rig.fleet.all().get(1);
    agent.offline(true);
    String id = desk.devices(agent.screen().serial(), 1).get(0).getId();
    DispatchOrder order =
        new DispatchOrder().command(CommandKey.REFRESH).targets(List.of(Desk.device(id)));
    String cancelled = desk.order(order, "").getId();
    assertThat(rig.client.acting().cancelDispatch(cancelled).getCancelled()).isEqualTo(1);
    assertThat(desk.dispatch(cancelled).getStates()).containsEntry("cancelled", 1L);
    String lapsing = desk.order(order.expiresInMinutes(1L), "").getId();
    Sql.run(rig, "update command set expires_at = now() where dispatch_id = '" + lapsing + "'");
    assertThat(Rig.eventually(() -> desk.dispatch(lapsing), d -> d.getEnded()).getStates())
        .containsEntry("expired", 1L);
    agent.offline(false);
  }

  @Test
  void aDeviceThatDriftedIsPutRightByItself() {
    Agent agent = rig.fleet.all().get(2);
    String path = "./Vendor/Pinwright/Policy/restrictions/camera-off";
    agent.device().tamper(path, "false");
    assertThat(agent.screen().notices("camera-gone")).isFalse();
    agent.checkIn(false);
    Rig.eventually(agent::screen, s -> s.notices("camera-gone"));
  }

  @Test
  void aReaderLooksAndDoesNotTouch() throws Exception {
    assertThat(
            call(
                    "POST",
                    "/accounts",
                    "{\"login\":\"guest\",\"name\":\"Guest\",\"role\":\"reader\",\"password\":\"short\"}")
                .statusCode())
        .isEqualTo(400);
    assertThat(
            call(
                    "POST",
                    "/accounts",
                    "{\"login\":\"guest\",\"name\":\"Guest\",\"role\":\"reader\",\"password\":\"long enough for us\"}")
                .statusCode())
        .isEqualTo(201);
    JsonNode in =
        json(
            call(
                "POST",
                "/sign-in",
                "{\"login\":\"guest\",\"password\":\"long enough for us\",\"program\":true}",
                "Content-Type",
                "application/json"));
    String[] guest = {"Authorization", "Bearer " + in.path("token").asText()};
    assertThat(call("GET", "/devices", "", guest).statusCode()).isEqualTo(200);
    problem(call("POST", "/profiles", "{\"name\":\"mine\"}", guest), 403, "not-permitted");
    problem(
        call(
            "POST",
            "/dispatches",
            "{\"command\":\"refresh\",\"targets\":[{\"kind\":\"everyone\"}]}",
            guest),
        403,
        "not-permitted");
    problem(call("GET", "/accounts", "", guest), 403, "not-permitted");
  }

  @Test
  void aBrowserNeedsItsCookieAndItsCsrfValue() {
    HttpResponse<String> in =
        call(
            "POST",
            "/sign-in",
            "{\"login\":\"owner\",\"password\":\"" + Rig.PASSWORD + "\"}",
            "Content-Type",
            "application/json");
    String cookie = in.headers().firstValue("set-cookie").orElseThrow();
    assertThat(cookie).contains("HttpOnly", "SameSite=Strict");
    assertThat(json(in).has("token")).isFalse();
    String value = cookie.split(";")[0];
    String csrf = json(in).path("csrf").asText();
    problem(call("POST", "/groups", "{\"name\":\"a\"}", "Cookie", value), 403, "csrf");
    assertThat(
            call("POST", "/groups", "{\"name\":\"a\"}", "Cookie", value, "X-CSRF", csrf)
                .statusCode())
        .isEqualTo(201);
    assertThat(call("DELETE", "/sign-in", "", "Cookie", value, "X-CSRF", csrf).statusCode())
        .isEqualTo(204);
    problem(call("GET", "/me", "", "Cookie", value), 401, "not-signed-in");
    problem(call("GET", "/me", "", "Cookie", "none=1"), 401, "not-signed-in");
  }

  @Test
  void theJournalCannotBeRewritten() throws Exception {
    assertThatThrownBy(
            () -> Sql.run(rig, "update journal set summary = 'nothing' where number = 1"))
        .isInstanceOf(SQLException.class)
        .hasMessageContaining("append-only");
    assertThatThrownBy(() -> Sql.run(rig, "delete from journal"))
        .hasMessageContaining("append-only");
    assertThat(rig.client.records().verifyJournal().getIntact()).isTrue();
  }

  @Test
  void secretsAreSealedAtRestAndNeverShown() throws Exception {
    Profile wifi =
        desk.profile(
            "Wi-Fi",
            Map.of(
                "wifi[galleries].network",
                "Vellmar-Galleries",
                "wifi[galleries].passphrase",
                "lantern over the quay"),
            Desk.device(device));
    assertThat(
            rig.client
                .rules()
                .getProfile(wifi.getId())
                .getSettings()
                .get("wifi[galleries].passphrase"))
        .isEqualTo("••••••••");
    desk.change(
        wifi,
        Map.of(
            "wifi[galleries].network", "Vellmar-Staff", "wifi[galleries].passphrase", "••••••••"));
    desk.publish(wifi);
    Agent holder =
        rig.fleet.all().stream()
            .filter(
                a ->
                    a.screen().settings().stream().anyMatch(s -> s.value().equals("Vellmar-Staff")))
            .findFirst()
            .orElseGet(
                () ->
                    Rig.eventually(
                            () ->
                                rig.fleet.all().stream()
                                    .filter(
                                        a ->
                                            a.screen().settings().stream()
                                                .anyMatch(s -> s.value().equals("Vellmar-Staff")))
                                    .findFirst(),
                            java.util.Optional::isPresent)
                        .orElseThrow());
    assertThat(
            holder
                .device()
                .tree()
                .read("./Vendor/Pinwright/Policy/wifi/galleries/passphrase")
                .values())
        .extracting(l -> l.value())
        .containsExactly("lantern over the quay");
    for (String table :
        List.of("profile", "profile_version", "desired_tree", "dm_session", "journal")) {
      assertThat(
              Sql.text(rig, "select count(*) from " + table + " t where t::text like '%lantern%'"))
          .as(table)
          .isEqualTo("0");
    }
  }

  @Test
  void healthAndMetricsAreThere() throws Exception {
    HttpResponse<String> health =
        HTTP.send(
            HttpRequest.newBuilder(URI.create(rig.consoleUrl() + "/health")).build(),
            HttpResponse.BodyHandlers.ofString());
    assertThat(health.body()).isEqualTo("{\"status\":\"ok\"}");
    HttpResponse<String> metrics =
        HTTP.send(
            HttpRequest.newBuilder(URI.create(rig.consoleUrl() + "/metrics")).build(),
            HttpResponse.BodyHandlers.ofString());
    assertThat(metrics.body()).contains("pinwright_device_sockets", "route=\"/dm\"");
  }

  @Test
  void aProfileFileIsWhatItsPublishedSchemaSays() throws IOException {
    JsonNode published = json(call("GET", "/profile-files/schema", ""));
    assertThat(published)
        .isEqualTo(Wire.JSON.readTree(Path.of("../docs/profile.schema.json").toFile()));
    var schema =
        JsonSchemaFactory.getInstance(SpecVersion.VersionFlag.V202012).getSchema(published);
    JsonNode file = json(call("GET", "/profiles/" + profile.getId() + "/file", ""));
    assertThat(schema.validate(file)).isEmpty();
    problem(call("POST", "/profile-files", file.toString()), 409, "name-taken");
    ObjectNode odd = file.deepCopy();
    odd.put("name", "From a file");
    ((ObjectNode) odd.path("settings")).put("passcode.min-length", 99).put("no.such", true);
    assertThat(schema.validate(odd)).hasSize(2);
    problem(call("POST", "/profile-files", odd.toString()), 400, "malformed");
    ObjectNode right = file.deepCopy();
    right.put("name", "From a file");
    assertThat(call("POST", "/profile-files", right.toString()).statusCode()).isEqualTo(201);
  }
}
