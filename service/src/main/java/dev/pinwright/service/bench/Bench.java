package dev.pinwright.service.bench;

import com.github.f4b6a3.ulid.UlidCreator;
import dev.pinwright.core.intake.NamePattern;
import dev.pinwright.service.invitation.Cards;
import dev.pinwright.service.invitation.Invitations;
import dev.pinwright.service.journal.Journal;
import dev.pinwright.service.live.Events;
import dev.pinwright.service.naming.Sequences;
import dev.pinwright.service.secret.Vault;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Known;
import dev.pinwright.service.work.Page;
import dev.pinwright.service.work.Problem;
import dev.pinwright.service.work.Role;
import dev.pinwright.storage.Database;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.row.EnrollmentProfileRow;
import dev.pinwright.storage.row.GroupRow;
import dev.pinwright.storage.row.InvitationRow;
import dev.pinwright.storage.row.SiteRow;
import dev.pinwright.storage.row.UnitRow;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/**
 * Bench sessions: an operator says once how devices are set up, then plugs them in one after the
 * other. A session stays open until it is closed, so that its numbers go on tomorrow.
 */
public final class Bench {
  /** Places in a rack. */
  public static final int SLOTS = 16;

  private static final int MOST_RACKS = 8;
  private static final int MOST_DEVICES = 10_000;
  private static final long OPEN_MINUTES = Duration.ofDays(90).toMinutes();
  private final Database database;
  private final Vault vault;
  private final Invitations invitations;
  private final Journal journal;
  private final Events events;
  private final Clock clock;

  public Bench(
      Database database,
      Vault vault,
      Invitations invitations,
      Journal journal,
      Events events,
      Clock clock) {
    this.database = database;
    this.vault = vault;
    this.invitations = invitations;
    this.journal = journal;
    this.events = events;
    this.clock = clock;
  }

  /** A session as written; one rack, numbers from 1 and no erasing unless said otherwise. */
  public record Draft(
      @Nullable String name,
      @Nullable String profileId,
      @Nullable String namePattern,
      @Nullable Long firstNumber,
      @Nullable String assetPrefix,
      @Nullable String groupId,
      @Nullable String unitId,
      @Nullable String siteId,
      @Nullable String wifiName,
      @Nullable String wifiSecret,
      @Nullable Boolean erase,
      @Nullable Integer racks) {}

  /**
   * A session.
   *
   * @param link what the cable is told
   * @param prepared devices that are ready
   * @param troubled devices that were refused or came to a stop
   * @param missing numbers of the sequence no managed device has
   * @param doubled numbers several managed devices have
   */
  public record Session(
      String id,
      String name,
      String profileId,
      String profile,
      String namePattern,
      long firstNumber,
      String assetPrefix,
      Optional<String> groupId,
      Optional<String> unitId,
      Optional<String> siteId,
      String wifiName,
      boolean erase,
      int racks,
      boolean open,
      String link,
      long devices,
      long prepared,
      long troubled,
      List<String> missing,
      List<Long> doubled,
      Instant createdAt,
      String createdBy) {}

  /**
   * A device on the bench.
   *
   * @param state {@code plugged}, {@code erasing}, {@code joining}, {@code setting-up}, {@code
   *     ready}, {@code refused} or {@code attention}
   */
  public record OnBench(
      int rack,
      int slot,
      boolean pluggedIn,
      String serial,
      String state,
      String reason,
      Optional<String> deviceId,
      Optional<String> name,
      Optional<String> asset,
      Instant changedAt) {}

  private static final String STATE =
      """
      case when b.stage = 'plugged' then 'plugged' when b.stage = 'erasing' then 'erasing'
           when b.stage = 'erased' then 'joining' when b.stage = 'refused' then 'refused'
           when d.ready_gate is not null or st.standing = 'catching-up' then 'setting-up'
           when st.standing in ('settled', 'blocked') and st.facts_at is not null then 'ready'
           when d.id is null then 'joining' else 'attention' end
      """;

