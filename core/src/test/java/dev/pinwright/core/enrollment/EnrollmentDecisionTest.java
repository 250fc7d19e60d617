package dev.pinwright.core.enrollment;

import static org.assertj.core.api.Assertions.assertThat;

import dev.pinwright.core.device.DeviceKind;
import dev.pinwright.core.device.Identifier;
import dev.pinwright.core.device.Mode;
import dev.pinwright.core.device.OsVersion;
import dev.pinwright.core.device.Ownership;
import dev.pinwright.core.enrollment.EnrollmentDecision.Accepted;
import dev.pinwright.core.enrollment.EnrollmentDecision.Evidence;
import dev.pinwright.core.enrollment.EnrollmentDecision.InvitationState;
import dev.pinwright.core.enrollment.EnrollmentDecision.Listing;
import dev.pinwright.core.enrollment.EnrollmentDecision.OnFile;
import dev.pinwright.core.enrollment.EnrollmentDecision.Refusal;
import dev.pinwright.core.enrollment.EnrollmentDecision.Refused;
import dev.pinwright.core.enrollment.EnrollmentDecision.Waiting;
import dev.pinwright.core.enrollment.EnrollmentProfile.SignIn;
import dev.pinwright.core.naming.NamePattern;
import dev.pinwright.core.organisation.Place;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.junit.jupiter.api.Test;

class EnrollmentDecisionTest {
  private static final Instant NOW = Instant.parse("2026-05-01T10:00:00Z");
  private static final InvitationState OPEN = new InvitationState(false, NOW.plusSeconds(60), 0, 1);
  private static final Optional<String> NONE = Optional.empty();
  private static final Evidence STRANGER =
      new Evidence(NOW, true, List.of(), Listing.UNKNOWN, NONE, false);

  private static final OnFile UNUSED = record("unused", false, true, false, false);
  private static final OnFile OPENED_BY_IT = record("opened", false, true, false, true);
  private static final OnFile KIOSK = record("kiosk", true, true, false, false);
  private static final OnFile PROVED = record("proved", true, true, true, false);
  private static final OnFile OTHER_MODEL =
      new OnFile("x", "HAR 0002", false, "corporate, supervised", false, true, false, false);

  private static OnFile record(
      String id, boolean inUse, boolean sameManagement, boolean proved, boolean opened) {
    String managedAs = sameManagement ? "corporate, supervised" : "personal, work-profile";
    return new OnFile(id, "HAR 0001", inUse, managedAs, true, sameManagement, proved, opened);
  }

  private static Evidence evidence(boolean approved, OnFile... records) {
    return new Evidence(NOW, true, List.of(records), Listing.LISTED, NONE, approved);
  }

  private static EnrollmentProfile profile(boolean approval) {
    return new EnrollmentProfile(
        Ownership.CORPORATE,
        Mode.SUPERVISED,
        Set.of("tarn"),
        Set.of(DeviceKind.TABLET),
        SignIn.NONE,
        Optional.of(3),
        Map.of("tarn", OsVersion.parse("7.0")),
        approval,
        false,
        new NamePattern("HAR {serial}"),
        Place.NOWHERE,
        List.of(),
        List.of(),
        FirstRun.PLAIN,
        ReadyGate.OPEN,
        false,
        !approval);
  }

  private static JoinAttempt attempt(String platform, String os, DeviceKind kind, Integer terms) {
    return new JoinAttempt(
        platform,
        OsVersion.parse(os),
        kind,
        "Arbor",
        "T10",
        List.of(Identifier.of(Identifier.Kind.SERIAL, "AR10-0042-7731")),
        Optional.ofNullable(terms));
  }

  private static final JoinAttempt GOOD = attempt("tarn", "7.2.1", DeviceKind.TABLET, 3);

  private static void refused(EnrollmentDecision decision, Refusal why, String words) {
    assertThat(decision).isInstanceOf(Refused.class);
    assertThat(((Refused) decision).refusal()).isEqualTo(why);
    assertThat(((Refused) decision).detail()).contains(words);
  }

  @Test
  void aDeviceThatFitsIsLetIn() {
    assertThat(EnrollmentDecision.decide(profile(false), OPEN, GOOD, STRANGER))
        .isEqualTo(new Accepted(Optional.empty()));
  }

