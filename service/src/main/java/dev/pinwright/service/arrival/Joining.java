package dev.pinwright.service.arrival;

import static java.util.stream.Collectors.joining;
import static java.util.stream.Collectors.toSet;

import dev.pinwright.catalog.Catalogue;
import dev.pinwright.core.Words;
import dev.pinwright.core.enrollment.EnrollmentDecision;
import dev.pinwright.core.enrollment.EnrollmentDecision.Accepted;
import dev.pinwright.core.enrollment.EnrollmentDecision.Evidence;
import dev.pinwright.core.enrollment.EnrollmentDecision.Listing;
import dev.pinwright.core.enrollment.EnrollmentDecision.Refusal;
import dev.pinwright.core.enrollment.EnrollmentDecision.Refused;
import dev.pinwright.core.enrollment.EnrollmentProfile;
import dev.pinwright.core.enrollment.EnrollmentProfile.SignIn;
import dev.pinwright.core.enrollment.Identifiers;
import dev.pinwright.core.enrollment.JoinAttempt;
import dev.pinwright.protocol.join.JoinMessages;
import dev.pinwright.protocol.join.JoinMessages.Admission;
import dev.pinwright.protocol.join.JoinMessages.EstGrant;
import dev.pinwright.protocol.join.JoinMessages.Offer;
import dev.pinwright.service.access.Throttle;
import dev.pinwright.service.acting.WipeCourse;
import dev.pinwright.service.bench.BenchOrder;
import dev.pinwright.service.directory.HolderSignIn;
import dev.pinwright.service.enrollment.EnrollmentRows;
import dev.pinwright.service.identity.Authority;
import dev.pinwright.service.identity.DeviceCertificates;
import dev.pinwright.service.identity.DeviceCertificates.Grant;
import dev.pinwright.service.identity.TrustedMakers;
import dev.pinwright.service.shape.Shapes;
import dev.pinwright.service.terms.HolderTerms;
import dev.pinwright.service.usecase.Noun;
import dev.pinwright.service.usecase.UseCases;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Gate;
import dev.pinwright.service.work.Problem;
import dev.pinwright.service.work.Settings;
import dev.pinwright.storage.Database;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.arrival.ArrivalStore;
import dev.pinwright.storage.bench.BenchStore;
import dev.pinwright.storage.change.Moves;
import dev.pinwright.storage.device.ActivityStore;
import dev.pinwright.storage.device.DeviceStore;
import dev.pinwright.storage.roster.RosterStore;
import dev.pinwright.storage.row.ArrivalRow;
import dev.pinwright.storage.row.DeviceRow;
import dev.pinwright.storage.row.EnrollmentProfileRow;
import dev.pinwright.storage.row.RosterRow;
import dev.pinwright.storage.terms.TermsStore;
import java.security.cert.X509Certificate;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import org.jspecify.annotations.Nullable;

/** The join exchange, from the code to the right to one certificate. */
public final class Joining {
  private final UseCases useCases;
  private final Settings settings;
  private final Attempts attempts;
  private final WaysIn ways;
  private final RecordsOnFile records;
  private final Offers offers;
  private final HolderSignIn signIn;
  private final Admittance admittance;
  private final WipeCourse wipes;
  private final ArrivalLog log;
  private final Throttle addresses;
  private final Throttle secrets;
  private final Throttle codes;
  private final Gate gate;

  public Joining(
      UseCases useCases,
      Database database,
      Catalogue catalogue,
      Settings settings,
      Authority authority,
      Shapes shapes,
      TrustedMakers makers,
      HolderSignIn signIn,
      WipeCourse wipes,
      Clock clock) {
    this.useCases = useCases;
    this.wipes = wipes;
    this.settings = settings;
    this.signIn = signIn;
    attempts = new Attempts(catalogue.catalog());
    ways = new WaysIn(makers);
    records = new RecordsOnFile(makers, authority);
    offers = new Offers(catalogue, settings, authority);
    admittance = new Admittance(catalogue, shapes);
    addresses = new Throttle(database, clock, "join addresses", 60, Duration.ofMinutes(1));
    secrets = new Throttle(database, clock, "join secrets", 5, Duration.ofMinutes(1));
    codes = new Throttle(database, clock, "secrets of a code", 300, Duration.ofMinutes(1));
    log = new ArrivalLog(useCases);
    // a cart that is unpacked at once leaves half of the connections to everybody else
    gate =
        new Gate(
            Math.max(1, settings.database().connections() / 2),
            400,
            30,
            "Many devices are joining; try again in half a minute.");
  }

