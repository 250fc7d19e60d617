package dev.pinwright.service.license;

import dev.pinwright.core.Text;
import dev.pinwright.core.license.CodeJudgement;
import dev.pinwright.core.license.Forecast;
import dev.pinwright.core.license.Licensing;
import dev.pinwright.service.app.StoreApps;
import dev.pinwright.service.gateway.Store;
import dev.pinwright.service.sheet.SheetText;
import dev.pinwright.service.usecase.Noun;
import dev.pinwright.service.usecase.UseCases;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Known;
import dev.pinwright.service.work.ManyLines;
import dev.pinwright.service.work.Page;
import dev.pinwright.service.work.Problem;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.license.LicenseStore;
import dev.pinwright.storage.license.StoreAppStore;
import dev.pinwright.storage.row.LicensePoolRow;
import dev.pinwright.storage.row.SiteRow;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.Set;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;

/** License pools: what was bought of which app for which place, and how long it lasts. */
public final class Licenses {
  private static final int MOST_CODES = 5_000;

  private final UseCases useCases;
  private final Store store;
  private final StoreApps storeApps;

  public Licenses(UseCases useCases, Store store, StoreApps storeApps) {
    this.useCases = useCases;
    this.store = store;
    this.storeApps = storeApps;
  }

  /**
   * A license pool. {@code version} is the one to send in {@code If-Match}.
   *
   * @param place what the vendor's portal calls the place
   * @param site name of the site whose devices draw on it; empty for those of every site
   * @param elsewhere of those used, how many were given away in the portal
   * @param coming of those used, how many the store has not given yet
   * @param lacking devices or holders that are to have the app and got no license from any pool
   * @param daysLeft whole days until none is left, as they were taken lately; empty when they last
   */
  public record Pool(
      String id,
      int version,
      String appId,
      String app,
      String platform,
      Licensing licensing,
      boolean sold,
      String place,
      Optional<String> siteId,
      Optional<String> site,
      long owned,
      long used,
      long free,
      long elsewhere,
      long coming,
      long lacking,
      Optional<Long> daysLeft,
      Optional<String> fault) {

    static Pool of(LicenseStore.Line l) {
      long free = Math.max(0, l.owned() - l.used());
      OptionalLong left = Forecast.daysLeft(free, l.taken());
      return new Pool(
          l.id(),
          l.version(),
          l.appId(),
          l.app(),
          l.platform(),
          l.licensing(),
          l.sold(),
          l.place(),
          l.siteId(),
          l.site(),
          l.owned(),
          l.used(),
          free,
          l.elsewhere(),
          l.coming(),
          l.lacking(),
          left.isPresent() ? Optional.of(left.getAsLong()) : Optional.empty(),
          Optional.of(l.fault()).filter(f -> !f.isEmpty()));
    }
  }

  private Instant since() {
    return useCases.now().minus(Forecast.LOOKED_AT);
  }

  /**
   * Pools by the name of their app.
   *
   * @param appId of one app; empty for all
   */
  public Page<Pool> page(Caller caller, String words, String appId, Page.Request page) {
    Optional<String> app = Optional.of(appId).filter(a -> !a.isEmpty());
    return useCases.read(
        tx ->
            Page.byName(
                (after, limit) ->
                    new LicenseStore(tx)
                        .page(words, app, since(), after, limit).stream().map(Pool::of).toList(),
                page,
                Pool::app,
                Pool::id));
  }

  /** One pool. */
  public Pool get(Caller caller, String id) {
    return useCases.read(tx -> one(tx, id));
  }

  private Pool one(Tx tx, String id) {
    return new LicenseStore(tx)
        .find(id, since())
        .map(Pool::of)
        .orElseThrow(() -> Problem.notFound("license pool", id));
  }

  /**
   * Says whose devices draw on a pool. Licenses that are held stay where they are.
   *
   * @param siteId of a site; null for the devices of every site
   * @throws Problem 412 when someone else changed it meanwhile
   */
  public Pool forSite(Caller caller, String id, int version, @Nullable String siteId) {
    return useCases.act(
        caller,
        act -> {
          Tx tx = act.tx();
          LicensePoolRow row =
              Known.locked(tx, LicensePoolRow.class, "license pool", id, version, r -> r.version);
          String site =
              siteId == null
                  ? "every site"
                  : tx.find(SiteRow.class, siteId)
                      .map(s -> s.name)
                      .orElseThrow(
                          () -> Problem.malformed("/siteId", "Name a site by its id, or none."));
          row.siteId = siteId;
          new LicenseStore(tx).due(act.now());
          tx.flush();
          Pool pool = one(tx, id);
          act.done(
              Noun.LICENSE,
              "placed",
              id,
              "Licenses of " + pool.app() + " for " + pool.place() + " go to " + site);
          return pool;
        });
  }

