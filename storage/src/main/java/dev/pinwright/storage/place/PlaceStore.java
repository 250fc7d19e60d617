package dev.pinwright.storage.place;

import dev.pinwright.core.Words;
import dev.pinwright.core.device.Position;
import dev.pinwright.core.place.Fence;
import dev.pinwright.core.place.MapSource;
import dev.pinwright.core.place.Outline;
import dev.pinwright.storage.Tx;
import java.time.Instant;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** Where devices are on the map, and what that is drawn on. */
public final class PlaceStore {
  private final Tx tx;

  public PlaceStore(Tx tx) {
    this.tx = tx;
  }

  /** The map and how often it was chosen. */
  public record Set(int version, MapSource source) {}

  private record Row(
      int version,
      MapSource.Kind kind,
      String address,
      String layers,
      String attribution,
      Optional<String> drawing) {}

  /** The map. */
  public Set map() {
    return tx
        .select(
            Row.class,
            "select version, kind, address, layers, attribution, drawing from house_map",
            Map.of())
        .stream()
        .findFirst()
        .map(
            r ->
                new Set(
                    r.version(),
                    new MapSource(r.kind(), r.address(), r.layers(), r.attribution(), r.drawing())))
        .orElse(new Set(0, MapSource.NONE));
  }

  /** Chooses the map; false when somebody did since {@code version}. */
  public boolean choose(int version, MapSource m) {
    Map<String, Object> p = new HashMap<>();
    p.put("version", version);
    p.put("kind", Words.of(m.kind()));
    p.put("address", m.address());
    p.put("layers", m.layers());
    p.put("attribution", m.attribution());
    p.put("drawing", m.drawing().orElse(null));
    return tx.execute(
                """
                insert into house_map (version, kind, address, layers, attribution, drawing)
                select 1, :kind, :address, :layers, :attribution, cast(:drawing as text)
                 where :version = 0
                on conflict (only_one) do nothing
                """,
                p)
            + tx.execute(
                """
                update house_map set version = version + 1, kind = :kind, address = :address,
                       layers = :layers, attribution = :attribution,
                       drawing = cast(:drawing as text)
                 where version = :version and :version > 0
                """,
                p)
        > 0;
  }

  /** Notes that somebody looked; false when that was told since a moment already. */
  public boolean looked(String accountId, Instant now, Instant since) {
    return tx.execute(
            "insert into map_look (account_id, at) values (:a, :now)"
                + " on conflict (account_id) do update set at = excluded.at"
                + " where map_look.at < :since",
            Map.of("a", accountId, "now", now, "since", since))
        > 0;
  }

  // ---- where devices are -----------------------------------------------------------------------

  /**
   * Devices that are near each other at the size a map is shown at.
   *
   * @param latitude of their middle
   * @param deviceId the one there is, where it is one
   * @param away whether the one there is is at another place than the site it belongs to
   */
  public record Cluster(
      double latitude,
      double longitude,
      long devices,
      Optional<String> deviceId,
      Optional<String> name,
      Optional<Double> accuracy,
      Optional<Position.Source> source,
      Optional<Instant> at,
      boolean away) {}

  /** Clusters of the devices within a box, larger ones first. */
  public List<Cluster> clusters(
      double south, double west, double north, double east, double cell, Instant now, int limit) {
    return tx.select(
        Cluster.class,
        """
        select c.latitude, c.longitude, c.devices, d.id as device_id, d.name, p.accuracy, p.source,
               p.at, coalesce(d.site_id is not null and p.site_id is distinct from d.site_id
                              and exists (select 1 from site s where s.id = d.site_id
                                                                 and s.outline is not null),
                              false) as away
          from (select avg(latitude) as latitude, avg(longitude) as longitude, count(*) as devices,
                       min(device_id) as only
                  from last_position
                 where latitude between :south and :north and longitude between :west and :east
                   and until > :now
                 group by floor(latitude / :cell), floor(longitude / :cell)
                 order by count(*) desc limit :limit) c
          left join device d on c.devices = 1 and d.id = c.only
          left join last_position p on p.device_id = d.id
         order by c.devices desc, c.latitude, c.longitude
        """,
        Map.of(
            "south", south, "west", west, "north", north, "east", east, "cell", cell, "now", now,
            "limit", limit));
  }