  private static final String SELECT =
      """
      select s.id, s.name, s.profile_id, p.name, s.name_pattern, s.first_number, s.asset_prefix,
             s.group_id, s.unit_id, s.site_id, s.wifi_name, s.erase, s.racks, s.open,
             s.invitation_id, s.created_at, s.created_by, n.devices, n.ready, n.troubled
        from bench_session s join enrollment_profile p on p.id = s.profile_id
        left join lateral (
          select count(*) devices, count(*) filter (where x.state = 'ready') ready,
                 count(*) filter (where x.state in ('refused', 'attention')) troubled
            from (select %s state from bench_device b left join device d on d.id = b.device_id
                    left join device_state st on st.device_id = d.id
                   where b.session_id = s.id) x) n on true
      """
          .formatted(STATE);

  /** Sessions, newest first. */
  public Page<Session> page(Caller caller, Page.Request page) {
    caller.needs(Role.READER);
    String[] c = page.parts(Page.Part.TEXT);
    return database.call(
        tx ->
            Page.of(
                tx.rows(
                    SELECT + " where s.id < :b order by s.id desc limit :l",
                    Map.of("b", c.length == 0 ? "~" : c[0], "l", page.limit() + 1)),
                page.limit(),
                r -> session(tx, r),
                r -> Page.cursor((String) r[0])));
  }

  /** One session. */
  public Session get(Caller caller, String id) {
    caller.needs(Role.READER);
    return database.call(tx -> one(tx, id));
  }

  private Session one(Tx tx, String id) {
    return tx.rows(SELECT + " where s.id = :id", Map.of("id", id)).stream()
        .findFirst()
        .map(r -> session(tx, r))
        .orElseThrow(() -> Problem.notFound("bench session", id));
  }

  private Session session(Tx tx, Object[] r) {
    NamePattern pattern = new NamePattern((String) r[4]);
    Optional<Sequences.Sequence> numbers = sequence(tx, pattern, (String) r[0]);
    return new Session(
        (String) r[0],
        (String) r[1],
        (String) r[2],
        (String) r[3],
        (String) r[4],
        ((Number) r[5]).longValue(),
        (String) r[6],
        Optional.ofNullable((String) r[7]),
        Optional.ofNullable((String) r[8]),
        Optional.ofNullable((String) r[9]),
        (String) r[10],
        (Boolean) r[11],
        (Integer) r[12],
        (Boolean) r[13],
        invitations.one(tx, (String) r[14]).link(),
        ((Number) r[17]).longValue(),
        ((Number) r[18]).longValue(),
        ((Number) r[19]).longValue(),
        numbers.map(Sequences.Sequence::missing).orElse(List.of()),
        numbers.map(Sequences.Sequence::doubled).orElse(List.of()),
        (Instant) r[15],
        (String) r[16]);
  }

  /** The sequence the session's newest number is from. */
  private static Optional<Sequences.Sequence> sequence(Tx tx, NamePattern pattern, String id) {
    if (!pattern.counts()) {
      return Optional.empty();
    }
    return tx
        .rows(
            "select n.key, 1 from bench_device b join sequence_number n on n.device_id = b.device_id"
                + " where b.session_id = :s order by n.taken_at desc limit 1",
            Map.of("s", id))
        .stream()
        .findFirst()
        .flatMap(r -> Sequences.find(tx, (String) r[0]));
  }

