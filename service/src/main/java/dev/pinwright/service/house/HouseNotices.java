package dev.pinwright.service.house;

import dev.pinwright.core.Lapse;
import dev.pinwright.core.app.Attempt;
import dev.pinwright.core.gateway.PushCredential;
import dev.pinwright.core.license.Forecast;
import dev.pinwright.core.license.Licensing;
import dev.pinwright.core.license.Pool;
import dev.pinwright.core.lost.LostCase;
import dev.pinwright.service.rules.Waves;
import dev.pinwright.service.usecase.Noun;
import dev.pinwright.service.usecase.UseCases;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Page;
import dev.pinwright.service.work.Problem;
import dev.pinwright.storage.app.AppStore;
import dev.pinwright.storage.app.ConfigurationCodeStore;
import dev.pinwright.storage.arrival.ArrivalStore;
import dev.pinwright.storage.compliance.CheckStore;
import dev.pinwright.storage.file.FileStore;
import dev.pinwright.storage.gateway.GatewayStore;
import dev.pinwright.storage.house.ConnectionStore;
import dev.pinwright.storage.house.NoticeStore;
import dev.pinwright.storage.license.LicenseStore;
import dev.pinwright.storage.license.StoreAppStore;
import dev.pinwright.storage.lost.LostCaseStore;
import dev.pinwright.storage.organisation.SiteCacheStore;
import dev.pinwright.storage.roster.RosterStore;
import dev.pinwright.storage.row.CheckRow;
import dev.pinwright.storage.row.GatewayRow;
import dev.pinwright.storage.row.StoredFileRow;
import java.net.URLEncoder;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.time.format.DateTimeFormatter;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalInt;
import java.util.OptionalLong;
import java.util.concurrent.ConcurrentHashMap;
import org.jspecify.annotations.Nullable;

/** What somebody should know: each thing is said once, in the console and by mail. */
public final class HouseNotices {
  private static final Duration FAILING_LONG = Duration.ofMinutes(10);
  private static final Duration WAITING_LONG = Duration.ofHours(1);
  private static final long SHORT_SOON = 14;
  private static final Duration OVERDUE = Duration.ofDays(30);
  private static final DateTimeFormatter WHEN =
      DateTimeFormatter.ofPattern("d MMMM, HH:mm", Locale.ENGLISH);

  private final UseCases useCases;
  private final Mailer mailer;

  /** Since when a service of the house was seen to fail; what works again by itself is no news. */
  private final Map<String, Instant> failing = new ConcurrentHashMap<>();

  public HouseNotices(UseCases useCases, Mailer mailer) {
    this.useCases = useCases;
    this.mailer = mailer;
  }

  /** Notices that are not over, newest first. */
  public Page<NoticeStore.Notice> page(Caller caller, Page.Request page) {
    String[] c = page.parts(Page.Part.TEXT);
    return useCases.read(
        tx ->
            Page.of(
                new NoticeStore(tx).page(c.length == 0 ? "~" : c[0], page.limit() + 1),
                page.limit(),
                n -> Page.cursor(n.id())));
  }

  /** Puts a notice away. */
  public void putAway(Caller caller, String id) {
    useCases.run(
        caller,
        act -> {
          if (!new NoticeStore(act.tx()).putAway(id, act.now())) {
            throw Problem.notFound("notice", id);
          }
          act.touch(Noun.NOTICE);
        });
  }

  /**
   * Looks at every push credential and every certificate that devices are handed, and says what is
   * due; run as often as one likes.
   */
  public void lookAtCredentials() {
    useCases.run(
        Caller.SERVICE,
        act ->
            new GatewayStore(act.tx())
                .all().stream()
                    .filter(g -> g.pushExpiresAt != null)
                    .forEach(g -> look(act, g.platform)));
    useCases.run(
        Caller.SERVICE,
        act ->
            new FileStore(act.tx())
                .lapsing(act.now().plus(Duration.ofDays(Lapse.NOTICE_DAYS.get(0) + 1L)))
                .forEach(id -> certificate(act, id)));
    mail();
  }

