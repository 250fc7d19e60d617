package dev.pinwright.acceptance;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import com.sun.net.httpserver.HttpServer;
import dev.pinwright.client.PinwrightClient;
import dev.pinwright.client.api.AppsApi;
import dev.pinwright.client.http.ApiException;
import dev.pinwright.client.model.App;
import dev.pinwright.client.model.AppBehind;
import dev.pinwright.client.model.AppBrought;
import dev.pinwright.client.model.AppByItself;
import dev.pinwright.client.model.AppCode;
import dev.pinwright.client.model.AppCodeDraft;
import dev.pinwright.client.model.AppDetail;
import dev.pinwright.client.model.AppLook;
import dev.pinwright.client.model.AppOrigin;
import dev.pinwright.client.model.AppPush;
import dev.pinwright.client.model.AppSource;
import dev.pinwright.client.model.AppSourceSpec;
import dev.pinwright.client.model.AppState;
import dev.pinwright.client.model.AppWith;
import dev.pinwright.client.model.Change;
import dev.pinwright.client.model.DeviceApp;
import dev.pinwright.client.model.Group;
import dev.pinwright.client.model.GroupDraft;
import dev.pinwright.client.model.Profile;
import dev.pinwright.client.model.Rehearsal;
import dev.pinwright.client.model.ReleaseSpec;
import dev.pinwright.client.model.TargetSpec;
import dev.pinwright.client.model.TypedRule;
import dev.pinwright.client.model.Unit;
import dev.pinwright.client.model.UnitDraft;
import dev.pinwright.client.model.Upload;
import dev.pinwright.client.model.UploadDraft;
import dev.pinwright.client.model.WebAppSpec;
import dev.pinwright.protocol.pack.PrintedConfiguration;
import dev.pinwright.sandbox.device.Agent;
import dev.pinwright.sandbox.device.Screen;
import dev.pinwright.sandbox.link.ConfigurationReader;
import java.net.InetSocketAddress;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.atomic.AtomicReference;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;

/** Packages of one's own, from the shelf in the workshop to the device and off it again. */
class AppsTest {
  private static Rig rig;
  private static Desk desk;

  @BeforeAll
  static void start() throws Exception {
    rig = new Rig();
    desk = new Desk(rig);
  }

  @AfterAll
  static void stop() {
    rig.close();
  }

  private static Agent tablet() throws ApiException {
    return rig.join(rig.unpackAutomatic("T10"), desk.kiosks("Kiosks " + ++kiosks, 3).getLink());
  }

  private static int kiosks;

  private static String id(Agent tablet) {
    return desk.devices(tablet.screen().serial(), 1).get(0).getId();
  }

  private static Profile assign(
      AppDetail app, String presence, TargetSpec to, Map<String, Object> more) throws ApiException {
    Profile p = desk.assignment(app, presence, to, more);
    desk.publish(p);
    return p;
  }

  private static Optional<String> there(Agent tablet, String app) {
    return tablet.screen().installed().stream()
        .filter(a -> a.id().equals(app))
        .map(Screen.Tile::version)
        .findFirst();
  }

  private static DeviceApp of(String device, String app) {
    try {
      return rig.client.devices().listDeviceApps(device).getApps().stream()
          .filter(a -> a.getPackageId().equals(app))
          .findFirst()
          .orElse(new DeviceApp());
    } catch (ApiException e) {
      throw new IllegalStateException(e);
    }
  }

  private static Group group(String id) {
    try {
      return rig.client.devices().getGroup(id);
    } catch (ApiException e) {
      throw new IllegalStateException(e);
    }
  }

  private static void takeBack(Profile p) throws ApiException {
    Profile now = rig.client.rules().getProfile(p.getId());
    rig.client.rules().deleteProfile(p.getId(), Desk.onVersion(now.getVersion()), null, null);
  }

