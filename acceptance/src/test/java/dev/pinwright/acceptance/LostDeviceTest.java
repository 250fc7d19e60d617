package dev.pinwright.acceptance;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.pinwright.client.PinwrightClient;
import dev.pinwright.client.http.ApiException;
import dev.pinwright.client.model.CaseChange;
import dev.pinwright.client.model.CaseDraft;
import dev.pinwright.client.model.CaseEnd;
import dev.pinwright.client.model.CaseEntry;
import dev.pinwright.client.model.CaseNote;
import dev.pinwright.client.model.CaseState;
import dev.pinwright.client.model.EnrollmentProfile;
import dev.pinwright.client.model.EnrollmentProfileDraft;
import dev.pinwright.client.model.InvitationDraft;
import dev.pinwright.client.model.LostCase;
import dev.pinwright.client.model.Mode;
import dev.pinwright.client.model.Notice;
import dev.pinwright.client.model.Ownership;
import dev.pinwright.client.model.PlatformKey;
import dev.pinwright.client.model.Site;
import dev.pinwright.client.model.SiteDraft;
import dev.pinwright.core.device.Position;
import dev.pinwright.sandbox.device.Agent;
import dev.pinwright.sandbox.device.Screen;
import java.io.File;
import java.math.BigDecimal;
import java.time.Instant;
import java.time.OffsetDateTime;
import java.time.ZoneOffset;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.apache.pdfbox.Loader;
import org.apache.pdfbox.text.PDFTextStripper;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;

/** A lost device: reported, locked, looked for, heard, and in the end found or given up. */
class LostDeviceTest {
  private static Rig rig;
  private static Desk desk;
  private static PinwrightClient help;
  private static int made;

  @BeforeAll
  static void start() throws Exception {
    rig = new Rig();
    desk = new Desk(rig);
    help = rig.another("tova", "helpdesk");
    new Gates(rig).services(PlatformKey.FJELL);
  }

  @AfterAll
  static void stop() {
    rig.close();
  }

  private static Agent phone(Ownership ownership, Mode mode) throws ApiException {
    EnrollmentProfile p =
        desk.enrollment(
            new EnrollmentProfileDraft().name("Phones " + ++made).ownership(ownership).mode(mode));
    return rig.join(
        rig.unpackAutomatic("P5"),
        rig.client
            .intake()
            .addInvitation(new InvitationDraft().profileId(p.getId()).uses(3))
            .getLink());
  }

  private static String id(Agent agent) {
    return desk.devices(agent.screen().serial(), 1).get(0).getId();
  }

  private static List<String> timeline(LostCase c) {
    try {
      return rig.client.acting().getCaseTimeline(c.getId()).getItems().stream()
          .map(CaseEntry::getText)
          .toList();
    } catch (ApiException e) {
      throw new IllegalStateException(e);
    }
  }

  private static String version(LostCase c) throws ApiException {
    return Desk.onVersion(rig.client.acting().getCase(c.getId()).getVersion());
  }

  private static List<String> notices() {
    try {
      return rig.client.house().listNotices(null, 50).getItems().stream()
          .map(Notice::getTitle)
          .toList();
    } catch (ApiException e) {
      throw new IllegalStateException(e);
    }
  }