  /**
   * Who asks.
   *
   * @param code as typed; {@link #BY_IDENTIFIER} for a device that comes by its own identity
   * @param identity its certificate chain, leaf first; empty without one
   * @param address for slowing down guesses
   * @param languages the holder reads, most wanted first, as BCP 47 tags
   */
  public record Asking(
      String code, List<X509Certificate> identity, String address, List<String> languages) {
    /** Stands where the code stands when a device has none. */
    public static final String BY_IDENTIFIER = "by-identifier";

    public Asking(String code, String address) {
      this(code, List.of(), address, List.of());
    }
  }

  /** Let in, or waiting for a human when empty. */
  public record Answer(Optional<Admission> admission) {}

  /**
   * What a code, or a device's own identity, offers for the holder to read before agreeing.
   *
   * @throws Problem 404 unknown-code, 410 spent-code or lapsed-code, 401 or 403 for an identity
   *     that does not count, 429
   */
  public Offer offer(Asking asking) {
    try {
      return useCases.read(
          tx -> {
            WayIn way = ways.find(tx, asking);
            if (way.invitation().isPresent()) {
              EnrollmentDecision.usable(way.state(), useCases.now(), false)
                  .ifPresent(
                      r -> {
                        throw problem(r);
                      });
            }
            return offers.of(tx, way.profile(), asking.languages());
          });
    } catch (WayIn.Closed closed) {
      throw turnedAway(asking, null, closed);
    }
  }

  private Problem turnedAway(
      Asking asking, JoinMessages.@Nullable Request request, WayIn.Closed closed) {
    Refused r = closed.refused();
    if (r.refusal() == Refusal.UNKNOWN_CODE || r.refusal() == Refusal.SIGN_IN_FAILED) {
      // whoever has a code that is known is never held up by those who guess beside them
      Throttle.Tries tries = addresses.count(asking.address());
      if (tries.over()) {
        return addresses.tooMany(tries);
      }
    }
    log.refuse(
        null,
        readable(request),
        request == null ? null : request.device(),
        r.refusal(),
        r.detail());
    return problem(r);
  }

  /** What the device says of itself, as far as it can be read. */
  private @Nullable JoinAttempt readable(JoinMessages.@Nullable Request request) {
    try {
      return request == null ? null : attempts.read(request);
    } catch (IllegalArgumentException e) {
      return null;
    }
  }

  /**
   * Asks to be let in.
   *
   * @throws Problem one of the refusals of {@link Refusal}, 429, 503 busy
   */
  public Answer join(Asking asking, JoinMessages.Request request) {
    WayIn way;
    try {
      way = useCases.read(tx -> ways.find(tx, asking));
    } catch (WayIn.Closed closed) {
      throw turnedAway(asking, request, closed);
    }
    JoinAttempt attempt;
    try {
      attempt = attempts.read(request);
      way.mustName(attempt);
    } catch (IllegalArgumentException e) {
      String why = String.valueOf(e.getMessage());
      log.refuse(way, null, request.device(), Refusal.MALFORMED, why);
      throw problem(new Refused(Refusal.MALFORMED, why, Optional.empty()));
    }
    HolderSignIn.Proof proof = proof(way, request, asking.address());
    Decided decided;
    try {
      decided =
          gate.pass(
              () ->
                  useCases.act(
                      Caller.ofDevice(attempt.identifiers().get(0).value()),
                      act -> decide(act, way, attempt, proof, asking)));
    } catch (Spent e) {
      decided =
          new Decided(
              new Refused(Refusal.SPENT_CODE, "the invitation is used up", Optional.empty()), null);
    }
    if (decided.refused() != null) {
      log.refuse(
          way, attempt, request.device(), decided.refused().refusal(), decided.refused().detail());
      throw problem(decided.refused());
    }
    return new Answer(Optional.ofNullable(decided.admission()));
  }

