package dev.pinwright.service.arrival;

import dev.pinwright.core.Words;
import dev.pinwright.core.enrollment.EnrollmentDecision.Refusal;
import dev.pinwright.core.enrollment.Identifiers;
import dev.pinwright.service.sheet.Sheet;
import dev.pinwright.service.usecase.Noun;
import dev.pinwright.service.usecase.UseCases;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Page;
import dev.pinwright.service.work.Problem;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.arrival.ArrivalStore;
import dev.pinwright.storage.roster.RosterStore;
import dev.pinwright.storage.row.ArrivalRow;
import dev.pinwright.storage.row.RosterRow;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** The log of arrivals, and the word of a human on those that wait for it. */
public final class Arrivals {
  private static final int MOST_AT_ONCE = 1_000;
  private final UseCases useCases;

  public Arrivals(UseCases useCases) {
    this.useCases = useCases;
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
      Optional<String> settledBy,
      Instant startedAt,
      Instant changedAt,
      Optional<Refusal> refusal,
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

  private static void check(Filter filter) {
    if (!filter.outcome().isEmpty() && !OUTCOMES.contains(filter.outcome())) {
      throw Problem.malformed(
          "/outcome", "outcome has to be one of " + String.join(", ", OUTCOMES) + ".");
    }
  }

  /** All arrivals that match as a sheet, newest first. */
  public String sheet(Caller caller, Filter filter) {
    check(filter);
    return useCases.read(
        tx ->
            Sheet.write(
                List.of(
                    "began",
                    "changed",
                    "device",
                    "platform",
                    "model",
                    "identifier",
                    "profile",
                    "step",
                    "outcome",
                    "reason",
                    "settled by"),
                Sheet.<ArrivalStore.Line>rows(
                    (after, most) ->
                        new ArrivalStore(tx)
                            .page(
                                filter.outcome(),
                                filter.words(),
                                filter.since(),
                                after.map(ArrivalStore.Line::id).orElse("~"),
                                most),
                    l ->
                        Sheet.cells(
                            l.startedAt(),
                            l.changedAt(),
                            l.device(),
                            l.platform(),
                            l.model(),
                            l.identifier(),
                            l.profile(),
                            l.step(),
                            l.outcome(),
                            l.reason(),
                            l.settledBy()))));
  }

  /** Arrivals, newest first. */
  public Page<Shown> page(Caller caller, Filter filter, Page.Request page) {
    check(filter);
    String[] c = page.parts(Page.Part.TEXT);
    return useCases.read(
        tx ->
            Page.of(
                new ArrivalStore(tx)
                    .page(
                        filter.outcome(),
                        filter.words(),
                        filter.since(),
                        c.length == 0 ? "~" : c[0],
                        page.limit() + 1),
                page.limit(),
                Arrivals::view,
                l -> Page.cursor(l.id())));
  }

  /** How far arrivals since some time came, and where they stopped. */
  public Funnel funnel(Caller caller, Instant since) {
    return useCases.read(
        tx -> {
          ArrivalStore store = new ArrivalStore(tx);
          ArrivalStore.Reached r = store.reached(since);
          return new Funnel(
              r.asked(),
              r.letIn(),
              r.managed(),
              r.waiting(),
              r.refused(),
              r.abandoned(),
              store.refusals(since));
        });
  }

  /**
   * Lets many waiting devices in, or refuses them. Those that wait no longer are left as they are.
   *
   * @return how many were settled
   * @throws Problem 400 when more than a thousand are named
   */
  public int settle(Caller caller, List<String> ids, boolean approve, String reason) {
    if (ids.isEmpty() || ids.size() > MOST_AT_ONCE) {
      throw Problem.malformed("/ids", "Name 1 to 1000 arrivals.");
    }
    String why = reason.isBlank() ? "refused by " + caller.login() : reason.strip();
    return useCases.act(
        caller,
        act -> {
          ArrivalStore store = new ArrivalStore(act.tx());
          int settled =
              approve
                  ? store.approve(ids, approved(caller), caller.login(), act.now())
                  : store.decline(ids, why, caller.login(), act.now());
          if (settled > 0) {
            act.done(
                Noun.ARRIVAL,
                approve ? "approved" : "refused",
                "several",
                Words.counted(settled, "arrival") + (approve ? " approved" : " refused: " + why));
          }
          return settled;
        });
  }

  private static String approved(Caller caller) {
    return "approved by " + caller.login() + "; the device is about to ask again";
  }

  private static Shown view(ArrivalStore.Line l) {
    return new Shown(
        l.id(),
        l.deviceId(),
        l.device(),
        l.profile(),
        l.platform(),
        l.model(),
        l.identifier(),
        l.step(),
        l.outcome(),
        l.reason(),
        l.settledBy(),
        l.startedAt(),
        l.changedAt(),
        l.refusal(),
        advice(l));
  }

  /** What an administrator does about it; one of them refused it, the roster has no part in it. */
  private static Optional<String> advice(ArrivalStore.Line l) {
    return l.step().equals(ArrivalStore.DECLINED)
        ? Optional.of("Let it try again, if it was not meant to be refused.")
        : l.refusal().map(Refusal::advice);
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
    return useCases.act(
        caller,
        act -> {
          ArrivalRow a = held(act.tx(), id);
          if (!Words.of(Refusal.NOT_ON_ROSTER).equals(a.refusal)) {
            throw Problem.conflict(
                "not-here-to-mend",
                a.refusal == null
                    ? "The arrival is " + a.outcome + " and was not refused."
                    : Words.parse(Refusal.class, a.refusal).advice());
          }
          if (a.step.equals(ArrivalStore.DECLINED)) {
            a.reason = "refused before; it may ask again";
          } else {
            list(act, a);
            a.reason = "was not on the roster, and is now; it may ask again";
          }
          a.step = "refused";
          a.changedAt = act.now();
          act.done(Noun.ARRIVAL, "retry", id, a.model + " " + a.identifier + " may try again");
          act.touch(Noun.ROSTER);
          return one(act.tx(), id);
        });
  }

  private static ArrivalRow held(Tx tx, String id) {
    return tx.lock(ArrivalRow.class, id).orElseThrow(() -> Problem.notFound("arrival", id));
  }

  private static void list(UseCases.Act act, ArrivalRow a) {
    Identifiers known = ArrivalLog.identifiers(a.deviceKey);
    if (known.list().isEmpty()) {
      throw Problem.conflict(
          "not-known", "Nobody knows which device this was; put it on the roster by hand.");
    }
    List<RosterRow> listed = new RosterStore(act.tx()).identified(known.list());
    if (!listed.isEmpty()) {
      throw Problem.conflict(
          "listed-already",
          a.identifier
              + (listed.stream().anyMatch(r -> r.state.equals("barred"))
                  ? " is barred on the roster; lift the bar there."
                  : " is on the roster already."));
    }
    RosterRow row = new RosterRow();
    row.id = act.newId();
    row.serial = known.serial().orElse(null);
    row.imei = known.imei().orElse(null);
    row.asset = known.asset().orElse(null);
    row.name = "";
    row.tags = new String[0];
    row.profileId = a.profileId;
    row.source = "arrivals";
    row.state = "expected";
    row.createdAt = act.now();
    row.changedAt = row.createdAt;
    act.tx().insert(row);
  }

  private Shown settle(Caller caller, String id, boolean approved, String reason) {
    return useCases.act(
        caller,
        act -> {
          ArrivalRow a = held(act.tx(), id);
          if (!a.outcome.equals("waiting")) {
            throw Problem.conflict(
                "not-waiting", "The arrival is " + a.outcome + " and waits for nobody.");
          }
          a.approved = approved;
          a.settledBy = caller.login();
          a.changedAt = act.now();
          if (approved) {
            a.reason = approved(caller);
          } else {
            a.outcome = "refused";
            a.step = ArrivalStore.DECLINED;
            a.reason = reason;
            a.refusal = Words.of(Refusal.NOT_ON_ROSTER);
          }
          act.done(
              Noun.ARRIVAL,
              approved ? "approved" : "refused",
              id,
              a.model + " " + a.identifier + (approved ? " approved" : " refused: " + reason));
          return one(act.tx(), id);
        });
  }

  private static Shown one(Tx tx, String id) {
    return new ArrivalStore(tx)
        .find(id)
        .map(Arrivals::view)
        .orElseThrow(() -> Problem.notFound("arrival", id));
  }
}
