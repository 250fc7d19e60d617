package dev.pinwright.storage.bench;

import dev.pinwright.core.Words;
import dev.pinwright.core.bench.CableWork;
import dev.pinwright.core.bench.WorkState;
import dev.pinwright.storage.Tx;
import java.time.Duration;
import java.time.Instant;
import java.util.Collection;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** What the cables of benches are to do, and did. Every step is taken at most once. */
public final class BenchWorkStore {
  /** What was given and is not heard of is given again after so long. */
  private static final Duration AGAIN = Duration.ofMinutes(2);

  private static final String SELECT =
      "select w.id, w.serial, w.what, w.said, w.state, w.reason, w.ordered_at, w.ordered_by,"
          + " w.ended_at from bench_work w";

  private final Tx tx;

  public BenchWorkStore(Tx tx) {
    this.tx = tx;
  }

  /**
   * A piece of work.
   *
   * @param said what has to be said besides
   * @param reason why it failed
   */
  public record Work(
      String id,
      String serial,
      CableWork what,
      String said,
      WorkState state,
      String reason,
      Instant orderedAt,
      String orderedBy,
      Optional<Instant> endedAt) {}

  /** A device on a bench that something is to be done to. */
  public record Plugged(
      String serial, Optional<String> deviceId, boolean managed, boolean personal) {}

  /** Devices that are plugged in, of these serial numbers or all. */
  public List<Plugged> plugged(String sessionId, Collection<String> serials) {
    return tx.select(
        Plugged.class,
        """
        select b.serial, d.id as device_id,
               coalesce(d.retired_at is null and exists (select 1 from device_certificate c
                        where c.device_id = d.id and c.state = 'active'), false) as managed,
               coalesce(d.ownership = 'personal' and d.retired_at is null, false) as personal
          from bench_device b left join device d on d.serial = b.serial
         where b.session_id = :s and b.unplugged_at is null
           and (:all or b.serial = any(cast(:serials as text[])))
         order by b.rack, b.slot
        """,
        Map.of(
            "s", sessionId, "all", serials.isEmpty(), "serials", serials.toArray(String[]::new)));
  }

  /** Keeps a piece of work; one that cannot be done has failed with the reason. */
  public void add(String sessionId, Work w) {
    Map<String, Object> p = new HashMap<>();
    p.put("id", w.id());
    p.put("s", sessionId);
    p.put("serial", w.serial());
    p.put("what", Words.of(w.what()));
    p.put("said", w.said());
    p.put("state", Words.of(w.state()));
    p.put("reason", w.reason());
    p.put("at", w.orderedAt());
    p.put("by", w.orderedBy());
    p.put("ended", w.endedAt().map(Instant::toString).orElse(null));
    tx.execute(
        """
        insert into bench_work (id, session_id, serial, what, said, state, reason, ordered_at,
                                ordered_by, ended_at)
        values (:id, :s, :serial, :what, :said, :state, :reason, :at, :by,
                cast(:ended as timestamptz))
        """,
        p);
  }

  /** Gives the next piece of work for a device out. */
  public Optional<Work> next(String sessionId, String serial, Instant now) {
    List<String> id =
        tx.column(
            String.class,
            """
            update bench_work set state = 'given', given_at = :now
             where id = (select id from bench_work where session_id = :s and serial = :serial
                            and (state = 'queued' or state = 'given' and given_at < :again)
                          order by id limit 1 for update)
            returning id
            """,
            Map.of("s", sessionId, "serial", serial, "now", now, "again", now.minus(AGAIN)));
    return id.stream().findFirst().flatMap(this::find);
  }

  private Optional<Work> find(String id) {
    return tx.select(Work.class, SELECT + " where w.id = :id", Map.of("id", id)).stream()
        .findFirst();
  }

  /** A piece of work ended; empty where it had, or is another device's. */
  public Optional<Work> ended(
      String sessionId, String serial, String id, WorkState state, String reason, Instant now) {
    int n =
        tx.execute(
            "update bench_work set state = :state, reason = :reason, ended_at = :now"
                + " where id = :id and session_id = :s and serial = :serial and state = 'given'",
            Map.of(
                "id",
                id,
                "s",
                sessionId,
                "serial",
                serial,
                "state",
                Words.of(state),
                "reason",
                reason,
                "now",
                now));
    return n > 0 ? find(id) : Optional.empty();
  }

  /** The work of a session, the latest first. */
  public List<Work> page(String sessionId, String before, int limit) {
    return tx.select(
        Work.class,
        SELECT + " where w.session_id = :s and w.id < :before order by w.id desc limit :limit",
        Map.of("s", sessionId, "before", before, "limit", limit));
  }

  /** Keeps what a device tells of itself. */
  public void facts(String sessionId, String serial, String facts) {
    tx.execute(
        "update bench_device set facts = cast(:facts as jsonb)"
            + " where session_id = :s and serial = :serial and facts <> cast(:facts as jsonb)",
        Map.of("s", sessionId, "serial", serial, "facts", facts));
  }

  /** A package of an app of one's own: the digest of its file, and what it is. */
  public record Package(String fileId, String packageId, String name, String version) {}

  /** The latest package of an app that is kept here. */
  public Optional<Package> latest(String appId) {
    return tx
        .select(
            Package.class,
            "select r.file_id, a.package_id, a.name, r.version from app a"
                + " join app_release r on r.app_id = a.id"
                + " where a.id = :a and r.file_id is not null order by r.code desc limit 1",
            Map.of("a", appId))
        .stream()
        .findFirst();
  }
}