  @Test
  void whatIsRequiredInstallsFollowsItsReleasesAndGoesWhenItIsNoLongerAssigned() throws Exception {
    Agent tablet = tablet();
    String id = id(tablet);
    AppDetail rota = desk.bring(Packages.rota(1, "\"notes\":\"The first.\""));
    assertThat(rota.getSigner()).contains("Vellmar workshop");
    assertThatThrownBy(() -> assign(rota, "required", Desk.device(id), Map.of()))
        .hasMessageContaining("No version of Rota is released to all yet");
    assertThat(desk.release(rota, 1).getChanges()).isEmpty();
    Profile assigned = assign(rota, "required", Desk.device(id), Map.of());
    Rig.eventually(() -> there(tablet, "vellmar.rota"), Optional.of("1.0")::equals);
    Rig.eventually(() -> desk.standing(id), "settled"::equals);
    assertThat(of(id, "vellmar.rota").getState()).isEqualTo(AppState.AS_WANTED);
    String old = "app has vellmar.rota and version vellmar.rota < 1.1";
    Group behind = rig.client.devices().addGroup(new GroupDraft().name("Behind").rule(old));
    assertThat(behind.getDevices()).isEqualTo(1);

    desk.bring(Packages.rota(2, ""));
    assertThat(rig.client.apps().getApp(rota.getApp().getId()).getLatest().getVersion())
        .isEqualTo("2.0");
    Rehearsal r =
        rig.client.apps().rehearseRelease(rota.getApp().getId(), new ReleaseSpec().code(2L));
    assertThat(r.getChange()).isEqualTo(1);
    assertThat(r.getEffects().get(0).getSteps().toString()).contains("1.0", "2.0");
    String change = desk.release(rota, 2).getChanges().get(0);
    Rig.eventually(() -> there(tablet, "vellmar.rota"), Optional.of("2.0")::equals);
    Change done = Rig.eventually(() -> desk.change(change), c -> c.getDone() == 1);
    assertThat(done.getTitle()).startsWith("Rota 2.0");
    assertThat(
            rig.client
                .apps()
                .listAppDevices(rota.getApp().getId(), AppWith.THERE, null, 10)
                .getItems())
        .extracting(d -> d.getVersion())
        .containsExactly("2.0");

    assertThat(rig.client.devices().readRule(new TypedRule().rule(old)).getDevices()).isZero();
    Rig.eventually(() -> group(behind.getId()).getDevices(), n -> n == 0);

    desk.release(rota, 1);
    Rig.eventually(() -> there(tablet, "vellmar.rota"), Optional.of("1.0")::equals);
    Rig.eventually(() -> desk.standing(id), "settled"::equals);

    takeBack(assigned);
    Rig.eventually(() -> there(tablet, "vellmar.rota"), Optional.empty()::equals);
    Rig.eventually(() -> Optional.ofNullable(of(id, "vellmar.rota").getState()), Optional::isEmpty);
    assertThat(tablet.screen().runs()).containsEntry("install", 3).containsEntry("remove", 1);
  }

  @Test
  void whatFailsIsToldWithItsReasonAndTriedAgainWhenSomebodySaysSo() throws Exception {
    Agent tablet = tablet();
    String id = id(tablet);
    AppDetail scan =
        desk.bring(
            Packages.of("vellmar.ticket-scan", "Ticket Scan", 3, 20_000, "", Packages.WORKSHOP));
    desk.release(scan, 3);
    tablet.device().fault("no-install", true);
    Profile p = assign(scan, "required", Desk.device(id), Map.of());
    Rig.eventually(() -> desk.standing(id), "blocked"::equals);
    assertThat(desk.card(id).getDevice().getStandingReason())
        .isEqualTo(
            "Ticket Scan could not be installed: the device could not install it (it ended while"
                + " it was unpacked)");
    assertThat(of(id, "vellmar.ticket-scan").getState()).isEqualTo(AppState.FAILING);
    assertThat(
            rig.client
                .apps()
                .listAppDevices(scan.getApp().getId(), AppWith.FAILING, null, 10)
                .getItems())
        .hasSize(1);
    int sessions = tablet.screen().sessions();
    tablet.checkIn(false);
    Rig.eventually(() -> tablet.screen().sessions(), n -> n > sessions);
    assertThat(tablet.screen().runs()).as("not at once again").containsEntry("install", 1);
    tablet.device().fault("no-install", false);
    assertThat(rig.client.apps().pushApp(scan.getApp().getId(), new AppPush()).getDevices())
        .isEqualTo(1);
    Rig.eventually(() -> desk.standing(id), "settled"::equals);
    assertThat(there(tablet, "vellmar.ticket-scan")).contains("3.0");
    takeBack(p);
  }

