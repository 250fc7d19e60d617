package dev.pinwright.acceptance;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.pinwright.client.PinwrightClient;
import dev.pinwright.client.http.ApiException;
import dev.pinwright.client.model.AssistShown;
import dev.pinwright.client.model.AssistShown.StageEnum;
import dev.pinwright.client.model.Command;
import dev.pinwright.client.model.CommandKey;
import dev.pinwright.client.model.CommandState;
import dev.pinwright.client.model.Dispatch;
import dev.pinwright.client.model.DispatchOrder;
import dev.pinwright.client.model.EnrollmentProfile;
import dev.pinwright.client.model.EnrollmentProfileDraft;
import dev.pinwright.client.model.Invitation;
import dev.pinwright.client.model.InvitationDraft;
import dev.pinwright.client.model.Mode;
import dev.pinwright.client.model.Ownership;
import dev.pinwright.client.model.Shows;
import dev.pinwright.core.Sha256;
import dev.pinwright.protocol.pki.Pki;
import dev.pinwright.sandbox.device.Agent;
import java.awt.image.BufferedImage;
import java.io.ByteArrayOutputStream;
import java.net.http.HttpClient;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.security.cert.X509Certificate;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.UUID;
import java.util.stream.Collectors;
import javax.imageio.ImageIO;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;

/** Seeing a device's screen: live with its holder, or once; and what never is to be seen. */
class ScreenTest {
  private static final int PHONE_WIDTH = 360;
  private static final int PHONE_HEIGHT = 680;
  private static Rig rig;
  private static Desk desk;
  private static PinwrightClient another;
  private static int made;

  private final HttpClient http = HttpClient.newHttpClient();

  @BeforeAll
  static void start() throws Exception {
    rig = new Rig();
    desk = new Desk(rig);
    another = rig.another("priya", "helpdesk");
  }

  @AfterAll
  static void stop() {
    rig.close();
  }

  private static Dispatch order(CommandKey command, Map<String, String> fields, Agent... to)
      throws ApiException {
    return desk.order(
        new DispatchOrder()
            .command(command)
            .fields(fields)
            .reason("the mail does not come in")
            .targets(Arrays.stream(to).map(a -> Desk.device(id(a))).toList()),
        UUID.randomUUID().toString());
  }

  private static AssistShown assist(Dispatch dispatch) {
    try {
      return rig.client.acting().getAssist(dispatch.getId());
    } catch (ApiException e) {
      throw new IllegalStateException(e);
    }
  }

  private static String id(Agent agent) {
    return desk.devices(agent.screen().serial(), 1).get(0).getId();
  }

  /** A phone whose holder answers for themselves. */
  private static Agent phone(Ownership ownership) throws ApiException {
    Agent phone = rig.join(rig.unpack("P5"), invitation(ownership).getLink());
    Rig.firstRun(phone);
    return phone;
  }

  private static Invitation invitation(Ownership ownership) throws ApiException {
    EnrollmentProfile p =
        desk.enrollment(
            new EnrollmentProfileDraft()
                .name("Phones " + ++made)
                .ownership(ownership)
                .mode(ownership == Ownership.PERSONAL ? Mode.WORK_PROFILE : Mode.SUPERVISED));
    return rig.client.intake().addInvitation(new InvitationDraft().profileId(p.getId()).uses(3));
  }

  private static String screen(Dispatch d) {
    return rig.consoleUrl() + "/api/v1/assists/" + d.getId() + "/screen";
  }

  private Watcher watch(Dispatch d) {
    return Watcher.open(http, screen(d), "Authorization", "Bearer " + rig.token);
  }

  private static void says(Agent agent, boolean yes) {
    Rig.eventually(() -> agent.screen().question().isPresent(), Boolean.TRUE::equals);
    agent.device().say(yes);
    agent.checkIn(false);
  }

  private static Set<Integer> colours(int[] seen) {
    return Arrays.stream(seen).boxed().collect(Collectors.toSet());
  }

  private static List<String> journal() throws ApiException {
    return rig.client.records().listJournal(null, null, null, 200).getItems().stream()
        .map(e -> e.getActor() + ": " + e.getSummary())
        .toList();
  }

