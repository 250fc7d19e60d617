package dev.pinwright.storage.gateway;

import dev.pinwright.storage.Tx;
import dev.pinwright.storage.query.Sought;
import java.time.Instant;
import java.util.Collection;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;
import java.util.function.Supplier;
import org.jspecify.annotations.Nullable;

/** What resellers registered with a platform's registrar, as it was read last. */
public final class RegistrarStore {
  private static final int AT_ONCE = 1_000;

  private final Tx tx;
  private final String platform;

  public RegistrarStore(Tx tx, String platform) {
    this.tx = tx;
    this.platform = platform;
  }

  /** A device as the registrar lists it. {@code registeredAt} as ISO 8601. */
  public record Listed(
      String serial,
      @Nullable String imei,
      String model,
      String kind,
      String order,
      String registeredAt,
      boolean assigned) {}

  /** Takes what was read in place of what was read before. */
  public void replace(List<Listed> read) {
    tx.execute("delete from registrar_device where platform = :p", Map.of("p", platform));
    for (int i = 0; i < read.size(); i += AT_ONCE) {
      insert(read.subList(i, Math.min(read.size(), i + AT_ONCE)));
    }
  }

  private void insert(List<Listed> part) {
    tx.execute(
        """
        insert into registrar_device
          (platform, serial, imei, model, kind, order_number, registered_at, assigned)
        select :p, s, i, m, k, o, cast(a as timestamptz), cast(g as boolean)
          from unnest(cast(:serial as text[]), cast(:imei as text[]), cast(:model as text[]),
                      cast(:kind as text[]), cast(:ord as text[]), cast(:at as text[]),
                      cast(:assigned as text[])) t(s, i, m, k, o, a, g)
        on conflict (platform, serial) do nothing
        """,
        Map.of(
            "p", platform,
            "serial", column(part, Listed::serial),
            "imei", column(part, Listed::imei),
            "model", column(part, Listed::model),
            "kind", column(part, Listed::kind),
            "ord", column(part, Listed::order),
            "at", column(part, Listed::registeredAt),
            "assigned", column(part, l -> String.valueOf(l.assigned()))));
  }

  private static <T> String[] column(List<T> part, Function<T, @Nullable String> of) {
    return part.stream().map(of).toArray(String[]::new);
  }

  /** How many are registered, and how many of them are assigned to this server. */
  public record Counted(long registered, long assigned) {}

  /** Counts. */
  public Counted count() {
    return tx.select(
            Counted.class,
            "select count(*) as registered, count(*) filter (where assigned) as assigned"
                + " from registrar_device where platform = :p",
            Map.of("p", platform))
        .get(0);
  }

  private record Missing(String serial, Optional<String> imei) {}

  /**
   * Puts assigned devices on the roster that are not on it.
   *
   * @param profileId the enrollment profile they join by; null for none of their own
   * @param newId gives each row its id
   * @return how many
   */
  public int list(Instant now, @Nullable String profileId, Supplier<String> newId) {
    List<Missing> missing =
        tx.select(
            Missing.class,
            """
            select r.serial, r.imei from registrar_device r
             where r.platform = :p and r.assigned
               and not exists (select 1 from roster_entry e where e.state <> 'withdrawn'
                                 and (e.serial = r.serial or e.imei = r.imei))
             order by r.serial
            """,
            Map.of("p", platform));
    int listed = 0;
    for (int i = 0; i < missing.size(); i += AT_ONCE) {
      List<Missing> part = missing.subList(i, Math.min(missing.size(), i + AT_ONCE));
      Map<String, Object> p = new HashMap<>();
      p.put("id", column(part, m -> newId.get()));
      p.put("serial", column(part, Missing::serial));
      p.put("imei", column(part, m -> m.imei().orElse(null)));
      p.put("source", source());
      p.put("now", now);
      p.put("profile", profileId);
      listed +=
          tx.execute(
              """
              insert into roster_entry
                (id, version, serial, imei, name, source, state, profile_id, created_at, changed_at)
              select t.id, 0, t.serial, t.imei, '', :source, 'expected', cast(:profile as text),
                     :now, :now
                from unnest(cast(:id as text[]), cast(:serial as text[]), cast(:imei as text[]))
                     t(id, serial, imei)
              on conflict do nothing
              """,
              p);
    }
    return listed;
  }

  /** Withdraws from the roster what is no longer assigned and has not arrived; says how many. */
  public int withdraw(Instant now) {
    return tx.execute(
        """
        update roster_entry e set state = 'withdrawn', changed_at = :now, version = version + 1
         where e.source = :source and e.state = 'expected'
           and not exists (select 1 from registrar_device r where r.platform = :p
                             and r.assigned and r.serial = e.serial)
        """,
        Map.of("now", now, "source", source(), "p", platform));
  }

  private String source() {
    return "registrar " + platform;
  }

  /** Puts on file which devices are assigned or no longer; says how many were known. */
  public int assign(Collection<String> serials, boolean assigned) {
    return tx.execute(
        "update registrar_device set assigned = :a where platform = :p"
            + " and serial = any(cast(:s as text[]))",
        Map.of("a", assigned, "p", platform, "s", serials.toArray(String[]::new)));
  }

  /** Lets devices on the roster join by an enrollment profile. */
  public void profile(Collection<String> serials, String profileId, Instant now) {
    tx.execute(
        "update roster_entry set profile_id = :f, changed_at = :now, version = version + 1"
            + " where serial = any(cast(:s as text[])) and state <> 'withdrawn'",
        Map.of("f", profileId, "now", now, "s", serials.toArray(String[]::new)));
  }

  /** A registered device. {@code deviceId} and {@code deviceName} once it has arrived. */
  public record Registered(
      String platform,
      String serial,
      Optional<String> imei,
      String model,
      String kind,
      String order,
      Instant registeredAt,
      boolean assigned,
      Optional<String> profile,
      Optional<String> deviceId,
      Optional<String> deviceName) {}

  /** Registered devices by serial number. */
  public List<Registered> page(String words, Optional<Boolean> assigned, String after, int limit) {
    Map<String, Object> p = new HashMap<>();
    p.put("p", platform);
    p.put("after", after);
    p.put("limit", limit);
    String which = assigned.map(a -> a ? " and r.assigned" : " and not r.assigned").orElse("");
    return tx.select(
        Registered.class,
        """
        select r.platform, r.serial, r.imei, r.model, r.kind, r.order_number as order,
               r.registered_at, r.assigned, f.name as profile, e.device_id,
               d.name as device_name
          from registrar_device r
          left join roster_entry e on e.serial = r.serial and e.state <> 'withdrawn'
          left join enrollment_profile f on f.id = e.profile_id
          left join device d on d.id = e.device_id
         where r.platform = :p and r.serial > :after
        """
            + which
            + " and "
            + Sought.in(
                "lower(concat_ws(' ', r.serial, r.imei, r.model, r.order_number))", words, p)
            + " order by r.serial limit :limit",
        p);
  }
}
