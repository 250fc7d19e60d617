package dev.pinwright.service.holder;

import dev.pinwright.catalog.Catalogue;
import dev.pinwright.core.Words;
import dev.pinwright.core.access.Role;
import dev.pinwright.core.app.AppState;
import dev.pinwright.core.app.Presence;
import dev.pinwright.core.catalog.Catalog;
import dev.pinwright.core.catalog.CommandSpec;
import dev.pinwright.core.change.Confirmation;
import dev.pinwright.core.device.ActivityLine;
import dev.pinwright.core.device.DeviceTraits;
import dev.pinwright.core.device.Mode;
import dev.pinwright.core.device.OsVersion;
import dev.pinwright.core.device.Ownership;
import dev.pinwright.core.notice.News;
import dev.pinwright.service.access.Guessing;
import dev.pinwright.service.access.Throttle;
import dev.pinwright.service.acting.DispatchOrder;
import dev.pinwright.service.acting.Dispatches;
import dev.pinwright.service.app.DeviceApps;
import dev.pinwright.service.directory.HolderSignIn;
import dev.pinwright.service.lost.LostCases;
import dev.pinwright.service.secret.Vault;
import dev.pinwright.service.usecase.Noun;
import dev.pinwright.service.usecase.UseCases;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.ManyLines;
import dev.pinwright.service.work.Problem;
import dev.pinwright.storage.Database;
import dev.pinwright.storage.device.ActivityStore;
import dev.pinwright.storage.holder.HolderStore;
import dev.pinwright.storage.holder.HolderStore.Held;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * The page of people who hold devices: they sign in with their staff account, see their own devices
 * and what the organisation sees and did, and do what helps with a lost one. Nothing more: whatever
 * is asked for names a device, and it has to be one they hold.
 */
public final class Holders {
  /** How long a sign-in lasts. */
  public static final Duration LASTS = Duration.ofHours(12);

  /** What a holder may have done, by the catalogue's keys. */
  private static final List<String> MAY = List.of("ring", "lock", "locate", "message");

  private static final int LINES = 100;
  private static final int LONGEST_WISH = 300;

  private final UseCases useCases;
  private final Catalogue catalogue;
  private final HolderSignIn.StaffDirectory directory;
  private final Dispatches dispatches;
  private final LostCases cases;
  private final DeviceApps deviceApps;
  private final Guessing guesses;
  private final Throttle asking;
  private final Throttle acting;

  public Holders(
      UseCases useCases,
      Database database,
      Catalogue catalogue,
      HolderSignIn.StaffDirectory directory,
      Dispatches dispatches,
      LostCases cases,
      DeviceApps deviceApps,
      Clock clock) {
    this.deviceApps = deviceApps;
    asking = new Throttle(database, clock, "holders' requests", 10, Duration.ofHours(1));
    acting = new Throttle(database, clock, "holders' orders", 30, Duration.ofHours(1));
    this.useCases = useCases;
    this.catalogue = catalogue;
    this.directory = directory;
    this.dispatches = dispatches;
    this.cases = cases;
    guesses = new Guessing(database, clock, "holders");
  }

  /** Somebody who is signed in to their own page. */
  public record Holder(String personId, String name, String login, String csrf) {}

  /** A sign-in; the token is what the browser keeps. */
  public record SignedIn(String token, String csrf, Instant expiresAt) {}

  /**
   * A device as its holder sees it.
   *
   * @param may what its holder may have done, by the catalogue's keys
   * @param visible what the organisation sees of it
   * @param never what it never sees
   */
  public record Mine(Held device, List<String> may, List<String> visible, List<String> never) {}

  /** Whose page it is, and what they hold. */
  public record Page(String name, String csrf, List<Mine> devices) {}

  /** Something to be done. */
  public record Deed(Optional<String> command, @ManyLines Optional<String> text) {}

  /** A report by the holder. */
  public record Report(
      @ManyLines Optional<String> what, Optional<String> phone, Optional<Instant> lostAt) {}

  /**
   * Signs somebody in with their staff account.
   *
   * @throws Problem 401 when login or password is wrong, or the directory says why not; 429
   */
  public SignedIn signIn(String login, String password, String address) {
    String key = guesses.trying(login, address);
    HolderSignIn.Proof proof = directory.prove(login.strip(), password, "");
    if (!proof.right() || proof.personId().isEmpty()) {
      throw new Problem(
          401,
          "sign-in-failed",
          "Not signed in",
          proof
              .fault()
              .map(f -> Character.toUpperCase(f.charAt(0)) + f.substring(1) + ".")
              .orElse("The login or the password is wrong."));
    }
    guesses.right(key);
    String token = Vault.randomText();
    String csrf = Vault.randomText();
    Instant expires = useCases.now().plus(LASTS);
    useCases.run(
        Caller.SERVICE,
        act -> {
          new HolderStore(act.tx())
              .enter(Vault.hash(token), proof.personId().get(), csrf, expires, act.now());
          act.done(
              Noun.PERSON, "signed-in", proof.personId().get(), login + " opened their own page");
        });
    return new SignedIn(token, csrf, expires);
  }

  /** Who is signed in by a token; empty when nobody is. */
  public Optional<Holder> known(String token) {
    return useCases
        .read(tx -> new HolderStore(tx).known(Vault.hash(token), useCases.now()))
        .map(h -> new Holder(h.personId(), h.name(), h.login(), h.csrf()));
  }

