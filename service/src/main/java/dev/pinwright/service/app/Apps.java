package dev.pinwright.service.app;

import com.fasterxml.jackson.core.type.TypeReference;
import dev.pinwright.core.Words;
import dev.pinwright.core.app.AppId;
import dev.pinwright.core.app.Origin;
import dev.pinwright.core.app.Presence;
import dev.pinwright.core.catalog.Catalog;
import dev.pinwright.core.file.FileKind;
import dev.pinwright.core.license.Licensing;
import dev.pinwright.protocol.pack.Manifest;
import dev.pinwright.protocol.pack.PackageFile;
import dev.pinwright.protocol.pack.PackageRefused;
import dev.pinwright.service.file.ArrivedFile;
import dev.pinwright.service.file.StoredFiles;
import dev.pinwright.service.live.Wakes;
import dev.pinwright.service.rules.Schemas;
import dev.pinwright.service.shape.Shapes;
import dev.pinwright.service.sheet.Sheet;
import dev.pinwright.service.usecase.Noun;
import dev.pinwright.service.usecase.UseCases;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Json;
import dev.pinwright.service.work.Known;
import dev.pinwright.service.work.Page;
import dev.pinwright.service.work.Problem;
import dev.pinwright.storage.After;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.app.AppStore;
import dev.pinwright.storage.app.DeviceAppStore;
import dev.pinwright.storage.device.DeviceStates;
import dev.pinwright.storage.license.LicenseStore;
import dev.pinwright.storage.license.StoreAppStore;
import dev.pinwright.storage.row.AppReleaseRow;
import dev.pinwright.storage.row.AppRow;
import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;

/** The catalogue of apps: what there is, in which versions, on which devices. */
public final class Apps {
  private static final int MOST_WRITTEN = 100_000;
  private static final TypeReference<TreeMap<String, String>> TEXTS = new TypeReference<>() {};

  private final UseCases useCases;
  private final Catalog catalog;
  private final Shapes shapes;

  public Apps(UseCases useCases, Catalog catalog, Shapes shapes) {
    this.useCases = useCases;
    this.catalog = catalog;
    this.shapes = shapes;
  }

  /**
   * A version of an app.
   *
   * @param lowestOs the platforms it is for, each with the lowest OS version it runs on
   * @param size bytes of its package
   * @param installedSize bytes it takes on a device; 0 when its maker does not say
   * @param schema JSON Schema (2020-12) of what it can be told
   * @param opens the address it opens, where it is a page of the web
   * @param devices managed devices that have it
   */
  public record Version(
      long code,
      String version,
      Map<String, String> lowestOs,
      List<String> permissions,
      long size,
      long installedSize,
      String notes,
      Optional<Object> schema,
      String sha256,
      Instant broughtAt,
      String broughtBy,
      Optional<String> opens,
      long devices) {
    static Version of(AppStore.ReleaseLine r) {
      return new Version(
          r.code(),
          r.version(),
          Json.read(r.lowest(), TEXTS),
          r.permissions(),
          r.bytes(),
          r.installed(),
          r.notes(),
          r.configuration().map(Json::tree),
          r.sha256(),
          r.broughtAt(),
          r.broughtBy(),
          r.opens(),
          r.devices());
    }
  }

  /**
   * What the store an app comes from says of it.
   *
   * @param prices what it costs by country, in words
   * @param sold whether new licenses can be had
   * @param lacking devices or holders that are to have it and got no license
   */
  public record StoreSide(
      String platform,
      Licensing licensing,
      Map<String, String> prices,
      boolean sold,
      long lacking) {
    static StoreSide of(StoreAppStore.StoreApp a) {
      return new StoreSide(
          a.platform(), a.licensing(), Json.read(a.prices(), TEXTS), a.sold(), a.lacking());
    }
  }

  /**
   * An app. {@code version} is the one to send in {@code If-Match}.
   *
   * @param signer who signs its packages
   * @param signerKey SHA-256 of the signer's key
   * @param store what its store says of it; empty where it comes from none
   * @param forAll the version released to all
   * @param forEarly the version released early
   * @param latest the version brought last
   * @param counts how devices are with it
   * @param assignments profiles of the kind app that assign it
   */
  public record Detail(
      AppStore.Line app,
      int version,
      Optional<String> signer,
      Optional<String> signerKey,
      Optional<StoreSide> store,
      Optional<Version> forAll,
      Optional<Version> forEarly,
      Optional<Version> latest,
      AppStore.Counts counts,
      List<AppStore.Assigned> assignments) {}

