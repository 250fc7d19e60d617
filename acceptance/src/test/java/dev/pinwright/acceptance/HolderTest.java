package dev.pinwright.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import dev.pinwright.client.model.AppDetail;
import dev.pinwright.client.model.DeviceEdit;
import dev.pinwright.client.model.EnrollmentProfile;
import dev.pinwright.client.model.EnrollmentProfileDraft;
import dev.pinwright.client.model.InvitationDraft;
import dev.pinwright.client.model.Mode;
import dev.pinwright.client.model.Ownership;
import dev.pinwright.sandbox.device.Agent;
import dev.pinwright.sandbox.device.Screen;
import java.net.CookieManager;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpRequest.BodyPublishers;
import java.net.http.HttpResponse;
import java.net.http.HttpResponse.BodyHandlers;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;

/** The page of somebody who holds devices: theirs alone, and what helps with a lost one. */
class HolderTest {
  private static final ObjectMapper JSON = new ObjectMapper();
  private static Rig rig;
  private static Desk desk;
  private static Agent own;
  private static Agent given;
  private static String ownId;
  private static String givenId;

  @BeforeAll
  static void start() throws Exception {
    rig = new Rig();
    desk = new Desk(rig);
    new Gates(rig).directory();
    rig.client.house().readDirectory((Long) null);
    String ines = Sql.text(rig, "select id from person where login = 'ines.orrin'");
    own = phone(Ownership.PERSONAL, Mode.WORK_PROFILE);
    given = phone(Ownership.CORPORATE, Mode.STANDARD);
    ownId = desk.devices(own.screen().serial(), 1).get(0).getId();
    givenId = desk.devices(given.screen().serial(), 1).get(0).getId();
    for (String id : List.of(ownId, givenId)) {
      rig.client.devices().editDevices(new DeviceEdit().ids(List.of(id)).personId(ines));
    }
  }

  @AfterAll
  static void stop() {
    rig.close();
  }

  private static Agent phone(Ownership ownership, Mode mode) throws Exception {
    EnrollmentProfile p =
        desk.enrollment(
            new EnrollmentProfileDraft()
                .name("Phones " + ownership)
                .ownership(ownership)
                .mode(mode));
    return rig.join(
        rig.unpackAutomatic("P5"),
        rig.client
            .intake()
            .addInvitation(new InvitationDraft().profileId(p.getId()).uses(3))
            .getLink());
  }

  /** A browser of somebody. */
  private static final class Seat {
    private final HttpClient http =
        HttpClient.newBuilder().cookieHandler(new CookieManager()).build();
    private String csrf = "";

    HttpResponse<String> call(String method, String path, Map<String, ?> body) throws Exception {
      HttpRequest.Builder r =
          HttpRequest.newBuilder(URI.create(rig.consoleUrl() + "/api/v1" + path))
              .header("Content-Type", "application/json")
              .header("X-CSRF", csrf)
              .method(
                  method,
                  body == null
                      ? BodyPublishers.noBody()
                      : BodyPublishers.ofString(JSON.writeValueAsString(body)));
      return http.send(r.build(), BodyHandlers.ofString());
    }

    JsonNode page() throws Exception {
      JsonNode page = JSON.readTree(call("GET", "/mine", null).body());
      csrf = page.path("csrf").asText();
      return page;
    }
  }

  private static Seat seat(String login, String password) throws Exception {
    Seat seat = new Seat();
    assertThat(
            seat.call("POST", "/mine/sign-in", Map.of("login", login, "password", password))
                .statusCode())
        .isEqualTo(200);
    seat.page();
    return seat;
  }

  @Test
  void whoeverHoldsDevicesSeesThemAndFindsALostOneAndNothingMore() throws Exception {
    Seat stranger = new Seat();
    assertThat(stranger.call("GET", "/mine", null).statusCode()).isEqualTo(401);
    assertThat(
            stranger
                .call("POST", "/mine/sign-in", Map.of("login", "ines.orrin", "password", "no"))
                .statusCode())
        .isEqualTo(401);
    Seat ines = seat("ines.orrin", "by the quay");
    JsonNode page = ines.page();
    assertThat(page.path("name").asText()).isEqualTo("Ines Orrin");
    assertThat(page.path("devices").findValuesAsText("ownership"))
        .containsExactlyInAnyOrder("personal", "corporate");
    JsonNode personal = null;
    for (JsonNode d : page.path("devices")) {
      personal = d.at("/device/id").asText().equals(ownId) ? d : personal;
    }
    assertThat(personal.path("may").toString()).contains("ring").doesNotContain("locate");
    assertThat(personal.path("never").toString()).contains("photos");

    assertThat(
            ines.call("POST", "/mine/devices/" + givenId + "/commands", Map.of("command", "ring"))
                .statusCode())
        .isEqualTo(204);
    Rig.eventually(() -> given.screen().ringing(), Boolean.TRUE::equals);
    HttpResponse<String> wipe =
        ines.call("POST", "/mine/devices/" + givenId + "/commands", Map.of("command", "wipe"));
    assertThat(wipe.statusCode()).isEqualTo(400);
    HttpResponse<String> where =
        ines.call("POST", "/mine/devices/" + ownId + "/commands", Map.of("command", "locate"));
    assertThat(where.statusCode()).isEqualTo(409);
    assertThat(where.body()).contains("personal");

    HttpResponse<String> lost =
        ines.call("POST", "/mine/devices/" + givenId + "/loss", Map.of("what", "left in the tram"));
    assertThat(lost.statusCode()).isEqualTo(201);
    String caseId = JSON.readTree(lost.body()).path("caseId").asText();
    assertThat(rig.client.acting().getCase(caseId).getOpenedBy()).isEqualTo("ines.orrin (holder)");
    Rig.eventually(() -> given.screen().screen(), "locked"::equals);
    assertThat(ines.call("GET", "/mine/devices/" + givenId + "/activity", null).body())
        .contains("Asked for by its holder");

    ines.csrf = "guessed";
    assertThat(
            ines.call("POST", "/mine/devices/" + givenId + "/commands", Map.of("command", "ring"))
                .statusCode())
        .as("another page cannot do it for her")
        .isEqualTo(403);
    ines.page();
    int taken = 0;
    HttpResponse<String> answer;
    do {
      answer = ines.call("POST", "/mine/devices/" + ownId + "/commands", Map.of("command", "ring"));
      taken++;
    } while (answer.statusCode() == 204 && taken < 50);
    assertThat(answer.statusCode()).as("nobody orders without end").isEqualTo(429);
    assertThat(answer.body()).contains("That was tried too often; wait", "minutes");
    assertThat(taken).isEqualTo(30);
    ines.call("DELETE", "/mine/sign-in", null);
    assertThat(ines.call("GET", "/mine", null).statusCode()).isEqualTo(401);
  }