  @Test
  void whatIsForbiddenIsRemovedThoughTheHolderPutItThere() throws Exception {
    Agent tablet = tablet();
    String id = id(tablet);
    AppDetail radio =
        desk.bring(
            Packages.of("vellmar.shift-radio", "Shift Radio", 1, 20_000, "", Packages.WORKSHOP));
    tablet.device().holders("vellmar.shift-radio", "Shift Radio", "0.9");
    tablet.checkIn(false);
    Rig.eventually(() -> of(id, "vellmar.shift-radio").getState(), AppState.NOT_ASSIGNED::equals);
    Profile p = assign(radio, "forbidden", Desk.device(id), Map.of());
    Rig.eventually(() -> there(tablet, "vellmar.shift-radio"), Optional.empty()::equals);
    Rig.eventually(() -> desk.standing(id), "settled"::equals);
    tablet.device().holders("vellmar.shift-radio", "Shift Radio", "0.9");
    tablet.checkIn(false);
    Rig.eventually(() -> there(tablet, "vellmar.shift-radio"), Optional.empty()::equals);
    takeBack(p);
  }

  @Test
  void aConfigurationIsHeldAgainstTheSchemaAndFilledInOnTheDevice() throws Exception {
    Agent tablet = tablet();
    String id = id(tablet);
    AppDetail log =
        desk.bring(
            Packages.of(
                "vellmar.climate-log",
                "Climate Log",
                1,
                20_000,
                """
                "configuration":{"type":"object","additionalProperties":false,
                  "properties":{"server":{"type":"string"},"every":{"type":"integer","minimum":1},
                                "key":{"type":"string"}},"required":["server"]}
                """,
                Packages.WORKSHOP));
    desk.release(log, 1);
    assertThatThrownBy(
            () ->
                assign(
                    log,
                    "required",
                    Desk.device(id),
                    Map.of("apps[climate-log].configuration", "{\"every\":0}")))
        .hasMessageContaining("Climate Log 1.0 does not take this configuration");
    Profile p =
        assign(
            log,
            "required",
            Desk.device(id),
            Map.of(
                "apps[climate-log].configuration",
                "{\"server\":\"log of {self:Name}\",\"every\":5}",
                "apps[climate-log].secrets",
                "{\"key\":\"a sealed word\"}"));
    Rig.eventually(() -> desk.standing(id), "settled"::equals);
    Screen.Tile tile = Rig.eventually(() -> tablet.screen().installed(), i -> !i.isEmpty()).get(0);
    assertThat(tile.config())
        .contains("log of " + desk.card(id).getDevice().getName(), "a sealed word", "\"every\":5");
    assertThat(rig.client.rules().getProfile(p.getId()).getSettings().toString())
        .contains("••••••••")
        .doesNotContain("a sealed word");
    takeBack(p);
  }