  /**
   * A package that was brought.
   *
   * @param before whether it was here before
   * @param newPermissions what this version may do and the one before might not
   */
  public record Brought(Detail app, Version version, boolean before, List<String> newPermissions) {}

  /**
   * Apps by name, those that come with the OS last.
   *
   * @param from the word of an {@link Origin}; empty for all
   */
  public Page<AppStore.Line> page(Caller caller, String words, String from, Page.Request page) {
    Optional<Origin> origin =
        from.isEmpty()
            ? Optional.empty()
            : Optional.of(Problem.reading("/from", () -> Words.parse(Origin.class, from)));
    String[] c = page.parts(Page.Part.WHOLE, Page.Part.TEXT, Page.Part.TEXT);
    boolean system = c.length > 0 && c[0].equals("1");
    After after = c.length == 0 ? After.START : new After(c[1], c[2]);
    return useCases.read(
        tx ->
            Page.of(
                new AppStore(tx).page(words, origin, system, after, page.limit() + 1),
                page.limit(),
                a ->
                    Page.cursor(
                        a.origin() == Origin.SYSTEM ? "1" : "0",
                        a.name().toLowerCase(Locale.ROOT),
                        a.id())));
  }

  /** One app. */
  public Detail get(Caller caller, String id) {
    return useCases.snapshot(tx -> detail(tx, row(tx, id)));
  }

  static AppRow row(Tx tx, String id) {
    return tx.find(AppRow.class, id).orElseThrow(() -> Problem.notFound("app", id));
  }

  Detail detail(Tx tx, AppRow row) {
    AppStore store = new AppStore(tx);
    return new Detail(
        store.line(row.id).orElseThrow(),
        row.version,
        Optional.ofNullable(row.signerName),
        Optional.ofNullable(row.signerKey),
        new StoreAppStore(tx).find(row.id).map(StoreSide::of),
        version(store, row, row.forAll),
        version(store, row, row.forEarly),
        store.releases(row.id, Long.MAX_VALUE, 1).stream().findFirst().map(Version::of),
        store.counts(row.packageId, wishes(tx, row)),
        store.assignments(row.id));
  }

  private static Optional<Version> version(AppStore store, AppRow row, @Nullable Long code) {
    return Optional.ofNullable(code).flatMap(c -> store.release(row.id, c)).map(Version::of);
  }

  /** What devices should have of an app, by their shapes. */
  private List<AppStore.ShapeWish> wishes(Tx tx, AppRow row) {
    List<AppStore.ShapeWish> wishes = new ArrayList<>();
    shapes
        .apps(tx, new AppStore(tx).shapes(Optional.of(row.id)))
        .forEach(
            (shape, apps) ->
                apps.stream()
                    .filter(w -> w.key().equals(row.key))
                    .forEach(
                        w ->
                            wishes.add(
                                new AppStore.ShapeWish(
                                    shape, w.version(), w.presence() == Presence.REQUIRED))));
    return wishes;
  }

  /** Apps some devices are behind with: missing, of another version, on the way or failing. */
  public List<AppStore.Behind> behind(Caller caller) {
    return useCases.snapshot(
        tx -> {
          AppStore store = new AppStore(tx);
          Map<String, String> ids = store.packageIds();
          List<AppStore.AppWish> wishes = new ArrayList<>();
          shapes
              .apps(tx, store.shapes(Optional.empty()))
              .forEach(
                  (shape, apps) ->
                      apps.stream()
                          .filter(w -> w.presence() == Presence.REQUIRED)
                          .filter(w -> ids.containsKey(w.key()))
                          .forEach(
                              w ->
                                  wishes.add(
                                      new AppStore.AppWish(shape, ids.get(w.key()), w.version()))));
          return store.behind(wishes, Page.MAX);
        });
  }

  /** The icon of an app, a PNG; empty when it has none. */
  public Optional<byte[]> icon(Caller caller, String id) {
    return useCases.read(tx -> Optional.ofNullable(row(tx, id).icon));
  }

