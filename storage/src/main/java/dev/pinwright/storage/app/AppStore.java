package dev.pinwright.storage.app;

import dev.pinwright.core.Words;
import dev.pinwright.core.app.Origin;
import dev.pinwright.core.license.LicenseState;
import dev.pinwright.core.license.Licensing;
import dev.pinwright.core.notice.Daily;
import dev.pinwright.storage.After;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.query.Sought;
import dev.pinwright.storage.row.AppReleaseRow;
import dev.pinwright.storage.row.AppRow;
import dev.pinwright.storage.row.AppSourceRow;
import java.time.Instant;
import java.util.Collection;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;

/** Apps, their versions, and how devices are with them. */
public final class AppStore {
  private final Tx tx;

  public AppStore(Tx tx) {
    this.tx = tx;
  }

  /**
   * An app in a list.
   *
   * @param forAll the version released to all
   * @param assigned how many managed devices it is assigned to, forbidden included
   * @param there how many have it; 0 for what comes with the OS, which nearly all have
   * @param failing how many could not install or remove it
   */
  public record Line(
      String id,
      String key,
      String packageId,
      String name,
      String publisher,
      String summary,
      String category,
      Origin origin,
      List<String> platforms,
      Optional<String> forAll,
      long assigned,
      long there,
      long failing,
      boolean icon) {}

  private static final String LINE =
      """
      select a.id, a.key, a.package_id, a.name, a.publisher, a.summary, a.category, a.origin,
             array(select distinct jsonb_object_keys(r.lowest) from app_release r
                    where r.app_id = a.id order by 1) as platforms,
             (select r.version from app_release r where r.app_id = a.id and r.code = a.for_all)
               as for_all,
             (select count(*) from device_state st where st.standing <> 'retired'
                 and st.shape_key in (
                   select sp.shape_key from shape_profile sp join profile p on p.id = sp.profile_id
                     join shape sh on sh.key = sp.shape_key
                    where p.app_id = a.id and (not exists (
                        select 1 from app_release r where r.app_id = a.id)
                      or exists (
                        select 1 from app_release r
                         where r.app_id = a.id and jsonb_exists(r.lowest, sh.platform)))))
               as assigned,
             case when a.origin = 'system' then 0 else (
               select count(*) from device_app x join device_state st using (device_id)
                where x.app = a.package_id and st.standing <> 'retired') end as there,
             (select count(*) from app_attempt t join device_state st using (device_id)
               where t.app = a.package_id and t.state = 'failed' and st.standing <> 'retired')
               as failing,
             a.icon is not null as icon
        from app a
      """;

  /**
   * Apps by name in small letters, then id, those that come with the OS last; those of one origin
   * alone where one is said.
   *
   * @param system whether the page begins among those that come with the OS
   */
  public List<Line> page(
      String words, Optional<Origin> origin, boolean system, After after, int limit) {
    Map<String, Object> p = new HashMap<>(after.parameters(limit));
    p.put("system", system);
    p.put("origin", origin.map(Words::of).orElse(""));
    return tx.select(
        Line.class,
        LINE
            + " where (a.origin = 'system', lower(a.name), a.id) > (:system, :key, :id)"
            + " and :origin in ('', a.origin) and "
            + Sought.in("lower(a.name || ' ' || a.package_id || ' ' || a.publisher)", words, p)
            + " order by a.origin = 'system', lower(a.name), a.id limit :limit",
        p);
  }

  /** One app as lists show it. */
  public Optional<Line> line(String id) {
    tx.flush();
    return tx.select(Line.class, LINE + " where a.id = :id", Map.of("id", id)).stream().findFirst();
  }

  /** The app devices know by an id. */
  public Optional<AppRow> ofPackage(String packageId) {
    return tx
        .list(AppRow.class, "from AppRow where packageId = :p", Map.of("p", packageId), 1)
        .stream()
        .findFirst();
  }