  /** Signs out. */
  public void signOut(String token) {
    useCases.run(Caller.SERVICE, act -> new HolderStore(act.tx()).leave(Vault.hash(token)));
  }

  /** The page of somebody. */
  public Page page(Holder holder) {
    return new Page(
        holder.name(),
        holder.csrf(),
        useCases.read(tx -> new HolderStore(tx).devices(holder.personId())).stream()
            .map(this::mine)
            .toList());
  }

  private Mine mine(Held d) {
    Ownership ownership = Words.parse(Ownership.class, d.ownership());
    return new Mine(
        d,
        MAY.stream().filter(key -> objection(d, key).isEmpty()).toList(),
        catalogue.visible(ownership),
        catalogue.neverSeen(ownership));
  }

  private Optional<String> objection(Held d, String key) {
    Catalog catalog = catalogue.catalog();
    DeviceTraits traits =
        new DeviceTraits(
            d.platform(), Words.parse(Mode.class, d.mode()), OsVersion.parse(d.osVersion()));
    CommandSpec spec = catalog.command(key).orElseThrow();
    return catalog.objection(spec, traits, Words.parse(Ownership.class, d.ownership()));
  }

  private Held held(Holder holder, String deviceId) {
    return useCases.read(tx -> new HolderStore(tx).devices(holder.personId())).stream()
        .filter(d -> d.id().equals(deviceId))
        .findFirst()
        .orElseThrow(() -> Problem.notFound("device of yours", deviceId));
  }

  private static Caller caller(Holder holder) {
    return new Caller("holder " + holder.personId(), holder.login() + " (holder)", Role.HELPDESK);
  }

  /**
   * Has something done to one's own device.
   *
   * @throws Problem 400 for what a holder may not have done, 404 for a device that is not theirs,
   *     429 beyond thirty of it an hour
   */
  public void act(Holder holder, String deviceId, Deed deed) {
    Held d = held(holder, deviceId);
    String command = deed.command().orElse("");
    if (!MAY.contains(command)) {
      throw Problem.malformed("/command", "There is " + String.join(", ", MAY) + ".");
    }
    objection(d, command)
        .ifPresent(
            why -> {
              throw Problem.conflict("cannot", "This cannot be done on your device: " + why + ".");
            });
    acting.trying(holder.personId());
    String text = deed.text().orElse("").strip();
    Map<String, String> fields =
        text.isEmpty() || command.equals("locate") ? Map.of() : Map.of("text", text);
    dispatches.order(
        caller(holder),
        DispatchOrder.toDevice(command, deviceId, "Asked for by its holder", fields),
        "",
        Confirmation.NONE);
  }

  /**
   * Reports one's own device lost.
   *
   * @return id of the case
   * @throws Problem 400, 404, 409 when it is reported already
   */
  public String lost(Holder holder, String deviceId, Report report) {
    Held d = held(holder, deviceId);
    return cases
        .open(
            caller(holder),
            new LostCases.Draft(
                d.id(),
                report.what(),
                Optional.of(true),
                Optional.empty(),
                report.phone(),
                Optional.empty(),
                report.lostAt(),
                Optional.empty()))
        .lost()
        .id();
  }

  /** An app a holder may have: of the shelf of their device, or already on it. */
  public record App(String packageId, String name, AppState state, boolean there) {}

  /** The apps the organisation has for one's own device, by name. */
  public List<App> apps(Holder holder, String deviceId) {
    Held d = held(holder, deviceId);
    return deviceApps.of(caller(holder), d.id()).apps().stream()
        .filter(
            a ->
                a.presence()
                    .filter(p -> p == Presence.OFFERED || p == Presence.REQUIRED)
                    .isPresent())
        .map(a -> new App(a.packageId(), a.name(), a.state(), a.version().isPresent()))
        .toList();
  }

  /**
   * What a holder would like to have: an app of the shelf, or in words what is not on it.
   *
   * @param app its package
   */
  public record Wish(Optional<String> app, @ManyLines Optional<String> words) {}

  /**
   * Asks for an app for one's own device: one of its shelf comes at once, of any other whoever
   * looks after devices is told.
   *
   * @throws Problem 400 without either, 404, 409 for one that is not on the shelf, 429
   */
  public void wish(Holder holder, String deviceId, Wish wish) {
    Held d = held(holder, deviceId);
    Optional<String> app = wish.app().map(String::strip).filter(a -> !a.isEmpty());
    String words = wish.words().orElse("").strip();
    if (app.isPresent()) {
      deviceApps.take(caller(holder), d.id(), app.get());
      return;
    }
    if (words.isEmpty() || words.length() > LONGEST_WISH) {
      throw Problem.malformed("/words", "Say in 1 to 300 characters which app, and what for.");
    }
    asking.trying(holder.personId());
    useCases.run(
        caller(holder),
        act -> {
          String id = act.newId();
          act.say(News.appAskedFor(id, holder.name(), d.id(), d.name(), words));
          act.done(
              Noun.DEVICE, "app-asked-for", d.id(), holder.name() + " asks for an app: " + words);
        });
  }

  /** What happened to one's own device and what was done to it, the latest first. */
  public List<ActivityLine> did(Holder holder, String deviceId) {
    Held d = held(holder, deviceId);
    return useCases.read(tx -> new ActivityStore(tx).page(d.id(), Long.MAX_VALUE, LINES));
  }
}
