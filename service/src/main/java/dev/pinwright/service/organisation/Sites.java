package dev.pinwright.service.organisation;

import dev.pinwright.core.organisation.LargePackages;
import dev.pinwright.core.organisation.Site;
import dev.pinwright.core.place.Outline;
import dev.pinwright.service.usecase.Noun;
import dev.pinwright.service.usecase.UseCases;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Known;
import dev.pinwright.service.work.Page;
import dev.pinwright.service.work.Problem;
import dev.pinwright.service.work.Records;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.organisation.SiteStore;
import dev.pinwright.storage.row.SiteRow;
import java.util.List;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/** Places on the map. */
public final class Sites implements Records<Site, Sites.Draft> {
  private final UseCases useCases;

  public Sites(UseCases useCases) {
    this.useCases = useCases;
  }

  /**
   * A site as written.
   *
   * @param outline its corners, each longitude and latitude; none to take it away, left as it is
   *     where it is absent
   * @param largePackages when large packages come in; left as it is where it is absent
   */
  public record Draft(
      @Nullable String name,
      @Nullable String address,
      @Nullable Double latitude,
      @Nullable Double longitude,
      Optional<List<List<Double>>> outline,
      Optional<Large> largePackages) {}

  /** When large packages come in, as written; at any time where both are left out. */
  public record Large(@Nullable Integer aboveMegabytes, @Nullable String hours) {
    Optional<LargePackages> read() {
      if (aboveMegabytes == null && (hours == null || hours.isBlank())) {
        return Optional.empty();
      }
      if (aboveMegabytes == null || hours == null || hours.isBlank()) {
        throw Problem.malformed(
            "/largePackages",
            "Say above how many MB packages are large and when they come in, or neither.");
      }
      return Optional.of(
          Problem.reading(
              "/largePackages", () -> new LargePackages(aboveMegabytes, hours.strip())));
    }
  }

  /** Sites by name. */
  public Page<Site> page(Caller caller, Page.Request page) {
    return useCases.read(tx -> Page.byName(new SiteStore(tx)::page, page, Site::name, Site::id));
  }

  /** One site. */
  @Override
  public Site get(Caller caller, String id) {
    return useCases.read(tx -> one(tx, id));
  }

  private static Site one(Tx tx, String id) {
    return new SiteStore(tx).find(id).orElseThrow(() -> Problem.notFound("site", id));
  }

  /** Makes a site. */
  @Override
  public Site add(Caller caller, Draft draft) {
    return write(caller, null, 0, draft);
  }

  /**
   * Rewrites a site.
   *
   * @throws Problem 412 when someone else changed it meanwhile
   */
  @Override
  public Site change(Caller caller, String id, int version, Draft draft) {
    return write(caller, id, version, draft);
  }

  private Site write(Caller caller, @Nullable String id, int version, Draft draft) {
    String name = Known.name(draft.name());
    String address = draft.address() == null ? "" : draft.address().strip();
    if (address.length() > 300) {
      throw Problem.malformed("/address", "An address has at most 300 characters.");
    }
    Double lat = draft.latitude();
    Double lon = draft.longitude();
    if ((lat == null) != (lon == null)
        || lat != null && !(Math.abs(lat) <= 90 && Math.abs(lon) <= 180)) {
      throw Problem.malformed(
          "/latitude",
          "Give latitude (-90 to 90) and longitude (-180 to 180) in degrees, or neither.");
    }
    Optional<Outline> outline =
        draft
            .outline()
            .filter(o -> !o.isEmpty())
            .map(o -> Problem.reading("/outline", () -> new Outline(o)));
    Optional<Optional<LargePackages>> large = draft.largePackages().map(Large::read);
    return useCases.act(
        caller,
        act -> {
          Tx tx = act.tx();
          if (new SiteStore(tx).byName(name).filter(s -> !s.id.equals(id)).isPresent()) {
            throw Problem.conflict("name-taken", "There is a site called " + name + " already.");
          }
          SiteRow row =
              id == null
                  ? new SiteRow()
                  : Known.locked(tx, SiteRow.class, "site", id, version, r -> r.version);
          row.name = name;
          row.address = address;
          row.latitude = lat;
          row.longitude = lon;
          if (draft.outline().isPresent()) {
            row.outline(outline);
          }
          large.ifPresent(row::large);
          if (id == null) {
            row.id = act.newId();
            row.createdAt = act.now();
            tx.insert(row);
          }
          String done = id == null ? "made" : "changed";
          act.done(Noun.SITE, done, row.id, "Site " + name + " " + done);
          return one(tx, row.id);
        });
  }

  /**
   * Deletes a site nothing is at.
   *
   * @throws Problem 409 naming what is
   */
  @Override
  public void delete(Caller caller, String id, int version) {
    useCases.run(
        caller,
        act -> {
          SiteRow row = Known.locked(act.tx(), SiteRow.class, "site", id, version, r -> r.version);
          Known.unused(row.name, new SiteStore(act.tx()).uses(id));
          act.tx().delete(row);
          act.done(Noun.SITE, "deleted", id, "Site " + row.name + " deleted");
        });
  }
}