  /** The apps devices know by some ids, by these. */
  public Map<String, AppRow> ofPackages(Collection<String> packageIds) {
    return tx
        .list(
            AppRow.class,
            "from AppRow where packageId in :p",
            Map.of("p", packageIds),
            packageIds.size())
        .stream()
        .collect(Collectors.toMap(a -> a.packageId, a -> a));
  }

  /** The version of one code of some apps, by their ids; what has none is left out. */
  public Map<String, AppReleaseRow> releases(Collection<AppRow> apps, long code) {
    List<String> ids = apps.stream().map(a -> a.id).toList();
    return tx
        .list(
            AppReleaseRow.class,
            "from AppReleaseRow where code = :code and appId in :ids",
            Map.of("code", code, "ids", ids),
            Math.max(1, ids.size()))
        .stream()
        .collect(Collectors.toMap(r -> r.appId, r -> r));
  }

  /** The app assignments know by a key. */
  public Optional<AppRow> ofKey(String key) {
    return tx.list(AppRow.class, "from AppRow where key = :k", Map.of("k", key), 1).stream()
        .findFirst();
  }

  /**
   * One version of an app as lists show it.
   *
   * @param lowest JSON of the lowest OS version by platform
   * @param sha256 of its package
   * @param opens what it opens, where it is a page of the web
   * @param devices managed devices that have it
   */
  public record ReleaseLine(
      long code,
      String version,
      String lowest,
      List<String> permissions,
      long bytes,
      long installed,
      String notes,
      Optional<String> configuration,
      String sha256,
      Instant broughtAt,
      String broughtBy,
      Optional<String> opens,
      long devices) {}

  private static final String RELEASE =
      """
      select r.code, r.version, cast(r.lowest as text) as lowest, r.permissions, r.bytes,
             r.installed, r.notes, cast(r.configuration as text) as configuration, r.sha256,
             r.brought_at, r.brought_by, r.opens,
             (select count(*) from device_app x join device_state st using (device_id)
               where x.app = a.package_id and x.version = r.version and st.standing <> 'retired')
               as devices
        from app_release r join app a on a.id = r.app_id
       where r.app_id = :app and r.code > 0
      """;

  /** Versions of an app before a code, the latest first. */
  public List<ReleaseLine> releases(String appId, long before, int limit) {
    tx.flush();
    return tx.select(
        ReleaseLine.class,
        RELEASE + " and r.code < :before order by r.code desc limit :limit",
        Map.of("app", appId, "before", before, "limit", limit));
  }

  /** One version. */
  public Optional<ReleaseLine> release(String appId, long code) {
    tx.flush();
    return tx
        .select(
            ReleaseLine.class, RELEASE + " and r.code = :code", Map.of("app", appId, "code", code))
        .stream()
        .findFirst();
  }

  /** The version of a name. */
  public Optional<ReleaseLine> release(String appId, String version) {
    tx.flush();
    return tx
        .select(
            ReleaseLine.class,
            RELEASE + " and r.version = :version",
            Map.of("app", appId, "version", version))
        .stream()
        .findFirst();
  }

  /** The platforms a version of an app is for, by its key; none when there is no such version. */
  public Set<String> platforms(String key, long code) {
    tx.flush();
    return Set.copyOf(
        tx.column(
            String.class,
            """
            select jsonb_object_keys(r.lowest) from app_release r join app a on a.id = r.app_id
             where a.key = :key and r.code = :code
            """,
            Map.of("key", key, "code", code)));
  }

  /** A store serves a version from elsewhere now. */
  public void moved(String appId, long code, String sha256, String address) {
    tx.execute(
        "update app_release set address = :address where app_id = :app and code = :code"
            + " and sha256 = :sha256 and address <> :address",
        Map.of("app", appId, "code", code, "sha256", sha256, "address", address));
  }

  /** The code of the latest version of an app; 0 while it has none. */
  public long latest(String appId) {
    return tx.value(
        "select coalesce(max(code), 0) from app_release where app_id = :app",
        Long.class,
        Map.of("app", appId));
  }

