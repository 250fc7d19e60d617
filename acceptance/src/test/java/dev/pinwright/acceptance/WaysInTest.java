package dev.pinwright.acceptance;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.pinwright.client.http.ApiException;
import dev.pinwright.client.model.ActivityLine;
import dev.pinwright.client.model.Arrival;
import dev.pinwright.client.model.CommandKey;
import dev.pinwright.client.model.DeviceFilter;
import dev.pinwright.client.model.DeviceSummary;
import dev.pinwright.client.model.Dispatch;
import dev.pinwright.client.model.DispatchOrder;
import dev.pinwright.client.model.EnrollmentProfile;
import dev.pinwright.client.model.EnrollmentProfileDraft;
import dev.pinwright.client.model.FirstRun;
import dev.pinwright.client.model.GroupDraft;
import dev.pinwright.client.model.GroupMembers;
import dev.pinwright.client.model.Invitation;
import dev.pinwright.client.model.ManyInvitations;
import dev.pinwright.client.model.Mode;
import dev.pinwright.client.model.NamedRef;
import dev.pinwright.client.model.NewTerms;
import dev.pinwright.client.model.Ownership;
import dev.pinwright.client.model.PlatformKey;
import dev.pinwright.client.model.Profile;
import dev.pinwright.client.model.ReadyGate;
import dev.pinwright.client.model.Reason;
import dev.pinwright.client.model.Retired;
import dev.pinwright.client.model.SetUpStep;
import dev.pinwright.client.model.TermsText;
import dev.pinwright.client.model.UnitDraft;
import dev.pinwright.sandbox.device.Agent;
import dev.pinwright.sandbox.device.Fleet;
import dev.pinwright.sandbox.device.Screen;
import dev.pinwright.sandbox.office.MailCatcher.Letter;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** Every way a device gets in, from its holder's side to the list of devices. */
class WaysInTest {
  private Rig rig;
  private Desk desk;
  private Gates gates;

  @BeforeEach
  void start() {
    rig = new Rig();
    desk = new Desk(rig);
    gates = new Gates(rig);
  }

  @AfterEach
  void stop() {
    rig.close();
  }

  private Agent factoryNew(String serial, boolean holder) {
    return rig.fleet.make(new Fleet.Wish("T10", "7.2", serial, !holder, 100L));
  }

  private List<DeviceSummary> devices(String words) {
    return desk.devices(words, 50);
  }

  @Test
  void aNewDeviceJoinsWithoutATouchWaitsAtTheGateAndComesBackAfterAReset() throws Exception {
    EnrollmentProfile kiosks =
        desk.enrollment(
            new EnrollmentProfileDraft()
                .name("Lighthouse kiosks")
                .mode(Mode.SUPERVISED)
                .namePattern("LIG {seq:3}")
                .readyGate(new ReadyGate().profiles(true).osVersions(Map.of("tarn", "7.2.1"))));
    desk.publish(desk.profile("Kiosks", Map.of("restrictions.camera-off", true), Desk.everyone()));
    gates.services(PlatformKey.TARN);
    gates.registrar(PlatformKey.TARN, kiosks.getId());
    gates.buy("AR10-7001-0001");

    Agent stranger = factoryNew("AR10-7001-0002", false);
    stranger.boot().join();
    assertThat(stranger.screen().screen()).as("nobody bought it").isEqualTo("new");

    Agent tablet = factoryNew("AR10-7001-0001", false);
    tablet.boot().join();
    Screen gate =
        Rig.eventually(tablet::screen, s -> s.screen().equals("gate") && !s.gate().isEmpty());
    assertThat(gate.gate()).extracting(g -> g.title()).contains("System update to 7.2.1");
    Rig.eventually(
        this::newestArrival,
        a -> a.getStep().equals("ready gate") && a.getReason().contains("system update to 7.2.1"));
    Rig.eventually(tablet::screen, s -> s.screen().equals("home"));
    assertThat(tablet.screen().osVersion()).isEqualTo("7.2.1");
    assertThat(tablet.screen().notices("camera-gone")).isTrue();
    DeviceSummary before = devices("LIG 001").get(0);
    Rig.eventually(this::newestArrival, a -> a.getOutcome().getValue().equals("done"));

    tablet.reset();
    Rig.eventually(tablet::screen, s -> s.screen().equals("home") && s.managed());
    assertThat(devices("LIG"))
        .singleElement()
        .extracting(DeviceSummary::getId)
        .isEqualTo(before.getId());
  }