  /** Versions of an app, the latest first. */
  public Page<Version> versions(Caller caller, String id, Page.Request page) {
    String[] c = page.parts(Page.Part.LONG);
    return useCases.read(
        tx ->
            Page.of(
                new AppStore(tx)
                    .releases(
                        row(tx, id).id,
                        c.length == 0 ? Long.MAX_VALUE : Long.parseLong(c[0]),
                        page.limit() + 1),
                page.limit(),
                Version::of,
                r -> Page.cursor(String.valueOf(r.code()))));
  }

  private static AppStore.With with(String which) {
    return which.isEmpty()
        ? AppStore.With.THERE
        : Problem.reading("/with", () -> Words.parse(AppStore.With.class, which));
  }

  /** Devices that are some way with an app, by name. */
  public Page<AppStore.OnDevice> devices(
      Caller caller, String id, String which, Page.Request page) {
    AppStore.With with = with(which);
    return useCases.snapshot(
        tx -> {
          AppRow row = row(tx, id);
          List<AppStore.ShapeWish> wishes = wishes(tx, row);
          return Page.byName(
              (after, limit) -> new AppStore(tx).devices(row.packageId, wishes, with, after, limit),
              page,
              AppStore.OnDevice::name,
              AppStore.OnDevice::id);
        });
  }

  /** Devices that are some way with an app as a sheet, by name; at most a hundred thousand. */
  public String sheet(Caller caller, String id, String which) {
    AppStore.With with = with(which);
    return useCases.snapshot(
        tx -> {
          AppRow row = row(tx, id);
          List<AppStore.ShapeWish> wishes = wishes(tx, row);
          return Sheet.write(
              List.of("device", "version", "managed", "attempt", "why", "since"),
              Sheet.<AppStore.OnDevice>rows(
                  MOST_WRITTEN,
                  (last, most) ->
                      new AppStore(tx)
                          .devices(
                              row.packageId,
                              wishes,
                              with,
                              last.map(d -> new After(d.name().toLowerCase(Locale.ROOT), d.id()))
                                  .orElse(After.START),
                              most),
                  d ->
                      Sheet.cells(
                          d.name(), d.version(), d.managed(), d.attempt(), d.reason(), d.at())));
        });
  }

  // ---- bringing --------------------------------------------------------------------------------

  /**
   * Takes in a package: a new app, or another version of one. Devices get it once it is released.
   *
   * @throws Problem 400 saying what is wrong with it, 409 when it is of another signer or no later
   *     than what is here, 413 when it is too large
   */
  public Brought bring(Caller caller, InputStream content) {
    try (ArrivedFile arrived = ArrivedFile.of(content, FileKind.PACKAGE.most())) {
      PackageFile read = checked(arrived);
      return useCases.act(caller, act -> bring(act, arrived, read, Origin.PACKAGE));
    }
  }

  /**
   * Takes in a package of an app that is here, where it is a later version.
   *
   * @return empty when it is none
   * @throws Problem as {@link #bring} does, and 409 when it is of another app
   */
  Optional<Brought> bringLater(Caller caller, String id, InputStream content) {
    try (ArrivedFile arrived = ArrivedFile.of(content, FileKind.PACKAGE.most())) {
      PackageFile read = checked(arrived);
      return useCases.act(
          caller,
          act -> {
            AppRow row = row(act.tx(), id);
            if (!row.packageId.equals(read.manifest().id())) {
              throw Problem.conflict(
                  "another-app",
                  "The package there is of " + read.manifest().id() + ", not of " + row.name + ".");
            }
            return read.manifest().versionCode() <= new AppStore(act.tx()).latest(id)
                ? Optional.empty()
                : Optional.of(bring(act, arrived, read, Origin.PACKAGE));
          });
    }
  }

  private PackageFile checked(ArrivedFile arrived) {
    PackageFile read = read(arrived);
    sound(read.manifest());
    if (read.signer().until().isBefore(useCases.now())) {
      throw refused(
          "The certificate of "
              + read.signer().name()
              + " ended on "
              + read.signer().until().toString().substring(0, 10)
              + "; sign the package with one that still holds.");
    }
    return read;
  }

