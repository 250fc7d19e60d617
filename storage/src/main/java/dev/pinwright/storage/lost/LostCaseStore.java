package dev.pinwright.storage.lost;

import dev.pinwright.core.lost.LostCase;
import dev.pinwright.storage.Tx;
import java.time.Instant;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/** Cases of lost devices and what was written down of them. */
public final class LostCaseStore {
  /** Most cases that are looked at at once. */
  private static final int MOST = 500;

  private static final String CASE =
      """
      select c.id, c.version, c.device_id, d.name as device, d.ownership = 'personal' as personal,
             p.name as holder, c.state, c.what, c.lock_text, c.lock_phone, c.every_minutes,
             c.lost_at, c.ring_site_id, s.name as ring_site, c.rung_at, c.looked_at, c.heard_at, c.opened_at, c.opened_by, c.ended_at, c.ended_by, c.words
        from lost_case c join device d on d.id = c.device_id
        left join person p on p.id = d.person_id
        left join site s on s.id = c.ring_site_id
      """;

  private final Tx tx;

  public LostCaseStore(Tx tx) {
    this.tx = tx;
  }

  /** One case. */
  public Optional<LostCase> find(String id) {
    return tx.select(LostCase.class, CASE + " where c.id = :id", Map.of("id", id)).stream()
        .findFirst();
  }

  /** The open case of a device. */
  public Optional<LostCase> open(String deviceId) {
    return tx
        .select(
            LostCase.class,
            CASE + " where c.device_id = :d and c.state = 'open'",
            Map.of("d", deviceId))
        .stream()
        .findFirst();
  }

  /**
   * Cases, newest first.
   *
   * @param state empty for any
   * @param deviceId empty for any
   * @param before id of the last one shown; {@code ~} for none
   */
  public List<LostCase> page(String state, String deviceId, String before, int limit) {
    return tx.select(
        LostCase.class,
        CASE
            + " where (:state = '' or c.state = :state) and (:device = '' or c.device_id = :device)"
            + " and c.id < :before order by c.id desc limit :limit",
        Map.of("state", state, "device", deviceId, "before", before, "limit", limit));
  }

  /** Open cases whose device was heard since it was noted last, with when. */
  public record Heard(String id, Instant at) {}

  /** Open cases whose devices were heard since that was noted last. */
  public List<Heard> heard() {
    return tx.select(
        Heard.class,
        "select c.id, st.last_seen as at from lost_case c"
            + " join device_state st on st.device_id = c.device_id"
            + " where c.state = 'open' and st.last_seen > coalesce(c.heard_at, c.opened_at)"
            + " order by c.id limit :n for update of c skip locked",
        Map.of("n", MOST));
  }

  /** Ids of open cases whose devices are to be asked where they are. */
  public List<String> due(Instant now) {
    return tx.column(
        String.class,
        "select c.id from lost_case c join device d on d.id = c.device_id"
            + " where c.state = 'open' and d.ownership = 'corporate' and d.retired_at is null"
            + " and c.every_minutes is not null and (c.looked_at is null"
            + " or c.looked_at + make_interval(mins => c.every_minutes) <= :now)"
            + " and not exists (select 1 from command k where k.device_id = c.device_id"
            + " and k.command = 'locate' and k.state in ('queued', 'delivered'))"
            + " order by c.looked_at nulls first limit :n",
        Map.of("now", now, "n", MOST));
  }

  /** An open case whose device is where it should ring. */
  public record Near(String id, String siteId, Instant at) {}

  /** Open cases whose devices are where they should ring. */
  public List<Near> near() {
    return tx.select(
        Near.class,
        "select c.id, p.site_id, p.at from lost_case c"
            + " join last_position p on p.device_id = c.device_id and p.site_id = c.ring_site_id"
            + " where c.state = 'open' and p.at > coalesce(c.rung_at, c.opened_at)"
            + " order by c.id limit :n",
        Map.of("n", MOST));
  }

  /** Cases open since before a moment: how many, and the device of the first. */
  public record Overdue(long cases, Optional<String> device, Optional<String> id) {}

  /** Cases open since before a moment. */
  public Overdue overdue(Instant before) {
    return tx.select(
            Overdue.class,
            "select count(*) as cases, min(d.name) as device, min(c.id) as id from lost_case c"
                + " join device d on d.id = c.device_id"
                + " where c.state = 'open' and c.opened_at <= :before",
            Map.of("before", before))
        .get(0);
  }

  /** Keys of the commands ordered to a device since a moment that were not cancelled, in order. */
  public List<String> ordered(String deviceId, Instant since) {
    return tx.column(
        String.class,
        "select command from command where device_id = :d and queued_at >= :since"
            + " and state not in ('failed', 'cancelled', 'expired') order by queued_at, id",
        Map.of("d", deviceId, "since", since));
  }

  // ---- what is written down --------------------------------------------------------------------

  /**
   * Something of a case's timeline.
   *
   * @param kind {@code note}, {@code told}, {@code heard}, {@code rings}, {@code opened}, {@code
   *     ended}, or what the device's activity calls it
   * @param by who; empty where that is not known apart from the words
   */
  public record Entry(
      Instant at,
      String kind,
      String by,
      String text,
      Optional<String> fileId,
      Optional<String> fileName) {}

  /** Writes something down. */
  public void add(
      String id,
      String caseId,
      Instant at,
      String by,
      String kind,
      String text,
      @Nullable String fileId) {
    Map<String, Object> p = new HashMap<>();
    p.put("id", id);
    p.put("case", caseId);
    p.put("at", at);
    p.put("by", by);
    p.put("kind", kind);
    p.put("text", text);
    p.put("file", fileId);
    tx.execute(
        "insert into case_entry (id, case_id, at, by, kind, text, file_id)"
            + " values (:id, :case, :at, :by, :kind, :text, cast(:file as text))",
        p);
  }

  /** What was written down of a case and what happened to its device meanwhile, latest first. */
  public List<Entry> timeline(LostCase c, Instant now, int limit) {
    return tx.select(
        Entry.class,
        """
        select at, kind, by, text, file_id, file_name from (
          select e.at, e.kind, e.by, e.text, e.file_id, f.name as file_name, e.id
            from case_entry e left join stored_file f on f.id = e.file_id where e.case_id = :case
          union all
          select a.at, a.kind, '', a.text, null, null, to_char(a.id, 'FM000000000000')
            from activity a
           where a.device_id = :device and a.at >= :from and a.at <= :to) t
         order by at desc, id desc limit :limit
        """,
        Map.of(
            "case", c.id(),
            "device", c.deviceId(),
            "from", c.openedAt(),
            "to", c.endedAt().orElse(now),
            "limit", limit));
  }
}