  @Test
  void whatIsOfferedWaitsOnTheShelfAndIsBroughtWhenTheHolderPicksIt() throws Exception {
    Agent tablet = tablet();
    String id = id(tablet);
    AppDetail notes =
        desk.bring(
            Packages.of(
                "vellmar.field-notes",
                "Field Notes",
                1,
                20_000,
                "\"summary\":\"What was found where.\",\"category\":\"field\"",
                Packages.WORKSHOP));
    desk.release(notes, 1);
    Profile p = assign(notes, "offered", Desk.device(id), Map.of());
    Map<String, String> shelf = Rig.eventually(() -> tablet.screen().shelf(), s -> !s.isEmpty());
    assertThat(shelf.values()).singleElement().asString().contains("What was found where.");
    assertThat(of(id, "vellmar.field-notes").getState()).isEqualTo(AppState.ON_SHELF);
    assertThat(there(tablet, "vellmar.field-notes")).isEmpty();
    tablet.device().pick("vellmar.field-notes");
    tablet.checkIn(false);
    Rig.eventually(() -> there(tablet, "vellmar.field-notes"), Optional.of("1.0")::equals);
    Rig.eventually(() -> desk.standing(id), "settled"::equals);
    tablet.device().pick("vellmar.nothing");
    tablet.checkIn(false);
    takeBack(p);
    Rig.eventually(() -> there(tablet, "vellmar.field-notes"), Optional.empty()::equals);
    Rig.eventually(() -> tablet.screen().shelf(), Map::isEmpty);
    assertThat(tablet.screen().runs())
        .as("for what is on no shelf, nothing")
        .containsEntry("install", 1);
  }

  @Test
  void aKioskClosesOnceItsAppIsThere() throws Exception {
    Agent tablet = tablet();
    String id = id(tablet);
    tablet.device().fault("cellular", true);
    AppDetail guide = desk.bring(Packages.of("vellmar.tour", "Tour", 1, 20, "", Packages.WORKSHOP));
    desk.release(guide, 1);
    assign(guide, "required", Desk.device(id), Map.of("apps[tour].wifi-only", true));
    Profile kiosk =
        desk.profile(
            "One tour",
            Map.of("kiosk.mode", "one", "kiosk.apps", List.of("vellmar.tour")),
            Desk.device(id));
    desk.publish(kiosk);
    Rig.eventually(
        () -> tablet.device().tree().read("./Vendor/Pinwright/Policy").keySet(),
        held -> held.contains("./Vendor/Pinwright/Policy/kiosk/apps"));
    assertThat(tablet.screen().kiosk()).isEmpty();
    assertThat(desk.standing(id)).isEqualTo("catching-up");

    tablet.device().fault("cellular", false);
    Screen.KioskView shown =
        Rig.eventually(tablet::screen, s -> s.kiosk().isPresent()).kiosk().orElseThrow();
    assertThat(shown.open()).map(Screen.App::name).contains("Tour");
    Rig.eventually(() -> desk.standing(id), "settled"::equals);
  }

  private static Screen.App system(Agent tablet, String app) {
    return tablet.screen().apps().stream()
        .filter(a -> a.id().equals(app))
        .findFirst()
        .orElseThrow();
  }

  @Test
  void whatComesWithTheOsIsForbiddenAndLetInAgain() throws Exception {
    Agent tablet = tablet();
    String id = id(tablet);
    App camera = rig.client.apps().listApps("camera", AppOrigin.SYSTEM, null, 10).getItems().get(0);
    assertThat(camera.getPlatforms()).containsExactly("fjell", "tarn");
    AppDetail detail = rig.client.apps().getApp(camera.getId());
    assertThatThrownBy(() -> assign(detail, "offered", Desk.device(id), Map.of()))
        .hasMessageContaining("comes with the OS");
    assertThatThrownBy(
            () -> rig.client.apps().deleteApp(camera.getId(), Desk.onVersion(detail.getVersion())))
        .hasMessageContaining("comes with the OS");
    Profile forbidden = assign(detail, "forbidden", Desk.device(id), Map.of());
    Rig.eventually(() -> system(tablet, "system.camera"), a -> !a.there());
    Rig.eventually(() -> desk.standing(id), "settled"::equals);
    takeBack(forbidden);
    Rig.eventually(() -> system(tablet, "system.camera"), Screen.App::there);
    Rig.eventually(() -> desk.standing(id), "settled"::equals);
  }

