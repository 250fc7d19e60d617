package dev.pinwright.storage.license;

import dev.pinwright.core.Words;
import dev.pinwright.core.license.Forecast;
import dev.pinwright.core.license.LicenseState;
import dev.pinwright.core.license.Licensing;
import dev.pinwright.core.license.Pool;
import dev.pinwright.storage.After;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.app.AppStore.ShapeWish;
import dev.pinwright.storage.query.Sought;
import dev.pinwright.storage.row.LicensePoolRow;
import java.time.Duration;
import java.time.Instant;
import java.util.Collection;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** Licenses: the pools they come from, and in whose name each is held. */
public final class LicenseStore {
  private static final Duration JUST_INSTALLED = Duration.ofMinutes(10);

  private final Tx tx;

  public LicenseStore(Tx tx) {
    this.tx = tx;
  }

  // ---- pools -----------------------------------------------------------------------------------

  /**
   * A license pool.
   *
   * @param app name of the app
   * @param place what the vendor's portal calls the place
   * @param site name of the site whose devices draw on it; empty for those of every site
   * @param used in somebody's name, {@code elsewhere} included
   * @param elsewhere given away in the portal
   * @param coming of those used, how many the store has not given yet
   * @param lacking devices or holders that are to have the app and got no license from any pool
   * @param taken how many were taken since a moment, and kept
   */
  public record Line(
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
      long elsewhere,
      long coming,
      long lacking,
      long taken,
      String fault) {}

  private static final String LINE =
      """
      select p.id, p.version, p.app_id, a.name as app, s.platform, s.licensing, s.sold, p.place,
             p.site_id, t.name as site, p.owned, p.elsewhere + l.used as used, p.elsewhere,
             l.coming, s.lacking, l.taken, p.fault
        from license_pool p join app a on a.id = p.app_id join store_app s on s.app_id = p.app_id
        left join site t on t.id = p.site_id
        join lateral (
          select count(*) as used, count(*) filter (where o.state = 'asked') as coming,
                 count(*) filter (where o.state <> 'returning' and o.at > :since) as taken
            from license o where o.pool_id = p.id) l on true
      """;

  /** Pools by the name of their app in small letters, then id. */
  public List<Line> page(
      String words, Optional<String> appId, Instant since, After after, int limit) {
    tx.flush();
    Map<String, Object> p = new HashMap<>(after.parameters(limit));
    p.put("since", since);
    p.put("app", appId.orElse(""));
    return tx.select(
        Line.class,
        LINE
            + " where (lower(a.name), p.id) > (:key, :id) and (:app = '' or p.app_id = :app) and "
            + Sought.in("lower(a.name || ' ' || p.place || ' ' || coalesce(t.name, ''))", words, p)
            + " order by lower(a.name), p.id limit :limit",
        p);
  }

  /** One pool. */
  public Optional<Line> find(String id, Instant since) {
    tx.flush();
    return tx
        .select(Line.class, LINE + " where p.id = :pool", Map.of("pool", id, "since", since))
        .stream()
        .findFirst();
  }

  /** The pools of an app as they are reckoned with. */
  public List<Pool> pools(String appId) {
    tx.flush();
    return tx.select(
        Pool.class,
        """
        select p.site_id as site, p.owned,
               p.elsewhere + (select count(*) from license o where o.pool_id = p.id) as used
          from license_pool p where p.app_id = :app order by p.place
        """,
        Map.of("app", appId));
  }

  /** The pool of an app for a place. */
  public Optional<LicensePoolRow> pool(String appId, String place) {
    return tx
        .list(
            LicensePoolRow.class,
            "from LicensePoolRow where appId = :app and place = :place",
            Map.of("app", appId, "place", place),
            1)
        .stream()
        .findFirst();
  }

  /** Pools of an app by place. */
  public List<LicensePoolRow> rows(String appId, int limit) {
    return tx.list(
        LicensePoolRow.class,
        "from LicensePoolRow where appId = :app order by place",
        Map.of("app", appId),
        limit);
  }

  /** How many of a pool are in a name that is known here. */
  public long used(String poolId) {
    return tx.value(
        "select count(*) from license where pool_id = :pool", Long.class, Map.of("pool", poolId));
  }