  /** Opens a session. */
  public Session open(Caller caller, Draft d) {
    caller.needs(Role.OPERATOR);
    String name = plain(d.name());
    if (name.isEmpty() || name.length() > 80) {
      throw Problem.malformed("/name", "A name has 1 to 80 characters.");
    }
    long first = d.firstNumber() == null ? 1 : d.firstNumber();
    if (first < 1 || first > 99_999_999) {
      throw Problem.malformed("/firstNumber", "Numbers begin with 1 to 99999999.");
    }
    int racks = d.racks() == null ? 1 : d.racks();
    if (racks < 1 || racks > MOST_RACKS) {
      throw Problem.malformed("/racks", "A bench has 1 to 8 racks of 16.");
    }
    String prefix = plain(d.assetPrefix());
    if (!prefix.matches("[A-Za-z0-9-]{0,20}")) {
      throw Problem.malformed(
          "/assetPrefix", "Asset numbers begin with at most 20 letters, digits or hyphens.");
    }
    String wifi = plain(d.wifiName());
    String secret = plain(d.wifiSecret());
    if (wifi.length() > 32 || !secret.isEmpty() && (secret.length() < 8 || secret.length() > 63)) {
      throw Problem.malformed(
          "/wifiSecret", "A network's name has at most 32 characters, its password 8 to 63.");
    }
    Session made =
        database.call(
            tx -> {
              EnrollmentProfileRow profile = Invitations.profile(tx, d.profileId());
              if (!profile.signIn.equals("none")) {
                throw Problem.malformed(
                    "/profileId",
                    profile.name + " asks holders to sign in; on a bench there is no holder.");
              }
              NamePattern pattern = pattern(d.namePattern(), profile);
              if (!prefix.isEmpty() && !pattern.counts()) {
                throw Problem.malformed(
                    "/assetPrefix", "Asset numbers need a running number, such as {seq:3}.");
              }
              InvitationRow invitation =
                  invitations.make(
                      tx,
                      caller,
                      profile,
                      new Invitations.Draft(
                          profile.id, MOST_DEVICES, OPEN_MINUTES, "Bench: " + name, null, false));
              tx.flush();
              Map<String, Object> p = new HashMap<>();
              p.put("id", UlidCreator.getMonotonicUlid().toString());
              p.put("name", name);
              p.put("p", profile.id);
              p.put("i", invitation.id);
              p.put("pattern", pattern.text());
              p.put("first", first);
              p.put("prefix", prefix.toUpperCase(java.util.Locale.ROOT));
              p.put("g", Known.id(tx, GroupRow.class, "group", d.groupId()));
              p.put("u", Known.id(tx, UnitRow.class, "unit", d.unitId()));
              p.put("s", Known.id(tx, SiteRow.class, "site", d.siteId()));
              p.put("wifi", wifi);
              p.put("secret", secret.isEmpty() ? null : vault.seal(secret));
              p.put("erase", Boolean.TRUE.equals(d.erase()));
              p.put("racks", racks);
              p.put("now", clock.instant());
              p.put("by", caller.login());
              tx.execute(
                  """
                  insert into bench_session (id, name, profile_id, invitation_id, name_pattern,
                    first_number, asset_prefix, group_id, unit_id, site_id, wifi_name, wifi_secret,
                    erase, racks, created_at, created_by)
                  values (:id, :name, :p, :i, :pattern, :first, :prefix, cast(:g as text),
                    cast(:u as text), cast(:s as text), :wifi, cast(:secret as bytea), :erase,
                    :racks, :now, :by)
                  """,
                  p);
              journal.write(
                  tx,
                  caller,
                  "bench.opened",
                  "bench:" + p.get("id"),
                  "Bench session " + name + " opened");
              return one(tx, (String) p.get("id"));
            });
    events.touch("bench");
    return made;
  }

  private static NamePattern pattern(@Nullable String text, EnrollmentProfileRow profile) {
    try {
      return new NamePattern(plain(text).isEmpty() ? profile.namePattern : plain(text));
    } catch (IllegalArgumentException e) {
      throw Problem.malformed("/namePattern", e);
    }
  }

  private static String plain(@Nullable String s) {
    return s == null ? "" : s.strip();
  }