  @Test
  void aScreenIsSeenOnceItsHolderAgreesAndUntilTheyEndIt() throws Exception {
    Agent phone = phone(Ownership.CORPORATE);
    phone.device().holders("private.notes", "Notes", "1.0");
    phone.device().openApp("private.notes");
    Dispatch d = order(CommandKey.ASSIST, Map.of("taps", "true"), phone);
    phone.checkIn(false);
    assertThat(assist(d).getStage()).as("nobody is there to look").isEqualTo(StageEnum.ORDERED);
    assertThat(phone.screen().question()).isEmpty();

    Watcher watcher = watch(d);
    Rig.eventually(() -> assist(d).getStage(), StageEnum.ASKED::equals);
    assertThat(phone.screen().question().orElseThrow())
        .startsWith("owner would like to see your screen")
        .contains("tap and type", "the mail does not come in");
    assertThat(watcher.count()).as("nothing is seen before").isZero();
    says(phone, true);
    assertThat(watcher.begin()).isEqualTo("360x680 " + phone.screen().serial());
    assertThat(phone.screen().watched().orElseThrow().by()).isEqualTo("owner");
    assertThat(colours(watcher.look(PHONE_WIDTH, PHONE_HEIGHT)).size()).isGreaterThan(20);

    watcher.type("hello");
    Rig.eventually(() -> phone.screen().written(), "hello"::equals);
    watcher.tap(180, 26 + 220 + 120 + 50);
    Rig.eventually(() -> phone.screen().opened().isEmpty(), Boolean.TRUE::equals);

    phone.endWatching();
    assertThat(watcher.closed()).isEqualTo(1000);
    AssistShown over = Rig.eventually(() -> assist(d), a -> a.getStage() == StageEnum.ENDED);
    assertThat(over.getAssist().getEndedBy()).isEqualTo("its holder");
    assertThat(desk.ended(d).getState()).isEqualTo(CommandState.DONE);
    Rig.eventually(() -> phone.screen().watched().isEmpty(), Boolean.TRUE::equals);
    assertThat(journal())
        .anySatisfy(l -> assertThat(l).contains("owner sees the screen of").contains("whole"))
        .anySatisfy(l -> assertThat(l).contains("owner saw the screen of").contains("its holder"))
        .noneMatch(l -> l.contains("hello"));
    assertThat(Watcher.refused(http, screen(d), "Authorization", "Bearer " + rig.token))
        .as("it does not begin anew")
        .isEqualTo(409);
  }

  @Test
  void whoeverLooksEndsItAndNobodyElseLooks() throws Exception {
    Agent phone = phone(Ownership.CORPORATE);
    Dispatch d = order(CommandKey.ASSIST, Map.of(), phone);
    assertThat(Watcher.refused(http, screen(d))).isEqualTo(401);
    assertThat(
            Watcher.refused(
                http,
                screen(d),
                "Authorization",
                "Bearer " + rig.token,
                "Origin",
                "http://elsewhere.example"))
        .as("a page of somebody else")
        .isEqualTo(403);
    assertThat(another.acting().getAssist(d.getId()).getStage()).isEqualTo(StageEnum.ORDERED);
    Bare priya = new Bare(rig);
    priya.signIn("priya", "first password of priya");
    assertThat(
            Watcher.refused(
                HttpClient.newHttpClient(), screen(d), "Authorization", "Bearer " + token("priya")))
        .as("an assist of somebody else")
        .isEqualTo(403);

    Watcher watcher = watch(d);
    says(phone, true);
    watcher.begin();
    watcher.tap(180, 400);
    watcher.type("x");
    assertThat(rig.client.acting().endAssist(d.getId()).getStage()).isEqualTo(StageEnum.ENDED);
    assertThat(watcher.closed()).isEqualTo(1000);
    Rig.eventually(() -> phone.screen().watched().isEmpty(), Boolean.TRUE::equals);
    assertThat(phone.screen().written()).as("they were to see alone").isEmpty();
    assertThat(assist(d).getAssist().getEndedBy()).isEqualTo("owner");
  }