  @Test
  void itIsLockedLookedForAndHeardAndPutBackOnceItIsFound() throws Exception {
    Agent phone = phone(Ownership.CORPORATE, Mode.STANDARD);
    String id = id(phone);
    String name = desk.card(id).getDevice().getName();
    phone
        .device()
        .be(
            new Position(
                Instant.now(), 47.19, -20.59, Optional.of(12.0), Position.Source.SATELLITE));
    phone.offline(true);
    CaseDraft report =
        new CaseDraft()
            .deviceId(id)
            .what("left on the ferry")
            .text("Please hand it in at the pier")
            .phone("+000 5550 100");
    LostCase c = help.acting().openCase(report);
    assertThat(c.getState()).isEqualTo(CaseState.OPEN);
    assertThat(c.getEveryMinutes()).isEqualTo(10);
    String opened = version(c);
    assertThatThrownBy(() -> help.acting().openCase(report)).hasMessageContaining("open already");
    assertThat(notices()).contains(name + " was reported lost");
    Rig.eventually(
        () -> desk.card(id).getDevice().getId(),
        x -> timeline(c).stream().anyMatch(t -> t.startsWith("locate ordered by pinwright")));

    phone.offline(false);
    Screen locked = Rig.eventually(phone::screen, s -> s.screen().equals("locked"));
    assertThat(locked.lockText()).isEqualTo("Please hand it in at the pier");
    assertThat(locked.lockPhone()).isEqualTo("+000 5550 100");
    assertThat(locked.biometricsOff()).isTrue();
    Rig.eventually(() -> timeline(c), t -> t.contains("It is heard"));
    Rig.eventually(
        () -> timeline(c), t -> t.stream().anyMatch(l -> l.contains("within 12 m, by satellite")));
    assertThat(notices()).contains(name + ", which is lost, is heard");
    phone.device().swapSim("8999900000000000042");
    phone.checkIn(false);
    Rig.eventually(() -> timeline(c), t -> t.stream().anyMatch(l -> l.startsWith("Its SIM ")));
    assertThat(notices()).anyMatch(n -> n.startsWith(name + ": its SIM"));

    help.acting().addCaseNote(c.getId(), new CaseNote().text("Told the ferry office.").told(true));
    assertThatThrownBy(() -> help.acting().addCaseNote(c.getId(), new CaseNote().text(" ")))
        .hasMessageContaining("1 to 2000");
    assertThat(version(c)).as("asked and heard, which is nobody's change").isEqualTo(opened);
    help.acting().changeCase(c.getId(), opened, new CaseChange().everyMinutes(0));
    assertThat(rig.client.acting().getCase(c.getId()).getEveryMinutes()).isNull();

    assertThatThrownBy(
            () ->
                help.acting()
                    .endCase(
                        c.getId(), version(c), new CaseEnd().found(false).words("gone").wipe(true)))
        .hasMessageContaining("needs the role operator");
    LostCase found =
        help.acting()
            .endCase(c.getId(), version(c), new CaseEnd().found(true).words("Under the counter"));
    assertThat(found.getState()).isEqualTo(CaseState.FOUND);
    Rig.eventually(phone::screen, s -> !s.screen().equals("locked"));
    assertThat(notices()).doesNotContain(name + " was reported lost");
    assertThatThrownBy(
            () ->
                help.acting()
                    .endCase(c.getId(), version(c), new CaseEnd().found(true).words("twice")))
        .hasMessageContaining("over");

    File paper = rig.client.acting().getCaseSheet(c.getId());
    try (var pdf = Loader.loadPDF(paper)) {
      assertThat(new PDFTextStripper().getText(pdf))
          .contains("Lost: " + name, phone.screen().serial(), "left on the ferry")
          .contains("Told the ferry office.", "Under the counter");
    }
  }

  @Test
  void itRingsByItselfWhereItMayLieWithinHearing() throws Exception {
    Agent phone = phone(Ownership.CORPORATE, Mode.STANDARD);
    String id = id(phone);
    phone.device().be(at(47.30, -20.59));
    Site bare = rig.client.organisation().addSite(new SiteDraft().name("Bare rock"));
    Site mill = rig.client.organisation().addSite(new SiteDraft().name("Mill").outline(square()));
    OffsetDateTime yesterday = OffsetDateTime.now(ZoneOffset.UTC).minusDays(1);
    CaseDraft report = new CaseDraft().deviceId(id).what("put down somewhere").lostAt(yesterday);
    assertThatThrownBy(() -> help.acting().openCase(report.ringSiteId(bare.getId())))
        .hasMessageContaining("has no outline");
    assertThatThrownBy(() -> help.acting().openCase(report.ringSiteId("nowhere")))
        .hasMessageContaining("no site nowhere");
    Agent laptop = rig.join(rig.unpackAutomatic("Note 14"), desk.kiosks("Laptops", 1).getLink());
    assertThatThrownBy(
            () ->
                help.acting()
                    .openCase(
                        new CaseDraft()
                            .deviceId(id(laptop))
                            .what("left in a train")
                            .ringSiteId(mill.getId())))
        .hasMessageContaining("It cannot ring: moor cannot ring");
    report.ringSiteId(mill.getId());
    assertThatThrownBy(() -> help.acting().openCase(report.lostAt(yesterday.plusDays(2))))
        .hasMessageContaining("later than now");
    LostCase c = help.acting().openCase(report.lostAt(yesterday));
    assertThat(c.getRingSite()).isEqualTo("Mill");
    Rig.eventually(() -> timeline(c), t -> t.stream().anyMatch(l -> l.contains("by satellite")));
    assertThat(timeline(c)).as("it is elsewhere").noneMatch(l -> l.contains("rings"));
    assertThat(phone.screen().ringing()).isFalse();

    phone.device().be(at(47.15, -20.55));
    Shell shell = new Shell(rig);
    shell.type(Rig.PASSWORD + "\n", "signin", "--login", "owner", "--password-stdin");
    shell.ok(
        "locate", "--device", desk.card(id).getDevice().getName(), "--wait", "--reason", "lost");
    Rig.eventually(() -> timeline(c), t -> t.contains("It is at Mill and rings"));
    Rig.eventually(phone::screen, Screen::ringing);

    help.acting().changeCase(c.getId(), version(c), new CaseChange().ringSiteId(""));
    LostCase quiet = rig.client.acting().getCase(c.getId());
    assertThat(quiet.getRingSite()).isNull();
    assertThat(quiet.getEveryMinutes()).as("what is left out stays").isEqualTo(10);
    assertThat(timeline(c)).contains("It no longer rings by itself");
    try (var pdf = Loader.loadPDF(rig.client.acting().getCaseSheet(c.getId()))) {
      assertThat(new PDFTextStripper().getText(pdf)).contains("Missing since");
    }
  }