  /**
   * What a session needs to know of an app.
   *
   * @param code of the version that is wanted; 0 where there is none of that code
   * @param lowest JSON of the lowest OS version by platform
   * @param address where the store serves that version; empty where its package lies here
   * @param cache address of the cache of the device's site, while that works
   * @param largeAboveMb above so many MB packages are large at its site
   * @param largeHours when those come in there
   * @param licensing in whose name licenses of it are; empty where it is not from a store
   * @param licensee in whose name this device's would be; empty where it has none
   * @param license how it is with that license; empty while there is none
   * @param free whether one could still be given
   */
  public record Wanted(
      String key,
      String packageId,
      String name,
      String publisher,
      String summary,
      String category,
      Origin origin,
      long code,
      String version,
      String lowest,
      long bytes,
      String sha256,
      Optional<String> address,
      Optional<String> cache,
      Optional<Integer> largeAboveMb,
      Optional<String> largeHours,
      Optional<Licensing> licensing,
      Optional<String> licensee,
      Optional<LicenseState> license,
      boolean free) {}

  /**
   * Apps by the keys assignments know them by, each with the version that is wanted, as they are
   * for a device.
   */
  public List<Wanted> wanted(String deviceId, Collection<String> keys, Collection<Long> codes) {
    return tx.select(
        Wanted.class,
        """
        select a.key, a.package_id, a.name, a.publisher, a.summary, a.category, a.origin,
               coalesce(r.code, 0) as code,
               coalesce(r.version, '') as version, coalesce(cast(r.lowest as text), '{}') as lowest,
               coalesce(r.bytes, 0) as bytes, coalesce(r.sha256, '') as sha256, r.address,
               (select c.address from site_cache c where c.site_id = d.site_id and c.working)
                 as cache,
               t.large_above_mb, t.large_hours,
               s.licensing, n.licensee, l.state as license,
               s.app_id is not null and exists (
                 select 1 from license_pool p
                  where p.app_id = a.id and p.fault = ''
                    and (p.site_id is null or p.site_id = d.site_id)
                    and p.owned - p.elsewhere
                        > (select count(*) from license o where o.pool_id = p.id)) as free
          from unnest(cast(:keys as text[]), cast(:codes as bigint[])) as w(key, code)
          join app a on a.key = w.key
          join device d on d.id = :device
          left join app_release r on r.app_id = a.id and r.code = w.code
          left join site t on t.id = d.site_id
          left join store_app s on s.app_id = a.id
          left join lateral (
            select case s.licensing
                     when 'by-device' then d.serial
                     when 'by-holder'
                       then (select lower(p.mail) from person p where p.id = d.person_id)
                   end as licensee) n on true
          left join license l on l.app_id = a.id and l.name = n.licensee
        """,
        Map.of(
            "device",
            deviceId,
            "keys",
            keys.toArray(String[]::new),
            "codes",
            codes.toArray(Long[]::new)));
  }

  /**
   * An assignment of an app: its profile, by id and name.
   *
   * @param devices managed devices it reaches
   * @param spreading {@code going} or {@code stopped}, where a version spreads in waves
   */
  public record Assigned(
      String id,
      String name,
      Optional<Integer> publishedVersion,
      boolean draftChanged,
      long devices,
      Optional<String> spreading) {}

  /** The assignments of an app, by name. */
  public List<Assigned> assignments(String appId) {
    return tx.select(
        Assigned.class,
        """
        select p.id, p.name, p.published_version, p.draft_changed,
               (select count(*) from device_state st join shape_profile sp using (shape_key)
                  join shape sh on sh.key = st.shape_key
                 where sp.profile_id = p.id and st.standing <> 'retired'
                   and (not exists (select 1 from app_release r where r.app_id = p.app_id)
                     or exists (
                       select 1 from app_release r
                        where r.app_id = p.app_id and jsonb_exists(r.lowest, sh.platform))))
                 as devices,
               s.state as spreading
          from profile p left join spreading s on s.profile_id = p.id
         where p.app_id = :app order by lower(p.name), p.id
        """,
        Map.of("app", appId));
  }