  private static String token(String login) throws ApiException {
    return new PinwrightClient(rig.consoleUrl(), "")
        .access()
        .signIn(
            new dev.pinwright.client.model.SignIn()
                .login(login)
                .password("first password of " + login)
                .program(true))
        .getToken();
  }

  @Test
  void aHolderWhoDeclinesShowsNothing() throws Exception {
    Agent phone = phone(Ownership.CORPORATE);
    Dispatch d = order(CommandKey.ASSIST, Map.of(), phone);
    Watcher watcher = watch(d);
    says(phone, false);
    assertThat(desk.ended(d).getReason()).isEqualTo("the holder cancelled it");
    assertThat(watcher.closed()).isEqualTo(1000);
    assertThat(assist(d).getStage()).isEqualTo(StageEnum.NOT);
    assertThat(watcher.count()).isZero();

    Dispatch picture = order(CommandKey.SCREENSHOT, Map.of(), phone);
    says(phone, false);
    assertThat(desk.ended(picture).getReason()).isEqualTo("the holder cancelled it");
    assertThat(rig.client.acting().listScreenshots(id(phone)).getItems()).isEmpty();
  }

  @Test
  void whoeverGoesBeforeTheScreenComesIsNotLookedFor() throws Exception {
    Agent phone = phone(Ownership.CORPORATE);
    phone.offline(true);
    Dispatch d = order(CommandKey.ASSIST, Map.of(), phone);
    watch(d).close();
    Rig.eventually(() -> assist(d).getStage(), StageEnum.NOT::equals);
    assertThat(desk.only(d).getState()).isEqualTo(CommandState.CANCELLED);
    phone.offline(false);
    Rig.eventually(() -> desk.card(id(phone)).getUpToDate(), Boolean.TRUE::equals);
    assertThat(phone.screen().question()).isEmpty();
    assertThatThrownBy(() -> order(CommandKey.ASSIST, Map.of(), phone, phone(Ownership.CORPORATE)))
        .hasMessageContaining("one device at a time");
  }

  @Test
  void aPictureIsTakenOnceLookedAtOnRecordAndGoneWhenItIsDeleted() throws Exception {
    Agent phone = phone(Ownership.CORPORATE);
    String id = id(phone);
    Dispatch d = order(CommandKey.SCREENSHOT, Map.of(), phone);
    says(phone, true);
    assertThat(desk.ended(d).getState()).isEqualTo(CommandState.DONE);
    String shot = desk.only(d).getId();
    assertThat(rig.client.acting().listScreenshots(id).getItems())
        .singleElement()
        .satisfies(
            s -> {
              assertThat(s.getId()).isEqualTo(shot);
              assertThat(s.getShows()).isEqualTo(Shows.WHOLE);
              assertThat(s.getActor()).isEqualTo("owner");
            });
    BufferedImage seen = ImageIO.read(rig.client.acting().seeScreenshot(shot));
    assertThat(seen.getWidth()).isEqualTo(PHONE_WIDTH);
    assertThat(journal()).anyMatch(l -> l.contains("Screenshot of") && l.contains("looked at"));
    byte[] png = Files.readAllBytes(rig.client.acting().seeScreenshot(shot).toPath());
    X509Certificate root = Pki.certificate(rig.client.intake().getJoinFile(openId()).getRoot());
    assertThat(
            new Wire(rig.deviceUrl(), root, null, null)
                .get("/content/sha256/" + Sha256.hex(png))
                .status())
        .as("what a device handed in is not to be had where files are")
        .isEqualTo(404);
    assertThatThrownBy(() -> another.acting().deleteScreenshot(shot)).hasMessageContaining("403");
    rig.client.acting().deleteScreenshot(shot);
    assertThatThrownBy(() -> rig.client.acting().seeScreenshot(shot)).hasMessageContaining("404");
  }

  private static String openId() throws ApiException {
    return invitation(Ownership.CORPORATE).getId();
  }

