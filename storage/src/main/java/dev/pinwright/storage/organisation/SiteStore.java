package dev.pinwright.storage.organisation;

import dev.pinwright.core.organisation.LargePackages;
import dev.pinwright.core.organisation.Site;
import dev.pinwright.core.place.Outline;
import dev.pinwright.storage.After;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.organisation.Uses.Use;
import dev.pinwright.storage.row.SiteRow;
import java.util.Collection;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;

/** Sites. */
public final class SiteStore {
  private static final String SELECT =
      """
      select s.id, s.version, s.name, s.address, s.latitude, s.longitude, s.outline,
             s.large_above_mb, s.large_hours,
             (select count(*) from device d where d.site_id = s.id and d.retired_at is null)
               as devices
        from site s
      """;

  private record Row(
      String id,
      int version,
      String name,
      String address,
      Optional<Double> latitude,
      Optional<Double> longitude,
      Optional<List<Double>> outline,
      Optional<Integer> largeAboveMb,
      Optional<String> largeHours,
      long devices) {
    Site site() {
      return new Site(
          id,
          version,
          name,
          address,
          latitude,
          longitude,
          outline.map(o -> Outline.flat(o).corners()).orElse(List.of()),
          largeAboveMb.map(mb -> new LargePackages(mb, largeHours.orElseThrow())),
          devices);
    }
  }

  private final Tx tx;

  public SiteStore(Tx tx) {
    this.tx = tx;
  }

  /** Sites by name in small letters, then id. */
  public List<Site> page(After after, int limit) {
    return tx
        .select(
            Row.class,
            SELECT
                + " where (lower(s.name), s.id) > (:key, :id)"
                + " order by lower(s.name), s.id limit :limit",
            after.parameters(limit))
        .stream()
        .map(Row::site)
        .toList();
  }

  /** A site with its counts. */
  public Optional<Site> find(String id) {
    tx.flush();
    return tx.select(Row.class, SELECT + " where s.id = :id", Map.of("id", id)).stream()
        .findFirst()
        .map(Row::site);
  }

  /** The row of this name; capitals do not count. */
  public Optional<SiteRow> byName(String name) {
    return tx
        .list(SiteRow.class, "from SiteRow where lower(name) = lower(:n)", Map.of("n", name), 1)
        .stream()
        .findFirst();
  }

  /** What belongs to a site, counted. */
  public List<String> uses(String id) {
    return Uses.of(
        tx,
        id,
        List.of(
            new Use("device", "devices", "device where site_id = :id"),
            new Use("person", "people", "person where site_id = :id"),
            new Use("roster row", "roster rows", "roster_entry where site_id = :id"),
            new Use(
                "enrollment profile",
                "enrollment profiles",
                "enrollment_profile where site_id = :id"),
            new Use("bench session", "bench sessions", "bench_session where site_id = :id"),
            new Use(
                "rule of a group",
                "rules of groups",
                "group_mention where kind = 'site' and ref = :id")));
  }

  /** The rows with one of these names; capitals do not count. */
  public List<SiteRow> named(Collection<String> names) {
    return tx.list(
        SiteRow.class,
        "from SiteRow where lower(name) in :names",
        Map.of("names", names.stream().map(n -> n.toLowerCase(Locale.ROOT)).toList()),
        Integer.MAX_VALUE);
  }
}
