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
  private static final Evidence STRANGER = new Evidence(NOW, true, Set.of(), false, false, false);

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
            p, OPEN, GOOD, new Evidence(NOW, false, Set.of(), false, false, false)),
        Refusal.SIGN_IN_FAILED,
        "sign-in");
    refused(
        EnrollmentDecision.decide(
            p, OPEN, GOOD, new Evidence(NOW, true, Set.of("a", "b"), false, false, false)),
        Refusal.IDENTIFIER_TAKEN,
        "different devices");
    refused(
        EnrollmentDecision.decide(
            p, OPEN, GOOD, new Evidence(NOW, true, Set.of("a"), false, false, false)),
        Refusal.IDENTIFIER_TAKEN,
        "another model");
  }

  @Test
  void aDeviceThatComesBackGetsItsRecordAndSpendsNothing() {
    InvitationState spent = new InvitationState(false, NOW.plusSeconds(60), 1, 1);
    assertThat(
            EnrollmentDecision.decide(
                profile(false),
                spent,
                GOOD,
                new Evidence(NOW, true, Set.of("old"), true, false, false)))
        .isEqualTo(new Accepted(Optional.of("old")));
  }

  @Test
  void anArrivalWaitsUntilAHumanApproves() {
    assertThat(EnrollmentDecision.decide(profile(true), OPEN, GOOD, STRANGER))
        .isInstanceOf(Waiting.class);
    assertThat(
            EnrollmentDecision.decide(
                profile(true), OPEN, GOOD, new Evidence(NOW, true, Set.of(), false, false, true)))
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
                listed, OPEN, GOOD, new Evidence(NOW, true, Set.of(), false, true, false)))
        .isInstanceOf(Accepted.class);
  }

  @Test
  void aDeviceThatComesByItsOwnIdentityIsLetBackOnlyWhereTheProfileSaysSo() {
    Evidence onFile = new Evidence(NOW, true, Set.of("old"), true, true, false);
    assertThat(EnrollmentDecision.decideHandsFree(profile(false), GOOD, onFile))
        .isEqualTo(new Accepted(Optional.of("old")));
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
    assertThat(
            EnrollmentDecision.decideHandsFree(
                stays, GOOD, new Evidence(NOW, true, Set.of("old"), true, true, true)))
        .isInstanceOf(Accepted.class);
  }
}
