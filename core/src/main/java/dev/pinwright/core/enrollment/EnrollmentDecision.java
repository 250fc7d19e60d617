package dev.pinwright.core.enrollment;

import dev.pinwright.core.Words;
import dev.pinwright.core.device.OsVersion;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/** Whether a device is let in. One function decides for every way in. */
public sealed interface EnrollmentDecision {

  /** Let in; {@code returning} is the record it gets back, if it was here before. */
  record Accepted(Optional<String> returning) implements EnrollmentDecision {}

  /** A human has to approve it first; {@code why} tells them what to make sure of. */
  record Waiting(String why) implements EnrollmentDecision {}

  /** Not let in. */
  record Refused(Refusal refusal, String detail, Optional<OsVersion> minimum)
      implements EnrollmentDecision {
    static Refused because(Refusal refusal, String detail) {
      return new Refused(refusal, detail, Optional.empty());
    }
  }

  /** Why a device is refused; {@code Words.of} gives the end of the problem type on the wire. */
  enum Refusal {
    UNKNOWN_CODE(404, "Check the code with the holder, or make a new invitation."),
    SPENT_CODE(410, "Make another invitation, or one with more uses."),
    LAPSED_CODE(410, "Make a new invitation; the old one has ended."),
    SIGN_IN_FAILED(401, "Ask the holder to sign in again; nothing else is wrong."),
    TERMS_REQUIRED(409, "The holder has to accept the terms on the device."),
    NOT_ON_ROSTER(
        403,
        "Put its identifier on the roster, then let it try again; if it is barred, lift the bar."),
    PLATFORM_REFUSED(422, "Use an enrollment profile that lets in this platform and kind."),
    OS_TOO_OLD(422, "Update the device's system, or lower the profile's least version."),
    IDENTIFIER_TAKEN(
        409,
        "Look up the record or row that has this identifier, and mend, withdraw or retire it."),
    MALFORMED(400, "The device said something that cannot be right; try another one.");

    private final int httpStatus;
    private final String advice;

    Refusal(int httpStatus, String advice) {
      this.httpStatus = httpStatus;
      this.advice = advice;
    }

    /** What an administrator does about it. */
    public String advice() {
      return advice;
    }

    /** HTTP status this refusal travels with. */
    public int httpStatus() {
      return httpStatus;
    }
  }

  /**
   * A record that one of the device's identifiers belongs to.
   *
   * @param name what people call it
   * @param inUse whether it is managed and a certificate of its own is in force: taking it over
   *     would cut off whoever has that
   * @param managedAs how it is managed, in words, such as "corporate, supervised"
   * @param sameHardware whether it is of the platform and model that asks
   * @param sameManagement whether ownership and mode stay what they are
   * @param proved whether the device proved to be this one: by its old certificate, by its maker's
   *     with this serial number, or by the sign-in of whoever holds it
   * @param opened whether it is on file by the very code it asks with
   */
  record OnFile(
      String id,
      String name,
      boolean inUse,
      String managedAs,
      boolean sameHardware,
      boolean sameManagement,
      boolean proved,
      boolean opened) {}

  /** What the roster says of a device. */
  enum Listing {
    UNKNOWN,
    LISTED,
    /** One of its identifiers is not to come in. */
    BARRED
  }

  /**
   * What is known at the time of the attempt, besides the attempt itself.
   *
   * @param signInProved whether the sign-in the profile asks for was right; true when it asks none
   * @param records those that any of the identifiers belongs to
   * @param listing what the roster says of its identifiers
   * @param conflict what is wrong about the roster's rows that name it; empty when nothing is
   * @param approved whether a human has said yes already
   */
  record Evidence(
      Instant now,
      boolean signInProved,
      List<OnFile> records,
      Listing listing,
      Optional<String> conflict,
      boolean approved) {
    public Evidence {
      records = List.copyOf(records);
    }

    private Optional<OnFile> record() {
      return records.size() == 1 ? Optional.of(records.get(0)) : Optional.empty();
    }
  }

  /** An invitation as the decision needs it. Coming back to what it opened spends no use of it. */
  record InvitationState(boolean withdrawn, Instant expiresAt, int uses, int usesAllowed) {}

  /** Decides on a device that has a code. The first thing to mend is named first. */
  static EnrollmentDecision decide(
      EnrollmentProfile profile,
      InvitationState invitation,
      JoinAttempt attempt,
      Evidence evidence) {
    boolean opened = evidence.record().filter(OnFile::opened).isPresent();
    Optional<Refused> code = usable(invitation, evidence.now(), opened);
    return code.isPresent() ? code.get() : judge(profile, attempt, evidence);
  }