  /** The licenses of an app by place, with how many of each were taken since a moment, and kept. */
  public List<Forecast.Place> places(String appId, Instant since) {
    return tx.select(
        Forecast.Place.class,
        """
        select p.place as name, p.site_id as site,
               greatest(0, p.owned - p.elsewhere - l.used) as free, l.taken
          from license_pool p
          join lateral (
            select count(*) as used,
                   count(*) filter (where o.state <> 'returning' and o.at > :since) as taken
              from license o where o.pool_id = p.id) l on true
         where p.app_id = :app order by p.place
        """,
        Map.of("app", appId, "since", since));
  }

  /** Whether any license of an app is in somebody's name. */
  public boolean held(String appId) {
    return tx.any("select 1 from license where app_id = :app", Map.of("app", appId));
  }

  // ---- handing out -----------------------------------------------------------------------------

  /** Notes, where anything is licensed, that something changed that licenses follow from. */
  public void due(Instant at) {
    tx.execute(
        "insert into license_due select :at where exists"
            + " (select 1 from store_app where licensing <> 'free')",
        Map.of("at", at));
  }

  /** Whether something changed that licenses follow from, since this was asked last. */
  public boolean takeDue() {
    return tx.execute("delete from license_due", Map.of()) > 0;
  }

  /**
   * Who is to have an app, each in the name a license of theirs would be held in: those to whom it
   * is required, and those who picked it from the shelf: it is wished for, on its way, or there.
   * One that was just installed may not have told that it has it. Whose OS is older than every
   * version of the app asks for could not use a license.
   */
  private static String wanting(Licensing licensing) {
    boolean holder = licensing == Licensing.BY_HOLDER;
    return """
    want as (
      select %s as name, %s as site_id, bool_or(w.required) as required,
             min(d.enrolled_at) as since
        from unnest(cast(:shapes as text[]), cast(:required as boolean[])) as w(shape_key, required)
        join device_state st on st.shape_key = w.shape_key
        join device d on d.id = st.device_id %s
       where st.standing <> 'retired' and d.platform = :platform and %s is not null
         and (w.required
              or exists (select 1 from app_wish x
                          where x.device_id = d.id and x.app = :package)
              or exists (select 1 from app_attempt x
                          where x.device_id = d.id and x.app = :package and x.action = 'install'
                            and (x.state <> 'done' or x.at > :lately))
              or exists (select 1 from device_app x
                          where x.device_id = d.id and x.app = :package and x.managed))
         and (not exists (select 1 from app_release r where r.app_id = :app)
              or exists (select 1 from app_release r
                          where r.app_id = :app
                            and cast(string_to_array(d.os_version, '.') as int[])
                                >= cast(string_to_array(r.lowest ->> d.platform, '.') as int[])))
       group by 1%s)
    """
        .formatted(
            holder ? "lower(p.mail)" : "d.serial",
            holder ? "min(coalesce(p.site_id, d.site_id))" : "d.site_id",
            holder ? "join person p on p.id = d.person_id" : "",
            holder ? "p.mail" : "d.serial",
            holder ? "" : ", 2");
  }

  /** The parameters of {@link #wanting} that a statement names. */
  private static Map<String, Object> wanting(
      StoreAppStore.StoreApp app, List<ShapeWish> wishes, Instant now) {
    return new HashMap<>(
        Map.of(
            "app", app.appId(),
            "package", app.packageId(),
            "platform", app.platform(),
            "now", now,
            "lately", now.minus(JUST_INSTALLED),
            "shapes", wishes.stream().map(ShapeWish::shapeKey).toArray(String[]::new),
            "required", wishes.stream().map(ShapeWish::required).toArray(Boolean[]::new)));
  }

  /** Asks back what nobody needs any more, and keeps what is needed again after all. */
  public int reclaim(StoreAppStore.StoreApp app, List<ShapeWish> wishes, Instant now) {
    String sql =
        "with "
            + wanting(app.licensing())
            + """
            , had as (
              select l.name, w.name is not null as wanted
                from license l left join want w on w.name = l.name where l.app_id = :app)
            update license l
               set state = case when h.wanted then 'asked' else 'returning' end, at = :now
              from had h
             where l.app_id = :app and l.name = h.name and h.wanted = (l.state = 'returning')
            """;
    return tx.execute(sql, wanting(app, wishes, now));
  }

