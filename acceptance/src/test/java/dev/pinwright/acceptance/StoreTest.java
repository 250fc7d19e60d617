package dev.pinwright.acceptance;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.pinwright.client.http.ApiException;
import dev.pinwright.client.model.AppDetail;
import dev.pinwright.client.model.AppOrigin;
import dev.pinwright.client.model.EnrollmentProfile;
import dev.pinwright.client.model.EnrollmentProfileDraft;
import dev.pinwright.client.model.InvitationDraft;
import dev.pinwright.client.model.LicenseMove;
import dev.pinwright.client.model.LicensePool;
import dev.pinwright.client.model.LicensePoolPlace;
import dev.pinwright.client.model.Mode;
import dev.pinwright.client.model.Person;
import dev.pinwright.client.model.PersonDraft;
import dev.pinwright.client.model.PlatformKey;
import dev.pinwright.client.model.Profile;
import dev.pinwright.client.model.Reason;
import dev.pinwright.client.model.Redeemed;
import dev.pinwright.client.model.RedemptionSheet;
import dev.pinwright.client.model.Rehearsal;
import dev.pinwright.client.model.Site;
import dev.pinwright.client.model.SiteDraft;
import dev.pinwright.client.model.StoreApp;
import dev.pinwright.client.model.StoreAppChoice;
import dev.pinwright.client.model.TargetSpec;
import dev.pinwright.core.license.Licensing;
import dev.pinwright.sandbox.device.Agent;
import dev.pinwright.sandbox.vendor.VendorStore;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;

/** Apps of a platform's store: bought in its portal, counted here, installed by license. */
class StoreTest {
  private static final PlatformKey TARN = PlatformKey.TARN;
  private static final String READER = "lumen.reader";

  private static Rig rig;
  private static Desk desk;
  private static Gates gates;
  private static int made;

  @BeforeAll
  static void start() throws Exception {
    rig = new Rig();
    desk = new Desk(rig);
    gates = new Gates(rig);
    gates.services(TARN);
    assertThatThrownBy(() -> rig.client.apps().searchStore(TARN, "XV", ""))
        .hasMessageContaining("The store of tarn is not connected");
    gates.store(TARN);
  }

  @AfterAll
  static void stop() {
    rig.close();
  }

  private static Path app(String id, String name, int code) throws Exception {
    return app(id, name, code, "\"platforms\":[\"tarn\",\"fjell\"]");
  }

  private static Path app(String id, String name, int code, String platforms) throws Exception {
    return Packages.of(
        id, name, code, 20_000, "\"publisher\":\"Lumen House\"," + platforms, Packages.WORKSHOP);
  }

  private static AppDetail add(String id) throws ApiException {
    return rig.client.apps().addStoreApp(TARN, new StoreAppChoice().id(id));
  }

  private static Agent tablet() throws ApiException {
    return rig.join(rig.unpackAutomatic("T10"), desk.kiosks("Store " + ++made, 3).getLink());
  }

  private static String id(Agent tablet) {
    return desk.devices(tablet.screen().serial(), 1).get(0).getId();
  }

  private static List<TargetSpec> to(List<Agent> tablets) {
    return tablets.stream().map(t -> Desk.device(id(t))).toList();
  }

  private static boolean has(Agent tablet, String app) {
    return tablet.screen().installed().stream().anyMatch(a -> a.id().equals(app));
  }

  private static LicensePool pool(AppDetail app, String place) {
    try {
      return rig
          .client
          .apps()
          .listLicensePools(null, app.getApp().getId(), null, 50)
          .getItems()
          .stream()
          .filter(p -> p.getPlace().equals(place))
          .findFirst()
          .orElseThrow();
    } catch (ApiException e) {
      throw new IllegalStateException(e);
    }
  }

  private static List<String> names(String app, String place) {
    return gates.vendor(TARN).store().bought().stream()
        .filter(s -> s.app().equals(app) && s.place().equals(place))
        .map(VendorStore.Stock::names)
        .findFirst()
        .map(ArrayList::new)
        .orElseThrow();
  }

