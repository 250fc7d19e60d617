package dev.pinwright.service.intake;

import dev.pinwright.catalog.Catalogue;
import dev.pinwright.core.Words;
import dev.pinwright.core.device.DeviceKind;
import dev.pinwright.core.device.OsVersion;
import dev.pinwright.core.device.Ownership;
import dev.pinwright.core.intake.EnrollmentDecision;
import dev.pinwright.core.intake.EnrollmentDecision.Accepted;
import dev.pinwright.core.intake.EnrollmentDecision.Evidence;
import dev.pinwright.core.intake.EnrollmentDecision.InvitationState;
import dev.pinwright.core.intake.EnrollmentDecision.Refusal;
import dev.pinwright.core.intake.EnrollmentDecision.Refused;
import dev.pinwright.core.intake.EnrollmentProfile;
import dev.pinwright.core.intake.EnrollmentProfile.SignIn;
import dev.pinwright.core.intake.Identifier;
import dev.pinwright.core.intake.InvitationCode;
import dev.pinwright.core.intake.JoinAttempt;
import dev.pinwright.protocol.join.JoinMessages;
import dev.pinwright.protocol.join.JoinMessages.Admission;
import dev.pinwright.protocol.join.JoinMessages.EstGrant;
import dev.pinwright.protocol.join.JoinMessages.Offer;
import dev.pinwright.protocol.join.JoinMessages.OfferedProfile;
import dev.pinwright.protocol.pki.Pki;
import dev.pinwright.service.Problem;
import dev.pinwright.service.Settings;
import dev.pinwright.service.access.Throttle;
import dev.pinwright.service.device.Activity;
import dev.pinwright.service.identity.Authority;
import dev.pinwright.service.identity.DeviceCertificates;
import dev.pinwright.service.identity.DeviceCertificates.Grant;
import dev.pinwright.service.journal.Journal;
import dev.pinwright.service.live.Events;
import dev.pinwright.service.rules.Shapes;
import dev.pinwright.service.secret.Passwords;
import dev.pinwright.service.secret.Vault;
import dev.pinwright.storage.Database;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.row.ArrivalRow;
import dev.pinwright.storage.row.DeviceRow;
import dev.pinwright.storage.row.EnrollmentProfileRow;
import dev.pinwright.storage.row.InvitationRow;
import dev.pinwright.storage.row.RosterRow;
import dev.pinwright.storage.row.TermsRow;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;

/** The join exchange, from the code to the right to one certificate. */
public final class Joining {
  private final Database database;
  private final Catalogue catalogue;
  private final Settings settings;
  private final Authority authority;
  private final Admittance admittance;
  private final ArrivalLog log;
  private final Journal journal;
  private final Events events;
  private final Clock clock;
  private final Throttle addresses;
  private final Throttle secrets;

  public Joining(
      Database database,
      Catalogue catalogue,
      Settings settings,
      Authority authority,
      Shapes shapes,
      Journal journal,
      Events events,
      Clock clock) {
    this.database = database;
    this.catalogue = catalogue;
    this.settings = settings;
    this.authority = authority;
    this.journal = journal;
    this.events = events;
    this.clock = clock;
    admittance = new Admittance(catalogue, shapes);
    addresses = new Throttle(database, clock, "join addresses", 60, Duration.ofMinutes(1));
    secrets = new Throttle(database, clock, "join secrets", 5, Duration.ofMinutes(1));
    log = new ArrivalLog(database, journal, events, clock);
  }

  /** Who asks: the code as typed and the address, for slowing down guesses. */
  public record Asking(String code, String address) {}

  /** Let in, or waiting for a human when empty. */
  public record Answer(Optional<Admission> admission) {}

  /**
   * What the code offers, for the holder to read before agreeing.
   *
   * @throws Problem 404 unknown-code, 410 spent-code or lapsed-code, 429
   */
  public Offer offer(Asking asking) {
    addresses.check(asking.address());
    Optional<Offer> offer =
        database.call(
            tx ->
                invitation(tx, asking.code())
                    .map(
                        inv -> {
                          EnrollmentDecision.usable(state(inv), clock.instant(), false)
                              .ifPresent(
                                  r -> {
                                    throw problem(r);
                                  });
                          return offer(tx, inv);
                        }));
    return offer.orElseThrow(() -> unknown(asking));
  }

  private Problem unknown(Asking asking) {
    addresses.failed(asking.address());
    log.refuse(null, null, null, Refusal.UNKNOWN_CODE, "the code is not known");
    return problem(
        new Refused(Refusal.UNKNOWN_CODE, "no invitation has this code", Optional.empty()));
  }