  @Test
  void everyRefusalSaysWhatWasWrong() {
    EnrollmentProfile p = profile(false);
    refused(
        EnrollmentDecision.decide(
            p, new InvitationState(true, NOW.plusSeconds(9), 0, 1), GOOD, STRANGER),
        Refusal.LAPSED_CODE,
        "withdrawn");
    refused(
        EnrollmentDecision.decide(p, new InvitationState(false, NOW, 0, 1), GOOD, STRANGER),
        Refusal.LAPSED_CODE,
        "lapsed");
    refused(
        EnrollmentDecision.decide(
            p, new InvitationState(false, NOW.plusSeconds(9), 1, 1), GOOD, STRANGER),
        Refusal.SPENT_CODE,
        "used up");
    refused(
        EnrollmentDecision.decide(
            p, OPEN, attempt("fjell", "13.0", DeviceKind.TABLET, 3), STRANGER),
        Refusal.PLATFORM_REFUSED,
        "fjell is not let in here; tarn is");
    refused(
        EnrollmentDecision.decide(p, OPEN, attempt("tarn", "7.2", DeviceKind.PHONE, 3), STRANGER),
        Refusal.PLATFORM_REFUSED,
        "phone");
    refused(
        EnrollmentDecision.decide(p, OPEN, attempt("tarn", "6.3", DeviceKind.TABLET, 3), STRANGER),
        Refusal.OS_TOO_OLD,
        "OS 6.3 is below 7.0");
    refused(
        EnrollmentDecision.decide(p, OPEN, attempt("tarn", "7.2", DeviceKind.TABLET, 2), STRANGER),
        Refusal.TERMS_REQUIRED,
        "version 3");
    refused(
        EnrollmentDecision.decide(
            p, OPEN, GOOD, new Evidence(NOW, false, List.of(), Listing.UNKNOWN, NONE, false)),
        Refusal.SIGN_IN_FAILED,
        "sign-in");
    refused(
        EnrollmentDecision.decide(p, OPEN, GOOD, evidence(false, UNUSED, KIOSK)),
        Refusal.IDENTIFIER_TAKEN,
        "different devices");
    refused(
        EnrollmentDecision.decide(p, OPEN, GOOD, evidence(false, OTHER_MODEL)),
        Refusal.IDENTIFIER_TAKEN,
        "another model");
  }

  @Test
  void aUsedUpCodeOpensNothingButWhatItOpened() {
    InvitationState spent = new InvitationState(false, NOW.plusSeconds(60), 1, 1);
    assertThat(
            EnrollmentDecision.decide(profile(false), spent, GOOD, evidence(false, OPENED_BY_IT)))
        .isEqualTo(new Accepted(Optional.of("opened")));
    refused(
        EnrollmentDecision.decide(profile(false), spent, GOOD, evidence(false, UNUSED)),
        Refusal.SPENT_CODE,
        "used up");
  }

  @Test
  void whatTheRosterSaysTwiceIsRefusedInItsWords() {
    refused(
        EnrollmentDecision.decide(
            profile(false),
            OPEN,
            GOOD,
            new Evidence(
                NOW,
                true,
                List.of(),
                Listing.LISTED,
                Optional.of("stands in different rows"),
                true)),
        Refusal.IDENTIFIER_TAKEN,
        "different rows");
  }

  @Test
  void whatIsBarredIsLetInByNoWayNotEvenByAnOperatorsWord() {
    Evidence barred = new Evidence(NOW, true, List.of(PROVED), Listing.BARRED, NONE, true);
    for (EnrollmentDecision d :
        List.of(
            EnrollmentDecision.decide(profile(true), OPEN, GOOD, barred),
            EnrollmentDecision.decideHandsFree(profile(false), GOOD, barred))) {
      refused(d, Refusal.NOT_ON_ROSTER, "AR10-0042-7731 is barred");
    }
  }

  @Test
  void aRecordNobodyUsesIsHadForTheAsking() {
    assertThat(EnrollmentDecision.decide(profile(false), OPEN, GOOD, evidence(false, UNUSED)))
        .isEqualTo(new Accepted(Optional.of("unused")));
  }

