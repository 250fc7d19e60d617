package dev.pinwright.storage.bench;

import dev.pinwright.storage.After;
import dev.pinwright.storage.Tx;
import java.time.Instant;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Deque;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/** Bench sessions and the devices that were plugged in. */
public final class BenchStore {
  private static final String STATE =
      """
      case when b.stage in ('plugged', 'held') then b.stage when b.stage = 'erasing' then 'erasing'
           when b.stage = 'erased' then 'joining' when b.stage = 'refused' then 'refused'
           when d.ready_gate is not null or st.standing = 'catching-up' then 'setting-up'
           when st.standing in ('settled', 'blocked') and st.facts_at is not null then 'ready'
           when d.id is null then 'joining' else 'attention' end
      """;

  private static final String SELECT =
      """
      select s.id, s.name, s.profile_id, p.name as profile, s.name_pattern, s.first_number,
             s.asset_prefix, s.group_id, s.unit_id, s.site_id, s.wifi_name, s.wifi_secret,
             s.erase, s.racks, s.open, s.fault, s.invitation_id, s.created_at, s.created_by, n.devices,
             n.ready, n.troubled
        from bench_session s join enrollment_profile p on p.id = s.profile_id
        left join lateral (
          select count(*) devices, count(*) filter (where x.state = 'ready') ready,
                 count(*) filter (where x.state in ('refused', 'attention', 'held')) troubled
            from (select %s state from bench_device b left join device d on d.id = b.device_id
                    left join device_state st on st.device_id = d.id
                   where b.session_id = s.id) x) n on true
      """
          .formatted(STATE);

  private final Tx tx;

  public BenchStore(Tx tx) {
    this.tx = tx;
  }