  @Test
  void aPageOfTheWebInstallsLikeAnyAppAndOpensWhatItIsTold() throws Exception {
    Agent tablet = tablet();
    String id = id(tablet);
    WebAppSpec spec =
        new WebAppSpec()
            .name("Öffnungszeiten & more")
            .address("https://vellmar.example/hours?a=1&b=2");
    AppDetail page = rig.client.apps().makeWebApp(spec);
    assertThat(page.getApp().getPackageId()).isEqualTo("web.offnungszeiten-more");
    assertThat(page.getApp().getOrigin()).isEqualTo(AppOrigin.WEB);
    assertThat(rig.client.apps().makeWebApp(spec).getApp().getPackageId())
        .isEqualTo("web.offnungszeiten-more-2");
    assign(page, "required", Desk.device(id), Map.of());
    Screen.Tile tile =
        Rig.eventually(
                () ->
                    tablet.screen().installed().stream()
                        .filter(a -> a.id().equals("web.offnungszeiten-more"))
                        .findFirst(),
                Optional::isPresent)
            .orElseThrow();
    assertThat(tile.opens()).isEqualTo("https://vellmar.example/hours?a=1&b=2");
    assertThatThrownBy(
            () ->
                desk.bring(
                    Packages.of("web.offnungszeiten-more", "Mine", 9, 20, "", Packages.WORKSHOP)))
        .isInstanceOfSatisfying(
            ApiException.class,
            e -> assertThat(e.getResponseBody()).contains("is a page of the web"));

    AppDetail now = rig.client.apps().getApp(page.getApp().getId());
    AppBrought changed =
        rig.client
            .apps()
            .changeWebApp(
                page.getApp().getId(),
                Desk.onVersion(now.getVersion()),
                new WebAppSpec().address("https://vellmar.example/winter"));
    assertThat(changed.getVersion().getVersion()).isEqualTo("2.0");
    assertThat(changed.getVersion().getLowestOs()).containsOnlyKeys("fjell", "moor", "tarn");
    desk.release(changed.getApp(), 2);
    Rig.eventually(
        () ->
            tablet.screen().installed().stream()
                .filter(a -> a.id().equals("web.offnungszeiten-more"))
                .map(Screen.Tile::opens)
                .findFirst(),
        Optional.of("https://vellmar.example/winter")::equals);
    for (String wrong :
        List.of("javascript:alert(1)", "ftp://vellmar.example", "vellmar.example", "")) {
      assertThatThrownBy(
              () -> rig.client.apps().makeWebApp(new WebAppSpec().name("No").address(wrong)))
          .hasMessageContaining("ddress");
    }
  }

