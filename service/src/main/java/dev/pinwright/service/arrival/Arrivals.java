package dev.pinwright.service.arrival;

import com.github.f4b6a3.ulid.UlidCreator;
import dev.pinwright.core.Words;
import dev.pinwright.core.intake.EnrollmentDecision.Refusal;
import dev.pinwright.service.journal.Journal;
import dev.pinwright.service.live.Events;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Page;
import dev.pinwright.service.work.Problem;
import dev.pinwright.service.work.Role;
import dev.pinwright.service.work.Sought;
import dev.pinwright.storage.Database;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.row.ArrivalRow;
import dev.pinwright.storage.row.RosterRow;
import java.time.Clock;
import java.time.Instant;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;

/** The log of arrivals, and the word of a human on those that wait for it. */
public final class Arrivals {
  /** Step of an arrival that a human refused; the same device is not asked about again. */
  static final String DECLINED = "declined";

  private static final int MOST_AT_ONCE = 1_000;
  private final Database database;
  private final Journal journal;
  private final Events events;
  private final Clock clock;

  public Arrivals(Database database, Journal journal, Events events, Clock clock) {
    this.database = database;
    this.journal = journal;
    this.events = events;
    this.clock = clock;
  }

  /** An arrival as shown. */
  public record Shown(
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
      Optional<String> refusal,
      Optional<String> advice) {}

  /**
   * Which arrivals.
   *
   * @param outcome {@code under-way}, {@code waiting}, {@code done}, {@code refused}, {@code
   *     abandoned}, or empty for all
   * @param words each part of identifier, model, device or enrollment profile
   * @param since only those that began then or later
   */
  public record Filter(String outcome, String words, Instant since) {}

  /**
   * How far arrivals came. {@code refusals} counts refused ones by the end of their problem type.
   */
  public record Funnel(
      long asked,
      long letIn,
      long managed,
      long waiting,
      long refused,
      long abandoned,
      Map<String, Long> refusals) {}

  private static final List<String> OUTCOMES =
      List.of("under-way", "waiting", "done", "refused", "abandoned");

  /** Arrivals, newest first. */
  public Page<Shown> page(Caller caller, Filter filter, Page.Request page) {
    caller.needs(Role.READER);
    if (!filter.outcome().isEmpty() && !OUTCOMES.contains(filter.outcome())) {
      throw Problem.malformed(
          "/outcome", "outcome has to be one of " + String.join(", ", OUTCOMES) + ".");
    }
    String[] c = page.parts(Page.Part.TEXT);
    Map<String, Object> p = new HashMap<>();
    StringBuilder sql =
        new StringBuilder(SELECT + " where a.id < :before and a.started_at >= :since");
    p.put("before", c.length == 0 ? "~" : c[0]);
    p.put("since", filter.since());
    if (!filter.outcome().isEmpty()) {
      sql.append(" and a.outcome = :outcome");
      p.put("outcome", filter.outcome());
    }
    sql.append(" and ")
        .append(
            Sought.in(
                "lower(concat_ws(' ', a.identifier, a.model, d.name, p.name))", filter.words(), p));
    p.put("limit", page.limit() + 1);
    sql.append(" order by a.id desc limit :limit");
    List<Object[]> rows = database.call(tx -> tx.rows(sql.toString(), p));
    return Page.of(rows, page.limit(), Arrivals::view, r -> Page.cursor((String) r[0]));
  }