  /**
   * Decides on a device that came by its own identity. One that is on file already waits for a
   * human when the profile says that devices do not come back by themselves.
   */
  static EnrollmentDecision decideHandsFree(
      EnrollmentProfile profile, JoinAttempt attempt, Evidence evidence) {
    EnrollmentDecision decision = judge(profile, attempt, evidence);
    boolean back = decision instanceof Accepted a && a.returning().isPresent();
    return back && !profile.comesBack() && !evidence.approved()
        ? new Waiting("devices of this enrollment profile do not come back by themselves")
        : decision;
  }

  private static EnrollmentDecision judge(
      EnrollmentProfile profile, JoinAttempt attempt, Evidence evidence) {
    if (!profile.platforms().contains(attempt.platform())) {
      return Refused.because(
          Refusal.PLATFORM_REFUSED,
          attempt.platform() + " is not let in here; " + list(profile.platforms()) + " is");
    }
    if (!profile.kinds().contains(attempt.kind())) {
      return Refused.because(
          Refusal.PLATFORM_REFUSED, "a " + Words.of(attempt.kind()) + " is not let in here");
    }
    OsVersion minimum = profile.minimumOs().get(attempt.platform());
    if (minimum != null && !attempt.osVersion().atLeast(minimum)) {
      return new Refused(
          Refusal.OS_TOO_OLD,
          "OS " + attempt.osVersion() + " is below " + minimum,
          Optional.of(minimum));
    }
    if (!evidence.signInProved()) {
      return Refused.because(Refusal.SIGN_IN_FAILED, "the sign-in was not right");
    }
    if (profile.termsVersion().isPresent()
        && !profile.termsVersion().equals(attempt.termsAccepted())) {
      return Refused.because(
          Refusal.TERMS_REQUIRED,
          "version " + profile.termsVersion().get() + " of the terms has to be accepted");
    }
    if (evidence.listing() == Listing.BARRED) {
      return Refused.because(
          Refusal.NOT_ON_ROSTER,
          attempt.identifiers().get(0).value() + " is barred on the organisation's roster");
    }
    if (evidence.records().size() > 1) {
      return Refused.because(
          Refusal.IDENTIFIER_TAKEN, "its identifiers belong to different devices on file");
    }
    if (evidence.conflict().isPresent()) {
      return Refused.because(Refusal.IDENTIFIER_TAKEN, evidence.conflict().get());
    }
    Optional<EnrollmentDecision> held = evidence.record().flatMap(r -> back(r, evidence));
    if (held.isPresent()) {
      return held.get();
    }
    if (profile.rosterOnly() && evidence.listing() == Listing.UNKNOWN) {
      return Refused.because(
          Refusal.NOT_ON_ROSTER,
          attempt.identifiers().get(0).value() + " is not on the organisation's roster");
    }
    if (profile.approval() && !evidence.approved()) {
      return new Waiting("waits for somebody to approve it");
    }
    return new Accepted(evidence.record().map(OnFile::id));
  }

  /**
   * What stands between a device and the record it asks for; empty when nothing does. A record
   * nobody uses is had for the asking. One in use is had by whoever proves to be it, or by an
   * operator's word; what it is managed as changes by both only.
   */
  private static Optional<EnrollmentDecision> back(OnFile record, Evidence evidence) {
    if (!record.sameHardware()) {
      return Optional.of(
          Refused.because(
              Refusal.IDENTIFIER_TAKEN, "its identifier belongs to a device of another model"));
    }
    if (!record.inUse()) {
      return Optional.empty();
    }
    if (!record.sameManagement() && !record.proved()) {
      return Optional.of(
          Refused.because(
              Refusal.IDENTIFIER_TAKEN,
              "its identifier belongs to a device that is managed as "
                  + record.managedAs()
                  + " and did not prove to be it"));
    }
    if (evidence.approved() || record.proved() && record.sameManagement()) {
      return Optional.empty();
    }
    return Optional.of(
        new Waiting(
            record.sameManagement()
                ? "is on file as "
                    + record.name()
                    + ", which is managed, and did not prove to be it; approve it only if you know"
                    + " that it is the same device"
                : "is on file as "
                    + record.name()
                    + " and managed as "
                    + record.managedAs()
                    + ", which letting it in would change"));
  }

  /** Whether the code itself can be used; empty when it can. */
  static Optional<Refused> usable(InvitationState invitation, Instant now, boolean returning) {
    if (invitation.withdrawn()) {
      return Optional.of(Refused.because(Refusal.LAPSED_CODE, "the invitation was withdrawn"));
    }
    if (!now.isBefore(invitation.expiresAt())) {
      return Optional.of(Refused.because(Refusal.LAPSED_CODE, "the invitation has lapsed"));
    }
    if (invitation.uses() >= invitation.usesAllowed() && !returning) {
      return Optional.of(Refused.because(Refusal.SPENT_CODE, "the invitation is used up"));
    }
    return Optional.empty();
  }

  private static String list(Set<String> words) {
    return String.join(", ", words.stream().sorted().toList());
  }
}