  @Test
  void theGateStaysShutForADeviceThatRefusedASettingUntilThatIsTakenAway() throws Exception {
    EnrollmentProfile kiosks =
        desk.enrollment(
            new EnrollmentProfileDraft()
                .name("Kiosks")
                .mode(Mode.SUPERVISED)
                .readyGate(new ReadyGate().profiles(true)));
    Profile rules =
        desk.profile("Kiosks", Map.of("restrictions.camera-off", true), Desk.everyone());
    desk.publish(rules);
    Agent tablet = factoryNew("AR10-7003-0001", false);
    tablet.device().refuseAlways(List.of("./Vendor/Pinwright/Policy/restrictions/camera-off"));
    tablet.take(desk.invite(kiosks, 1).getLink()).join();
    tablet.accept(null).join();
    Screen gate =
        Rig.eventually(
            () -> {
              Rig.firstRun(tablet);
              return tablet.screen();
            },
            s -> s.screen().equals("gate") && s.gate().stream().anyMatch(g -> g.why() != null));
    assertThat(gate.gate().get(0).done()).isFalse();
    assertThat(gate.gate().get(0).why()).contains("refused Camera");
    Rig.eventually(this::newestArrival, a -> a.getReason().contains("refused Camera"));
    desk.publish(desk.change(rules, Map.of("passcode.auto-lock", 5)));
    Rig.eventually(tablet::screen, s -> s.screen().equals("home"));
  }

  private Arrival newestArrival() {
    try {
      return rig.client.intake().listArrivals(null, null, null, null, 5).getItems().get(0);
    } catch (ApiException e) {
      throw new IllegalStateException(e);
    }
  }

  @Test
  void aDeviceWhoseProfileDoesNotLetItComeBackWaitsForAWord() throws Exception {
    EnrollmentProfile p =
        desk.enrollment(
            new EnrollmentProfileDraft().name("Once").mode(Mode.SUPERVISED).comesBack(false));
    gates.services(PlatformKey.TARN);
    gates.registrar(PlatformKey.TARN, p.getId());
    gates.buy("AR10-7002-0001");
    Agent tablet = factoryNew("AR10-7002-0001", false);
    tablet.boot().join();
    Rig.eventually(tablet::screen, Screen::managed);
    tablet.reset();
    Rig.eventually(tablet::screen, s -> s.screen().equals("waiting"));
    String waiting =
        rig.client.intake().listArrivals("waiting", null, null, null, 5).getItems().get(0).getId();
    rig.client.intake().approveArrival(waiting);
    Rig.eventually(tablet::screen, Screen::managed);
  }