  /**
   * Moves licenses nobody holds to another place.
   *
   * @param place to which, as the vendor's portal calls it; one that is not there yet is made
   * @throws Problem 400 without a place, 409 when fewer are free, 502 when the store does not do it
   */
  public Pool move(Caller caller, String id, @Nullable String place, @Nullable Long number) {
    Pool from = get(caller, id);
    String to = Text.cleaned(place == null ? "" : place, 80);
    if (to.isEmpty() || to.toLowerCase(Locale.ROOT).equals(from.place().toLowerCase(Locale.ROOT))) {
      throw Problem.malformed("/place", "Say to which other place they are moved.");
    }
    if (number == null || number < 1) {
      throw Problem.malformed("/number", "Say how many are moved, at least one.");
    }
    if (number > from.free()) {
      throw Problem.conflict(
          "fewer-free",
          from.place()
              + " has "
              + from.free()
              + (from.free() == 1 ? " free license of " : " free licenses of ")
              + from.app()
              + "; more cannot be moved.");
    }
    String app =
        useCases.read(
            tx ->
                new StoreAppStore(tx)
                    .find(from.appId())
                    .map(StoreAppStore.StoreApp::packageId)
                    .orElseThrow(() -> Problem.notFound("app", from.appId())));
    store.noting(
        caller,
        from.platform(),
        () -> {
          store.move(from.platform(), app, from.place(), to, number);
          return number;
        });
    useCases.run(
        caller,
        act ->
            act.done(
                Noun.LICENSE,
                "moved",
                id,
                number
                    + (number == 1 ? " license of " : " licenses of ")
                    + from.app()
                    + " moved from "
                    + from.place()
                    + " to "
                    + to));
    storeApps.sync(caller, from.platform());
    return get(caller, id);
  }

  // ---- redemption codes ------------------------------------------------------------------------

  /**
   * Codes of the older kind that are to become licenses.
   *
   * @param place as the vendor's portal calls it; one that is not there yet is made
   * @param sheet codes, one in the first column of each line
   * @param save whether they are redeemed; without it they are only looked at
   */
  public record Codes(
      @Nullable String appId,
      @Nullable String place,
      @ManyLines @Nullable String sheet,
      boolean save) {}

  /**
   * One line of a sheet of codes.
   *
   * @param ends its last four characters
   */
  public record CodeLine(int line, String ends, CodeJudgement judgement) {}

  /** What became of codes: those that are good, and the lines with the others. */
  public record Redeemed(int good, boolean saved, List<CodeLine> faults) {}

  /**
   * Looks at redemption codes, or redeems those that are good: each becomes a license of the app
   * for the place. Redeeming them again does nothing more.
   *
   * @throws Problem 400 saying what is wrong with the sheet, 502 when the store fails
   */
  public Redeemed redeem(Caller caller, Codes codes) {
    String place = Text.cleaned(codes.place() == null ? "" : codes.place(), 80);
    if (place.isEmpty()) {
      throw Problem.malformed("/place", "Say for which place they are.");
    }
    StoreAppStore.StoreApp app =
        useCases.read(
            tx ->
                new StoreAppStore(tx)
                    .find(codes.appId() == null ? "" : codes.appId())
                    .orElseThrow(
                        () -> Problem.malformed("/appId", "Name an app of a store by its id.")));
    Map<Integer, String> lines = lines(codes.sheet() == null ? "" : codes.sheet());
    Map<String, CodeJudgement> judged = new HashMap<>();
    List<String> all = lines.values().stream().distinct().toList();
    store.noting(
        caller,
        app.platform(),
        () -> {
          for (int from = 0; from < all.size(); from += Store.AT_ONCE) {
            List<String> some = all.subList(from, Math.min(all.size(), from + Store.AT_ONCE));
            judged.putAll(store.codes(app.platform(), app.packageId(), place, some, codes.save()));
          }
          return judged;
        });
    Set<String> seen = new HashSet<>();
    List<CodeLine> faults = new ArrayList<>();
    lines.forEach(
        (line, code) -> {
          CodeJudgement j =
              seen.add(code)
                  ? judged.getOrDefault(code, CodeJudgement.UNKNOWN)
                  : CodeJudgement.TWICE;
          if (j != CodeJudgement.GOOD) {
            faults.add(new CodeLine(line, code.substring(Math.max(0, code.length() - 4)), j));
          }
        });
    int good =
        all.size()
            - (int) faults.stream().filter(f -> f.judgement() != CodeJudgement.TWICE).count();
    if (codes.save() && good > 0) {
      useCases.run(
          caller,
          act ->
              act.done(
                  Noun.LICENSE,
                  "redeemed",
                  app.appId(),
                  good
                      + (good == 1 ? " code of " : " codes of ")
                      + app.name()
                      + " redeemed for "
                      + place));
      storeApps.sync(caller, app.platform());
    }
    return new Redeemed(good, codes.save(), faults);
  }

  /** The codes of a sheet, by their lines. */
  private static Map<Integer, String> lines(String sheet) {
    Map<Integer, String> out = new TreeMap<>();
    int line = 0;
    try (SheetText text = SheetText.of(sheet)) {
      for (List<String> cells : text) {
        line++;
        String code = cells.isEmpty() ? "" : cells.get(0).strip().toUpperCase(Locale.ROOT);
        boolean heading = line == 1 && !code.matches(".*\\d.*");
        if (!code.isEmpty() && !heading) {
          out.put(line, Text.cleaned(code, 80));
        }
      }
    }
    if (out.isEmpty()) {
      throw Problem.malformed(
          "/sheet", "There is no code in the sheet; they stand in its first column.");
    }
    if (out.size() > MOST_CODES) {
      throw Problem.malformed("/sheet", "A sheet has at most " + MOST_CODES + " codes.");
    }
    return out;
  }
}
