package dev.pinwright.storage.license;

import dev.pinwright.core.Words;
import dev.pinwright.core.license.Licensing;
import dev.pinwright.storage.Tx;
import java.time.Instant;
import java.util.Collection;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** What the stores of platforms say of apps that come from them. */
public final class StoreAppStore {
  private final Tx tx;

  public StoreAppStore(Tx tx) {
    this.tx = tx;
  }

  /**
   * An app of a store.
   *
   * @param prices JSON of what it costs by country (ISO 3166-1, two letters)
   * @param sold whether new licenses of it can be had
   * @param lacking devices or holders that are to have it and got no license
   */
  public record StoreApp(
      String appId,
      String key,
      String packageId,
      String name,
      String platform,
      Licensing licensing,
      String prices,
      boolean sold,
      Instant readAt,
      long lacking) {}

  private static final String SELECT =
      """
      select a.id as app_id, a.key, a.package_id, a.name, s.platform, s.licensing,
             cast(s.prices as text) as prices, s.sold, s.read_at, s.lacking
        from store_app s join app a on a.id = s.app_id
      """;

  /** One. */
  public Optional<StoreApp> find(String appId) {
    tx.flush();
    return tx.select(StoreApp.class, SELECT + " where a.id = :app", Map.of("app", appId)).stream()
        .findFirst();
  }

  /** Those of a platform, by name. */
  public List<StoreApp> of(String platform) {
    return tx.select(
        StoreApp.class,
        SELECT + " where s.platform = :platform order by lower(a.name), a.id",
        Map.of("platform", platform));
  }

  /** Those nobody has without a license, by name. */
  public List<StoreApp> licensed() {
    return tx.select(
        StoreApp.class, SELECT + " where s.licensing <> 'free' order by lower(a.name)", Map.of());
  }

  /** Those among some apps, by key, that nobody has without a license. */
  public List<StoreApp> licensed(Collection<String> keys) {
    return keys.isEmpty()
        ? List.of()
        : tx.select(
            StoreApp.class,
            SELECT
                + " where s.licensing <> 'free' and a.key = any(cast(:keys as text[]))"
                + " order by lower(a.name)",
            Map.of("keys", keys.toArray(String[]::new)));
  }

  /** An app of which a later version is in its store than the one released to all. */
  public record Newer(String appId, String name, String version) {}

  /** Apps of stores, or followed at an address, with a version nobody has released, by name. */
  public List<Newer> newer() {
    return tx.select(
        Newer.class,
        """
        select a.id as app_id, a.name, r.version
          from app a
          join lateral (
            select code, version from app_release where app_id = a.id order by code desc limit 1) r
            on r.code > coalesce(a.for_all, 0)
         where exists (select 1 from store_app s where s.app_id = a.id)
            or exists (select 1 from app_source s where s.app_id = a.id)
         order by lower(a.name)
        """,
        Map.of());
  }

  /** Notes what a store says of an app. */
  public void put(
      String appId,
      String platform,
      Licensing licensing,
      String prices,
      boolean sold,
      Instant readAt) {
    tx.flush();
    tx.execute(
        """
        insert into store_app (app_id, platform, licensing, prices, sold, read_at)
        values (:app, :platform, :licensing, cast(:prices as jsonb), :sold, :at)
        on conflict (app_id) do update
          set licensing = excluded.licensing, prices = excluded.prices, sold = excluded.sold,
              read_at = excluded.read_at
        """,
        Map.of(
            "app", appId,
            "platform", platform,
            "licensing", Words.of(licensing),
            "prices", prices,
            "sold", sold,
            "at", readAt));
  }

  /** Notes how many got no license. */
  public void lacking(String appId, long lacking) {
    tx.execute(
        "update store_app set lacking = :n where app_id = :app and lacking <> :n",
        Map.of("app", appId, "n", lacking));
  }
}