  @Test
  void anAppIsFoundInWordsByCountryAndAddedWithWhatTheStoreSaysOfIt() throws Exception {
    gates.sell(TARN, app("lumen.lantern", "Lumen Lantern", 3), Licensing.BY_DEVICE);
    gates
        .vendor(TARN)
        .store()
        .publish(
            Files.readAllBytes(app("lumen.atlas", "Lumen Atlas", 1)),
            Licensing.FREE,
            Map.of("XA", "free"));
    assertThat(rig.client.apps().listStoreCountries(TARN).getItems())
        .extracting(c -> c.getName())
        .contains("Vellmar");
    List<StoreApp> found = rig.client.apps().searchStore(TARN, "XV", "lumen la").getItems();
    assertThat(found).extracting(StoreApp::getName).containsExactly("Lumen Lantern", "Lumen Atlas");
    assertThat(found.get(0).getPrice()).isEqualTo("4.50 crowns");
    assertThat(found.get(1).getPrice()).as("not sold there").isNull();
    assertThat(found.get(1).getCountries()).containsExactly("XA");
    assertThatThrownBy(() -> rig.client.apps().searchStore(TARN, "Vellmar", ""))
        .hasMessageContaining("two capital letters");

    AppDetail lantern = add("lumen.lantern");
    assertThat(lantern.getApp().getOrigin()).isEqualTo(AppOrigin.STORE);
    assertThat(lantern.getApp().getPublisher()).isEqualTo("Lumen House");
    assertThat(lantern.getApp().getForAll()).isEqualTo("3.0");
    assertThat(lantern.getStore().getLicensing().getValue()).isEqualTo("by-device");
    assertThat(rig.client.apps().searchStore(TARN, "XV", "lantern").getItems().get(0).getAppId())
        .isEqualTo(lantern.getApp().getId());
    assertThatThrownBy(() -> add("lumen.nothing")).hasMessageContaining("404");
    assertThatThrownBy(() -> add("")).hasMessageContaining("Name an app by the id");

    gates.vendor(TARN).store().update(Files.readAllBytes(app("lumen.lantern", "Lumen Lantern", 4)));
    assertThat(rig.client.apps().readStore(TARN).getNewVersions()).isEqualTo(1);
    AppDetail now = rig.client.apps().getApp(lantern.getApp().getId());
    assertThat(now.getLatest().getVersion()).isEqualTo("4.0");
    assertThat(now.getForAll().getVersion()).as("until somebody releases it").isEqualTo("3.0");
    assertThat(rig.client.apps().readStore(TARN).getNewVersions()).isZero();

    gates.vendor(TARN).store().withdraw("lumen.lantern");
    rig.client.apps().readStore(TARN);
    assertThat(rig.client.apps().getApp(lantern.getApp().getId()).getStore().getSold()).isFalse();
  }

  @Test
  void licensesAreShortInTheRehearsalGivenInOrderAndTakenBack() throws Exception {
    gates.sell(TARN, app(READER, "Lumen Reader", 7), Licensing.BY_DEVICE);
    gates.license(TARN, READER, "Tollen", 2);
    AppDetail reader =
        rig.client
            .apps()
            .getApp(
                rig.client
                    .apps()
                    .listApps("lumen.reader", null, null, 1)
                    .getItems()
                    .get(0)
                    .getId());
    List<Agent> tablets = List.of(tablet(), tablet(), tablet());
    Profile p = desk.assignment(reader, "required", to(tablets), Map.of());
    Rehearsal r = rig.client.rules().rehearseProfile(p.getId());
    assertThat(r.getShortages()).hasSize(1);
    assertThat(r.getShortages().get(0).getApp()).isEqualTo("Lumen Reader");
    assertThat(r.getShortages().get(0).getWanting()).isEqualTo(3);
    assertThat(r.getShortages().get(0).getFree()).isEqualTo(2);
    assertThat(r.getShortages().get(0).getLacking()).isEqualTo(1);
    desk.publish(p);
    Rig.eventually(() -> has(tablets.get(0), READER) && has(tablets.get(1), READER), x -> x);
    String third = id(tablets.get(2));
    Rig.eventually(() -> desk.standing(third), "blocked"::equals);
    assertThat(desk.card(third).getDevice().getStandingReason())
        .isEqualTo("Lumen Reader cannot be installed: no license of it is free");
    assertThat(names(READER, "Tollen"))
        .containsExactlyInAnyOrder(
            tablets.get(0).screen().serial(), tablets.get(1).screen().serial());
    LicensePool full = pool(reader, "Tollen");
    assertThat(List.of(full.getOwned(), full.getUsed(), full.getFree(), full.getLacking()))
        .containsExactly(2L, 2L, 0L, 1L);
    assertThat(full.getDaysLeft()).isZero();

    String first = id(tablets.get(0));
    rig.client.devices().retireDevice(first, new Reason().reason("worn out"));
    Rig.eventually(() -> has(tablets.get(2), READER), x -> x);
    Rig.eventually(() -> desk.standing(third), "settled"::equals);
    assertThat(names(READER, "Tollen"))
        .containsExactlyInAnyOrder(
            tablets.get(1).screen().serial(), tablets.get(2).screen().serial());

    Profile now = rig.client.rules().getProfile(p.getId());
    rig.client.rules().deleteProfile(p.getId(), Desk.onVersion(now.getVersion()), null, null);
    Rig.eventually(() -> names(READER, "Tollen"), List::isEmpty);
    Rig.eventually(() -> pool(reader, "Tollen").getFree(), n -> n == 2);
    String app = reader.getApp().getId();
    rig.client.apps().deleteApp(app, Desk.onVersion(rig.client.apps().getApp(app).getVersion()));
    assertThat(rig.client.apps().listLicensePools(null, app, null, 5).getItems()).isEmpty();
  }