  @Test
  void whoeverGuessesPasswordsIsSlowedDownHoweverTheyWriteALogin() throws Exception {
    List<String> written = List.of("tomas.guess", " tomas.guess", "Tomas.Guess", "TOMAS.GUESS ");
    int tries = 0;
    HttpResponse<String> answer;
    do {
      Map<String, String> guess =
          Map.of("login", written.get(tries % written.size()), "password", "guess " + tries);
      answer = new Seat().call("POST", "/mine/sign-in", guess);
      tries++;
    } while (answer.statusCode() == 401 && tries < 40);
    assertThat(answer.statusCode()).isEqualTo(429);
    assertThat(tries).isEqualTo(9);
  }

  @Test
  void anAppOfTheShelfComesAndAnyOtherIsAskedFor() throws Exception {
    AppDetail notes =
        desk.bring(
            Packages.of(
                "vellmar.field-notes",
                "Field Notes",
                1,
                20_000,
                "\"summary\":\"x\"",
                Packages.WORKSHOP));
    desk.release(notes, 1);
    desk.publish(desk.assignment(notes, "offered", Desk.device(ownId), Map.of()));
    Seat ines = seat("ines.orrin", "by the quay");
    String apps = "/mine/devices/" + ownId + "/apps";
    String requests = "/mine/devices/" + ownId + "/app-requests";
    assertThat(JSON.readTree(ines.call("GET", apps, null).body()).at("/items/0/state").asText())
        .isEqualTo("on-shelf");
    assertThat(ines.call("POST", requests, Map.of("app", "vellmar.nothing")).statusCode())
        .isEqualTo(409);
    assertThat(ines.call("POST", requests, Map.of("app", "vellmar.field-notes")).statusCode())
        .isEqualTo(204);
    Rig.eventually(
        () -> own.screen().installed().stream().map(Screen.Tile::id).toList(),
        there -> there.contains("vellmar.field-notes"));

    assertThat(ines.call("POST", requests, Map.of()).statusCode()).isEqualTo(400);
    assertThat(ines.call("POST", requests, Map.of("words", "Rota, for the ferry")).statusCode())
        .isEqualTo(204);
    assertThat(rig.client.house().listNotices(null, 50).getItems())
        .anySatisfy(
            n -> {
              assertThat(n.getTitle()).isEqualTo("Ines Orrin asks for an app");
              assertThat(n.getDetail()).endsWith("Rota, for the ferry");
            });
    int tooMany = 0;
    for (int i = 0; i < 12 && tooMany != 429; i++) {
      tooMany = ines.call("POST", requests, Map.of("words", "Rota " + i)).statusCode();
    }
    assertThat(tooMany).as("nobody fills the page of those who look after devices").isEqualTo(429);
    Seat bo = seat("bo.skarnes", "on the ridge");
    assertThat(bo.call("GET", apps, null).statusCode()).isEqualTo(404);
    assertThat(bo.call("POST", requests, Map.of("app", "vellmar.field-notes")).statusCode())
        .isEqualTo(404);
  }

  @Test
  void whatIsSomebodyElsesIsNotThere() throws Exception {
    Seat bo = seat("bo.skarnes", "on the ridge");
    assertThat(bo.page().path("devices")).isEmpty();
    for (String path : List.of("/commands", "/loss")) {
      assertThat(
              bo.call(
                      "POST",
                      "/mine/devices/" + givenId + path,
                      Map.of("command", "ring", "what", "mine now"))
                  .statusCode())
          .isIn(400, 404);
    }
    assertThat(bo.call("GET", "/mine/devices/" + givenId + "/activity", null).statusCode())
        .isEqualTo(404);
    assertThat(bo.call("GET", "/devices", null).statusCode())
        .as("it is no account of the console")
        .isEqualTo(401);
  }
}