  @Test
  void aRetiredDeviceLetsGoAndReturnsToItsGroups() throws Exception {
    EnrollmentProfile p =
        desk.enrollment(new EnrollmentProfileDraft().name("Kiosks").mode(Mode.SUPERVISED));
    desk.publish(desk.profile("Kiosks", Map.of("restrictions.camera-off", true), Desk.everyone()));
    Agent tablet = rig.join(factoryNew("AR10-7003-0001", false), desk.invite(p, 9).getLink());
    String id = desk.onlyDevice();
    Rig.eventually(tablet::screen, s -> s.notices("camera-gone"));
    List<String> groups = new ArrayList<>();
    for (String name : List.of("Gallery", "Shop")) {
      groups.add(rig.client.devices().addGroup(new GroupDraft().name(name)).getId());
      rig.client
          .devices()
          .changeGroupMembers(groups.get(groups.size() - 1), new GroupMembers().add(List.of(id)));
    }

    tablet.offline(true);
    rig.client.devices().retireDevice(id, new Reason().reason("lent to Norhaven"));
    Retired retired = desk.card(id).getDevice().getRetired();
    assertThat(retired.getBy()).isEqualTo("owner");
    assertThat(retired.getLetGoAt()).as("it has not heard of it").isNull();
    assertThat(tablet.screen().notices("camera-gone")).isTrue();
    tablet.offline(false);
    Screen gone = Rig.eventually(tablet::screen, s -> !s.managed());
    assertThat(gone.reason())
        .isEqualTo(
            "This device is no longer managed (lent to Norhaven). To bring it back, join by an"
                + " invitation or ask IT.");
    assertThat(gone.notices("camera-gone")).as("it let go").isFalse();
    assertThat(desk.card(id).getDevice().getRetired().getLetGoAt()).isNotNull();
    assertThat(rig.client.devices().getGroup(groups.get(0)).getDevices()).isZero();

    rig.client.devices().deleteGroup(groups.get(1));
    tablet.erase();
    rig.join(tablet, desk.invite(p, 9).getLink());
    assertThat(desk.card(id).getGroups()).extracting(NamedRef::getName).containsExactly("Gallery");
    assertThat(desk.card(id).getDevice().getRetired()).isNull();
    assertThat(
            rig.client.devices().getDeviceActivity(id, null, 50).getItems().stream()
                .map(ActivityLine::getText))
        .contains(
            "It was told that its management ended", "No longer in groups that are gone: Shop");
  }

  @Test
  void aPersonIsInvitedByMailAndJoinsByTheLinkInIt() throws Exception {
    gates.mail();
    gates.directory();
    rig.client.organisation().addUnit(new UnitDraft().code("VM-HAR").name("Harbour Museum"));
    assertThat(rig.client.house().readDirectory((Long) null))
        .satisfies(
            r -> {
              assertThat(r.getFound()).isEqualTo(2);
              assertThat(r.getUnknownUnits()).containsExactly("VM-FAR");
            });
    EnrollmentProfile phones =
        desk.enrollment(new EnrollmentProfileDraft().name("Staff phones").namePattern("{person}"));
    assertThat(
            rig.client
                .intake()
                .inviteMany(
                    new ManyInvitations().profileId(phones.getId()).group("office").mail(true)))
        .satisfies(
            r -> {
              assertThat(r.getInvited()).isEqualTo(1);
              assertThat(r.getRows().get(0).getWho()).isEqualTo("Ines Orrin");
            });
    Letter letter =
        Rig.eventually(
                () ->
                    rig.handheld.mail().letters().stream()
                        .filter(l -> l.to().equals("ines.orrin@vellmar.example"))
                        .toList(),
                l -> !l.isEmpty())
            .get(0);
    assertThat(letter.text()).contains("Hello Ines Orrin", "On a Tarn device: Open Settings");
    assertThat(letter.attachments())
        .extracting(a -> a.name())
        .containsExactly("join.png", "join.json");
    String link = letter.text().lines().filter(l -> l.contains("/join/")).findFirst().orElseThrow();
    Agent phone = rig.unpackAutomatic("P5");
    rig.join(phone, link.substring(link.indexOf("https://")));
    assertThat(devices(""))
        .singleElement()
        .satisfies(
            d -> {
              assertThat(d.getName()).isEqualTo("Ines Orrin");
              assertThat(d.getUnit()).isEqualTo("VM-HAR");
            });

    Invitation again = rig.client.intake().listInvitations(null, null, null, 5).getItems().get(0);
    assertThat(again.getState().getValue()).isEqualTo("spent");
    assertThatThrownBy(() -> rig.client.intake().remindInvitation(again.getId()))
        .hasMessageContaining("make a new one");
  }