  @Test
  void aDeviceDrawsOnThePoolOfItsSiteFirstAndLicensesMoveBetweenPlaces() throws Exception {
    String app = "lumen.journal";
    gates.sell(TARN, app(app, "Lumen Journal", 1), Licensing.BY_DEVICE);
    Site ulby = rig.client.organisation().addSite(new SiteDraft().name("Ulby"));
    gates.license(TARN, app, "Ulby", 1);
    gates.license(TARN, app, "Skarne", 3);
    AppDetail journal = rig.client.apps().getApp(add(app).getApp().getId());
    assertThat(pool(journal, "Ulby").getSite()).as("called like the site").isEqualTo("Ulby");
    assertThat(pool(journal, "Skarne").getSite()).isNull();
    EnrollmentProfile atUlby =
        desk.enrollment(
            new EnrollmentProfileDraft()
                .name("At Ulby")
                .mode(Mode.SUPERVISED)
                .siteId(ulby.getId()));
    Agent there = rig.join(rig.unpackAutomatic("T10"), desk.invite(atUlby, 1).getLink());
    Agent elsewhere = tablet();
    desk.publish(desk.assignment(journal, "required", to(List.of(there, elsewhere)), Map.of()));
    Rig.eventually(() -> has(there, app) && has(elsewhere, app), x -> x);
    assertThat(names(app, "Ulby")).containsExactly(there.screen().serial());
    assertThat(names(app, "Skarne")).containsExactly(elsewhere.screen().serial());

    LicensePool skarne = pool(journal, "Skarne");
    assertThatThrownBy(
            () ->
                rig.client
                    .apps()
                    .moveLicenses(skarne.getId(), new LicenseMove().place("Ulby").number(3L)))
        .hasMessageContaining("Skarne has 2 free licenses of Lumen Journal");
    LicensePool after =
        rig.client.apps().moveLicenses(skarne.getId(), new LicenseMove().place("Ulby").number(2L));
    assertThat(after.getOwned()).isEqualTo(1);
    assertThat(pool(journal, "Ulby").getOwned()).isEqualTo(3);
    LicensePool ours = pool(journal, "Ulby");
    assertThat(
            rig.client
                .apps()
                .placeLicensePool(
                    ours.getId(), Desk.onVersion(ours.getVersion()), new LicensePoolPlace())
                .getSite())
        .isNull();
    assertThatThrownBy(
            () ->
                rig.client
                    .apps()
                    .placeLicensePool(
                        ours.getId(), Desk.onVersion(ours.getVersion()), new LicensePoolPlace()))
        .hasMessageContaining("412");
  }

  @Test
  void aLicenseOfAHoldersCoversTheDevicesTheyHoldAndWhatIsPickedComesWhenOneIsFree()
      throws Exception {
    String app = "orre.mail";
    gates.sell(TARN, app(app, "Orre Mail", 1), Licensing.BY_HOLDER);
    AppDetail mail = add(app);
    Person ines =
        rig.client
            .organisation()
            .addPerson(new PersonDraft().name("Ines Orrin").mail("Ines.Orrin@vellmar.example"));
    EnrollmentProfile held =
        desk.enrollment(new EnrollmentProfileDraft().name("Held").mode(Mode.SUPERVISED));
    List<Agent> tablets = new ArrayList<>();
    for (int i = 0; i < 2; i++) {
      String link =
          rig.client
              .intake()
              .addInvitation(
                  new InvitationDraft().profileId(held.getId()).personId(ines.getId()).uses(1))
              .getLink();
      tablets.add(rig.join(rig.unpackAutomatic("T10"), link));
    }
    desk.publish(desk.assignment(mail, "offered", to(tablets), Map.of()));
    for (Agent t : tablets) {
      Rig.eventually(() -> t.screen().shelf(), s -> !s.isEmpty());
      t.device().pick(app);
      t.checkIn(false);
      Rig.eventually(
          () -> t.screen().messages().toString(),
          s -> s.contains("Orre Mail cannot be installed now: no license of it is free"));
      assertThat(desk.standing(id(t))).isNotEqualTo("blocked");
    }
    gates.license(TARN, app, "Trust office", 1);
    Rig.eventually(() -> tablets.stream().allMatch(t -> has(t, app)), x -> x);
    assertThat(names(app, "Trust office")).containsExactly("ines.orrin@vellmar.example");

    Agent nobodys = tablet();
    desk.publish(desk.assignment(mail, "required", to(List.of(nobodys)), Map.of()));
    Rig.eventually(() -> desk.standing(id(nobodys)), "blocked"::equals);
    assertThat(desk.card(id(nobodys)).getDevice().getStandingReason())
        .contains("nobody with a mail address holds this device");
  }