  @Test
  void ofAPersonalDeviceTheOrganisationsAppsAreSeenAndNothingElse() throws Exception {
    Agent phone = phone(Ownership.PERSONAL);
    // API and service: the whole screen is not to be ordered
    for (CommandKey command : List.of(CommandKey.SCREENSHOT, CommandKey.ASSIST)) {
      Command refused = desk.ended(order(command, Map.of("shows", "whole"), phone));
      assertThat(refused.getState()).isEqualTo(CommandState.FAILED);
      assertThat(refused.getReason()).contains("personal");
    }
    // device: whoever sends it all the same is refused
    assertThat(
            phone
                .device()
                .tree()
                .exec(
                    "./Vendor/Pinwright/Operations/Assist",
                    "{\"shows\":\"whole\",\"address\":\"wss://127.0.0.1:1/assist/x\"}",
                    "x"))
        .isEqualTo(425);

    phone.device().holders("private.notes", "Notes", "1.0");
    phone.device().openApp("private.notes");
    Dispatch d = order(CommandKey.ASSIST, Map.of("taps", "true"), phone);
    Watcher watcher = watch(d);
    Rig.eventually(() -> phone.screen().question().isPresent(), Boolean.TRUE::equals);
    assertThat(phone.screen().question().orElseThrow())
        .contains("your organisation's apps alone are shown");
    says(phone, true);
    watcher.begin();
    int[] covered = watcher.look(PHONE_WIDTH, PHONE_HEIGHT);
    phone.device().openApp("");
    phone.device().tree().show("a word of the organisation", "m1");
    watcher.tap(180, 640);
    int[] home = watcher.look(PHONE_WIDTH, PHONE_HEIGHT);
    // of the picture below the bar nothing tells an app of the holder's own from the home screen
    int bar = 30 * PHONE_WIDTH;
    assertThat(Arrays.copyOfRange(home, bar, home.length))
        .isEqualTo(Arrays.copyOfRange(covered, bar, covered.length));
    assertThat(assist(d).getAssist().getShows()).isEqualTo(Shows.WORK);
    watcher.close();
    Rig.eventually(() -> assist(d).getStage(), StageEnum.ENDED::equals);
  }

  /** A device that is told something, and keeps what. */
  private static final class Told extends StrangeDevice {
    String data = "";

    @Override
    public int exec(String uri, @Nullable String told, @Nullable String correlator) {
      data = told == null ? "" : told;
      return 202;
    }
  }

  @Test
  void onTheWireAPersonalDeviceIsToldOfWorkAloneAndRightsAreOfOneDeviceAndOneUse()
      throws Exception {
    Invitation open = invitation(Ownership.PERSONAL);
    X509Certificate root = Pki.certificate(rig.client.intake().getJoinFile(open.getId()).getRoot());
    Wire wire = new Wire(rig.deviceUrl(), root, null, null);
    Wire.Joined own = wire.joined(open.getCode(), "SCR-0001", root);
    Wire.Joined other = wire.joined(open.getCode(), "SCR-0002", root);
    String id = desk.devices("SCR-0001", 1).get(0).getId();
    Dispatch d =
        desk.order(
            new DispatchOrder()
                .command(CommandKey.SCREENSHOT)
                .reason("drill")
                .targets(List.of(Desk.device(id))),
            "wire");
    // ordered for a corporate device that has become personal since
    Sql.run(
        rig, "update dispatch set fields = '{\"shows\":\"whole\"}' where id = '" + d.getId() + "'");
    Told told = new Told();
    own.session(told, "1", 64_000, List.of());
    var data = Wire.JSON.readTree(told.data);
    assertThat(data.path("shows").asText()).isEqualTo("work");
    String right = data.path("right").asText();
    byte[] png = png();
    String place = "/content/sha256/" + Sha256.hex(png);
    assertThat(data.path("to").asText() + Sha256.hex(png)).endsWith(place);

    assertThat(put(wire, place, right, png)).as("without its certificate").isEqualTo(401);
    assertThat(put(other.wire(), place, right, png)).as("another device").isEqualTo(403);
    assertThat(put(own.wire(), place, "x" + right.substring(1), png)).isEqualTo(403);
    assertThat(own.wire().send("PUT", place, Map.of(), png).status()).isEqualTo(401);
    byte[] text = "no picture".getBytes(StandardCharsets.UTF_8);
    assertThat(put(own.wire(), place, right, text)).as("another digest").isEqualTo(400);
    assertThat(put(own.wire(), "/content/sha256/" + Sha256.hex(text), right, text))
        .as("no picture")
        .isEqualTo(400);
    assertThat(put(own.wire(), place, right, new byte[9 * 1024 * 1024])).isEqualTo(413);
    assertThat(put(own.wire(), place, right, png)).isEqualTo(201);
    assertThat(put(own.wire(), place, right, png)).as("sent twice").isEqualTo(201);
    byte[] second = Arrays.copyOf(png, png.length + 1);
    assertThat(put(own.wire(), "/content/sha256/" + Sha256.hex(second), right, second))
        .as("another picture")
        .isEqualTo(403);
    String told2 =
        "<Alert><CmdID>1</CmdID><Data>1201</Data></Alert>"
            + "<Alert><CmdID>2</CmdID><Data>1226</Data><Correlator>"
            + desk.only(d).getId()
            + "</Correlator><Item><Meta><Type"
            + " xmlns=\"syncml:metinf\">urn:pinwright:at:screenshot:1</Type></Meta><Data>"
            + place
            + "</Data></Item></Alert>";
    assertThat(own.wire().dm(Wire.message("2", 1, told2)).status()).isEqualTo(200);
    assertThat(desk.only(d).getState()).isEqualTo(CommandState.DONE);
  }