  /**
   * A device that is not where it belongs.
   *
   * @param site it belongs to
   * @param now the site it is at; empty for none
   * @param at when it was there
   * @param homeAt when it was last seen at its site; empty for never
   */
  public record Away(
      String deviceId,
      String device,
      String site,
      Optional<String> now,
      double latitude,
      double longitude,
      Instant at,
      Optional<Instant> homeAt) {}

  /** Devices that are not at their site, which has an outline; those for longest first. */
  public List<Away> away(Instant now, int limit) {
    return tx.select(
        Away.class,
        """
        select d.id as device_id, d.name as device, s.name as site, n.name as now, p.latitude,
               p.longitude, p.at, case when p.home_site_id = d.site_id then p.home_at end as home_at
          from last_position p join device d on d.id = p.device_id
          join site s on s.id = d.site_id and s.outline is not null
          left join site n on n.id = p.site_id
         where p.until > :now and d.retired_at is null and p.site_id is distinct from d.site_id
         order by home_at nulls first, lower(d.name), d.id limit :limit
        """,
        Map.of("now", now, "limit", limit));
  }

  /** How many devices are within a box. */
  public long within(double south, double west, double north, double east, Instant now) {
    return tx.value(
        "select count(*) from last_position where latitude between :south and :north"
            + " and longitude between :west and :east and until > :now",
        Long.class,
        Map.of("south", south, "west", west, "north", north, "east", east, "now", now));
  }

  /** The box around all devices and sites on the map; empty where there are none. */
  public record Extent(
      Optional<Double> south,
      Optional<Double> west,
      Optional<Double> north,
      Optional<Double> east) {}

  /** The box around all devices and sites on the map. */
  public Extent extent(Instant now) {
    return tx.select(
            Extent.class,
            """
            select min(latitude) as south, min(longitude) as west, max(latitude) as north,
                   max(longitude) as east
              from (select latitude, longitude from last_position where until > :now
                    union all select latitude, longitude from site where latitude is not null) p
            """,
            Map.of("now", now))
        .get(0);
  }

  private record Near(String id, String name, List<Double> outline) {}

  /** Sites in the boxes of whose outlines a place is. */
  public List<Fence> near(double latitude, double longitude) {
    return tx
        .select(
            Near.class,
            "select id, name, outline from site where outline is not null"
                + " and :lat between south and north and :lon between west and east order by id",
            Map.of("lat", latitude, "lon", longitude))
        .stream()
        .map(n -> new Fence(n.id(), n.name(), Outline.flat(n.outline())))
        .toList();
  }

  /** The site whose outline a device was in last. */
  public record At(String siteId, String name) {}

  /** The site whose outline a device was in last. */
  public Optional<At> at(String deviceId) {
    return tx
        .select(
            At.class,
            "select s.id as site_id, s.name from last_position p join site s on s.id = p.site_id"
                + " where p.device_id = :d",
            Map.of("d", deviceId))
        .stream()
        .findFirst();
  }

  /**
   * Notes where a device is; an earlier place than the one on file changes nothing.
   *
   * @param siteId the site in whose outline that is
   * @param home the site it belongs to
   * @return whether it is the latest
   */
  public boolean put(
      String deviceId, Position p, int days, Optional<String> siteId, Optional<String> home) {
    Map<String, Object> q = new HashMap<>();
    q.put("device", deviceId);
    q.put("at", p.at());
    q.put("lat", p.latitude());
    q.put("lon", p.longitude());
    q.put("accuracy", p.accuracy().orElse(null));
    q.put("source", Words.of(p.source()));
    q.put("days", days);
    q.put("site", siteId.orElse(null));
    q.put("home", siteId.filter(s -> home.equals(Optional.of(s))).orElse(null));
    return tx.execute(
            """
            insert into last_position (device_id, at, latitude, longitude, accuracy, source, until,
                                       site_id, home_site_id, home_at)
            values (:device, :at, :lat, :lon, cast(:accuracy as float8), :source,
                    cast(:at as timestamptz) + make_interval(days => :days), cast(:site as text),
                    cast(:home as text),
                    case when cast(:home as text) is not null then cast(:at as timestamptz) end)
            on conflict (device_id) do update
              set at = excluded.at, latitude = excluded.latitude, longitude = excluded.longitude,
                  accuracy = excluded.accuracy, source = excluded.source, until = excluded.until,
                  site_id = excluded.site_id,
                  home_site_id = coalesce(excluded.home_site_id, last_position.home_site_id),
                  home_at = coalesce(excluded.home_at, last_position.home_at)
            where last_position.at < excluded.at
            """,
            q)
        > 0;
  }
}