  private Optional<InvitationRow> invitation(Tx tx, String typed) {
    InvitationCode code;
    try {
      code = InvitationCode.parse(typed);
    } catch (IllegalArgumentException e) {
      return Optional.empty();
    }
    return tx
        .list(
            InvitationRow.class,
            "from InvitationRow where codeHash = :h",
            Map.of("h", Vault.hash(code.value())),
            1)
        .stream()
        .findFirst();
  }

  private static InvitationState state(InvitationRow i) {
    return new InvitationState(i.withdrawnAt != null, i.expiresAt, i.uses, i.usesAllowed);
  }

  private Offer offer(Tx tx, InvitationRow inv) {
    EnrollmentProfileRow p = tx.find(EnrollmentProfileRow.class, inv.profileId).orElseThrow();
    Ownership ownership = Words.parse(Ownership.class, p.ownership);
    JoinMessages.Terms terms =
        p.termsVersion == null
            ? null
            : tx.find(TermsRow.class, p.termsVersion)
                .map(t -> new JoinMessages.Terms(t.version, t.title, t.text))
                .orElse(null);
    String base = settings.deviceBase();
    return new Offer(
        "Pinwright",
        settings.organisation(),
        new OfferedProfile(p.name, p.ownership, p.mode, List.of(p.platforms)),
        p.signIn,
        terms,
        catalogue.visible(ownership),
        catalogue.neverSeen(ownership),
        base + "/.well-known/est",
        base + "/dm",
        base.replaceFirst("https", "wss") + "/wake",
        Pki.pem(authority.root()));
  }

  /**
   * Asks to be let in.
   *
   * @throws Problem one of the refusals of {@link Refusal}, 429
   */
  public Answer join(Asking asking, JoinMessages.Request request) {
    addresses.check(asking.address());
    InvitationRow invitation =
        database.call(tx -> invitation(tx, asking.code())).orElseThrow(() -> unknown(asking));
    JoinAttempt attempt;
    try {
      attempt = attempt(request);
    } catch (IllegalArgumentException e) {
      String why = String.valueOf(e.getMessage());
      log.refuse(invitation, null, request.device(), Refusal.MALFORMED, why);
      throw problem(new Refused(Refusal.MALFORMED, why, Optional.empty()));
    }
    EnrollmentProfileRow profile =
        database
            .call(tx -> tx.find(EnrollmentProfileRow.class, invitation.profileId))
            .orElseThrow();
    boolean proved = proved(profile, invitation, request);
    Decided decided;
    try {
      decided = database.call(tx -> decide(tx, invitation.id, attempt, proved));
    } catch (Spent e) {
      decided =
          new Decided(
              new Refused(Refusal.SPENT_CODE, "the invitation is used up", Optional.empty()), null);
    }
    if (decided.refused() != null) {
      if (decided.refused().refusal() == Refusal.SIGN_IN_FAILED) {
        secrets.failed(invitation.id);
        addresses.failed(asking.address());
      }
      log.refuse(
          invitation,
          attempt,
          request.device(),
          decided.refused().refusal(),
          decided.refused().detail());
      throw problem(decided.refused());
    }
    events.touch("arrivals");
    events.touch("devices");
    return new Answer(Optional.ofNullable(decided.admission()));
  }

  private boolean proved(
      EnrollmentProfileRow profile, InvitationRow invitation, JoinMessages.Request request) {
    if (profile.signIn.equals(Words.of(SignIn.NONE))) {
      return true;
    }
    secrets.check(invitation.id);
    String secret = request.signIn() == null ? null : request.signIn().secret();
    return secret != null
        && profile.passphraseHash != null
        && Passwords.matches(secret, profile.passphraseHash);
  }

  private JoinAttempt attempt(JoinMessages.Request request) {
    JoinMessages.Device d = request.device();
    if (d == null) {
      throw new IllegalArgumentException("'device' is missing");
    }
    if (d.identifiers() == null || d.identifiers().isEmpty()) {
      throw new IllegalArgumentException("at least one identifier is needed");
    }
    if (d.identifiers().size() > 4) {
      throw new IllegalArgumentException("at most 4 identifiers are read");
    }
    String platform = need(d.platform(), "platform", 20);
    return new JoinAttempt(
        platform,
        OsVersion.parse(need(d.osVersion(), "osVersion", 20)),
        Words.parse(DeviceKind.class, need(d.kind(), "kind", 20)),
        need(d.maker(), "maker", 60),
        need(d.model(), "model", 60),
        d.identifiers().stream()
            .map(
                i ->
                    Identifier.of(
                        Words.parse(Identifier.Kind.class, need(i.kind(), "identifier kind", 20)),
                        need(i.value(), "identifier value", 60)))
            .distinct()
            .toList(),
        Optional.ofNullable(request.termsAccepted()));
  }