  private HolderSignIn.Proof proof(WayIn way, JoinMessages.Request request, String address) {
    if (way.profile().signIn.equals(Words.of(SignIn.NONE))) {
      return HolderSignIn.Proof.NOT_ASKED;
    }
    String key = way.key() + " at " + address;
    secrets.trying(key);
    codes.trying(way.key());
    HolderSignIn.Proof proof = signIn.prove(way.profile(), request.signIn());
    if (proof.right() || proof.fault().isPresent()) {
      // many who are right at the same time are no guessing
      secrets.right(key);
      codes.right(way.key());
    }
    return proof;
  }

  /** The last use went to somebody else meanwhile; everything is rolled back. */
  private static final class Spent extends RuntimeException {
    private Spent() {
      super(null, null, false, false);
    }
  }

  private record Decided(@Nullable Refused refused, @Nullable Admission admission) {}

  private Decided decide(
      UseCases.Act act, WayIn way, JoinAttempt attempt, HolderSignIn.Proof proof, Asking asking) {
    Tx tx = act.tx();
    Instant now = act.now();
    String key = ArrivalLog.key(attempt);
    // two attempts of one device are taken one after the other, on whichever nodes they arrive
    DeviceStore devices = new DeviceStore(tx);
    devices.holdIdentifiers(attempt.identifiers());
    Moves.besideRules(tx);
    WayIn here = way.again(tx);
    EnrollmentProfileRow row = here.profile();
    EnrollmentProfile profile = EnrollmentRows.decided(row);
    List<DeviceRow> known = devices.identified(attempt.identifiers());
    List<RosterRow> listed = new RosterStore(tx).identified(attempt.identifiers());
    Optional<RosterRow> roster = listed.stream().findFirst();
    ArrivalStore arrivals = new ArrivalStore(tx);
    Optional<ArrivalRow> waiting = arrivals.waiting(row.id, key);
    Optional<String> settled =
        waiting.filter(a -> a.approved).map(a -> a.settledBy == null ? "" : a.settledBy);
    boolean approved =
        settled.isPresent()
            || known.stream().anyMatch(d -> RecordsOnFile.releasedOnBench(tx, d, here));
    Evidence evidence =
        new Evidence(
            now,
            proof.right(),
            records.of(
                tx,
                known,
                new RecordsOnFile.Asker(
                    here, profile, attempt, asking.identity(), proof.personId())),
            listing(listed),
            conflict(devices, known, listed),
            approved);
    EnrollmentDecision decision =
        here.invitation().isPresent()
            ? EnrollmentDecision.decide(profile, here.state(), attempt, evidence)
            : EnrollmentDecision.decideHandsFree(profile, attempt, evidence);
    if (decision instanceof Refused refused) {
      boolean told = refused.refusal() == Refusal.SIGN_IN_FAILED && proof.fault().isPresent();
      return new Decided(
          told
              ? new Refused(Refusal.SIGN_IN_FAILED, proof.fault().get(), Optional.empty())
              : refused,
          null);
    }
    Optional<String> declined =
        decision instanceof EnrollmentDecision.Waiting
            ? arrivals.declined(row.id, key)
            : Optional.empty();
    if (declined.isPresent()) {
      return new Decided(
          new Refused(
              Refusal.NOT_ON_ROSTER,
              "an administrator refused this device: " + declined.get(),
              Optional.empty()),
          null);
    }
    ArrivalRow arrival = waiting.orElseGet(() -> ArrivalLog.arrival(tx, here, attempt, null, now));
    arrival.changedAt = now;
    act.touch(Noun.ARRIVAL);
    if (decision instanceof EnrollmentDecision.Waiting wait) {
      arrival.step = "approval";
      arrival.outcome = "waiting";
      arrival.reason = wait.why();
      if (waiting.isEmpty()) {
        act.done(
            Noun.ARRIVAL,
            "waiting",
            arrival.id,
            attempt.model() + " " + arrival.identifier + " waits for approval");
      }
      return new Decided(null, null);
    }
    Accepted accepted = (Accepted) decision;
    known.forEach(d -> wipes.joins(act, d.id, records.makersCertificate(tx, d, asking.identity())));
    DeviceRow device =
        admittance.admit(
            tx,
            new Admittance.Arriving(
                row,
                profile,
                attempt,
                known,
                roster,
                proof.personId().or(here::person),
                here.invitation().map(i -> i.id),
                here.invitation().flatMap(i -> BenchOrder.of(tx, i.id))),
            now);
    act.onBehalfOf(Caller.ofDevice(device.id));
    arrival.deviceId = device.id;
    arrival.step = "admitted";
    arrival.outcome = "under-way";
    arrival.reason = settled.filter(by -> !by.isEmpty()).map(by -> "approved by " + by).orElse("");
    Grant grant = DeviceCertificates.grant(tx, device.id, now);
    tx.flush();
    // counted last, since everybody with this code waits for whoever has counted
    here.invitation()
        .ifPresent(
            i -> new BenchStore(tx).fared(i.id, device.serial, "joined", "", device.id, now));
    boolean back = accepted.returning().isPresent();
    if (!back && !here.count(tx)) {
      throw new Spent();
    }
    profile
        .termsVersion()
        .ifPresent(
            v ->
                new TermsStore(tx)
                    .accept(
                        device.id,
                        device.personId,
                        v,
                        HolderTerms.read(tx, v, asking.languages()).orElseThrow().language(),
                        now));
    String how = (back ? "Came back by " : "Joined by ") + row.name;
    new ActivityStore(tx).add(device.id, now, "joined", how);
    act.done(
        Noun.DEVICE,
        back ? "returned" : "joined",
        device.id,
        device.name
            + ": "
            + how.substring(0, 1).toLowerCase(Locale.ROOT)
            + how.substring(1)
            + attempt.termsAccepted().map(v -> ", terms " + v + " accepted").orElse(""));
    return new Decided(
        null,
        new Admission(
            device.id,
            device.id,
            new EstGrant(
                settings.deviceBase() + "/.well-known/est", grant.username(), grant.password())));
  }

