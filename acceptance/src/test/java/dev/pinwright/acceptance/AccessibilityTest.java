package dev.pinwright.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import dev.pinwright.client.model.AppDetail;
import dev.pinwright.client.model.AttributeDraft;
import dev.pinwright.client.model.AttributeKind;
import dev.pinwright.client.model.BenchSession;
import dev.pinwright.client.model.BenchSessionDraft;
import dev.pinwright.client.model.Intent;
import dev.pinwright.client.model.Invitation;
import dev.pinwright.client.model.PlatformKey;
import dev.pinwright.client.model.Profile;
import dev.pinwright.client.model.ProposalDraft;
import dev.pinwright.client.model.PublicationIntent;
import java.awt.image.BufferedImage;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import javax.imageio.ImageIO;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import org.openqa.selenium.By;

/**
 * Every page of the console and of the hand-held view against WCAG 2.2 AA, as far as axe can see.
 */
class AccessibilityTest {
  private static final String RUN =
      """
      const [rules, done] = arguments;
      axe.run(document, {runOnly: rules, resultTypes: ['violations'], selectors: false})
        .then(r => done(r.violations.map(v =>
          v.id + ': ' + v.help + '\\n  ' + v.nodes.map(n => n.html.slice(0, 160)).join('\\n  '))));
      """;

  private static final List<String> ALL =
      List.of("wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa");

  /** Rules about colours, which alone are others on a dark ground. */
  private static final List<String> OF_COLOUR = List.of("color-contrast", "link-in-text-block");

  /** What cannot be seen at the right of the screen, and cannot be scrolled to by itself. */
  private static final String BESIDE =
      """
      const wide = document.documentElement.clientWidth + 1;
      const scrolls = e => e && (/(auto|scroll|hidden)/.test(getComputedStyle(e).overflowX)
        || scrolls(e.parentElement));
      return [...document.querySelectorAll('button, input, select, a, h1, h2, p, label')]
        .filter(e => e.getClientRects().length > 0)
        .filter(e => e.getBoundingClientRect().right > wide && !scrolls(e.parentElement))
        .map(e => e.outerHTML.slice(0, 160));
      """;

  /** Goes to a page as a link does, and waits until what the last one showed is gone. */
  private static final String GO =
      """
      const [path, done] = arguments;
      if (location.pathname !== new URL(path, location).pathname) {
        document.querySelector('main').firstElementChild.setAttribute('data-before', '');
      }
      history.pushState(null, '', path);
      dispatchEvent(new PopStateEvent('popstate'));
      const look = () => document.querySelector('[data-before]') ? setTimeout(look, 20) : done();
      look();
      """;

  private static Rig rig;
  private static Browser browser;
  private static String axe;
  private static Profile profile;
  private static BenchSession bench;
  private static String device;
  private static String file;
  private static String proposal;
  private static String app;
  private static String assignment;

  @BeforeAll
  static void start() throws Exception {
    axe = Files.readString(Path.of("../console/node_modules/axe-core/axe.min.js"));
    rig = new Rig();
    Desk desk = new Desk(rig);
    desk.terms();
    Invitation invitation = desk.kiosks("Harbour kiosks", 5);
    rig.join(rig.unpackAutomatic("T10"), invitation.getLink());
    rig.unpack("T8 mini").take(invitation.getLink()).join();
    profile = desk.profile("Gallery tablets", Desk.BASELINE, Desk.everyone());
    device = desk.devices("", 1).get(0).getId();
    desk.publish(profile);
    Rig.eventually(() -> desk.standing(device), s -> s.equals("settled") || s.equals("blocked"));
    Gates gates = new Gates(rig);
    gates.services(PlatformKey.TARN);
    gates.push(PlatformKey.TARN, Gates.ACCOUNT, 20);
    gates.mail();
    gates.directory();
    rig.client
        .organisation()
        .addAttribute(
            new AttributeDraft()
                .name("Mount")
                .kind(AttributeKind.DEVICE)
                .type("choice")
                .choices(List.of("wall", "stand")));
    bench =
        rig.client
            .bench()
            .openBenchSession(
                new BenchSessionDraft().name("Cart").profileId(invitation.getProfileId()));
    rig.handheld.cable().connect(bench.getLink());
    rig.handheld.cable().plug(1, 1, rig.unpackAutomatic("T10")).join();
    Path picture = Files.createTempFile("pinwright-test", ".png");
    ImageIO.write(new BufferedImage(40, 60, BufferedImage.TYPE_INT_RGB), "png", picture.toFile());
    file = rig.client.storeFile(picture, "Quay.png", null).getId();
    desk.change(profile, Map.of("appearance.wallpaper-picture", "sha256:" + file));
    AppDetail rota = desk.bring(Packages.rota(1, Packages.CONFIGURED));
    app = rota.getApp().getId();
    desk.release(rota, 1);
    assignment = desk.assignment(rota, "offered", Desk.everyone(), Map.of()).getId();
    proposal =
        rig.client
            .rules()
            .propose(
                new ProposalDraft()
                    .intent(new Intent().publish(new PublicationIntent().id(profile.getId())))
                    .note("the new season"))
            .getProposal()
            .getId();
    browser = new Browser();
    browser.open(rig.consoleUrl());
    browser.type("Login", "owner");
    browser.type("Password", Rig.PASSWORD);
    browser.press("Sign in");
    browser.read("Today");
    browser.script(axe);
  }

  @AfterAll
  static void stop() {
    browser.close();
    rig.close();
  }

  private static void auditAt(String path) {
    browser.later(GO, path);
    audit(path);
  }