  /** How a device is with an app. */
  public record OnDevice(
      String id,
      String name,
      Optional<String> version,
      Optional<Boolean> managed,
      Optional<String> attempt,
      Optional<String> reason,
      Optional<Instant> at) {}

  /** Which devices a page is about. */
  public enum With {
    /** Those that have it. */
    THERE("x.app is not null"),
    /** Those that should have it and have not, whatever the reason. */
    MISSING("x.app is null and w.required"),
    /** Those that have another version than they should. */
    OLD("x.app is not null and w.required and w.version <> '' and x.version <> w.version"),
    /** Those on which it is coming or going. */
    UNDER_WAY("t.state in ('sent', 'under-way')"),
    /** Those on which it could not be installed or removed. */
    FAILING("t.state = 'failed'");

    private final String condition;

    With(String condition) {
      this.condition = condition;
    }
  }

  /** Managed devices that are so with an app, by name in small letters, then id. */
  public List<OnDevice> devices(
      String packageId, List<ShapeWish> wishes, With which, After after, int limit) {
    Map<String, Object> p = new HashMap<>(after.parameters(limit));
    wished(p, packageId, wishes);
    return tx.select(
        OnDevice.class,
        "select d.id, d.name, x.version, x.managed,"
            + " case when t.state = 'sent' then 'under-way' else t.state end as attempt,"
            + " case when t.state = 'failed' then t.reason end as reason, t.at "
            + ON_DEVICES
            + " and (lower(d.name), d.id) > (:key, :id) and "
            + which.condition
            + " order by lower(d.name), d.id limit :limit",
        p);
  }

  /**
   * Managed devices that do not have an app as they should, and on which it is not under way; one
   * alone where one is named.
   */
  public List<String> lagging(String packageId, List<ShapeWish> wishes, Optional<String> deviceId) {
    Map<String, Object> p = new HashMap<>();
    wished(p, packageId, wishes);
    p.put("device", deviceId.orElse(""));
    return tx.column(
        String.class,
        "select st.device_id "
            + ON_DEVICES
            + " and :device in ('', st.device_id) and ("
            + With.FAILING.condition
            + " or t.state is distinct from 'under-way' and ("
            + With.MISSING.condition
            + " or "
            + With.OLD.condition
            + "))",
        p);
  }

  /** What the devices of a shape should have of one of several apps. */
  public record AppWish(String shapeKey, String packageId, String version) {}

  /**
   * How far devices are behind with an app they should have.
   *
   * @param devices that should have it
   */
  public record Behind(
      String id,
      String packageId,
      String name,
      boolean icon,
      long devices,
      long missing,
      long old,
      long underWay,
      long failing) {}

  /** Apps some devices are behind with, those most are first; one query over all of them. */
  public List<Behind> behind(List<AppWish> wishes, int limit) {
    return tx.select(
        Behind.class,
        """
        select * from (
          select a.id, a.package_id, a.name, a.icon is not null as icon, count(*) as devices,
                 count(*) filter (where x.app is null) as missing,
                 count(*) filter (where w.version <> '' and x.version <> w.version) as old,
                 count(*) filter (where t.state in ('sent', 'under-way')) as under_way,
                 count(*) filter (where t.state = 'failed') as failing
            from unnest(cast(:shapes as text[]), cast(:apps as text[]), cast(:versions as text[]))
                   as w(shape_key, app, version)
            join app a on a.package_id = w.app
            join device_state st on st.shape_key = w.shape_key and st.standing <> 'retired'
            left join device_app x on x.device_id = st.device_id and x.app = w.app
            left join app_attempt t on t.device_id = st.device_id and t.app = w.app
           group by a.id) b
         where missing + old + under_way + failing > 0
         order by failing + missing + old desc, lower(name), id limit :limit
        """,
        Map.of(
            "shapes",
            wishes.stream().map(AppWish::shapeKey).toArray(String[]::new),
            "apps",
            wishes.stream().map(AppWish::packageId).toArray(String[]::new),
            "versions",
            wishes.stream().map(AppWish::version).toArray(String[]::new),
            "limit",
            limit));
  }