  private static String need(@Nullable String value, String what, int max) {
    if (value == null || value.isBlank() || value.length() > max) {
      throw new IllegalArgumentException(
          "'" + what + "' has to be text of 1 to " + max + " characters");
    }
    return value.strip();
  }

  /** The last use went to somebody else meanwhile; everything is rolled back. */
  private static final class Spent extends RuntimeException {
    private Spent() {
      super(null, null, false, false);
    }
  }

  private record Decided(@Nullable Refused refused, @Nullable Admission admission) {}

  private Decided decide(Tx tx, String invitationId, JoinAttempt attempt, boolean proved) {
    Instant now = clock.instant();
    String key = ArrivalLog.key(attempt);
    // two attempts of one device are taken one after the other, on whichever nodes they arrive
    for (Identifier i : attempt.identifiers()) {
      tx.rows(
          "select 1, cast(pg_advisory_xact_lock(hashtextextended(:k, 0)) as text)",
          Map.of("k", "identifier " + i));
    }
    InvitationRow invitation = tx.find(InvitationRow.class, invitationId).orElseThrow();
    EnrollmentProfileRow row =
        tx.find(EnrollmentProfileRow.class, invitation.profileId).orElseThrow();
    EnrollmentProfile profile = EnrollmentProfiles.decided(row);
    List<DeviceRow> known = Admittance.onFile(tx, attempt);
    Optional<RosterRow> roster = Admittance.onRoster(tx, attempt).stream().findFirst();
    Set<String> records = known.stream().map(d -> d.id).collect(Collectors.toSet());
    boolean same =
        known.size() == 1
            && known.get(0).platform.equals(attempt.platform())
            && known.get(0).model.equals(attempt.model());
    Optional<ArrivalRow> waiting =
        tx
            .list(
                ArrivalRow.class,
                "from ArrivalRow where invitationId = :i and deviceKey = :k and outcome = 'waiting'",
                Map.of("i", invitationId, "k", key),
                1)
            .stream()
            .findFirst();
    boolean approved = waiting.map(a -> a.approved).orElse(false);
    EnrollmentDecision decision =
        EnrollmentDecision.decide(
            profile,
            state(invitation),
            attempt,
            new Evidence(now, proved, records, same, roster.isPresent(), approved));
    if (decision instanceof Refused refused) {
      return new Decided(refused, null);
    }
    if (decision instanceof EnrollmentDecision.Waiting
        && ArrivalLog.declined(tx, invitationId, key)) {
      return new Decided(
          new Refused(
              Refusal.NOT_ON_ROSTER, "an administrator refused this device", Optional.empty()),
          null);
    }
    ArrivalRow arrival =
        waiting.orElseGet(() -> ArrivalLog.arrival(tx, invitation, attempt, null, now));
    arrival.changedAt = now;
    if (!(decision instanceof Accepted accepted)) {
      arrival.step = "approval";
      arrival.outcome = "waiting";
      arrival.reason = "waits for somebody to approve it";
      if (waiting.isEmpty()) {
        journal.write(
            tx,
            "device:" + arrival.identifier,
            "arrival.waiting",
            "arrival:" + arrival.id,
            attempt.model() + " " + arrival.identifier + " waits for approval");
      }
      return new Decided(null, null);
    }
    DeviceRow device =
        admittance.admit(
            tx,
            new Admittance.Arriving(
                row, profile, attempt, known, roster, Optional.ofNullable(invitation.personId)),
            now);
    arrival.deviceId = device.id;
    arrival.step = "admitted";
    arrival.outcome = "under-way";
    arrival.reason = "";
    Grant grant = DeviceCertificates.grant(tx, device.id, now);
    tx.flush();
    // counted last, since everybody with this code waits for whoever has counted
    if (accepted.returning().isEmpty()
        && tx.execute(
                "update invitation set uses = uses + 1 where id = :i and uses < uses_allowed",
                Map.of("i", invitationId))
            == 0) {
      throw new Spent();
    }
    boolean back = accepted.returning().isPresent();
    String how = (back ? "Came back by " : "Joined by ") + row.name;
    Activity.add(tx, device.id, now, "joined", how);
    journal.write(
        tx,
        "device:" + device.id,
        back ? "device.returned" : "device.joined",
        "device:" + device.id,
        device.name
            + ": "
            + how.substring(0, 1).toLowerCase(java.util.Locale.ROOT)
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

  private static Problem problem(Refused r) {
    String detail = Character.toUpperCase(r.detail().charAt(0)) + r.detail().substring(1) + ".";
    Problem p = new Problem(r.refusal().httpStatus(), Words.of(r.refusal()), "Not let in", detail);
    r.minimum().ifPresent(m -> p.with("minimum", m.toString()));
    return p;
  }
}