  @Test
  void aPrintedCodeTellsAnAppWhatItNeedsOnAPhoneNobodyManages() throws Exception {
    AppDetail shifts =
        desk.bring(
            Packages.of("vellmar.shifts", "Shifts", 1, 20, Packages.CONFIGURED, Packages.WORKSHOP));
    desk.release(shifts, 1);
    Unit unit =
        rig.client
            .organisation()
            .addUnit(new UnitDraft().code("VM-VOL").name("Volunteers \"day & night\""));
    Map<String, Object> told = Map.of("quiet", true, "house", "Welcome, {self:Unit}");
    AppCodeDraft draft =
        new AppCodeDraft()
            .appId(shifts.getApp().getId())
            .unitId(unit.getId())
            ._configuration(told)
            .secrets(Map.of("key", "s3cret"));
    AppCode code = rig.client.apps().makeAppCode(draft);
    String picture =
        ConfigurationReader.scan(
            Files.readAllBytes(rig.client.apps().getAppCodeQrPng(code.getId()).toPath()));
    assertThat(picture).isEqualTo(code.getLink());
    ConfigurationReader phone = new ConfigurationReader(rig.fleet.network());
    PrintedConfiguration read = phone.read(picture);
    assertThat(read.app()).isEqualTo("vellmar.shifts");
    assertThat(read.unit()).isEqualTo("Volunteers \"day & night\"");
    assertThat(read.configuration()).contains("Welcome, Volunteers \\\"day & night\\\"", "s3cret");
    AppCode after = rig.client.apps().getAppCode(code.getId());
    assertThat(after.getReadTimes()).isEqualTo(1);
    assertThat(after.toString()).doesNotContain("s3cret");
    assertThat(
            rig.client
                .apps()
                .listAppCodes(shifts.getApp().getId(), null, 10)
                .getItems()
                .get(0)
                .getLink())
        .isNull();

    assertThatThrownBy(() -> phone.read(picture.replace("#", "#x").substring(0, picture.length())))
        .hasMessageContaining("another");
    String last = picture.split("#")[0];
    char changed = last.endsWith("7") ? '8' : '7';
    assertThatThrownBy(
            () ->
                phone.read(
                    last.substring(0, last.length() - 1) + changed + "#" + picture.split("#")[1]))
        .hasMessageContaining("no configuration of this code");
    AppCode plain =
        rig.client
            .apps()
            .makeAppCode(new AppCodeDraft().appId(shifts.getApp().getId()).unitId(unit.getId()));
    assertThat(plain.getSecrets()).isFalse();
    assertThat(phone.read(plain.getLink()).configuration()).isEqualTo("{}");
    rig.client.apps().revokeAppCode(code.getId());
    assertThatThrownBy(() -> phone.read(picture)).hasMessageContaining("taken back");
    for (Map<String, Object> wrong :
        List.<Map<String, Object>>of(Map.of("house", 7), Map.of("house", "{self:Name}"))) {
      assertThatThrownBy(() -> rig.client.apps().makeAppCode(draft._configuration(wrong)))
          .isInstanceOf(ApiException.class);
    }
  }

  @Test
  void aPackageComesInPartsAndGoesOnWhereTheLineBroke() throws Exception {
    Path file = Packages.of("vellmar.atlas", "Atlas", 1, 9_000_000, "", Packages.WORKSHOP);
    byte[] all = Files.readAllBytes(file);
    AppsApi apps = rig.client.apps();
    Upload upload = apps.beginUpload(new UploadDraft().bytes((long) all.length));
    byte[] part = Arrays.copyOf(all, 1_000_000);
    assertThat(rig.client.sendPart(upload, part).getThere()).isEqualTo(1_000_000);
    assertThatThrownBy(() -> rig.client.sendPart(upload, part))
        .isInstanceOfSatisfying(
            ApiException.class, e -> assertThat(e.getResponseBody()).contains("go on from there"));
    assertThatThrownBy(() -> apps.bringUpload(upload.getId()))
        .hasMessageContaining("send the rest first");
    PinwrightClient otto = rig.another("otto", "operator");
    assertThatThrownBy(() -> otto.apps().getUpload(upload.getId())).hasMessageContaining("404");

    List<Long> heard = new ArrayList<>();
    AppBrought brought =
        rig.client.bringPackage(file, upload.getId(), (id, there, bytes) -> heard.add(there));
    assertThat(heard).startsWith(1_000_000L + (4 << 20)).endsWith((long) all.length);
    assertThat(brought.getVersion().getSize()).isEqualTo(all.length);
    assertThatThrownBy(() -> apps.getUpload(upload.getId())).hasMessageContaining("404");
  }