  @Test
  void manyAreInvitedFromASheetWhichIsCheckedFirst() throws Exception {
    gates.mail();
    EnrollmentProfile p = desk.enrollment(new EnrollmentProfileDraft().name("Volunteers"));
    ManyInvitations sheet =
        new ManyInvitations()
            .profileId(p.getId())
            .sheet("name;mail\nTeo Lakeren;teo@vellmar.example\nNobody;\n")
            .mail(true)
            .save(false);
    assertThat(rig.client.intake().inviteMany(sheet))
        .satisfies(
            r -> {
              assertThat(r.getInvited()).isEqualTo(1);
              assertThat(r.getRows().get(1).getFault()).contains("give name and mail");
            });
    assertThat(rig.client.intake().listInvitations(null, null, null, 5).getItems()).isEmpty();
    rig.client.intake().inviteMany(sheet.save(true));
    Rig.eventually(
        () -> {
          try {
            return rig.client.intake().listInvitations(null, "teo", null, 5).getItems().get(0);
          } catch (ApiException e) {
            throw new IllegalStateException(e);
          }
        },
        i -> i.getMailState().getValue().equals("sent"));
    assertThat(rig.client.intake().inviteMany(sheet).getRows().get(0).getFault())
        .contains("already");
    String id = rig.client.intake().listInvitations(null, null, null, 5).getItems().get(0).getId();
    byte[] pdf = Files.readAllBytes(rig.client.intake().getInvitationSheet(List.of(id)).toPath());
    assertThat(new String(pdf, 0, 5, StandardCharsets.US_ASCII)).isEqualTo("%PDF-");
  }

  @Test
  void aHolderSignsInWithTheirStaffAccountAndADirectoryThatIsDownStopsNothingElse()
      throws Exception {
    gates.directory();
    rig.client
        .intake()
        .addTerms(
            new NewTerms()
                .title("Your own device")
                .text("We see what is listed.")
                .translations(
                    List.of(
                        new TermsText().language("nb").title("Din egen enhet").text("Vi ser."))));
    EnrollmentProfile own =
        desk.enrollment(
            new EnrollmentProfileDraft()
                .name("Own phones")
                .ownership(Ownership.PERSONAL)
                .signIn("directory")
                .directoryGroup("office")
                .termsVersion(1));
    Invitation invitation = desk.invite(own, 9);
    Agent phone = rig.unpack("P5");
    phone.take(invitation.getLink()).join();
    assertThat(phone.screen().offer().orElseThrow())
        .satisfies(
            o -> {
              assertThat(o.signIn()).isEqualTo("directory");
              assertThat(o.never()).contains("location", "private apps");
              assertThat(o.mayNot()).contains("Clear passcode");
            });
    phone.accept("ines.orrin", "wrong").join();
    assertThat(phone.screen().problem()).isEqualTo("sign-in-failed");

    rig.handheld.directory().down();
    phone.take(invitation.getLink()).join();
    phone.accept("ines.orrin", "by the quay").join();
    assertThat(phone.screen().reason()).contains("directory cannot be reached");
    assertThat(rig.client.house().getDirectory().getState().getValue()).isEqualTo("failing");
    assertThat(rig.client.house().getSetUpList())
        .filteredOn(s -> s.getKey().equals("directory"))
        .singleElement()
        .extracting(SetUpStep::getState)
        .isEqualTo(SetUpStep.StateEnum.ATTENTION);
    EnrollmentProfile plain = desk.enrollment(new EnrollmentProfileDraft().name("Plain"));
    rig.join(rig.unpackAutomatic("T10"), desk.invite(plain, 1).getLink());
    rig.handheld.directory().up();

    phone.take(invitation.getLink()).join();
    phone.accept("bo.skarnes", "on the ridge").join();
    assertThat(phone.screen().reason()).contains("does not belong to the group office");
    phone.take(invitation.getLink()).join();
    phone.accept("ines.orrin", "by the quay").join();
    Rig.eventually(phone::screen, Screen::managed);
    assertThat(rig.client.intake().listTermsAcceptances("1", null, 5).getItems())
        .singleElement()
        .satisfies(
            a -> {
              assertThat(a.getPerson()).isEqualTo("Ines Orrin");
              assertThat(a.getLanguage()).isEqualTo("en");
            });
    assertThat(phone.screen().removable()).isTrue();
    phone.leave();
    Rig.eventually(phone::screen, s -> s.screen().equals("removed"));
    Rig.eventually(
        () -> desk.card(devicesOf(own)).getDevice().getStanding().getValue(), "retired"::equals);
    Retired left = desk.card(devicesOf(own)).getDevice().getRetired();
    assertThat(left.getBy()).isEqualTo("its holder");
    assertThat(left.getLetGoAt()).as("it knows").isNotNull();
  }