  @Test
  void aRecordInUseIsHadByProofOrByAnOperatorsWord() {
    EnrollmentDecision unproved =
        EnrollmentDecision.decide(profile(false), OPEN, GOOD, evidence(false, KIOSK));
    assertThat(unproved).isInstanceOf(Waiting.class);
    assertThat(((Waiting) unproved).why()).contains("HAR 0001", "did not prove");
    assertThat(EnrollmentDecision.decide(profile(false), OPEN, GOOD, evidence(true, KIOSK)))
        .isEqualTo(new Accepted(Optional.of("kiosk")));
    assertThat(EnrollmentDecision.decide(profile(false), OPEN, GOOD, evidence(false, PROVED)))
        .isEqualTo(new Accepted(Optional.of("proved")));
  }

  @Test
  void whatARecordInUseIsManagedAsChangesByProofAndAnOperatorsWordOnly() {
    refused(
        EnrollmentDecision.decide(
            profile(false), OPEN, GOOD, evidence(true, record("kiosk", true, false, false, false))),
        Refusal.IDENTIFIER_TAKEN,
        "managed as personal, work-profile");
    OnFile proved = record("kiosk", true, false, true, false);
    EnrollmentDecision waits =
        EnrollmentDecision.decide(profile(false), OPEN, GOOD, evidence(false, proved));
    assertThat(((Waiting) waits).why()).contains("personal, work-profile", "would change");
    assertThat(EnrollmentDecision.decide(profile(false), OPEN, GOOD, evidence(true, proved)))
        .isEqualTo(new Accepted(Optional.of("kiosk")));
  }

  @Test
  void anArrivalWaitsUntilAHumanApproves() {
    assertThat(EnrollmentDecision.decide(profile(true), OPEN, GOOD, STRANGER))
        .isInstanceOf(Waiting.class);
    assertThat(
            EnrollmentDecision.decide(
                profile(true),
                OPEN,
                GOOD,
                new Evidence(NOW, true, List.of(), Listing.UNKNOWN, NONE, true)))
        .isInstanceOf(Accepted.class);
  }

  @Test
  void aProfileForTheRosterLetsInOnlyWhoIsOnIt() {
    EnrollmentProfile listed =
        new EnrollmentProfile(
            Ownership.CORPORATE,
            Mode.SUPERVISED,
            Set.of("tarn"),
            Set.of(DeviceKind.TABLET),
            SignIn.NONE,
            Optional.empty(),
            Map.of(),
            false,
            true,
            new NamePattern("HAR {serial}"),
            Place.NOWHERE,
            List.of(),
            List.of(),
            FirstRun.PLAIN,
            ReadyGate.OPEN,
            false,
            true);
    refused(
        EnrollmentDecision.decide(listed, OPEN, GOOD, STRANGER),
        Refusal.NOT_ON_ROSTER,
        "AR10-0042-7731 is not on the organisation's roster");
    assertThat(
            EnrollmentDecision.decide(
                listed,
                OPEN,
                GOOD,
                new Evidence(NOW, true, List.of(), Listing.LISTED, NONE, false)))
        .isInstanceOf(Accepted.class);
  }

  @Test
  void aDeviceThatComesByItsOwnIdentityIsLetBackOnlyWhereTheProfileSaysSo() {
    Evidence onFile = evidence(false, PROVED);
    assertThat(EnrollmentDecision.decideHandsFree(profile(false), GOOD, onFile))
        .isEqualTo(new Accepted(Optional.of("proved")));
    EnrollmentProfile p = profile(false);
    EnrollmentProfile stays =
        new EnrollmentProfile(
            p.ownership(),
            p.mode(),
            p.platforms(),
            p.kinds(),
            p.signIn(),
            p.termsVersion(),
            p.minimumOs(),
            false,
            false,
            p.namePattern(),
            p.place(),
            p.groups(),
            p.tags(),
            p.firstRun(),
            p.readyGate(),
            false,
            false);
    assertThat(EnrollmentDecision.decideHandsFree(stays, GOOD, onFile)).isInstanceOf(Waiting.class);
    assertThat(EnrollmentDecision.decideHandsFree(stays, GOOD, STRANGER))
        .isEqualTo(new Accepted(Optional.empty()));
    assertThat(EnrollmentDecision.decideHandsFree(stays, GOOD, evidence(true, PROVED)))
        .isInstanceOf(Accepted.class);
  }
}
