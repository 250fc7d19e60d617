package dev.pinwright.service.organisation;

import com.github.f4b6a3.ulid.UlidCreator;
import dev.pinwright.service.journal.Journal;
import dev.pinwright.service.live.Events;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Known;
import dev.pinwright.service.work.Page;
import dev.pinwright.service.work.Problem;
import dev.pinwright.service.work.Records;
import dev.pinwright.service.work.Role;
import dev.pinwright.storage.Database;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.row.SiteRow;
import java.time.Clock;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/** Places on the map. */
public final class Sites implements Records<Sites.Site, Sites.Draft> {
  private final Database database;
  private final Journal journal;
  private final Events events;
  private final Clock clock;

  public Sites(Database database, Journal journal, Events events, Clock clock) {
    this.database = database;
    this.journal = journal;
    this.events = events;
    this.clock = clock;
  }

  /** A site. {@code latitude} and {@code longitude} in degrees (WGS 84), both or neither. */
  public record Site(
      String id,
      int version,
      String name,
      String address,
      Optional<Double> latitude,
      Optional<Double> longitude,
      long devices)
      implements Records.Versioned {}

  /** A site as written. */
  public record Draft(
      @Nullable String name,
      @Nullable String address,
      @Nullable Double latitude,
      @Nullable Double longitude) {}

  private static final String SELECT =
      """
      select s.id, s.version, s.name, s.address, s.latitude, s.longitude,
             (select count(*) from device d where d.site_id = s.id and d.retired_at is null)
        from site s
      """;

  private static Site view(Object[] r) {
    return new Site(
        (String) r[0],
        (Integer) r[1],
        (String) r[2],
        (String) r[3],
        Optional.ofNullable((Double) r[4]),
        Optional.ofNullable((Double) r[5]),
        ((Number) r[6]).longValue());
  }

  /** Sites by name. */
  public Page<Site> page(Caller caller, Page.Request page) {
    caller.needs(Role.READER);
    String[] c = page.parts(Page.Part.TEXT, Page.Part.TEXT);
    List<Object[]> rows =
        database.call(
            tx ->
                tx.rows(
                    SELECT
                        + " where (lower(s.name), s.id) > (:n, :id)"
                        + " order by lower(s.name), s.id limit :limit",
                    Map.of(
                        "n", c.length == 0 ? "" : c[0],
                        "id", c.length == 0 ? "" : c[1],
                        "limit", page.limit() + 1)));
    return Page.of(
        rows,
        page.limit(),
        Sites::view,
        r -> Page.cursor(((String) r[2]).toLowerCase(Locale.ROOT), (String) r[0]));
  }

  /** One site. */
  @Override
  public Site get(Caller caller, String id) {
    caller.needs(Role.READER);
    return database.call(tx -> one(tx, id));
  }

  private static Site one(Tx tx, String id) {
    return tx.rows(SELECT + " where s.id = :id", Map.of("id", id)).stream()
        .findFirst()
        .map(Sites::view)
        .orElseThrow(() -> Problem.notFound("site", id));
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
    caller.needs(Role.OPERATOR);
    String name = draft.name() == null ? "" : draft.name().strip();
    if (name.isEmpty() || name.length() > 80) {
      throw Problem.malformed("/name", "A name has 1 to 80 characters.");
    }
    String address = draft.address() == null ? "" : draft.address().strip();
    if (address.length() > 300) {
      throw Problem.malformed("/address", "An address has at most 300 characters.");
    }
    Double lat = draft.latitude();
    Double lon = draft.longitude();
    if ((lat == null) != (lon == null)
        || lat != null && (Math.abs(lat) > 90 || Math.abs(lon) > 180)) {
      throw Problem.malformed(
          "/latitude",
          "Give latitude (-90 to 90) and longitude (-180 to 180) in degrees, or neither.");
    }
    Site written =
        database.call(
            tx -> {
              if (!tx.list(
                      SiteRow.class,
                      "from SiteRow where name = :n and id <> :id",
                      Map.of("n", name, "id", id == null ? "" : id),
                      1)
                  .isEmpty()) {
                throw Problem.conflict(
                    "name-taken", "There is a site called " + name + " already.");
              }
              SiteRow row =
                  id == null
                      ? new SiteRow()
                      : Known.locked(tx, SiteRow.class, "site", id, version, r -> r.version);
              row.name = name;
              row.address = address;
              row.latitude = lat;
              row.longitude = lon;
              if (id == null) {
                row.id = UlidCreator.getMonotonicUlid().toString();
                row.createdAt = clock.instant();
                tx.insert(row);
              }
              tx.flush();
              Site site = one(tx, row.id);
              journal.write(
                  tx,
                  caller,
                  id == null ? "site.made" : "site.changed",
                  "site:" + row.id,
                  "Site " + name + (id == null ? " made" : " changed"));
              return site;
            });
    events.touch("sites");
    return written;
  }

  /**
   * Deletes a site nothing is at.
   *
   * @throws Problem 409 naming what is
   */
  @Override
  public void delete(Caller caller, String id) {
    caller.needs(Role.OPERATOR);
    database.run(
        tx -> {
          SiteRow row = tx.lock(SiteRow.class, id).orElseThrow(() -> Problem.notFound("site", id));
          InUse.refuse(
              row.name,
              InUse.of(
                  tx,
                  id,
                  Map.of(
                      "devices", "select count(*) from device where site_id = :id",
                      "people", "select count(*) from person where site_id = :id",
                      "roster rows", "select count(*) from roster_entry where site_id = :id",
                      "enrollment profiles",
                          "select count(*) from enrollment_profile where site_id = :id",
                      "bench sessions", "select count(*) from bench_session where site_id = :id")));
          tx.delete(row);
          tx.flush();
          journal.write(tx, caller, "site.deleted", "site:" + id, "Site " + row.name + " deleted");
        });
    events.touch("sites");
  }
}