  /** How far arrivals since some time came, and where they stopped. */
  public Funnel funnel(Caller caller, Instant since) {
    caller.needs(Role.READER);
    return database.call(
        tx -> {
          Map<String, Object> p = Map.of("since", since);
          Object[] r =
              tx.rows(
                      """
                      select count(*), count(*) filter (where device_id is not null),
                             count(*) filter (where outcome = 'done'),
                             count(*) filter (where outcome = 'waiting'),
                             count(*) filter (where outcome = 'refused'),
                             count(*) filter (where outcome = 'abandoned')
                        from arrival where started_at >= :since
                      """,
                      p)
                  .get(0);
          Map<String, Long> refusals = new TreeMap<>();
          tx.rows(
                  "select refusal, count(*) from arrival where started_at >= :since"
                      + " and refusal is not null group by 1",
                  p)
              .forEach(x -> refusals.put((String) x[0], ((Number) x[1]).longValue()));
          return new Funnel(
              ((Number) r[0]).longValue(),
              ((Number) r[1]).longValue(),
              ((Number) r[2]).longValue(),
              ((Number) r[3]).longValue(),
              ((Number) r[4]).longValue(),
              ((Number) r[5]).longValue(),
              refusals);
        });
  }

  /**
   * Lets many waiting devices in, or refuses them. Those that wait no longer are left as they are.
   *
   * @return how many were settled
   * @throws Problem 400 when more than a thousand are named
   */
  public int settle(Caller caller, List<String> ids, boolean approve, String reason) {
    caller.needs(Role.OPERATOR);
    if (ids.isEmpty() || ids.size() > MOST_AT_ONCE) {
      throw Problem.malformed("/ids", "Name 1 to 1000 arrivals.");
    }
    String why = reason.isBlank() ? "refused by " + caller.login() : reason.strip();
    int n =
        database.call(
            tx -> {
              Map<String, Object> p = new HashMap<>();
              p.put("ids", ids.toArray(String[]::new));
              p.put("now", clock.instant());
              p.put(
                  "reason",
                  approve
                      ? "approved by " + caller.login() + "; the device is about to ask again"
                      : why);
              p.put("approve", approve);
              p.put("declined", DECLINED);
              p.put("refusal", Words.of(Refusal.NOT_ON_ROSTER));
              int settled =
                  tx.execute(
                      """
                      update arrival
                         set approved = :approve, changed_at = :now, reason = :reason,
                             outcome = case when :approve then outcome else 'refused' end,
                             step = case when :approve then step else :declined end,
                             refusal = case when :approve then null else :refusal end
                       where id = any(cast(:ids as text[])) and outcome = 'waiting'
                         and not approved
                      """,
                      p);
              if (settled > 0) {
                journal.write(
                    tx,
                    caller,
                    approve ? "arrival.approved" : "arrival.refused",
                    "arrivals",
                    settled
                        + (settled == 1 ? " arrival" : " arrivals")
                        + (approve ? " approved" : " refused: " + why));
              }
              return settled;
            });
    events.touch("arrivals");
    return n;
  }

  private static final String SELECT =
      """
      select a.id, a.device_id, d.name, p.name as profile, a.platform, a.model, a.identifier,
             a.step, a.outcome, a.reason, a.started_at, a.changed_at, coalesce(a.refusal, '')
        from arrival a left join device d on d.id = a.device_id
        left join enrollment_profile p on p.id = a.profile_id
      """;

  private static Shown view(Object[] r) {
    return new Shown(
        (String) r[0],
        Optional.ofNullable((String) r[1]),
        Optional.ofNullable((String) r[2]),
        Optional.ofNullable((String) r[3]),
        (String) r[4],
        (String) r[5],
        (String) r[6],
        (String) r[7],
        (String) r[8],
        (String) r[9],
        (Instant) r[10],
        (Instant) r[11],
        Optional.of((String) r[12]).filter(w -> !w.isEmpty()),
        ((String) r[12]).isEmpty()
            ? Optional.empty()
            : Optional.of(Words.parse(Refusal.class, (String) r[12]).advice()));
  }

  /** Lets a waiting device in; it collects the answer the next time it asks. */
  public Shown approve(Caller caller, String id) {
    return settle(caller, id, true, "");
  }

  /** Refuses a waiting device. */
  public Shown refuse(Caller caller, String id, String reason) {
    return settle(caller, id, false, reason.isBlank() ? "refused by " + caller.login() : reason);
  }

