package dev.pinwright.storage.arrival;

import dev.pinwright.core.Words;
import dev.pinwright.core.enrollment.EnrollmentDecision.Refusal;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.query.Sought;
import dev.pinwright.storage.row.ArrivalRow;
import java.time.Instant;
import java.util.Collection;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;

/** Arrivals: every attempt to join and how far it came. */
public final class ArrivalStore {
  /** Step of an arrival that a human refused; the same device is not asked about again. */
  public static final String DECLINED = "declined";

  private final Tx tx;

  public ArrivalStore(Tx tx) {
    this.tx = tx;
  }

  /**
   * An arrival with the names of what it is about.
   *
   * @param profile name of the enrollment profile
   */
  public record Line(
      String id,
      Optional<String> deviceId,
      Optional<String> device,
      Optional<String> profile,
      String platform,
      String model,
      String identifier,
      String step,
      String outcome,
      String reason,
      Instant startedAt,
      Instant changedAt,
      Optional<Refusal> refusal,
      Optional<String> settledBy) {}

  private static final String SELECT =
      """
      select a.id, a.device_id, d.name as device, p.name as profile, a.platform, a.model,
             a.identifier, a.step, a.outcome, a.reason, a.started_at, a.changed_at, a.refusal,
             a.settled_by
        from arrival a left join device d on d.id = a.device_id
        left join enrollment_profile p on p.id = a.profile_id
      """;

  /**
   * Arrivals before an id, newest first.
   *
   * @param outcome empty for all
   * @param words each part of identifier, model, device or enrollment profile
   */
  public List<Line> page(String outcome, String words, Instant since, String before, int limit) {
    Map<String, Object> p = new HashMap<>();
    p.put("before", before);
    p.put("since", since);
    p.put("outcome", outcome);
    p.put("limit", limit);
    return tx.select(
        Line.class,
        SELECT
            + " where a.id < :before and a.started_at >= :since"
            + " and (:outcome = '' or a.outcome = :outcome) and "
            + Sought.in("lower(concat_ws(' ', a.identifier, a.model, d.name, p.name))", words, p)
            + " order by a.id desc limit :limit",
        p);
  }

  /** One arrival. */
  public Optional<Line> find(String id) {
    tx.flush();
    return tx.select(Line.class, SELECT + " where a.id = :id", Map.of("id", id)).stream()
        .findFirst();
  }

  /** How far arrivals came. */
  public record Reached(
      long asked, long letIn, long managed, long waiting, long refused, long abandoned) {}

  /** How far arrivals came that began since some time. */
  public Reached reached(Instant since) {
    return tx.select(
            Reached.class,
            """
            select count(*) as asked, count(*) filter (where device_id is not null) as let_in,
                   count(*) filter (where outcome = 'done') as managed,
                   count(*) filter (where outcome = 'waiting') as waiting,
                   count(*) filter (where outcome = 'refused') as refused,
                   count(*) filter (where outcome = 'abandoned') as abandoned
              from arrival where started_at >= :since
            """,
            Map.of("since", since))
        .get(0);
  }

  /** Devices that wait to be let in, and since when the first of them does. */
  public record Waiting(long devices, Optional<Instant> since) {}

  /** Devices that have waited since some time, or longer. */
  public Waiting waiting(Instant since) {
    return tx.select(
            Waiting.class,
            "select count(*) as devices, min(started_at) as since from arrival"
                + " where outcome = 'waiting' and not approved and started_at < :since",
            Map.of("since", since))
        .get(0);
  }

  private record Counted(String refusal, long n) {}

  /** Refusals since some time, counted by the end of their problem type. */
  public Map<String, Long> refusals(Instant since) {
    Map<String, Long> out = new TreeMap<>();
    tx.select(
            Counted.class,
            "select refusal, count(*) as n from arrival where started_at >= :since"
                + " and refusal is not null group by 1",
            Map.of("since", since))
        .forEach(c -> out.put(c.refusal(), c.n()));
    return out;
  }

  /** Lets devices in that wait and were not let in before; says how many. */
  public int approve(Collection<String> ids, String reason, String by, Instant now) {
    return tx.execute(
        "update arrival set approved = true, changed_at = :now, reason = :reason, refusal = null,"
            + " settled_by = :by"
            + " where id = any(cast(:ids as text[])) and outcome = 'waiting' and not approved",
        Map.of("ids", ids.toArray(String[]::new), "now", now, "reason", reason, "by", by));
  }

  /** Refuses devices that wait; says how many. */
  public int decline(Collection<String> ids, String reason, String by, Instant now) {
    return tx.execute(
        """
        update arrival set approved = false, changed_at = :now, reason = :reason,
               outcome = 'refused', step = :step, refusal = :refusal, settled_by = :by
         where id = any(cast(:ids as text[])) and outcome = 'waiting' and not approved
        """,
        Map.of(
            "ids", ids.toArray(String[]::new),
            "now", now,
            "reason", reason,
            "by", by,
            "step", DECLINED,
            "refusal", Words.of(Refusal.NOT_ON_ROSTER)));
  }

  /** The arrival of a device that waits to be let in by an enrollment profile. */
  public Optional<ArrivalRow> waiting(String profileId, String deviceKey) {
    return tx
        .list(
            ArrivalRow.class,
            "from ArrivalRow where profileId = :p and deviceKey = :k and outcome = 'waiting'",
            Map.of("p", profileId, "k", deviceKey),
            1)
        .stream()
        .findFirst();
  }

  /** Why somebody refused a device under an enrollment profile; empty when nobody did. */
  public Optional<String> declined(String profileId, String deviceKey) {
    return tx
        .column(
            String.class,
            "select reason from arrival where profile_id = :p and device_key = :k and step = :s"
                + " order by id desc limit 1",
            Map.of("p", profileId, "k", deviceKey, "s", DECLINED))
        .stream()
        .findFirst();
  }

  /** Whether a device is on file by the code of an invitation. */
  public boolean opened(String invitationId, String deviceId) {
    return tx.any(
        "select 1 from arrival where device_id = :d and invitation_id = :i",
        Map.of("d", deviceId, "i", invitationId));
  }

  /** A device that is under way got its certificate. */
  public void certified(String deviceId, Instant now) {
    tx.execute(
        "update arrival set step = 'certificate', changed_at = :now"
            + " where device_id = :d and outcome = 'under-way'",
        Map.of("d", deviceId, "now", now));
  }

  /** A device that is under way is at its ready gate, waiting for something. */
  public void atGate(String deviceId, String waitsFor, Instant now) {
    tx.execute(
        "update arrival set step = 'ready gate', reason = :reason, changed_at = :now"
            + " where device_id = :d and outcome = 'under-way'",
        Map.of("d", deviceId, "now", now, "reason", "waits for " + waitsFor));
  }

  /** A device that is under way has arrived. */
  public void done(String deviceId, Instant now) {
    tx.execute(
        "update arrival set step = 'done', outcome = 'done', reason = '', changed_at = :now"
            + " where device_id = :d and outcome = 'under-way'",
        Map.of("d", deviceId, "now", now));
  }

  /** Gives up arrivals that did not go on for an hour. */
  public void tidy(Instant now) {
    tx.execute(
        """
        update arrival set outcome = 'abandoned', changed_at = :now,
               reason = 'the device did not go on'
         where outcome = 'under-way' and step <> 'ready gate'
           and changed_at < cast(:now as timestamptz) - interval '1 hour'
        """,
        Map.of("now", now));
  }
}