  @Test
  void aScreenIsOpenedByTheDeviceThatWasAskedAndByNoOther() throws Exception {
    Invitation open = invitation(Ownership.CORPORATE);
    X509Certificate root = Pki.certificate(rig.client.intake().getJoinFile(open.getId()).getRoot());
    Wire nobody = new Wire(rig.deviceUrl(), root, null, null);
    Wire.Joined asked = nobody.joined(open.getCode(), "SCR-0011", root);
    Wire.Joined other = nobody.joined(open.getCode(), "SCR-0012", root);
    String id = desk.devices("SCR-0011", 1).get(0).getId();
    Dispatch d =
        desk.order(
            new DispatchOrder()
                .command(CommandKey.ASSIST)
                .reason("drill")
                .targets(List.of(Desk.device(id))),
            "opened");
    String place = "/assist/" + d.getId();
    Told told = new Told();
    asked.session(told, "1", 64_000, List.of());
    assertThat(told.data).as("nobody is there to look").isEmpty();
    assertThat(asked.wire().socket(place)).isEqualTo(409);
    Watcher watcher = watch(d);
    asked.session(told, "2", 64_000, List.of());
    var data = Wire.JSON.readTree(told.data);
    assertThat(data.path("address").asText()).startsWith("wss://").endsWith(place);
    assertThat(data.path("shows").asText()).isEqualTo("whole");
    assertThat(asked.wire().get(place).status()).isEqualTo(426);
    assertThat(nobody.socket(place)).as("without a certificate").isEqualTo(401);
    assertThat(other.wire().socket(place)).as("another device").isEqualTo(404);
    assertThat(asked.wire().socket("/assist/nothing")).isEqualTo(409);
    assertThat(watcher.isOpen()).as("none of that ends it").isTrue();
    assertThat(asked.wire().socket(place)).isEqualTo(101);
    assertThat(watcher.closed()).as("the device hung up").isEqualTo(1000);
    assertThat(asked.wire().socket(place)).as("once is all").isEqualTo(409);
  }

  private static int put(Wire wire, String place, String right, byte[] body) {
    return wire.send(
            "PUT",
            place,
            Map.of("Authorization", "Bearer " + right, "Content-Type", "image/png"),
            body)
        .status();
  }

  private static byte[] png() throws Exception {
    ByteArrayOutputStream out = new ByteArrayOutputStream();
    ImageIO.write(new BufferedImage(40, 80, BufferedImage.TYPE_INT_RGB), "png", out);
    return out.toByteArray();
  }
}
