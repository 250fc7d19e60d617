package dev.pinwright.storage.app;

import dev.pinwright.core.Words;
import dev.pinwright.core.app.Attempt;
import dev.pinwright.core.app.Installed;
import dev.pinwright.core.app.Inventory;
import dev.pinwright.storage.Tx;
import java.time.Instant;
import java.util.Collection;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;
import java.util.stream.Collectors;

/** The apps on single devices, and what was attempted with them last. */
public final class DeviceAppStore {
  private final Tx tx;

  public DeviceAppStore(Tx tx) {
    this.tx = tx;
  }

  /** What a device told of its apps last. */
  public Inventory inventory(String deviceId) {
    return Inventory.of(
        tx.select(
            Installed.class,
            """
            select app as id, name, version, active, managed, bytes, source, configuration, node
              from device_app where device_id = :d
            """,
            Map.of("d", deviceId)));
  }

  /** Keeps what a device told of its apps, in place of what it told before. */
  public void keep(String deviceId, Inventory inventory) {
    Collection<Installed> apps = inventory.apps().values();
    tx.execute(
        "delete from device_app where device_id = :d and app <> all(cast(:apps as text[]))",
        Map.of("d", deviceId, "apps", column(apps, Installed::id)));
    tx.execute(
        """
        insert into device_app as a
        select cast(:d as text), t.*
          from unnest(cast(:apps as text[]), cast(:names as text[]), cast(:versions as text[]),
                      cast(:active as boolean[]), cast(:managed as boolean[]),
                      cast(:bytes as bigint[]), cast(:sources as text[]),
                      cast(:configurations as text[]), cast(:nodes as text[]))
            as t(app, name, version, active, managed, bytes, source, configuration, node)
        on conflict (device_id, app) do update
          set name = excluded.name, version = excluded.version, active = excluded.active,
              managed = excluded.managed, bytes = excluded.bytes, source = excluded.source,
              configuration = excluded.configuration, node = excluded.node
        where (a.name, a.version, a.active, a.managed, a.bytes, a.source, a.configuration, a.node)
              is distinct from (excluded.name, excluded.version, excluded.active,
                excluded.managed, excluded.bytes, excluded.source, excluded.configuration,
                excluded.node)
        """,
        Map.ofEntries(
            Map.entry("d", deviceId),
            Map.entry("apps", column(apps, Installed::id)),
            Map.entry("names", column(apps, Installed::name)),
            Map.entry("versions", column(apps, Installed::version)),
            Map.entry("active", apps.stream().map(Installed::active).toArray(Boolean[]::new)),
            Map.entry("managed", apps.stream().map(Installed::managed).toArray(Boolean[]::new)),
            Map.entry("bytes", apps.stream().map(Installed::bytes).toArray(Long[]::new)),
            Map.entry("sources", column(apps, Installed::source)),
            Map.entry("configurations", column(apps, Installed::configuration)),
            Map.entry("nodes", column(apps, Installed::node))));
  }

  private static String[] column(Collection<Installed> apps, Function<Installed, String> of) {
    return apps.stream().map(of).toArray(String[]::new);
  }

  private static final String ATTEMPT =
      "select id, app, action, release, configuration, state, tries, at, code, reason"
          + " from app_attempt where device_id = :d";

  /** The latest attempt with each app of a device, by the app's id. */
  public Map<String, Attempt> attempts(String deviceId) {
    return tx.select(Attempt.class, ATTEMPT, Map.of("d", deviceId)).stream()
        .collect(Collectors.toMap(Attempt::app, Function.identity()));
  }

  /** The attempt of a device that travels under a correlator, if it is the latest with its app. */
  public Optional<Attempt> attempt(String deviceId, String id) {
    return tx
        .select(Attempt.class, ATTEMPT + " and id = :id", Map.of("d", deviceId, "id", id))
        .stream()
        .findFirst();
  }

  /** Notes an attempt, in place of the one before with the same app. */
  public void put(String deviceId, Attempt a) {
    tx.execute(
        """
        insert into app_attempt (device_id, app, id, action, release, configuration, state, tries,
                                 at, code, reason)
        values (:d, :app, :id, :action, :release, :configuration, :state, :tries, :at, :code,
                :reason)
        on conflict (device_id, app) do update
          set id = excluded.id, action = excluded.action, release = excluded.release,
              configuration = excluded.configuration, state = excluded.state,
              tries = excluded.tries, at = excluded.at, code = excluded.code,
              reason = excluded.reason
        """,
        Map.ofEntries(
            Map.entry("d", deviceId),
            Map.entry("app", a.app()),
            Map.entry("id", a.id()),
            Map.entry("action", Words.of(a.action())),
            Map.entry("release", a.release()),
            Map.entry("configuration", a.configuration()),
            Map.entry("state", Words.of(a.state())),
            Map.entry("tries", a.tries()),
            Map.entry("at", a.at()),
            Map.entry("code", a.code()),
            Map.entry("reason", a.reason())));
  }

  /** Nothing is known of a device's apps any longer: it is another one, or has been erased. */
  public void forget(String deviceId) {
    tx.execute("delete from device_app where device_id = :d", Map.of("d", deviceId));
    tx.execute("delete from app_attempt where device_id = :d", Map.of("d", deviceId));
    tx.execute("delete from device_shelf where device_id = :d", Map.of("d", deviceId));
    tx.execute("delete from app_wish where device_id = :d", Map.of("d", deviceId));
  }

  /** What the holder picked from the shelf and has not got yet. */
  public Set<String> wishes(String deviceId) {
    return Set.copyOf(
        tx.column(
            String.class, "select app from app_wish where device_id = :d", Map.of("d", deviceId)));
  }

  /**
   * Notes what the holder picked from the shelf.
   *
   * @return whether that is news
   */
  public boolean wish(String deviceId, String app, Instant now) {
    return tx.execute(
            "insert into app_wish values (:d, :app, :now) on conflict do nothing",
            Map.of("d", deviceId, "app", app, "now", now))
        > 0;
  }

  /** Forgets what the holder picked: it is on its way, or no longer on the shelf. */
  public void unwish(String deviceId, Collection<String> apps) {
    tx.execute(
        "delete from app_wish where device_id = :d and app = any(cast(:apps as text[]))",
        Map.of("d", deviceId, "apps", apps.toArray(String[]::new)));
  }

  /** What a device was told its holder may pick: JSON, empty before that. */
  public Optional<String> shelf(String deviceId) {
    return tx
        .column(
            String.class,
            "select cast(told as text) from device_shelf where device_id = :d",
            Map.of("d", deviceId))
        .stream()
        .findFirst();
  }

  /** Notes what a device was told its holder may pick. */
  public void shelf(String deviceId, String told) {
    tx.execute(
        """
        insert into device_shelf values (:d, cast(:told as jsonb))
        on conflict (device_id) do update set told = excluded.told
        """,
        Map.of("d", deviceId, "told", told));
  }

  /**
   * Forgets that an app failed on devices, or all that did; call it with their states held.
   *
   * @param app none for every app
   */
  public void forgetFailures(Optional<String> app, Collection<String> deviceIds) {
    tx.execute(
        "delete from app_attempt where :app in ('', app) and state = 'failed'"
            + " and device_id = any(cast(:ids as text[]))",
        Map.of("app", app.orElse(""), "ids", deviceIds.toArray(String[]::new)));
  }
}