  private static void look(UseCases.Act act, String platform) {
    GatewayRow g = act.tx().lock(GatewayRow.class, platform).orElseThrow();
    PushCredential held = new PushCredential(g.pushAccount, g.pushTopic, g.pushExpiresAt);
    OptionalInt told = g.pushTold == null ? OptionalInt.empty() : OptionalInt.of(g.pushTold);
    OptionalInt due = held.lapse().noticeDue(act.now(), told);
    if (due.isEmpty()) {
      return;
    }
    g.pushTold = due.getAsInt();
    String title = "Push credential of " + g.platform + " " + held.lapse().words(act.now());
    String detail =
        "It holds until "
            + held.expiresAt().atZone(ZoneOffset.UTC).toLocalDate()
            + ". Make a signing request, have it signed under "
            + held.account()
            + " and bring the result. Without it "
            + g.platform
            + " devices are woken only while they keep a connection open.";
    NoticeStore notices = new NoticeStore(act.tx());
    notices.over("push " + g.platform + " ", "", act.now());
    notices.give(
        "push " + g.platform + " " + held.expiresAt() + " " + due.getAsInt(),
        new NoticeStore.Notice(
            act.newId(),
            title,
            detail,
            "/house/gateways?open=" + g.platform,
            due.getAsInt() <= 7,
            act.now()));
    act.done(Noun.NOTICE, "given", Noun.GATEWAY, g.platform, title);
  }

  private static void certificate(UseCases.Act act, String id) {
    StoredFileRow file = act.tx().lock(StoredFileRow.class, id).orElseThrow();
    Lapse lapse = new Lapse(file.validUntil);
    OptionalInt told = file.told == null ? OptionalInt.empty() : OptionalInt.of(file.told);
    OptionalInt due = lapse.noticeDue(act.now(), told);
    if (due.isEmpty()) {
      return;
    }
    file.told = due.getAsInt();
    String title = "The certificate " + file.name + " " + lapse.words(act.now());
    List<String> profiles =
        new FileStore(act.tx()).uses(id).stream().map(FileStore.Use::profileName).toList();
    String detail =
        "It holds until "
            + lapse.at().atZone(ZoneOffset.UTC).toLocalDate()
            + " and is handed out by "
            + String.join(", ", profiles)
            + ". Store its successor, name that there instead, and publish.";
    NoticeStore notices = new NoticeStore(act.tx());
    notices.over("file " + id + " ", "", act.now());
    notices.give(
        "file " + id + " " + due.getAsInt(),
        new NoticeStore.Notice(
            act.newId(), title, detail, "/rules/files?card=" + id, due.getAsInt() <= 7, act.now()));
    act.done(Noun.NOTICE, "given", Noun.FILE, id, title);
  }

  /** Says what waits for somebody here, and which service of the house fails; at most daily. */
  public void lookAround() {
    useCases.run(
        Caller.SERVICE,
        act -> {
          arrivals(act);
          checks(act);
          waves(act);
          licenses(act);
          versions(act);
          failingApps(act);
          codes(act);
          caches(act);
          lost(act);
          connection(
              act,
              "directory",
              "The staff directory needs you",
              "Until then people stay as they were read last, and signing in to join may fail.");
          connection(
              act, "mail", "Mail cannot be sent", "Invitations and notices wait until it can.");
        });
    mail();
  }

  private static void arrivals(UseCases.Act act) {
    ArrivalStore.Waiting w = new ArrivalStore(act.tx()).waiting(act.now().minus(WAITING_LONG));
    say(
        act,
        "arrivals",
        w.devices() > 0,
        "%s for somebody to let %s in"
            .formatted(
                w.devices() == 1 ? "A device waits" : w.devices() + " devices wait",
                w.devices() == 1 ? "it" : "them"),
        "The first asked on "
            + w.since().map(t -> WHEN.format(t.atZone(ZoneOffset.UTC)) + " UTC").orElse("")
            + ". Approve or refuse them in Intake, Arrivals.",
        "/intake/arrivals?outcome=waiting",
        false);
  }

  private static void waves(UseCases.Act act) {
    List<Waves.Stopped> stopped = Waves.stopped(act.tx());
    say(
        act,
        "waves",
        !stopped.isEmpty(),
        stopped.size() == 1
            ? "The waves of " + stopped.get(0).profile().name() + " stopped"
            : "The waves of " + stopped.size() + " profiles stopped",
        String.join(
            " ", stopped.stream().map(s -> s.profile().name() + ": " + s.reason() + ".").toList()),
        stopped.size() == 1
            ? "/rules/profiles/" + stopped.get(0).profile().id()
            : "/rules/profiles",
        true);
  }