  private static void audit(String where) {
    List<Object> faults = new ArrayList<>();
    browser.atRest();
    ((List<?>) browser.later(RUN, ALL)).forEach(f -> faults.add("light, " + f));
    browser.script("document.documentElement.classList.add('dark')");
    browser.atRest();
    ((List<?>) browser.later(RUN, OF_COLOUR)).forEach(f -> faults.add("dark, " + f));
    browser.script("document.documentElement.classList.remove('dark')");
    assertThat(faults).as(where).isEmpty();
  }

  @Test
  void onAPhoneNothingStandsBesideThePageAndAxeFindsNothing() {
    browser.phone();
    try {
      for (String page :
          List.of(
              "/today",
              "/intake/arrivals",
              "/intake/roster",
              "/intake/invitations?new=1",
              "/intake/bench/" + bench.getId(),
              "/intake/profiles",
              "/intake/profiles?new=1",
              "/intake/terms",
              "/devices?standing=settled",
              "/devices?card=" + device,
              "/devices/units",
              "/devices/people?new=1",
              "/rules/profiles/" + profile.getId(),
              "/rules/files?card=" + file,
              "/apps/catalogue?card=" + app,
              "/apps/assignments/" + assignment,
              "/rules/proposals?card=" + proposal,
              "/house/set-up",
              "/house/gateways?open=tarn",
              "/house/mail",
              "/house/accounts",
              "/records/journal",
              "/records/commands")) {
        browser.later(GO, page);
        browser.see(By.cssSelector("h1, h2, [role=dialog]"));
        browser.atRest();
        assertThat((List<?>) browser.script(BESIDE)).as(page).isEmpty();
        assertThat((List<?>) browser.later(RUN, ALL)).as(page).isEmpty();
      }
      browser.open(rig.consoleUrl() + "/devices");
      browser.click(By.cssSelector("[aria-label=Pages]"));
      browser.press("Roster");
      browser.read("Roster");
      browser.press("Filter");
      browser.press("Show the list");
      browser.open(rig.consoleUrl() + "/devices");
      browser.click(By.cssSelector("li button[aria-label^=Open]"));
      browser.see(By.cssSelector("[role=tab]"));
    } finally {
      browser.desk();
      browser.open(rig.consoleUrl());
      browser.script(axe);
    }
  }

  @ParameterizedTest
  @ValueSource(
      strings = {
        "/today",
        "/intake/arrivals",
        "/intake/invitations",
        "/intake/invitations?new=1",
        "/intake/invitations?new=many",
        "/intake/bench",
        "/intake/bench?new=1",
        "/intake/registrar",
        "/intake/privacy",
        "/house/set-up",
        "/house/gateways?open=tarn",
        "/house/gateways?open=moor",
        "/house/mail",
        "/house/directory",
        "/intake/profiles",
        "/intake/profiles?new=1",
        "/intake/terms",
        "/devices",
        "/devices/map",
        "/devices/lost",
        "/devices/wipes",
        "/devices/groups",
        "/devices/units",
        "/devices/sites?new=1",
        "/devices/people",
        "/devices/people?new=1",
        "/devices/attributes",
        "/devices/tags",
        "/devices/tags?card=gallery",
        "/devices?attribute=Mount%3Dwall",
        "/devices/attributes?new=1",
        "/intake/roster",
        "/intake/roster?new=sheet",
        "/intake/numbers",
        "/rules/profiles?new=baseline",
        "/rules/profiles",
        "/rules/profiles?new=1",
        "/rules/kits?new=1",
        "/rules/checks",
        "/rules/checks?new=1",
        "/rules/files",
        "/rules/files?new=1",
        "/apps/catalogue",
        "/apps/catalogue?new=package",
        "/apps/catalogue?new=store",
        "/apps/licenses",
        "/rules/proposals",
        "/house/thresholds",
        "/records/journal",
        "/records/commands",
        "/house/accounts",
        "/house/accounts?new=1",
        "/nowhere"
      })
  void aPageHasNothingThatAxeFinds(String path) throws Exception {
    auditAt(path);
  }

  @ParameterizedTest
  @ValueSource(
      strings = {
        "/devices/{device}",
        "/devices?card={device}",
        "/rules/profiles/{profile}",
        "/rules/files?card={file}",
        "/apps/catalogue?card={app}",
        "/apps/assignments/{assignment}",
        "/rules/proposals?card={proposal}",
        "/intake/bench/{bench}"
      })
  void aPageOfOneThingHasNothingThatAxeFinds(String path) throws Exception {
    Map<String, String> ids =
        Map.of(
            "{device}",
            device,
            "{profile}",
            profile.getId(),
            "{bench}",
            bench.getId(),
            "{file}",
            file,
            "{app}",
            app,
            "{assignment}",
            assignment,
            "{proposal}",
            proposal);
    String whole = path;
    for (Map.Entry<String, String> id : ids.entrySet()) {
      whole = whole.replace(id.getKey(), id.getValue());
    }
    auditAt(whole);
  }

  @ParameterizedTest
  @ValueSource(strings = {"/", "/device.html", "/cable.html", "/mail.html", "/vendors.html"})
  void theHandHeldViewHasNothingThatAxeFinds(String path) throws Exception {
    String one = !path.equals("/device.html") ? "" : "#" + rig.fleet.all().get(0).device().id();
    browser.open("about:blank");
    browser.open("http://127.0.0.1:" + rig.handheld.port() + path + one);
    browser.script(axe);
    audit(path);
    browser.open(rig.consoleUrl());
    browser.script(axe);
  }
}
