package dev.pinwright.service.house;

import dev.pinwright.core.Lapse;
import dev.pinwright.core.app.Attempt;
import dev.pinwright.core.gateway.PushCredential;
import dev.pinwright.core.license.Forecast;
import dev.pinwright.core.lost.LostCase;
import dev.pinwright.core.notice.Daily;
import dev.pinwright.core.notice.News;
import dev.pinwright.core.notice.Notice;
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
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalInt;
import java.util.concurrent.ConcurrentHashMap;
import org.jspecify.annotations.Nullable;

/** What somebody should know: each thing is said once, in the console and by mail. */
public final class HouseNotices {
  private final UseCases useCases;
  private final Mailer mailer;

  /** Since when a service of the house was seen to fail; what works again by itself is no news. */
  private final Map<String, Instant> failing = new ConcurrentHashMap<>();

  public HouseNotices(UseCases useCases, Mailer mailer) {
    this.useCases = useCases;
    this.mailer = mailer;
  }

  /** Notices that are not over, newest first. */
  public Page<NoticeStore.Given> page(Caller caller, Page.Request page) {
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
    Notice notice = News.pushLapses(g.platform, held, due.getAsInt(), act.now());
    act.say(notice);
    act.done(Noun.NOTICE, "given", Noun.GATEWAY, g.platform, notice.title());
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
    List<String> profiles =
        new FileStore(act.tx()).uses(id).stream().map(FileStore.Use::profileName).toList();
    Notice notice =
        News.certificateLapses(id, file.name, lapse, due.getAsInt(), profiles, act.now());
    act.say(notice);
    act.done(Noun.NOTICE, "given", Noun.FILE, id, notice.title());
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
          connection(act, "directory");
          connection(act, "mail");
        });
    mail();
  }

  private static void arrivals(UseCases.Act act) {
    ArrivalStore.Waiting w =
        new ArrivalStore(act.tx()).waiting(act.now().minus(Daily.WAITING_LONG));
    say(act, "arrivals", Daily.arrivals(w.devices(), w.since()));
  }

  private static void waves(UseCases.Act act) {
    List<Daily.Told> stopped =
        Waves.stopped(act.tx()).stream()
            .map(s -> new Daily.Told(s.profile().id(), s.profile().name(), s.reason()))
            .toList();
    say(act, "waves", Daily.waves(stopped));
  }

  /** Which licenses are short already, and which will be soon as they were taken lately. */
  private static void licenses(UseCases.Act act) {
    LicenseStore licenses = new LicenseStore(act.tx());
    for (StoreAppStore.StoreApp app : new StoreAppStore(act.tx()).licensed()) {
      say(
          act,
          "licenses " + app.appId(),
          Daily.licenses(
              new Daily.Told(app.appId(), app.name(), ""),
              app.licensing(),
              app.lacking(),
              Forecast.runsOut(
                  licenses.places(app.appId(), act.now().minus(Forecast.LOOKED_AT)),
                  Daily.SOON.toDays()),
              "/apps/licenses?q=" + URLEncoder.encode(app.name(), StandardCharsets.UTF_8)));
    }
  }

  private static void versions(UseCases.Act act) {
    List<Daily.Told> newer =
        new StoreAppStore(act.tx())
            .newer().stream().map(n -> new Daily.Told(n.appId(), n.name(), n.version())).toList();
    say(act, "versions", Daily.versions(newer));
  }

  private static void failingApps(UseCases.Act act) {
    say(act, "apps", Daily.failingApps(new AppStore(act.tx()).givenUp(Attempt.MOST)));
  }

  private static void codes(UseCases.Act act) {
    List<Daily.Told> lapsing =
        new ConfigurationCodeStore(act.tx())
            .lapsing(act.now(), act.now().plus(Daily.SOON)).stream()
                .map(
                    l -> new Daily.Told(l.appId(), l.name(), l.until().toString().substring(0, 10)))
                .toList();
    say(act, "codes", Daily.codes(lapsing));
  }

  private static void lost(UseCases.Act act) {
    LostCaseStore.Overdue o =
        new LostCaseStore(act.tx()).overdue(act.now().minus(LostCase.OVERDUE));
    say(
        act,
        "cases",
        Daily.cases(o.cases(), o.id().map(id -> new Daily.Told(id, o.device().orElseThrow(), ""))));
  }

  private static void caches(UseCases.Act act) {
    for (SiteCacheStore.Cache c : new SiteCacheStore(act.tx()).all()) {
      boolean fails = c.certificate().isPresent() && !c.working();
      say(
          act,
          "cache " + c.siteId(),
          Daily.cache(
              new Daily.Told(c.siteId(), c.site(), c.fault()),
              fails ? Optional.of(c.changedAt()) : Optional.empty(),
              act.now()));
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
          Daily.check(new Daily.Told(check.id, check.name, check.advice), n));
    }
  }

  private void connection(UseCases.Act act, String kind) {
    String fault =
        new ConnectionStore(act.tx()).find(kind).map(ConnectionStore.Connection::fault).orElse("");
    if (fault.isEmpty()) {
      failing.remove(kind);
    }
    Optional<Instant> since =
        fault.isEmpty()
            ? Optional.empty()
            : Optional.of(failing.computeIfAbsent(kind, k -> act.now()));
    say(act, kind, Daily.connection(kind, fault, since, act.now()));
  }

  /** Says what rows of the roster are overdue; at most once a day. */
  public void lookAtRoster() {
    useCases.run(
        Caller.SERVICE,
        act -> {
          long n = new RosterStore(act.tx()).waiting(act.now().minus(Daily.OVERDUE));
          say(act, "roster", Daily.roster(n));
        });
    mail();
  }

  /** Says something once a day as long as it is so, and puts it away when it is no longer. */
  private static void say(UseCases.Act act, String about, Optional<Notice> found) {
    if (found.isPresent()) {
      act.say(found.get().daily(act.now()));
    } else {
      act.over(about);
    }
  }

  /** Mails what has not been mailed, when there is a way to. */
  private void mail() {
    @Nullable String to = mailer.noticesTo().orElse(null);
    if (to == null) {
      return;
    }
    for (NoticeStore.Given n : useCases.read(tx -> new NoticeStore(tx).unmailed())) {
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