  /**
   * Gives what is free to those who have none, each from the pools of their own site first, then
   * from those of no site: first to those to whom the app is required, then to those who picked it,
   * each in the order in which they were enrolled. The store is still to be asked.
   *
   * @return how many went without
   */
  public long handOut(StoreAppStore.StoreApp app, List<ShapeWish> wishes, Instant now) {
    String sql =
        "with "
            + wanting(app.licensing())
            + """
            , open as (
              select w.*, row_number() over (partition by w.site_id
                                             order by w.required desc, w.since, w.name) as nr
                from want w
               where not exists (
                 select 1 from license l where l.app_id = :app and l.name = w.name)),
            pool as (
              select p.id, p.site_id, p.place,
                     greatest(0, p.owned - p.elsewhere
                       - (select count(*) from license l where l.pool_id = p.id)) as free
                from license_pool p where p.app_id = :app and p.fault = ''),
            part as (
              select id, site_id, free, sum(free) over (partition by site_id order by place) as upto
                from pool),
            near as (
              select o.name, p.id from open o join part p
                  on p.site_id = o.site_id and o.nr > p.upto - p.free and o.nr <= p.upto),
            rest as (
              select o.name, row_number() over (order by o.required desc, o.since, o.name) as nr
                from open o where not exists (select 1 from near n where n.name = o.name)),
            far as (
              select r.name, p.id from rest r join part p
                  on p.site_id is null and r.nr > p.upto - p.free and r.nr <= p.upto),
            given as (
              insert into license (app_id, name, pool_id, state, at)
              select :app, name, id, 'asked', :now
                from (select * from near union all select * from far) g
              returning name)
            select (select count(*) from open) - (select count(*) from given)
            """;
    return tx.value(sql, Long.class, wanting(app, wishes, now));
  }

  /**
   * Licenses of one pool the store is to be asked for, or to take back.
   *
   * @param names at most as many as were asked for
   */
  public record Order(
      String poolId,
      String appId,
      String app,
      String packageId,
      String platform,
      String place,
      Licensing licensing,
      LicenseState state,
      List<String> names) {}

  /** What the stores are to be told, at most so many licenses of each pool. */
  public List<Order> orders(int most) {
    return tx.select(
        Order.class,
        """
        select p.id as pool_id, p.app_id, a.name as app, a.package_id, s.platform, p.place, s.licensing, l.state,
               array_agg(l.name order by l.name) as names
          from (select pool_id, state, name,
                       row_number() over (partition by pool_id, state order by at, name) as nr
                  from license where state <> 'held') l
          join license_pool p on p.id = l.pool_id join app a on a.id = p.app_id
          join store_app s on s.app_id = p.app_id
         where l.nr <= :most
         group by 1, 2, 3, 4, 5, 6, 7, 8
         order by l.state desc, p.id
        """,
        Map.of("most", most));
  }

  /** The store gave these. */
  public void given(String appId, Collection<String> names, Instant now) {
    tx.execute(
        "update license set state = 'held', at = :now where app_id = :app and state = 'asked'"
            + " and name = any(cast(:names as text[]))",
        Map.of("app", appId, "names", names.toArray(String[]::new), "now", now));
  }

  /** The store took these back, or did not give them. */
  public void gone(String appId, LicenseState state, Collection<String> names) {
    tx.execute(
        "delete from license where app_id = :app and state = :state"
            + " and name = any(cast(:names as text[]))",
        Map.of("app", appId, "names", names.toArray(String[]::new), "state", Words.of(state)));
  }

  /** Managed devices whose licenses are held in some names. */
  public List<String> devices(Licensing licensing, Collection<String> names) {
    return tx.column(
        String.class,
        (licensing == Licensing.BY_HOLDER
                ? "select d.id from device d join person p on p.id = d.person_id"
                    + " where lower(p.mail) = any(cast(:names as text[]))"
                : "select d.id from device d where d.serial = any(cast(:names as text[]))")
            + " and d.retired_at is null",
        Map.of("names", names.toArray(String[]::new)));
  }

  /** Devices that wait for a license of an app that they will not get for now. */
  public List<String> waiting(
      StoreAppStore.StoreApp app, List<ShapeWish> wishes, Instant now, int most) {
    Map<String, Object> p = wanting(app, wishes, now);
    p.remove("now");
    p.put("most", most);
    boolean holder = app.licensing() == Licensing.BY_HOLDER;
    return tx.column(
        String.class,
        "with "
            + wanting(app.licensing())
            + """
            select d.id from want w join device d on %s = w.name
              join device_state st on st.device_id = d.id
             where st.standing = 'catching-up' and d.retired_at is null
               and not exists (select 1 from license l where l.app_id = :app and l.name = w.name)
               and not exists (select 1 from app_attempt t
                                where t.device_id = d.id and t.app = :package)
             limit :most
            """
                .formatted(
                    holder
                        ? "(select lower(p.mail) from person p where p.id = d.person_id)"
                        : "d.serial"),
        p);
  }
}