  private static Listing listing(List<RosterRow> listed) {
    return listed.stream().anyMatch(r -> r.state.equals("barred"))
        ? Listing.BARRED
        : listed.isEmpty() ? Listing.UNKNOWN : Listing.LISTED;
  }

  /** What is wrong about the rows of the roster that name a device; empty when nothing is. */
  private static Optional<String> conflict(
      DeviceStore devices, List<DeviceRow> known, List<RosterRow> listed) {
    if (listed.size() > 1) {
      return Optional.of(
          "its identifiers stand in different rows of the roster: "
              + listed.stream().map(r -> identifiers(r).text()).collect(joining("; ")));
    }
    Set<String> own = known.stream().map(d -> d.id).collect(toSet());
    return listed.stream()
        .flatMap(r -> devices.identified(identifiers(r).list()).stream())
        .filter(d -> !own.contains(d.id))
        .findFirst()
        .map(d -> "its row of the roster has an identifier of another device, " + d.name);
  }

  private static Identifiers identifiers(RosterRow r) {
    return new Identifiers(
        Optional.ofNullable(r.serial), Optional.ofNullable(r.imei), Optional.ofNullable(r.asset));
  }

  static Problem problem(Refused r) {
    String detail = Character.toUpperCase(r.detail().charAt(0)) + r.detail().substring(1) + ".";
    Problem p = new Problem(r.refusal().httpStatus(), Words.of(r.refusal()), "Not let in", detail);
    r.minimum().ifPresent(m -> p.with("minimum", m.toString()));
    return p;
  }
}