  private static Position at(double latitude, double longitude) {
    return new Position(
        Instant.now(), latitude, longitude, Optional.of(12.0), Position.Source.SATELLITE);
  }

  private static List<List<BigDecimal>> square() {
    BigDecimal south = new BigDecimal("47.1");
    BigDecimal north = new BigDecimal("47.2");
    BigDecimal west = new BigDecimal("-20.6");
    BigDecimal east = new BigDecimal("-20.5");
    return List.of(
        List.of(west, south), List.of(east, south), List.of(east, north), List.of(west, north));
  }

  @Test
  void whereAPersonalDeviceIsIsNotAskedAndItsWorkPartComesBackWithIt() throws Exception {
    desk.publish(desk.profile("Own rules", Map.of("passcode.required", true), Desk.everyone()));
    Agent phone = phone(Ownership.PERSONAL, Mode.WORK_PROFILE);
    String id = id(phone);
    Rig.eventually(() -> desk.standing(id), "settled"::equals);
    LostCase c = help.acting().openCase(new CaseDraft().deviceId(id).what("left in a tram"));
    assertThat(c.getPersonal()).isTrue();
    assertThat(c.getEveryMinutes()).isNull();
    assertThatThrownBy(
            () -> help.acting().changeCase(c.getId(), version(c), new CaseChange().everyMinutes(5)))
        .hasMessageContaining("holder's own");
    Rig.eventually(phone::screen, s -> s.screen().equals("locked"));
    assertThat(timeline(c)).noneMatch(t -> t.contains("locate"));
    Shell shell = new Shell(rig);
    shell.type(Rig.PASSWORD + "\n", "signin", "--login", "owner", "--password-stdin");
    shell.ok("wipe-work", "--device", desk.card(id).getDevice().getName(), "--reason", "lost");
    Rig.eventually(() -> phone.screen().settings(), List::isEmpty);
    assertThat(shell.ok("case", "show", c.getId())).contains("left in a tram");
    shell.ok("case", "found", c.getId(), "The driver kept it");
    Rig.eventually(() -> phone.screen().settings(), s -> !s.isEmpty());
    assertThat(shell.ok("case", "list", "--state", "found")).contains("left in a tram");
  }

  @Test
  void whatIsGivenUpIsWipedAndRetiredOnceThatIsProved() throws Exception {
    Agent phone = phone(Ownership.CORPORATE, Mode.STANDARD);
    String id = id(phone);
    LostCase c =
        rig.client
            .acting()
            .openCase(new CaseDraft().deviceId(id).what("not seen").lock(false).everyMinutes(0));
    LostCase over =
        rig.client
            .acting()
            .endCase(
                c.getId(),
                version(c),
                new CaseEnd().found(false).words("Not seen for a month").wipe(true));
    assertThat(over.getState()).isEqualTo(CaseState.WRITTEN_OFF);
    Rig.eventually(() -> desk.card(id).getDevice().getRetired() != null, Boolean.TRUE::equals);
    assertThat(desk.card(id).getDevice().getStandingReason()).isEqualTo("wiped, and proved blank");
    assertThatThrownBy(
            () -> rig.client.acting().openCase(new CaseDraft().deviceId(id).what("again")))
        .hasMessageContaining("is retired");
  }
}
