package dev.pinwright.service.intake;

import dev.pinwright.service.Page;
import dev.pinwright.service.Problem;
import dev.pinwright.service.access.Caller;
import dev.pinwright.service.access.Role;
import dev.pinwright.service.journal.Journal;
import dev.pinwright.service.live.Events;
import dev.pinwright.storage.Database;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.row.ArrivalRow;
import java.time.Clock;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** The log of arrivals, and the word of a human on those that wait for it. */
public final class Arrivals {
  /** Step of an arrival that a human refused; the same device is not asked about again. */
  static final String DECLINED = "declined";

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
      Instant changedAt) {}

  private static final List<String> OUTCOMES =
      List.of("under-way", "waiting", "done", "refused", "abandoned");

  /**
   * Arrivals, newest first.
   *
   * @param outcome {@code under-way}, {@code waiting}, {@code done}, {@code refused}, {@code
   *     abandoned}, or empty for all
   */
  public Page<Shown> page(Caller caller, String outcome, Page.Request page) {
    caller.needs(Role.READER);
    if (!outcome.isEmpty() && !OUTCOMES.contains(outcome)) {
      throw Problem.malformed(
          "/outcome", "outcome has to be one of " + String.join(", ", OUTCOMES) + ".");
    }
    String[] c = page.parts(1);
    List<Object[]> rows =
        database.call(
            tx ->
                tx.rows(
                    SELECT
                        + " where a.id < :before and (:outcome = '' or a.outcome = :outcome)"
                        + " order by a.id desc limit :limit",
                    Map.of(
                        "before",
                        c.length == 0 ? "~" : c[0],
                        "outcome",
                        outcome,
                        "limit",
                        page.limit() + 1)));
    return Page.of(rows, page.limit(), Arrivals::view, r -> Page.cursor((String) r[0]));
  }

  private static final String SELECT =
      """
      select a.id, a.device_id, d.name, p.name as profile, a.platform, a.model, a.identifier,
             a.step, a.outcome, a.reason, a.started_at, a.changed_at
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
        (Instant) r[11]);
  }

  /** Lets a waiting device in; it collects the answer the next time it asks. */
  public Shown approve(Caller caller, String id) {
    return settle(caller, id, true, "");
  }

  /** Refuses a waiting device. */
  public Shown refuse(Caller caller, String id, String reason) {
    return settle(caller, id, false, reason.isBlank() ? "refused by " + caller.login() : reason);
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