  /** Which licenses are short already, and which will be soon as they were taken lately. */
  private static void licenses(UseCases.Act act) {
    LicenseStore licenses = new LicenseStore(act.tx());
    for (StoreAppStore.StoreApp app : new StoreAppStore(act.tx()).licensed()) {
      String whom = app.licensing() == Licensing.BY_HOLDER ? "holder" : "device";
      long free = licenses.pools(app.appId()).stream().mapToLong(Pool::free).sum();
      OptionalLong left =
          Forecast.daysLeft(free, licenses.taken(app.appId(), act.now().minus(Forecast.LOOKED_AT)));
      boolean soon = left.isPresent() && left.getAsLong() > 0 && left.getAsLong() <= SHORT_SOON;
      say(
          act,
          "licenses " + app.appId(),
          app.lacking() > 0 || soon,
          app.lacking() > 0
              ? app.name()
                  + " is "
                  + app.lacking()
                  + (app.lacking() == 1 ? " license" : " licenses")
                  + " short"
              : app.name() + ": at this rate none is left in " + left.orElse(0) + " days",
          app.lacking() > 0
              ? (app.lacking() == 1 ? "A " + whom + " goes" : app.lacking() + " " + whom + "s go")
                  + " without. Buy more in the vendor's portal, or move some from another place."
              : "Buy more in the vendor's portal before they run out; " + free + " are free.",
          "/apps/licenses?q=" + URLEncoder.encode(app.name(), StandardCharsets.UTF_8),
          app.lacking() > 0);
    }
  }

  /** Which versions appeared in a store, or at an address, that nobody has released. */
  private static void versions(UseCases.Act act) {
    List<StoreAppStore.Newer> newer = new StoreAppStore(act.tx()).newer();
    say(
        act,
        "versions",
        !newer.isEmpty(),
        newer.size() == 1
            ? newer.get(0).name() + " " + newer.get(0).version() + " appeared"
            : newer.size() + " apps have a new version",
        "Devices keep the version they have until somebody releases the new one: "
            + String.join(", ", newer.stream().map(n -> n.name() + " " + n.version()).toList())
            + ".",
        newer.size() == 1 ? "/apps/catalogue?card=" + newer.get(0).appId() : "/apps/catalogue",
        false);
  }

  /** Which apps were tried so often on devices that they are tried no more. */
  private static void failingApps(UseCases.Act act) {
    List<AppStore.GivenUp> apps = new AppStore(act.tx()).givenUp(Attempt.MOST);
    say(
        act,
        "apps",
        !apps.isEmpty(),
        apps.size() == 1
            ? apps.get(0).name() + " fails again and again"
            : apps.size() + " apps fail again and again",
        "Tried "
            + Attempt.MOST
            + " times and no more: "
            + String.join(
                "; ",
                apps.stream()
                    .map(
                        a ->
                            a.name()
                                + " on "
                                + (a.devices() == 1 ? "1 device" : a.devices() + " devices")
                                + ", "
                                + a.reason())
                    .toList())
            + ". Push them once the cause is mended.",
        apps.size() == 1 ? "/apps/catalogue?card=" + apps.get(0).id() : "/apps/behind",
        false);
  }

  /** Which printed codes of apps lapse soon. */
  private static void codes(UseCases.Act act) {
    List<ConfigurationCodeStore.Lapsing> lapsing =
        new ConfigurationCodeStore(act.tx())
            .lapsing(act.now(), act.now().plus(Duration.ofDays(SHORT_SOON)));
    say(
        act,
        "codes",
        !lapsing.isEmpty(),
        lapsing.size() == 1
            ? "The printed code " + lapsing.get(0).name() + " lapses soon"
            : lapsing.size() + " printed codes lapse soon",
        "Print new ones and hang them up: "
            + String.join(
                ", ",
                lapsing.stream()
                    .map(l -> l.name() + " until " + l.until().toString().substring(0, 10))
                    .toList())
            + ".",
        lapsing.isEmpty() ? "/apps/catalogue" : "/apps/catalogue?card=" + lapsing.get(0).appId(),
        false);
  }