  /** A session. {@code wifiSecret} is sealed. */
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
      Optional<byte[]> wifiSecret,
      boolean erase,
      int racks,
      boolean open,
      String fault,
      String invitationId,
      Instant createdAt,
      String createdBy,
      long devices,
      long ready,
      long troubled) {}

  /** Sessions before an id, newest first. */
  public List<Session> page(String before, int limit) {
    return tx.select(
        Session.class,
        SELECT + " where s.id < :b order by s.id desc limit :l",
        Map.of("b", before, "l", limit));
  }

  /** One session. */
  public Optional<Session> find(String id) {
    return where("s.id = :v", id);
  }

  /** The session an invitation belongs to. */
  public Optional<Session> ofInvitation(String invitationId) {
    return where("s.invitation_id = :v", invitationId);
  }

  private Optional<Session> where(String condition, String value) {
    return tx.select(Session.class, SELECT + " where " + condition, Map.of("v", value)).stream()
        .findFirst();
  }

  /** The key of the sequence a session's newest number is from. */
  public Optional<String> sequence(String id) {
    return tx
        .column(
            String.class,
            "select n.key from bench_device b"
                + " join sequence_number n on n.device_id = b.device_id"
                + " where b.session_id = :s order by n.taken_at desc limit 1",
            Map.of("s", id))
        .stream()
        .findFirst();
  }

  /** A session that is opened. */
  public record Opened(
      String id,
      String name,
      String profileId,
      String invitationId,
      String namePattern,
      long firstNumber,
      String assetPrefix,
      @Nullable String groupId,
      @Nullable String unitId,
      @Nullable String siteId,
      String wifiName,
      byte @Nullable [] wifiSecret,
      boolean erase,
      int racks,
      Instant createdAt,
      String createdBy) {}

  /** Keeps a session that is opened. */
  public void insert(Opened s) {
    Map<String, Object> p = new HashMap<>();
    p.put("id", s.id());
    p.put("name", s.name());
    p.put("p", s.profileId());
    p.put("i", s.invitationId());
    p.put("pattern", s.namePattern());
    p.put("first", s.firstNumber());
    p.put("prefix", s.assetPrefix());
    p.put("g", s.groupId());
    p.put("u", s.unitId());
    p.put("s", s.siteId());
    p.put("wifi", s.wifiName());
    p.put("secret", s.wifiSecret());
    p.put("erase", s.erase());
    p.put("racks", s.racks());
    p.put("now", s.createdAt());
    p.put("by", s.createdBy());
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
  }

  /** Closes a session, or opens it again until some time, and its invitation with it. */
  public void open(String id, boolean open, Instant now, Instant until) {
    tx.execute("update bench_session set open = :o where id = :id", Map.of("o", open, "id", id));
    tx.execute(
        """
        update invitation
           set withdrawn_at = case when :open then null else cast(:now as timestamptz) end,
               expires_at = greatest(expires_at, :until)
         where id = (select invitation_id from bench_session where id = :id)
        """,
        Map.of("id", id, "open", open, "now", now, "until", until));
  }

  /**
   * A device on the bench.
   *
   * @param state {@code plugged}, {@code held}, {@code erasing}, {@code joining}, {@code
   *     setting-up}, {@code ready}, {@code refused} or {@code attention}
   * @param model maker and model, as it told by the cable; so are those that follow
   * @param battery percent
   * @param free bytes
   * @param passcode {@code true} where one is set
   * @param work what was ordered last to be done to it by the cable and how far that is, such as
   *     {@code update-os given}
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
      Instant changedAt,
      Optional<String> model,
      Optional<String> osVersion,
      Optional<String> battery,
      Optional<String> free,
      Optional<String> passcode,
      Optional<String> work) {}

  private static final String DEVICES =
      """
      select b.rack, b.slot, b.unplugged_at is null as plugged_in, b.serial, %s as state,
             case when b.reason <> '' then b.reason else coalesce(st.standing_reason, '') end
               as reason,
             d.id as device_id, d.name, d.asset, b.changed_at,
             b.facts ->> 'system/model' as model, b.facts ->> 'system/os-version' as os_version,
             b.facts ->> 'battery/level' as battery, b.facts ->> 'storage/free' as free,
             b.facts ->> 'security/passcode-present' as passcode,
             (select w.what || ' ' || w.state from bench_work w where w.session_id = b.session_id
                 and w.serial = b.serial order by w.id desc limit 1) as work
        from bench_device b left join device d on d.id = b.device_id
        left join device_state st on st.device_id = d.id
       where b.session_id = :s
      """
          .formatted(STATE);

  /** What is plugged in now: at most a device a slot. */
  public List<OnBench> slots(String id) {
    return tx.select(
        OnBench.class,
        DEVICES + " and b.unplugged_at is null order by b.rack, b.slot",
        Map.of("s", id));
  }

  /** Devices of a session by name, then serial number. */
  public List<OnBench> devices(String id, After after, int limit) {
    return tx.select(
        OnBench.class,
        DEVICES
            + " and (coalesce(d.name, ''), b.serial) > (:n, :k)"
            + " order by coalesce(d.name, ''), b.serial limit :l",
        Map.of("s", id, "n", after.key(), "k", after.id(), "l", limit));
  }

  /** What a device told of itself by the cable, JSON. */
  public record Told(String serial, int rack, int slot, String facts) {}

  /** What the devices of a session told, by place. */
  public List<Told> told(String id, int limit) {
    return tx.select(
        Told.class,
        "select serial, rack, slot, cast(facts as text) as facts from bench_device"
            + " where session_id = :s and facts <> '{}' order by rack, slot, serial limit :l",
        Map.of("s", id, "l", limit));
  }

  /** What is printed on a label. */
  public record Label(String name, String number, String serial, String model) {}

  /** Labels of a session's devices by name. */
  public List<Label> labels(String id, int limit) {
    return tx.select(
        Label.class,
        "select d.name, coalesce(d.asset, d.serial) as number, d.serial, d.model"
            + " from bench_device b join device d on d.id = b.device_id"
            + " where b.session_id = :s order by d.name limit :l",
        Map.of("s", id, "l", limit));
  }

  // ---- the cable
  // ---------------------------------------------------------------------------------

  /** A place on the bench. */
  public record Slot(String sessionId, int rack, int slot) {}

  /** What is wrong about what the cable says; empty when nothing is. */
  public void fault(String sessionId, String fault) {
    tx.execute(
        "update bench_session set fault = :f where id = :s and fault <> :f",
        Map.of("s", sessionId, "f", fault));
  }

  private record Managed(String id, String name, boolean here) {}

  /**
   * As what a device is managed, outside this session: by its certificate, and without somebody's
   * word that it may be erased.
   */
  public Optional<String> heldAs(String sessionId, String serial) {
    return managed(sessionId, serial).filter(m -> !m.here()).map(Managed::name);
  }

  /** Whether a device was prepared in this session and is managed. */
  public boolean prepared(String sessionId, String serial) {
    return managed(sessionId, serial).filter(Managed::here).isPresent();
  }

  private Optional<Managed> managed(String sessionId, String serial) {
    return tx
        .select(
            Managed.class,
            """
            select d.id, d.name, coalesce(b.device_id = d.id, false) as here
              from device d left join bench_device b
                on b.session_id = :s and b.serial = :serial
             where d.serial = :serial and d.retired_at is null and b.erase_said_by is null
               and exists (select 1 from device_certificate c where c.device_id = d.id
                            and c.state = 'active')
            """,
            Map.of("s", sessionId, "serial", serial))
        .stream()
        .findFirst();
  }

  /** A device is left alone until somebody says otherwise. */
  public void hold(String sessionId, String serial, String why, Instant now) {
    tx.execute(
        "update bench_device set stage = 'held', reason = :why, changed_at = :now"
            + " where session_id = :s and serial = :serial",
        Map.of("s", sessionId, "serial", serial, "why", why, "now", now));
  }

  /** Somebody says that a device that is held may be erased; whether there is one. */
  public boolean release(String sessionId, String serial, String by, Instant now) {
    return tx.execute(
            "update bench_device set stage = 'plugged', reason = '', erase_said_by = :by,"
                + " changed_at = :now where session_id = :s and serial = :serial"
                + " and stage = 'held'",
            Map.of("s", sessionId, "serial", serial, "by", by, "now", now))
        > 0;
  }

  /** Whether somebody said that a device may be erased and joined by a session's invitation. */
  public boolean released(String invitationId, String serial) {
    return tx.any(
        "select 1 from bench_device b join bench_session s on s.id = b.session_id"
            + " where s.invitation_id = :i and b.serial = :serial and b.erase_said_by is not null",
        Map.of("i", invitationId, "serial", serial));
  }

  private record Waiting(String serial, int rack, int slot) {}

  /**
   * The number kept for a device of a session, by the slot it is in: when there is none yet, every
   * device that is plugged in and has none gets one, in the order of their slots; first those kept
   * for devices that were pulled out before they joined. Empty for a device that is in no slot.
   *
   * @param key the sequence, which the caller holds
   * @param last the highest number of it that was given out or kept
   */
  public Optional<Long> number(String invitationId, String serial, String key, long last) {
    Map<String, Object> p = Map.of("i", invitationId, "serial", serial, "key", key);
    String session = "session_id = (select id from bench_session where invitation_id = :i)";
    Optional<Long> kept =
        tx
            .column(
                Long.class,
                "select reserved_number from bench_device where "
                    + session
                    + " and serial = :serial and reserved_key = :key",
                p)
            .stream()
            .findFirst();
    if (kept.isPresent()) {
      return kept;
    }
    List<Waiting> waiting =
        tx.select(
            Waiting.class,
            "select serial, rack, slot from bench_device where "
                + session
                + " and unplugged_at is null and device_id is null and stage <> 'held'"
                + " and reserved_key is distinct from :key order by rack, slot",
            Map.of("i", invitationId, "key", key));
    int own = waiting.stream().map(Waiting::serial).toList().indexOf(serial);
    if (own < 0) {
      return Optional.empty();
    }
    String pulledOut =
        session + " and unplugged_at is not null and device_id is null and reserved_key = :key";
    Map<String, Object> of = Map.of("i", invitationId, "key", key);
    Deque<Long> spare =
        new ArrayDeque<>(
            tx.column(
                Long.class,
                "select reserved_number from bench_device where " + pulledOut + " order by 1",
                of));
    tx.execute(
        "update bench_device set reserved_key = null, reserved_number = null where " + pulledOut,
        of);
    List<Long> numbers = new ArrayList<>();
    long next = last;
    for (Waiting w : waiting) {
      numbers.add(spare.isEmpty() ? ++next : spare.poll());
    }
    tx.execute(
        "update bench_device b set reserved_key = :key, reserved_number = w.number"
            + " from unnest(cast(:serials as text[]), cast(:numbers as bigint[]))"
            + " w(serial, number) where b."
            + session
            + " and b.serial = w.serial",
        Map.of(
            "i",
            invitationId,
            "key",
            key,
            "serials",
            waiting.stream().map(Waiting::serial).toArray(String[]::new),
            "numbers",
            numbers.toArray(Long[]::new)));
    return Optional.of(numbers.get(own));
  }

  /** The highest number of a sequence that is kept for a device of a session; zero for none. */
  public long highestKept(String invitationId, String key) {
    return tx.value(
        "select coalesce(max(reserved_number), 0) from bench_device"
            + " where session_id = (select id from bench_session where invitation_id = :i)"
            + " and reserved_key = :key",
        Long.class,
        Map.of("i", invitationId, "key", key));
  }

  /** A device was plugged in; whatever was there before is not any more. */
  public void plugged(Slot at, String serial, Instant now) {
    Map<String, Object> p =
        Map.of(
            "s",
            at.sessionId(),
            "rack",
            at.rack(),
            "slot",
            at.slot(),
            "serial",
            serial,
            "now",
            now);
    tx.execute(
        "update bench_device set unplugged_at = :now where session_id = :s and rack = :rack"
            + " and slot = :slot and serial <> :serial and unplugged_at is null",
        p);
    tx.execute(
        """
        insert into bench_device (session_id, serial, rack, slot, stage, plugged_at, changed_at)
        values (:s, :serial, :rack, :slot, 'plugged', :now, :now)
        on conflict (session_id, serial) do update set rack = excluded.rack, slot = excluded.slot,
          plugged_at = excluded.plugged_at, changed_at = excluded.changed_at, unplugged_at = null,
          stage = case when bench_device.device_id is null then 'plugged'
                       else bench_device.stage end,
          reason = case when bench_device.device_id is null then '' else bench_device.reason end
        """,
        p);
  }

  /** A device that is plugged in came a stage further. */
  public void stage(String sessionId, String serial, String stage, Instant now) {
    tx.execute(
        "update bench_device set stage = :stage, reason = '', changed_at = :now"
            + " where session_id = :s and serial = :serial",
        Map.of("s", sessionId, "serial", serial, "stage", stage, "now", now));
  }

  /** A device was unplugged. */
  public void unplugged(Slot at, String serial, Instant now) {
    tx.execute(
        "update bench_device set unplugged_at = :now, changed_at = :now"
            + " where session_id = :s and serial = :serial and rack = :rack and slot = :slot",
        Map.of(
            "s",
            at.sessionId(),
            "rack",
            at.rack(),
            "slot",
            at.slot(),
            "serial",
            serial,
            "now",
            now));
  }

  /**
   * Puts on file how a device fared that joins by the invitation of a session. The word that it may
   * be erased is for once.
   */
  public void fared(
      String invitationId,
      String serial,
      String stage,
      String reason,
      @Nullable String deviceId,
      Instant now) {
    Map<String, Object> p = new HashMap<>();
    p.put("i", invitationId);
    p.put("serial", serial);
    p.put("stage", stage);
    p.put("reason", reason);
    p.put("d", deviceId);
    p.put("now", now);
    tx.execute(
        """
        update bench_device set stage = :stage, reason = :reason, device_id = cast(:d as text),
               changed_at = :now,
               erase_said_by = case when :stage = 'joined' then null else erase_said_by end
         where serial = :serial
           and session_id = (select id from bench_session where invitation_id = :i)
        """,
        p);
  }
}
