package dev.pinwright.service.gateway;

import com.fasterxml.jackson.databind.JsonNode;
import com.github.f4b6a3.ulid.UlidCreator;
import dev.pinwright.core.intake.Identifier;
import dev.pinwright.protocol.pki.Chains;
import dev.pinwright.protocol.pki.Pki;
import dev.pinwright.service.identity.Authority;
import dev.pinwright.service.journal.Journal;
import dev.pinwright.service.live.Events;
import dev.pinwright.service.secret.Vault;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Page;
import dev.pinwright.service.work.Problem;
import dev.pinwright.service.work.Role;
import dev.pinwright.service.work.Sought;
import dev.pinwright.storage.Database;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.row.EnrollmentProfileRow;
import dev.pinwright.storage.row.GatewayRow;
import java.time.Clock;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/** Identifiers that resellers registered with the platforms' registrars. */
public final class Registrar {
  private static final Logger LOG = LoggerFactory.getLogger(Registrar.class);
  private static final int AT_ONCE = 1_000;
  private final Database database;
  private final Vault vault;
  private final Authority authority;
  private final String deviceBase;
  private final Journal journal;
  private final Events events;
  private final Clock clock;

  public Registrar(
      Database database,
      Vault vault,
      Authority authority,
      String deviceBase,
      Journal journal,
      Events events,
      Clock clock) {
    this.database = database;
    this.vault = vault;
    this.authority = authority;
    this.deviceBase = deviceBase;
    this.journal = journal;
    this.events = events;
    this.clock = clock;
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

  /** What a reading brought. */
  public record Synced(long registered, long assigned, int listed, int withdrawn) {}

  private static VendorLine line(GatewayRow row) {
    return new VendorLine(row.services, Chains.certificates(row.roots), null, null);
  }

  /** The account a token belongs to. */
  String account(GatewayRow row, String token) {
    return line(row).call("GET", "/registrar/account", token, null).path("account").asText();
  }

  private record Connected(GatewayRow row, String token) {}

  private Connected connected(String platform) {
    GatewayRow row =
        database
            .call(tx -> tx.find(GatewayRow.class, platform))
            .filter(g -> g.registrarToken != null)
            .orElseThrow(
                () ->
                    Problem.conflict(
                        "not-connected", "The registrar of " + platform + " is not connected."));
    return new Connected(row, vault.open(row.registrarToken));
  }

  /**
   * Reads everything registered, puts what is assigned here on the roster, and withdraws from it
   * what no longer is and has not arrived.
   *
   * @throws Problem 502 when the registrar fails; what it brought before is kept
   */
  public Synced sync(Caller caller, String platform) {
    caller.needs(Role.OPERATOR);
    return sync(caller.login(), platform);
  }

  private Synced sync(String actor, String platform) {
    Connected c = connected(platform);
    List<JsonNode> found = new ArrayList<>();
    try {
      VendorLine line = line(c.row());
      line.call(
          "PUT",
          "/registrar/server",
          c.token(),
          Map.of("join", deviceBase + "/join/by-identifier", "root", Pki.pem(authority.root())));
      String after = "";
      do {
        JsonNode page =
            line.call(
                "GET", "/registrar/devices?limit=" + AT_ONCE + "&after=" + after, c.token(), null);
        page.path("items").forEach(found::add);
        after = page.path("next").asText("");
      } while (!after.isEmpty());
    } catch (Problem p) {
      database.run(
          tx ->
              tx.lock(GatewayRow.class, platform)
                  .ifPresent(g -> g.registrarFault = String.valueOf(p.getMessage())));
      events.touch("gateways");
      throw p;
    }
    Synced synced = database.call(tx -> keep(tx, actor, platform, found));
    events.touch("gateways");
    events.touch("roster");
    return synced;
  }

  private Synced keep(Tx tx, String actor, String platform, List<JsonNode> found) {
    Instant now = clock.instant();
    GatewayRow row = tx.lock(GatewayRow.class, platform).orElseThrow();
    row.registrarSyncedAt = now;
    row.registrarFault = "";
    tx.flush();
    tx.execute("delete from registrar_device where platform = :p", Map.of("p", platform));
    for (int i = 0; i < found.size(); i += AT_ONCE) {
      insert(tx, platform, found.subList(i, Math.min(found.size(), i + AT_ONCE)));
    }
    int listed = list(tx, platform, now, null);
    int withdrawn = withdraw(tx, platform, now);
    Object[] n =
        tx.rows(
                "select count(*), count(*) filter (where assigned) from registrar_device"
                    + " where platform = :p",
                Map.of("p", platform))
            .get(0);
    Synced synced =
        new Synced(((Number) n[0]).longValue(), ((Number) n[1]).longValue(), listed, withdrawn);
    if (listed + withdrawn > 0) {
      journal.write(
          tx,
          actor,
          "registrar.read",
          "gateway:" + platform,
          listed + " identifiers listed and " + withdrawn + " withdrawn by the registrar");
    }
    return synced;
  }

  private static void insert(Tx tx, String platform, List<JsonNode> part) {
    Map<String, Object> p = new HashMap<>();
    p.put("p", platform);
    p.put(
        "serial", part.stream().map(n -> serial(n.path("serial").asText())).toArray(String[]::new));
    p.put("imei", part.stream().map(n -> n.path("imei").asText(null)).toArray(String[]::new));
    p.put("model", column(part, "model"));
    p.put("kind", column(part, "kind"));
    p.put("ord", column(part, "order"));
    p.put("at", column(part, "registeredAt"));
    p.put("assigned", part.stream().map(n -> n.path("assigned").asText()).toArray(String[]::new));
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
        p);
  }

  private static String serial(String text) {
    return Identifier.of(Identifier.Kind.SERIAL, text).value();
  }