  /**
   * Lets a device that was refused try again, as far as that is in an administrator's hands: lifts
   * somebody's refusal, or puts its identifiers on the roster with the profile it asked for.
   *
   * @throws Problem 409 saying what else has to be mended
   */
  public Shown retry(Caller caller, String id) {
    caller.needs(Role.OPERATOR);
    Shown shown =
        database.call(
            tx -> {
              ArrivalRow a =
                  tx.lock(ArrivalRow.class, id).orElseThrow(() -> Problem.notFound("arrival", id));
              if (!Words.of(Refusal.NOT_ON_ROSTER).equals(a.refusal)) {
                throw Problem.conflict(
                    "not-here-to-mend",
                    a.refusal == null
                        ? "The arrival is " + a.outcome + " and was not refused."
                        : Words.parse(Refusal.class, a.refusal).advice());
              }
              a.reason =
                  a.step.equals(DECLINED)
                      ? "refused before; it may ask again"
                      : "was not on the roster, and is now; it may ask again";
              boolean declined = a.step.equals(DECLINED);
              a.step = "refused";
              a.changedAt = clock.instant();
              tx.flush();
              if (!declined) {
                list(tx, a);
              }
              journal.write(
                  tx,
                  caller,
                  "arrival.retry",
                  "arrival:" + id,
                  a.model + " " + a.identifier + " may try again");
              return one(tx, id);
            });
    events.touch("arrivals");
    events.touch("roster");
    return shown;
  }

  private void list(Tx tx, ArrivalRow a) {
    Map<String, String> known = new HashMap<>();
    for (String part : a.deviceKey.split(",")) {
      int colon = part.indexOf(':');
      if (colon > 0) {
        known.put(part.substring(0, colon), part.substring(colon + 1));
      }
    }
    if (known.isEmpty()) {
      throw Problem.conflict(
          "not-known", "Nobody knows which device this was; put it on the roster by hand.");
    }
    RosterRow row = new RosterRow();
    row.id = UlidCreator.getMonotonicUlid().toString();
    row.serial = known.get("serial");
    row.imei = known.get("imei");
    row.asset = known.get("asset");
    row.name = "";
    row.tags = new String[0];
    row.profileId = a.profileId;
    row.source = "arrivals";
    row.state = "expected";
    row.createdAt = clock.instant();
    row.changedAt = row.createdAt;
    if (Admittance.listed(tx, known)) {
      throw Problem.conflict("listed-already", a.identifier + " is on the roster already.");
    }
    tx.insert(row);
    tx.flush();
  }

  private Shown settle(Caller caller, String id, boolean approved, String reason) {
    caller.needs(Role.OPERATOR);
    Shown shown =
        database.call(
            tx -> {
              ArrivalRow a =
                  tx.lock(ArrivalRow.class, id).orElseThrow(() -> Problem.notFound("arrival", id));
              if (!a.outcome.equals("waiting")) {
                throw Problem.conflict(
                    "not-waiting", "The arrival is " + a.outcome + " and waits for nobody.");
              }
              a.approved = approved;
              a.changedAt = clock.instant();
              if (approved) {
                a.reason = "approved by " + caller.login() + "; the device is about to ask again";
              } else {
                a.outcome = "refused";
                a.step = DECLINED;
                a.reason = reason;
                a.refusal = Words.of(Refusal.NOT_ON_ROSTER);
              }
              tx.flush();
              journal.write(
                  tx,
                  caller,
                  approved ? "arrival.approved" : "arrival.refused",
                  "arrival:" + id,
                  a.model + " " + a.identifier + (approved ? " approved" : " refused: " + reason));
              return one(tx, id);
            });
    events.touch("arrivals");
    return shown;
  }

  private static Shown one(Tx tx, String id) {
    return view(tx.rows(SELECT + " where a.id = :id", Map.of("id", id)).get(0));
  }
}