  /** Which lost devices have been looked for for long. */
  private static void lost(UseCases.Act act) {
    LostCaseStore.Overdue o =
        new LostCaseStore(act.tx()).overdue(act.now().minus(LostCase.OVERDUE));
    say(
        act,
        "cases",
        o.cases() > 0,
        o.cases() == 1
            ? o.device().orElseThrow() + " has been lost for a week"
            : o.cases() + " devices have been lost for a week",
        "Say how it ended: found, or given up.",
        o.cases() == 1 ? "/devices/lost/" + o.id().orElseThrow() : "/devices/lost?state=open",
        false);
  }

  /** Which caches of sites have been gone round for a while. */
  private static void caches(UseCases.Act act) {
    for (SiteCacheStore.Cache c : new SiteCacheStore(act.tx()).all()) {
      say(
          act,
          "cache " + c.siteId(),
          c.certificate().isPresent()
              && !c.working()
              && c.changedAt().isBefore(act.now().minus(FAILING_LONG)),
          "The cache at " + c.site() + " is gone round",
          "What it says of itself: "
              + c.fault()
              + ". Its devices fetch everything over their line until it is back.",
          "/devices/sites?card=" + c.siteId(),
          false);
    }
  }

  private static void checks(UseCases.Act act) {
    CheckStore store = new CheckStore(act.tx());
    Map<String, CheckStore.Found> found = store.found(act.now());
    for (CheckRow check : store.all()) {
      long n = Optional.ofNullable(found.get(check.id)).map(CheckStore.Found::house).orElse(0L);
      say(
          act,
          "check " + check.id,
          n > 0,
          check.name + ": " + n + (n == 1 ? " device is" : " devices are") + " out of order",
          "Their holders are told: " + check.advice,
          "/rules/checks?card=" + check.id,
          false);
    }
  }

  private void connection(UseCases.Act act, String kind, String title, String meaning) {
    Optional<ConnectionStore.Connection> c = new ConnectionStore(act.tx()).find(kind);
    String fault = c.map(ConnectionStore.Connection::fault).orElse("");
    if (fault.isEmpty()) {
      failing.remove(kind);
    }
    boolean lasting =
        !fault.isEmpty()
            && !failing
                .computeIfAbsent(kind, k -> act.now())
                .isAfter(act.now().minus(FAILING_LONG));
    say(
        act,
        kind,
        lasting,
        title,
        fault.replaceFirst("[.\\s]*$", ". ") + meaning,
        "/house/" + kind,
        true);
  }

  /** Says what rows of the roster are overdue; at most once a day. */
  public void lookAtRoster() {
    useCases.run(
        Caller.SERVICE,
        act -> {
          long n = new RosterStore(act.tx()).waiting(act.now().minus(OVERDUE));
          say(
              act,
              "roster",
              n > 0,
              (n == 1 ? "A device on the roster has" : n + " devices on the roster have")
                  + " not come in "
                  + OVERDUE.toDays()
                  + " days",
              "Find them, or take their rows off the roster, so that nobody else joins as them.",
              "/intake/roster?state=expected&waitingDays=" + OVERDUE.toDays(),
              false);
        });
    mail();
  }

  /**
   * Gives a notice once a day as long as something is so, and puts it away when it is no longer.
   */
  private static void say(
      UseCases.Act act,
      String what,
      boolean so,
      String title,
      String detail,
      String link,
      boolean urgent) {
    NoticeStore notices = new NoticeStore(act.tx());
    String key = what + " " + LocalDate.ofInstant(act.now(), ZoneOffset.UTC);
    boolean changed = notices.over(what + " ", so ? key : "", act.now());
    if (so) {
      changed |=
          notices.give(
              key, new NoticeStore.Notice(act.newId(), title, detail, link, urgent, act.now()));
    }
    if (changed) {
      act.touch(Noun.NOTICE);
    }
  }

  /** Mails what has not been mailed, when there is a way to. */
  private void mail() {
    @Nullable String to = mailer.noticesTo().orElse(null);
    if (to == null) {
      return;
    }
    for (NoticeStore.Notice n : useCases.read(tx -> new NoticeStore(tx).unmailed())) {
      // claimed before it is sent: a notice that is lost is still in the console
      boolean claimed =
          useCases.act(Caller.SERVICE, act -> new NoticeStore(act.tx()).claim(n.id(), act.now()));
      if (claimed && mailer.send(new Mailer.Letter(to, n.title(), n.detail())).isPresent()) {
        useCases.run(Caller.SERVICE, act -> new NoticeStore(act.tx()).release(n.id()));
        return;
      }
    }
  }
}