  /** Closes a session, so that nobody joins by it any more, or opens it again. */
  public Session close(Caller caller, String id, boolean open) {
    caller.needs(Role.OPERATOR);
    Session shown =
        database.call(
            tx -> {
              Session s = one(tx, id);
              if (s.open() != open) {
                Instant now = clock.instant();
                tx.execute(
                    "update bench_session set open = :o where id = :id",
                    Map.of("o", open, "id", id));
                Map<String, Object> p = new HashMap<>();
                p.put("id", id);
                p.put("at", open ? null : now);
                p.put("until", now.plus(Duration.ofMinutes(OPEN_MINUTES)));
                tx.execute(
                    "update invitation set withdrawn_at = cast(:at as timestamptz),"
                        + " expires_at = greatest(expires_at, :until) where id ="
                        + " (select invitation_id from bench_session where id = :id)",
                    p);
                journal.write(
                    tx,
                    caller,
                    open ? "bench.opened" : "bench.closed",
                    "bench:" + id,
                    "Bench session " + s.name() + (open ? " opened again" : " closed"));
              }
              return one(tx, id);
            });
    events.touch("bench");
    return shown;
  }

  private static final String DEVICES =
      "select b.rack, b.slot, b.unplugged_at is null, b.serial, "
          + STATE
          + ", case when b.reason <> '' then b.reason else coalesce(st.standing_reason, '') end,"
          + " d.id, d.name, d.asset, b.changed_at"
          + " from bench_device b left join device d on d.id = b.device_id"
          + " left join device_state st on st.device_id = d.id";

  private static OnBench onBench(Object[] r) {
    return new OnBench(
        (Integer) r[0],
        (Integer) r[1],
        (Boolean) r[2],
        (String) r[3],
        (String) r[4],
        (String) r[5],
        Optional.ofNullable((String) r[6]),
        Optional.ofNullable((String) r[7]),
        Optional.ofNullable((String) r[8]),
        (Instant) r[9]);
  }

  /** What is plugged in now: at most a device a slot. */
  public List<OnBench> slots(Caller caller, String id) {
    caller.needs(Role.READER);
    return database.call(
        tx -> {
          one(tx, id);
          return tx
              .rows(
                  DEVICES
                      + " where b.session_id = :s and b.unplugged_at is null"
                      + " order by b.rack, b.slot",
                  Map.of("s", id))
              .stream()
              .map(Bench::onBench)
              .toList();
        });
  }

  /** Every device of a session, by name. */
  public Page<OnBench> devices(Caller caller, String id, Page.Request page) {
    caller.needs(Role.READER);
    String[] c = page.parts(Page.Part.TEXT, Page.Part.TEXT);
    return database.call(
        tx -> {
          one(tx, id);
          return Page.of(
              tx.rows(
                  DEVICES
                      + " where b.session_id = :s and (coalesce(d.name, ''), b.serial) > (:n, :k)"
                      + " order by coalesce(d.name, ''), b.serial limit :l",
                  Map.of(
                      "s",
                      id,
                      "n",
                      c.length == 0 ? "" : c[0],
                      "k",
                      c.length == 0 ? "" : c[1],
                      "l",
                      page.limit() + 1)),
              page.limit(),
              Bench::onBench,
              r -> Page.cursor(r[7] == null ? "" : (String) r[7], (String) r[3]));
        });
  }

  /** Labels of the session's devices, twenty-four on a page of A4; the QR code holds the number. */
  public byte[] labels(Caller caller, String id) {
    caller.needs(Role.READER);
    List<Object[]> rows =
        database.call(
            tx -> {
              one(tx, id);
              return tx.rows(
                  "select d.name, coalesce(d.asset, d.serial), d.serial, d.model from bench_device b"
                      + " join device d on d.id = b.device_id where b.session_id = :s"
                      + " order by d.name limit :l",
                  Map.of("s", id, "l", MOST_DEVICES));
            });
    return Cards.pdf(
        rows.stream()
            .map(
                r ->
                    new Cards.Card(
                        (String) r[1],
                        (String) r[0],
                        (String) r[1],
                        List.of((String) r[3], (String) r[2])))
            .toList(),
        Cards.Size.LABEL);
  }
}
