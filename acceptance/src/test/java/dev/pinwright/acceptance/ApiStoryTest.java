package dev.pinwright.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import dev.pinwright.sandbox.device.Agent;
import dev.pinwright.sandbox.device.Screen;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.concurrent.BlockingQueue;
import java.util.concurrent.TimeUnit;
import org.junit.jupiter.api.Test;

/** The whole story once more on the bare API, as a stranger's program would go through it. */
class ApiStoryTest {
  @Test
  void fromTheFirstSignInToTheJournal() throws Exception {
    try (Rig rig = new Rig()) {
      Bare api = new Bare(rig);
      assertThat(api.get("/devices").status()).as("not signed in").isEqualTo(401);
      assertThat(api.signIn("owner", "wrong").problem()).isEqualTo("sign-in-failed");
      assertThat(api.signIn("owner", Rig.PASSWORD).json().at("/account/role").asText())
          .isEqualTo("owner");
      BlockingQueue<String> events = api.events();
      assertThat(events.poll(5, TimeUnit.SECONDS)).isEqualTo("everything");

      api.post("/terms", "{\"title\":\"Using a device\",\"text\":\"Bring it back to Norhaven.\"}");
      Bare.Answer profile =
          api.post(
              "/enrollment-profiles",
              """
              {"name":"Harbour gallery kiosks","ownership":"corporate","mode":"supervised",
               "platforms":["tarn"],"termsVersion":1,"tags":["gallery"],
               "namePattern":"HAR {serial}"}
              """);
      assertThat(profile.status()).isEqualTo(201);
      Bare.Answer invitation =
          api.post("/invitations", "{\"profileId\":\"" + id(profile) + "\",\"uses\":3}");
      assertThat(invitation.json().path("code").asText()).matches("(\\w{4}-){2}\\w{4}");

      Agent tablet = rig.unpack("T10");
      tablet.take(invitation.json().path("link").asText()).join();
      tablet.accept(null).join();
      Rig.firstRun(tablet);
      String name = "HAR " + tablet.screen().serial();
      JsonNode device =
          Rig.eventually(
              () -> api.get("/devices?q=" + tablet.screen().serial()).json().path("items").path(0),
              d -> d.path("standing").asText().equals("settled"));
      assertThat(device.path("name").asText()).isEqualTo(name);
      String deviceId = device.path("id").asText();
      Set<String> heard = new HashSet<>();
      Rig.eventually(
          () -> heardMore(events, heard),
          h -> h.containsAll(List.of("devices", "arrivals", "journal")));

      String rules = "/profiles/" + published(api, tablet);
      assertThat(api.get("/devices/" + deviceId + "/settings").json().findValuesAsText("setting"))
          .contains("passcode.min-length", "restrictions.camera-off");

      acting(api, tablet, deviceId);
      followed(api, deviceId);

      Bare.Answer read = api.get(rules);
      Bare.Answer longer =
          api.send(
              "PUT",
              rules,
              "{\"settings\":{\"passcode.required\":true,\"passcode.min-length\":8}}",
              Map.of("If-Match", read.etag()));
      assertThat(longer.status()).isEqualTo(200);
      assertThat(
              api.send("PUT", rules, "{\"name\":\"Stale\"}", Map.of("If-Match", read.etag()))
                  .problem())
          .as("someone saved meanwhile")
          .isEqualTo("changed-meanwhile");
      api.send("POST", rules + "/publication", "{}", Map.of("If-Match", longer.etag()));
      Screen anew = Rig.eventually(tablet::screen, s -> s.screen().equals("passcode"));
      assertThat(anew.passcodeDemand()).contains("at least 8 characters");
      assertThat(tablet.device().choosePasscode("13579024")).isEmpty();
      tablet.checkIn(false);
      Rig.eventually(
          () -> api.get("/devices/" + deviceId).json().at("/device/standing").asText(),
          "settled"::equals);

      List<String> actions = api.get("/journal?limit=200").json().findValuesAsText("action");
      assertThat(actions)
          .contains("enrollment-profile.made", "device.joined", "profile.published")
          .contains("command.dispatched");
      assertThat(api.get("/journal/verification").json().path("intact").asBoolean()).isTrue();
      assertThat(api.send("DELETE", "/sign-in", "", Map.of()).status()).isEqualTo(204);
      assertThat(api.get("/me").status()).isEqualTo(401);
    }
  }

  private static String id(Bare.Answer answer) {
    return answer.json().path("id").asText();
  }

  /** Writes, rehearses and publishes; the holder chooses a passcode. Returns the profile's id. */
  private static String published(Bare api, Agent tablet) {
    Bare.Answer made =
        api.post(
            "/profiles",
            """
            {"name":"Gallery tablets","targets":[{"kind":"tag","ref":"gallery"}],
             "settings":{"passcode.required":true,"passcode.kind":"numeric",
               "passcode.min-length":6,"passcode.no-runs":true,"restrictions.camera-off":true,
               "appearance.lock-screen-text":"Property of Vellmar Museums"}}
            """);
    String path = "/profiles/" + id(made);
    JsonNode rehearsal = api.get(path + "/rehearsal").json();
    assertThat(rehearsal.path("gain").asInt()).isEqualTo(1);
    JsonNode behind =
        api.get(path + "/rehearsal/" + rehearsal.at("/effects/0/id").asText() + "/devices").json();
    assertThat(behind.at("/items/0/name").asText()).endsWith(tablet.screen().serial());
    assertThat(api.get(path + "/rehearsal/0000/devices").status()).isEqualTo(404);
    assertThat(api.post(path + "/publication", "{}").problem()).isEqualTo("version-required");
    Bare.Answer done =
        api.send("POST", path + "/publication", "{}", Map.of("If-Match", made.etag()));
    String change = "/changes/" + done.json().at("/change/id").asText();
    Rig.eventually(tablet::screen, s -> s.screen().equals("passcode"));
    assertThat(tablet.device().choosePasscode("123456")).hasSize(1);
    assertThat(tablet.device().choosePasscode("135790")).isEmpty();
    tablet.checkIn(false);
    Rig.eventually(() -> api.get(change).json().path("done").asInt(), n -> n == 1);
    return id(made);
  }