  @Test
  void whatIsForOnePlatformIsNotAskedOfTheOthers() throws Exception {
    String app = "lumen.tarn-only";
    gates.sell(TARN, app(app, "Lumen Tarn", 1, "\"platforms\":[\"tarn\"]"), Licensing.BY_DEVICE);
    gates.license(TARN, app, "Tollen", 9);
    AppDetail only = add(app);
    Agent tablet = tablet();
    Agent phone = rig.join(rig.unpackAutomatic("P5"), desk.kiosks("Store " + ++made, 1).getLink());
    Profile p = desk.assignment(only, "required", to(List.of(tablet, phone)), Map.of());
    Rehearsal r = rig.client.rules().rehearseProfile(p.getId());
    assertThat(r.getChanging()).isEqualTo(1);
    desk.publish(p);
    Rig.eventually(() -> has(tablet, app), x -> x);
    Rig.eventually(() -> desk.standing(id(tablet)), "settled"::equals);
    assertThat(desk.standing(id(phone))).isEqualTo("settled");
    AppDetail now = rig.client.apps().getApp(only.getApp().getId());
    assertThat(now.getApp().getAssigned()).isEqualTo(1);
    assertThat(now.getAssignments().get(0).getDevices()).isEqualTo(1);
    assertThat(now.getCounts().getMissing()).isZero();
    assertThat(pool(only, "Tollen").getUsed()).isEqualTo(1);
  }

  @Test
  void theStoreGivesNothingToADeviceWithoutALicense() throws Exception {
    String app = "lumen.sealed";
    gates.sell(TARN, app(app, "Lumen Sealed", 1), Licensing.BY_DEVICE);
    gates.license(TARN, app, "Tollen", 1);
    AppDetail sealed = add(app);
    Agent tablet = tablet();
    // given away in the portal, so that one fewer is left here
    gates.vendor(TARN).store().hold(Gates.ACCOUNT, app, "Tollen", List.of("SOMEBODY-ELSE"), true);
    desk.publish(desk.assignment(sealed, "required", to(List.of(tablet)), Map.of()));
    Rig.eventually(() -> desk.standing(id(tablet)), "blocked"::equals);
    Rig.eventually(() -> pool(sealed, "Tollen").getElsewhere(), n -> n == 1);
    assertThat(has(tablet, app)).isFalse();
    assertThat(pool(sealed, "Tollen").getFree()).isZero();
  }

  @Test
  void codesFromASheetAreLookedAtAndThenEachBecomesALicense() throws Exception {
    gates.sell(TARN, app("lumen.prism", "Lumen Prism", 1), Licensing.BY_DEVICE);
    gates.sell(TARN, app("lumen.globe", "Lumen Globe", 1), Licensing.BY_DEVICE);
    VendorStore store = gates.vendor(TARN).store();
    List<String> codes = store.codes("lumen.prism", "XV", 3);
    String other = store.codes("lumen.globe", "XV", 1).get(0);
    AppDetail prism = add("lumen.prism");
    String sheet =
        "\ufeffcode;bought\r\n"
            + codes.get(0).toLowerCase(Locale.ROOT)
            + ";2026-01-02\r\n"
            + codes.get(1)
            + ";\r\n"
            + codes.get(0)
            + ";again\r\n"
            + other
            + ";\r\n"
            + "AAAA-BBBB-CCCC-DDDD;\r\n";
    RedemptionSheet asked =
        new RedemptionSheet().appId(prism.getApp().getId()).place("Ulby").sheet(sheet);
    Redeemed looked = rig.client.apps().redeemCodes(asked);
    assertThat(looked.getGood()).isEqualTo(2);
    assertThat(looked.getFaults())
        .extracting(f -> f.getLine() + " " + f.getJudgement())
        .containsExactly("4 twice", "5 other-app", "6 unknown");
    assertThat(store.bought()).noneMatch(s -> s.app().equals("lumen.prism"));

    assertThat(rig.client.apps().redeemCodes(asked.save(true)).getGood()).isEqualTo(2);
    assertThat(pool(prism, "Ulby").getOwned()).isEqualTo(2);
    Redeemed again = rig.client.apps().redeemCodes(asked);
    assertThat(again.getGood()).isZero();
    assertThat(again.getFaults().get(0).getJudgement().getValue()).isEqualTo("spent");
    assertThat(pool(prism, "Ulby").getOwned()).as("each counts once").isEqualTo(2);
    assertThatThrownBy(() -> rig.client.apps().redeemCodes(asked.sheet("code\n")))
        .hasMessageContaining("no code in the sheet");
  }
}