  /** Counts of managed devices, see {@link With}. */
  public record Counts(long there, long missing, long old, long underWay, long failing) {}

  /** How many devices are how with an app. */
  public Counts counts(String packageId, List<ShapeWish> wishes) {
    Map<String, Object> p = new HashMap<>();
    wished(p, packageId, wishes);
    StringBuilder sql = new StringBuilder("select ");
    for (With w : With.values()) {
      sql.append("count(*) filter (where ")
          .append(w.condition)
          .append(") as ")
          .append(w.name().toLowerCase(Locale.ROOT))
          .append(w == With.FAILING ? " " : ", ");
    }
    return tx.select(Counts.class, sql + ON_DEVICES, p).get(0);
  }

  /** What the devices of a shape should have of an app. */
  public record ShapeWish(String shapeKey, String version, boolean required) {}

  private static final String ON_DEVICES =
      """
      from device_state st join device d on d.id = st.device_id
      left join device_app x on x.device_id = st.device_id and x.app = :app
      left join app_attempt t on t.device_id = st.device_id and t.app = :app
      left join unnest(cast(:shapes as text[]), cast(:versions as text[]),
                       cast(:required as boolean[])) as w(shape_key, version, required)
        on w.shape_key = st.shape_key
     where st.standing <> 'retired'
      """;

  private static void wished(Map<String, Object> p, String packageId, List<ShapeWish> wishes) {
    p.put("app", packageId);
    p.put("shapes", wishes.stream().map(ShapeWish::shapeKey).toArray(String[]::new));
    p.put("versions", wishes.stream().map(ShapeWish::version).toArray(String[]::new));
    p.put("required", wishes.stream().map(ShapeWish::required).toArray(Boolean[]::new));
  }

  /**
   * Shapes that managed devices have and that an app is assigned to, or any where none is named.
   */
  public List<String> shapes(Optional<String> appId) {
    return tx.column(
        String.class,
        """
        select distinct sp.shape_key from shape_profile sp join profile p on p.id = sp.profile_id
         where p.app_id is not null and :app in ('', p.app_id) and exists (
           select 1 from device_state st
            where st.shape_key = sp.shape_key and st.standing <> 'retired')
        """,
        Map.of("app", appId.orElse("")));
  }

  /** Apps that were tried so often on devices, by name. */
  public List<Daily.GivenUp> givenUp(int tries) {
    return tx.select(
        Daily.GivenUp.class,
        """
        select a.id, a.name, count(*) as devices, min(t.reason) as reason from app_attempt t
          join device_state st using (device_id) join app a on a.package_id = t.app
         where t.state = 'failed' and t.tries >= :tries and st.standing <> 'retired'
         group by a.id order by lower(a.name)
        """,
        Map.of("tries", tries));
  }

  /** Addresses at which later versions are looked for, by app. */
  public List<AppSourceRow> sources(int limit) {
    return tx.list(AppSourceRow.class, "from AppSourceRow order by appId", Map.of(), limit);
  }

  /**
   * Notes how a look at an address went; nobody changed what is followed by that.
   *
   * @return whether it went otherwise than the one before
   */
  public boolean looked(String appId, long handled, String tag, String fault, Instant now) {
    record Before(String fault) {}
    return tx
        .select(
            Before.class,
            """
            with was as (select fault from app_source where app_id = :app for update),
                 done as (
                   update app_source set handled = greatest(handled, :handled), tag = :tag,
                          fault = :fault, looked_at = :now
                    where app_id = :app)
            select fault from was
            """,
            Map.of("app", appId, "handled", handled, "tag", tag, "fault", fault, "now", now))
        .stream()
        .anyMatch(before -> !before.fault().equals(fault));
  }

  /** Ids devices know apps by, by the keys assignments know them by. */
  public Map<String, String> packageIds() {
    record Named(String key, String packageId) {}
    Map<String, String> ids = new HashMap<>();
    tx.select(Named.class, "select key, package_id from app", Map.of())
        .forEach(n -> ids.put(n.key(), n.packageId()));
    return ids;
  }
}