  static PackageFile read(ArrivedFile arrived) {
    try {
      return PackageFile.read(arrived.path());
    } catch (PackageRefused e) {
      throw refused(e.getMessage());
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }

  private static Problem refused(String why) {
    return Problem.malformed("/package", why);
  }

  private void sound(Manifest m) {
    for (String platform : m.lowest().keySet()) {
      if (catalog.platform(platform).isEmpty()) {
        throw refused(
            "In the manifest, platforms names "
                + platform
                + "; known are "
                + String.join(", ", catalog.platforms().stream().map(p -> p.key()).toList())
                + ".");
      }
    }
    m.configuration()
        .map(Schemas::faults)
        .filter(faults -> !faults.isEmpty())
        .ifPresent(
            faults -> {
              throw refused(
                  "In the manifest, configuration is no JSON Schema (2020-12): "
                      + String.join("; ", faults)
                      + ".");
            });
  }

  /** Takes in a package that was checked; one that is made here is no other's to bring. */
  Brought bring(UseCases.Act act, ArrivedFile arrived, PackageFile read, Origin origin) {
    Tx tx = act.tx();
    AppStore store = new AppStore(tx);
    Manifest m = read.manifest();
    tx.advisoryLock("app " + m.id());
    Optional<AppRow> there = store.ofPackage(m.id());
    if (there.isPresent()) {
      tx.lock(AppRow.class, there.get().id);
    }
    AppRow row = there.orElseGet(() -> made(act, m, read, origin));
    if (!row.origin.equals(Words.of(origin))) {
      throw Problem.conflict(
          "id-taken",
          m.id()
              + " is the id of "
              + row.name
              + ", which "
              + whence(row)
              + "; give the package another id.");
    }
    if (!read.signer().key().equals(row.signerKey)) {
      throw Problem.conflict(
          "another-signer",
          "Packages of "
              + row.name
              + " are signed by "
              + row.signerName
              + "; this one is by "
              + read.signer().name()
              + ", whose key is another.");
    }
    Optional<AppStore.ReleaseLine> same = store.release(row.id, m.versionCode());
    if (same.filter(r -> r.sha256().equals(arrived.sha256())).isPresent()) {
      return new Brought(detail(tx, row), Version.of(same.get()), true, List.of());
    }
    long latest = store.latest(row.id);
    if (m.versionCode() <= latest) {
      throw Problem.conflict(
          "not-newer",
          row.name
              + " is here with the version code "
              + latest
              + " already; this has "
              + m.versionCode()
              + ". Raise versionCode in the manifest.");
    }
    if (store.release(row.id, m.version()).isPresent()) {
      throw Problem.conflict(
          "version-taken",
          row.name
              + " "
              + m.version()
              + " is here already, with another code; name the version"
              + " otherwise.");
    }
    List<String> before =
        store.releases(row.id, Long.MAX_VALUE, 1).stream()
            .findFirst()
            .map(AppStore.ReleaseLine::permissions)
            .orElse(m.permissions());
    StoredFiles.keepPackage(
        act,
        arrived,
        m.id() + "-" + m.versionCode() + ".pkg",
        m.name() + " " + m.version() + ", signed by " + read.signer().name());
    AppReleaseRow release = new AppReleaseRow();
    release.appId = row.id;
    release.code = m.versionCode();
    release.version = m.version();
    release.lowest = Json.write(lowest(m));
    release.permissions = m.permissions().toArray(String[]::new);
    release.bytes = arrived.bytes();
    release.installed = m.bytes();
    release.notes = m.notes();
    release.configuration = m.configuration().orElse(null);
    release.opens = m.opens().orElse(null);
    release.fileId = arrived.sha256();
    release.sha256 = arrived.sha256();
    release.broughtAt = act.now();
    release.broughtBy = act.caller().login();
    tx.insert(release);
    describe(row, m, read, act.now());
    tx.flush();
    act.done(Noun.APP, "brought", row.id, row.name + " " + m.version() + " brought");
    return new Brought(
        detail(tx, row),
        Version.of(store.release(row.id, m.versionCode()).orElseThrow()),
        false,
        m.permissions().stream().filter(p -> !before.contains(p)).toList());
  }

  private static Map<String, String> lowest(Manifest m) {
    Map<String, String> lowest = new TreeMap<>();
    m.lowest().forEach((platform, os) -> lowest.put(platform, os.toString()));
    return lowest;
  }

  private static String whence(AppRow row) {
    return switch (Words.parse(Origin.class, row.origin)) {
      case STORE -> "comes from a store";
      case SYSTEM -> "comes with the OS";
      case WEB -> "is a page of the web";
      case PACKAGE -> "is brought as packages";
    };
  }

  private static AppRow made(UseCases.Act act, Manifest m, PackageFile read, Origin origin) {
    AppRow row = new AppRow();
    row.id = act.newId();
    row.key = key(act.tx(), m.id());
    row.packageId = m.id();
    row.origin = Words.of(origin);
    row.signerName = read.signer().name();
    row.signerKey = read.signer().key();
    row.createdAt = act.now();
    describe(row, m, read, act.now());
    act.tx().insert(row);
    act.tx().flush();
    act.done(Noun.APP, "made", row.id, "App " + row.name + " added");
    return row;
  }

  /** What the latest version says of the app. */
  private static void describe(AppRow row, Manifest m, PackageFile read, Instant now) {
    row.name = m.name();
    row.publisher = m.publisher();
    row.summary = m.summary();
    row.category = m.category();
    read.icon().ifPresent(icon -> row.icon = icon);
    row.changedAt = now;
  }

  static String key(Tx tx, String packageId) {
    String wanted = AppId.key(packageId);
    String key = wanted;
    for (int n = 2; new AppStore(tx).ofKey(key).isPresent(); n++) {
      String end = "-" + n;
      key = wanted.substring(0, Math.min(wanted.length(), 32 - end.length())) + end;
    }
    return key;
  }

  // ---- the rest --------------------------------------------------------------------------------

  /**
   * Pushes an app to devices that do not have it as they should: what failed, or waits for a later
   * try, is tried at once.
   *
   * @param device id of one device; empty for all
   * @return on how many devices
   */
  public int push(Caller caller, String id, Optional<String> device) {
    return useCases.act(
        caller,
        act -> {
          AppRow row = row(act.tx(), id);
          List<String> to =
              new AppStore(act.tx()).lagging(row.packageId, wishes(act.tx(), row), device);
          push(act, Optional.of(row.packageId), to);
          if (!to.isEmpty()) {
            act.done(
                Noun.APP,
                "pushed",
                id,
                row.name + " pushed to " + Words.counted(to.size(), "device"));
          }
          return to.size();
        });
  }

  /** Has devices look at their apps at once, as if nothing had failed before. */
  static void push(UseCases.Act act, Optional<String> packageId, List<String> deviceIds) {
    if (!deviceIds.isEmpty()) {
      new DeviceStates(act.tx()).appsDue(deviceIds, act.now());
      new DeviceAppStore(act.tx()).forgetFailures(packageId, deviceIds);
      Wakes.devices(act.tx(), deviceIds);
      act.touch(Noun.DEVICE);
    }
  }

  /**
   * Deletes an app nobody is assigned any more, with all its versions. Devices keep what they have.
   *
   * @throws Problem 409 naming what assigns it, or while licenses of it are held; 412 when someone
   *     else changed it meanwhile
   */
  public void delete(Caller caller, String id, int version) {
    useCases.run(
        caller,
        act -> {
          AppRow row = Known.locked(act.tx(), AppRow.class, "app", id, version, r -> r.version);
          if (row.origin.equals(Words.of(Origin.SYSTEM))) {
            throw Problem.conflict(
                "comes-with-os", row.name + " comes with the OS; forbid it where it is unwanted.");
          }
          Known.unused(
              row.name,
              new AppStore(act.tx())
                  .assignments(id).stream().map(a -> "the assignment " + a.name()).toList());
          if (new LicenseStore(act.tx()).held(id)) {
            throw Problem.conflict(
                "licenses-held",
                "Licenses of "
                    + row.name
                    + " are still on their way back to the store; try again in a moment.");
          }
          act.tx().delete(row);
          act.done(Noun.APP, "deleted", id, "App " + row.name + " deleted");
        });
  }
}