  /** What a device says of itself moves it into a group by rule, and out of it again. */
  private static void followed(Bare api, String device) {
    String group =
        id(api.post("/groups", "{\"name\":\"Locked\",\"rule\":\"fact security/locked is true\"}"));
    String these = "\"targets\":[{\"kind\":\"device\",\"ref\":\"" + device + "\"}]";
    for (int inside : List.of(1, 0)) {
      String command = inside == 1 ? "lock" : "unlock";
      ended(
          api,
          api.post(
              "/dispatches",
              "{\"command\":\"" + command + "\",\"reason\":\"to see\"," + these + "}"));
      ended(api, api.post("/dispatches", "{\"command\":\"refresh\"," + these + "}"));
      assertThat(api.get("/groups/" + group).json().path("devices").asInt())
          .as(command)
          .isEqualTo(inside);
    }
  }

  /** Locks, unlocks and messages; the same order sent twice runs once. */
  private static void acting(Bare api, Agent tablet, String device) {
    String lock =
        "{\"command\":\"lock\",\"targets\":[{\"kind\":\"device\",\"ref\":\""
            + device
            + "\"}],\"fields\":{\"text\":\"Please return me\"},\"reason\":\"left in the cafe\"}";
    Map<String, String> key = Map.of("Idempotency-Key", "lock-1");
    Bare.Answer first = api.send("POST", "/dispatches", lock, key);
    Bare.Answer again = api.send("POST", "/dispatches", lock, key);
    assertThat(id(again)).as("the same order").isEqualTo(id(first)).isNotEmpty();
    Screen locked = Rig.eventually(tablet::screen, s -> s.screen().equals("locked"));
    assertThat(locked.lockText()).isEqualTo("Please return me");
    ended(api, first);
    ended(
        api,
        api.post(
            "/dispatches",
            "{\"command\":\"unlock\",\"matching\":{\"tag\":\"gallery\",\"standing\":\"settled\"}}"));
    assertThat(tablet.screen().screen()).isEqualTo("home");
    ended(
        api,
        api.post(
            "/dispatches",
            "{\"command\":\"message\",\"serials\":[\""
                + tablet.screen().serial()
                + "\"],\"fields\":{\"text\":\"The glasshouse closes at five.\"}}"));
    assertThat(tablet.screen().messages()).hasSize(1);
    assertThat(
            api.post("/dispatches", "{\"command\":\"refresh\",\"matching\":{\"tag\":\"nobody\"}}")
                .problem())
        .isEqualTo("no-devices");
  }

  private static void ended(Bare api, Bare.Answer dispatch) {
    assertThat(dispatch.status()).as(dispatch.json().toString()).isEqualTo(201);
    JsonNode d =
        Rig.eventually(
            () -> api.get("/dispatches/" + id(dispatch)).json(), j -> j.path("ended").asBoolean());
    assertThat(d.at("/states/done").asInt()).as(d.toString()).isEqualTo(1);
  }

  private static Set<String> heardMore(BlockingQueue<String> events, Set<String> heard) {
    List<String> batches = new ArrayList<>();
    events.drainTo(batches);
    batches.forEach(b -> heard.addAll(List.of(b.split(","))));
    return heard;
  }

  @Test
  void selectingAllThatMatchLeavesOutWhatWasUnticked() throws Exception {
    try (Rig rig = new Rig()) {
      Bare api = new Bare(rig);
      api.signIn("owner", Rig.PASSWORD);
      String link = new Desk(rig).kiosks("Kiosks", 3).getLink();
      List<String> ids = new ArrayList<>();
      for (int i = 0; i < 3; i++) {
        String serial = rig.join(rig.unpackAutomatic("T10"), link).screen().serial();
        ids.add(api.get("/devices?q=" + serial).json().at("/items/0/id").asText());
      }
      assertThat(api.get("/devices/count?tag=gallery").json().path("count").asInt()).isEqualTo(3);
      Bare.Answer d =
          api.post(
              "/dispatches",
              "{\"command\":\"refresh\",\"matching\":{\"q\":\"arbor t10\",\"except\":[\""
                  + ids.get(1)
                  + "\"]}}");
      assertThat(d.json().path("total").asInt()).isEqualTo(2);
      assertThat(api.get("/dispatches/" + id(d) + "/commands").json().findValuesAsText("deviceId"))
          .containsExactlyInAnyOrder(ids.get(0), ids.get(2));
    }
  }

  @Test
  void howListsAreLikedIsKeptWithTheAccount() {
    try (Rig rig = new Rig()) {
      Bare api = new Bare(rig);
      api.signIn("owner", Rig.PASSWORD);
      String layout =
          "{\"hidden\":[\"battery\"],\"widths\":{\"name\":300},\"order\":[],"
              + "\"views\":[{\"name\":\"Glasshouse\",\"search\":\"?tag=kiosk\"}]}";
      assertThat(api.send("PUT", "/me/lists/devices", layout, Map.of()).status()).isEqualTo(200);
      Bare elsewhere = new Bare(rig);
      elsewhere.signIn("owner", Rig.PASSWORD);
      assertThat(elsewhere.get("/me/lists").json().at("/devices/views/0/name").asText())
          .isEqualTo("Glasshouse");
      assertThat(api.send("PUT", "/me/lists/devices", "{}", Map.of()).status()).isEqualTo(400);
    }
  }
}
