package dev.pinwright.storage.organisation;

import dev.pinwright.storage.Tx;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** Caches at sites. */
public final class SiteCacheStore {
  private final Tx tx;

  public SiteCacheStore(Tx tx) {
    this.tx = tx;
  }

  /**
   * A cache.
   *
   * @param name common name of its certificate
   * @param certificate serial number of the certificate issued last; empty before the first
   * @param working whether devices fetch through it
   * @param changedAt since when it is, or is not
   * @param fault why it is not; empty when it is
   * @param lineBytes what it fetched from here
   * @param servedBytes what devices have through it
   */
  public record Cache(
      String siteId,
      String site,
      int version,
      String address,
      String name,
      Optional<String> passwordHash,
      Optional<Instant> passwordUntil,
      Optional<String> certificate,
      Optional<Instant> notAfter,
      boolean working,
      Instant changedAt,
      String fault,
      long lineBytes,
      long servedBytes) {}

  private static final String SELECT =
      """
      select c.site_id, s.name as site, c.version, c.address, c.name, c.password_hash, c.password_until,
             c.certificate, c.not_after, c.working, c.changed_at, c.fault,
             c.line_bytes + coalesce(u.line, 0) as line_bytes,
             c.served_bytes + coalesce(u.served, 0) as served_bytes
        from site_cache c join site s on s.id = c.site_id
        left join lateral (
          select cast(sum(line) as bigint) as line, cast(sum(served) as bigint) as served
            from site_cache_use x where x.site_id = c.site_id) u on true
      """;

  /** The cache of a site. */
  public Optional<Cache> find(String siteId) {
    tx.flush();
    return tx
        .select(Cache.class, SELECT + " where c.site_id = :site", Map.of("site", siteId))
        .stream()
        .findFirst();
  }

  /** The cache whose certificate has a common name. */
  public Optional<Cache> ofName(String name) {
    return tx.select(Cache.class, SELECT + " where c.name = :name", Map.of("name", name)).stream()
        .findFirst();
  }

  /** All of them, by site. */
  public List<Cache> all() {
    return tx.select(Cache.class, SELECT + " order by lower(s.name), s.id", Map.of());
  }

  /** Says where the cache of a site is; it has to prove itself anew. */
  public void put(String siteId, String address, String name, Instant now) {
    tx.execute(
        """
        insert into site_cache (site_id, version, address, name, working, changed_at, fault)
        values (:site, 1, :address, :name, false, :now, 'it was not heard of yet')
        on conflict (site_id) do update
          set version = site_cache.version + 1, address = excluded.address, working = false, changed_at = excluded.changed_at,
              fault = excluded.fault
        """,
        Map.of("site", siteId, "address", address, "name", name, "now", now));
  }

  /** Takes the cache of a site away; whether there was one. */
  public boolean remove(String siteId) {
    return tx.execute("delete from site_cache where site_id = :site", Map.of("site", siteId)) > 0;
  }

  /** A password for its first certificate. */
  public void password(String siteId, String hash, Instant until) {
    tx.execute(
        "update site_cache set password_hash = :hash, password_until = :until"
            + " where site_id = :site",
        Map.of("site", siteId, "hash", hash, "until", until));
  }

  /** A certificate was issued to it; its password is spent. */
  public void certified(String siteId, String serial, Instant notAfter) {
    tx.execute(
        "update site_cache set certificate = :serial, not_after = :until, password_hash = null,"
            + " password_until = null where site_id = :site",
        Map.of("site", siteId, "serial", serial, "until", notAfter));
  }

  /**
   * Notes whether it works.
   *
   * @param fault why not; empty when it does
   * @return whether that is news
   */
  public boolean heard(String siteId, String fault, Instant now) {
    return tx.execute(
            """
            update site_cache set working = (:fault = ''), fault = :fault,
                   changed_at = case when working = (:fault = '') then changed_at else :now end
             where site_id = :site and fault <> :fault
            """,
            Map.of("site", siteId, "fault", fault, "now", now))
        > 0;
  }

  /** Counts bytes; summed up later, so that those who count do not wait for each other. */
  public void count(String siteId, long line, long served) {
    tx.execute(
        "insert into site_cache_use select :site, :line, :served"
            + " where exists (select 1 from site_cache where site_id = :site)",
        Map.of("site", siteId, "line", line, "served", served));
  }

  /**
   * Counts a package a device has installed, where it came through the cache of its site. What was
   * only configured anew was not fetched.
   *
   * @param app id devices know it by
   */
  public void served(String deviceId, String app, long release) {
    tx.execute(
        """
        insert into site_cache_use
        select c.site_id, 0, r.bytes
          from device d join site_cache c on c.site_id = d.site_id and c.working
          join app a on a.package_id = :app and a.origin = 'package'
          join app_release r on r.app_id = a.id and r.code = :release
         where d.id = :device and not exists (
           select 1 from device_app x
            where x.device_id = d.id and x.app = :app and x.version = r.version)
        """,
        Map.of("device", deviceId, "app", app, "release", release));
  }

  /** Sums up what was counted. */
  public void sumUp() {
    tx.execute(
        """
        with used as (delete from site_cache_use returning site_id, line, served),
             summed as (
               select site_id, cast(sum(line) as bigint) as line,
                      cast(sum(served) as bigint) as served
                 from used group by site_id)
        update site_cache c
           set line_bytes = c.line_bytes + s.line, served_bytes = c.served_bytes + s.served
          from summed s where c.site_id = s.site_id
        """,
        Map.of());
  }

  /**
   * Forgets that packages are on their way to the devices of a site, so that they are ordered again
   * from elsewhere.
   *
   * @return those devices
   */
  public List<String> orderAgain(String siteId) {
    return tx.column(
        String.class,
        """
        delete from app_attempt t using device d, app a
         where d.id = t.device_id and d.site_id = :site and a.package_id = t.app
           and a.origin = 'package' and t.action = 'install' and t.state in ('sent', 'under-way')
        returning t.device_id
        """,
        Map.of("site", siteId));
  }
}