  private String devicesOf(EnrollmentProfile own) {
    try {
      return rig.client.intake().listTermsAcceptances("1", null, 5).getItems().get(0).getDeviceId();
    } catch (ApiException e) {
      throw new IllegalStateException(own.getName(), e);
    }
  }

  @Test
  void aNewVersionOfTheTermsIsAskedOfThoseWhoAreIn() throws Exception {
    rig.client.intake().addTerms(new NewTerms().title("Using it").text("Bring it back."));
    EnrollmentProfile p =
        desk.enrollment(new EnrollmentProfileDraft().name("Staff").termsVersion(1));
    Agent yes = rig.unpack("T10");
    Agent no = rig.unpack("T10");
    Invitation invitation = desk.invite(p, 2);
    rig.join(yes, invitation.getLink());
    rig.join(no, invitation.getLink());
    rig.client.intake().addTerms(new NewTerms().title("Using it, anew").text("And charge it."));
    Dispatch asked =
        desk.order(
            new DispatchOrder()
                .command(CommandKey.ACCEPT_TERMS)
                .fields(Map.of("version", "2"))
                .matching(new DeviceFilter().termsBelow(2)),
            "terms-2");
    assertThat(asked.getTotal()).isEqualTo(2);
    Rig.eventually(yes::screen, s -> s.question().isPresent());
    assertThat(yes.screen().question().orElseThrow()).contains("Using it, anew", "And charge it.");
    yes.device().say(true);
    yes.checkIn(false);
    Rig.eventually(no::screen, s -> s.question().isPresent());
    no.device().say(false);
    no.checkIn(false);
    Dispatch ended =
        Rig.eventually(
            () -> desk.dispatch(asked.getId()),
            d ->
                d.getStates().getOrDefault("failed", 0L) == 1
                    && d.getStates().getOrDefault("done", 0L) == 1);
    assertThat(ended.getTotal()).isEqualTo(2);
    assertThat(rig.client.intake().listTermsAcceptances("2", null, 5).getItems()).hasSize(1);
  }

  @Test
  void aJoinFileHoldsAllThatADeviceWithoutACameraNeeds() throws Exception {
    EnrollmentProfile laptops =
        desk.enrollment(
            new EnrollmentProfileDraft().name("Laptops").platforms(List.of(PlatformKey.MOOR)));
    String link = rig.client.intake().getJoinFile(desk.invite(laptops, 1).getId()).getLink();
    rig.join(rig.unpackAutomatic("Note 14"), link);
    assertThat(devices("Note")).hasSize(1);
  }

  @Test
  void theFirstRunShowsWhatTheProfileLeavesIn() throws Exception {
    EnrollmentProfile p =
        desk.enrollment(
            new EnrollmentProfileDraft()
                .name("Quiet start")
                .mode(Mode.SUPERVISED)
                .firstRun(
                    new FirstRun()
                        .skipped(
                            List.of(
                                "text-size",
                                "appearance",
                                "fingerprint",
                                "location",
                                "assistant",
                                "backup",
                                "diagnostics",
                                "maker-account"))
                        .language("nb")
                        .wallpaper("glass")));
    Agent tablet = rig.unpack("T10");
    rig.join(tablet, desk.invite(p, 1).getLink());
    assertThat(tablet.screen().screen()).isEqualTo("first-run");
    assertThat(tablet.screen().firstRun().orElseThrow().key())
        .as("language is chosen")
        .isEqualTo("region");
    tablet.device().nextScreen();
    assertThat(tablet.screen().firstRun().orElseThrow().key()).isEqualTo("network");
    tablet.device().nextScreen();
    tablet.device().nextScreen();
    assertThat(tablet.screen().screen()).isEqualTo("home");
    assertThat(tablet.screen().noticed().get("wallpaper")).isEqualTo("glass");
  }
}