  @Test
  void aPackageAtAnAddressIsTakenWhereItIsLaterAndOfTheSameSigner() throws Exception {
    AppDetail tide = desk.bring(Packages.of("vellmar.tide", "Tide", 1, 20, "", Packages.WORKSHOP));
    String id = tide.getApp().getId();
    AtomicReference<Path> there =
        new AtomicReference<>(Packages.of("vellmar.tide", "Tide", 1, 20, "", Packages.WORKSHOP));
    HttpServer workshop = HttpServer.create(new InetSocketAddress("127.0.0.1", 0), 0);
    workshop.createContext(
        "/tide.pkg",
        x -> {
          byte[] body = Files.readAllBytes(there.get());
          x.sendResponseHeaders(200, body.length);
          x.getResponseBody().write(body);
          x.close();
        });
    workshop.start();
    try {
      AppsApi apps = rig.client.apps();
      AppSourceSpec spec =
          new AppSourceSpec()
              .address("http://127.0.0.1:" + workshop.getAddress().getPort() + "/tide.pkg");
      assertThatThrownBy(
              () ->
                  apps.setAppSource(
                      id, Desk.onVersion(0), new AppSourceSpec().address("file:///etc/passwd")))
          .hasMessageContaining("https://");
      AppSource set = apps.setAppSource(id, Desk.onVersion(0), spec);
      assertThatThrownBy(() -> apps.setAppSource(id, Desk.onVersion(0), spec))
          .hasMessageContaining("412");
      assertThat(apps.lookAtSource(id).getFound()).isNull();

      there.set(Packages.of("vellmar.tide", "Tide", 2, 20, "", Packages.signer("Another")));
      assertThat(apps.lookAtSource(id).getFault()).contains("whose key is another");
      assertThat(apps.getAppSource(id).getFault()).contains("whose key is another");
      there.set(Packages.rota(9, ""));
      assertThat(apps.lookAtSource(id).getFault()).contains("is of vellmar.rota");

      there.set(Packages.of("vellmar.tide", "Tide", 3, 20, "", Packages.WORKSHOP));
      AppLook found = apps.lookAtSource(id);
      assertThat(found.getFound()).isEqualTo("3.0");
      assertThat(found.getReleased()).isFalse();
      assertThat(apps.getApp(id).getForAll()).isNull();

      AppSource now = apps.getAppSource(id);
      assertThat(now.getFault()).isNull();
      apps.setAppSource(id, Desk.onVersion(now.getVersion()), spec.release(AppByItself.ALL));
      there.set(Packages.of("vellmar.tide", "Tide", 4, 20, "", Packages.WORKSHOP));
      assertThat(apps.lookAtSource(id).getReleased()).isTrue();
      assertThat(apps.getApp(id).getForAll().getVersion()).isEqualTo("4.0");
      assertThat(apps.getAppSource(id).getVersion())
          .as("looking is no change of what is followed")
          .isEqualTo(now.getVersion() + 1);
      desk.release(apps.getApp(id), 3);
      assertThat(apps.lookAtSource(id).getReleased()).isFalse();
      assertThat(apps.getApp(id).getForAll().getVersion())
          .as("who goes back is not overruled")
          .isEqualTo("3.0");
    } finally {
      workshop.stop(0);
    }
  }

  @Test
  void whatDevicesAreBehindWithIsCountedAndPushed() throws Exception {
    Agent tablet = tablet();
    String id = id(tablet);
    tablet.device().fault("no-install", true);
    AppDetail log = desk.bring(Packages.of("vellmar.log", "Log", 1, 20, "", Packages.WORKSHOP));
    desk.release(log, 1);
    assign(log, "required", Desk.device(id), Map.of());
    Rig.eventually(() -> of(id, "vellmar.log").getState(), AppState.FAILING::equals);
    AppBehind behind = behind("vellmar.log").orElseThrow();
    assertThat(behind.getDevices()).isEqualTo(1);
    assertThat(behind.getMissing()).isEqualTo(1);
    assertThat(behind.getFailing()).isEqualTo(1);
    tablet.device().fault("no-install", false);
    assertThat(rig.client.apps().pushDeviceApps(id).getDevices()).isEqualTo(1);
    Rig.eventually(() -> there(tablet, "vellmar.log"), Optional.of("1.0")::equals);
    Rig.eventually(() -> behind("vellmar.log"), Optional::isEmpty);
  }

  private static Optional<AppBehind> behind(String app) {
    try {
      return rig.client.apps().listAppsBehind().getItems().stream()
          .filter(b -> b.getPackageId().equals(app))
          .findFirst();
    } catch (ApiException e) {
      throw new IllegalStateException(e);
    }
  }
}