  private static String[] column(List<JsonNode> part, String field) {
    return part.stream().map(n -> n.path(field).asText()).toArray(String[]::new);
  }

  /** Puts assigned devices on the roster that are not on it; with a profile of their own if any. */
  private static int list(Tx tx, String platform, Instant now, @Nullable String profileId) {
    List<Object[]> missing =
        tx.rows(
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
      List<Object[]> part = missing.subList(i, Math.min(missing.size(), i + AT_ONCE));
      Map<String, Object> p = new HashMap<>();
      p.put(
          "id",
          part.stream().map(r -> UlidCreator.getMonotonicUlid().toString()).toArray(String[]::new));
      p.put("serial", part.stream().map(r -> (String) r[0]).toArray(String[]::new));
      p.put("imei", part.stream().map(r -> (String) r[1]).toArray(String[]::new));
      p.put("source", source(platform));
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

  private static int withdraw(Tx tx, String platform, Instant now) {
    return tx.execute(
        """
        update roster_entry e set state = 'withdrawn', changed_at = :now, version = version + 1
         where e.source = :source and e.state = 'expected'
           and not exists (select 1 from registrar_device r where r.platform = :p
                             and r.assigned and r.serial = e.serial)
        """,
        Map.of("now", now, "source", source(platform), "p", platform));
  }

  private static String source(String platform) {
    return "registrar " + platform;
  }

  /** Registered devices by serial number. {@code assigned}: true, false, or empty for all. */
  public Page<Registered> page(
      Caller caller, String platform, String words, String assigned, Page.Request page) {
    caller.needs(Role.READER);
    String[] c = page.parts(Page.Part.TEXT);
    Map<String, Object> p = new HashMap<>();
    p.put("p", platform);
    p.put("after", c.length == 0 ? "" : c[0]);
    p.put("limit", page.limit() + 1);
    String which = "";
    if (!assigned.isEmpty()) {
      which = " and r.assigned = cast(:assigned as boolean)";
      p.put("assigned", Boolean.parseBoolean(assigned) ? "true" : "false");
    }
    String sql =
        """
        select r.serial, r.imei, r.model, r.kind, r.order_number, r.registered_at, r.assigned,
               f.name, e.device_id, d.name
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
            + " order by r.serial limit :limit";
    List<Object[]> rows = database.call(tx -> tx.rows(sql, p));
    return Page.of(
        rows,
        page.limit(),
        r ->
            new Registered(
                platform,
                (String) r[0],
                Optional.ofNullable((String) r[1]),
                (String) r[2],
                (String) r[3],
                (String) r[4],
                (Instant) r[5],
                (Boolean) r[6],
                Optional.ofNullable((String) r[7]),
                Optional.ofNullable((String) r[8]),
                Optional.ofNullable((String) r[9])),
        r -> Page.cursor((String) r[0]));
  }

  /** Which devices are to be assigned to this server, or no longer. */
  public record Assignment(
      @Nullable List<String> serials, @Nullable Boolean assign, @Nullable String profileId) {}

  /**
   * Assigns registered devices to this server, or takes them from it.
   *
   * @return how many the registrar changed
   * @throws Problem 400 for more than a thousand, 502 when the registrar fails
   */
  public int assign(Caller caller, String platform, Assignment a) {
    caller.needs(Role.OPERATOR);
    List<String> serials = a.serials() == null ? List.of() : a.serials();
    if (serials.isEmpty() || serials.size() > AT_ONCE) {
      throw Problem.malformed("/serials", "Name 1 to 1000 serial numbers.");
    }
    if (a.profileId() != null
        && database.call(tx -> tx.find(EnrollmentProfileRow.class, a.profileId())).isEmpty()) {
      throw Problem.malformed("/profileId", "Name an enrollment profile by its id.");
    }
    boolean assign = a.assign() == null || a.assign();
    Connected c = connected(platform);
    JsonNode done =
        line(c.row())
            .call(
                "POST",
                "/registrar/assignment",
                c.token(),
                Map.of("serials", serials, "assigned", assign));
    String[] changed = new String[done.path("serials").size()];
    for (int i = 0; i < changed.length; i++) {
      changed[i] = serial(done.path("serials").path(i).asText());
    }
    int n =
        database.call(
            tx -> {
              Instant now = clock.instant();
              int touched =
                  tx.execute(
                      "update registrar_device set assigned = :a where platform = :p"
                          + " and serial = any(cast(:s as text[]))",
                      Map.of("a", assign, "p", platform, "s", changed));
              list(tx, platform, now, a.profileId());
              withdraw(tx, platform, now);
              if (assign && a.profileId() != null) {
                tx.execute(
                    "update roster_entry set profile_id = :f, changed_at = :now,"
                        + " version = version + 1 where serial = any(cast(:s as text[]))"
                        + " and state <> 'withdrawn'",
                    Map.of("f", a.profileId(), "now", now, "s", changed));
              }
              journal.write(
                  tx,
                  caller,
                  assign ? "registrar.assigned" : "registrar.taken-back",
                  "gateway:" + platform,
                  touched
                      + (touched == 1 ? " device" : " devices")
                      + (assign ? " assigned" : " taken back"));
              return touched;
            });
    events.touch("gateways");
    events.touch("roster");
    return n;
  }

  /** Reads from every registrar that is connected; one that fails does not keep the others. */
  public void syncAll() {
    List<Object[]> platforms =
        database.call(
            tx ->
                tx.rows(
                    "select platform, 1 from gateway where registrar_token is not null", Map.of()));
    for (Object[] p : platforms) {
      try {
        sync("pinwright", (String) p[0]);
      } catch (Problem e) {
        LOG.warn("registrar of {}: {}", p[0], e.getMessage());
      }
    }
  }
}
