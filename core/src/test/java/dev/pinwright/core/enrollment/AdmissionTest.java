package dev.pinwright.core.enrollment;

import static org.assertj.core.api.Assertions.assertThat;

import dev.pinwright.core.device.DeviceKind;
import dev.pinwright.core.device.Identifier;
import dev.pinwright.core.device.Mode;
import dev.pinwright.core.device.OsVersion;
import dev.pinwright.core.device.Ownership;
import dev.pinwright.core.enrollment.Admission.Expected;
import dev.pinwright.core.enrollment.Admission.OnFile;
import dev.pinwright.core.naming.NamePattern;
import dev.pinwright.core.organisation.Place;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.junit.jupiter.api.Test;

/** What letting a device in does to its record. */
class AdmissionTest {
  private static final Place CAFE = place("VM-CAFE", "quay");
  private static final Place HARBOUR = place("VM-HAR", null);
  private static final Identifiers NONE = Identifiers.of(List.of());

  private static Place place(String unit, String site) {
    return new Place(Optional.ofNullable(unit), Optional.ofNullable(site));
  }

  private static EnrollmentProfile profile(String pattern, Place place) {
    return new EnrollmentProfile(
        Ownership.CORPORATE,
        Mode.SUPERVISED,
        Set.of("tarn"),
        Set.of(DeviceKind.TABLET),
        EnrollmentProfile.SignIn.NONE,
        Optional.empty(),
        Map.of(),
        false,
        false,
        new NamePattern(pattern),
        place,
        List.of("G1"),
        List.of("gallery"),
        FirstRun.PLAIN,
        ReadyGate.OPEN,
        false,
        true);
  }

  private static JoinAttempt attempt(Identifier... identifiers) {
    return new JoinAttempt(
        "tarn",
        new OsVersion(7, 1, 0),
        DeviceKind.TABLET,
        "Arbor",
        "Arbor 10",
        List.of(identifiers),
        Optional.empty());
  }

  private static final Identifier SERIAL = new Identifier(Identifier.Kind.SERIAL, "AR10-0001");

  private static Expected expected(String name, String person, Place place) {
    return new Expected(
        new Identifiers(Optional.empty(), Optional.empty(), Optional.of("VM-7")),
        name,
        Optional.ofNullable(person),
        place,
        List.of("quay", "gallery"));
  }

  private static Admission of(
      EnrollmentProfile profile,
      Optional<OnFile> before,
      Optional<Expected> expected,
      String holder,
      Optional<Admission.Bench> bench) {
    return Admission.of(
        profile,
        attempt(SERIAL),
        before,
        expected,
        Optional.ofNullable(holder),
        bench,
        person -> person.equals("ines") ? HARBOUR : Place.NOWHERE);
  }

  @Test
  void itsRowOnTheRosterIsNearestThenWhoHoldsItThenTheProfile() {
    Admission a =
        of(
            profile("{serial}", CAFE),
            Optional.empty(),
            Optional.of(expected("", "ines", place(null, "mill"))),
            "bo",
            Optional.empty());
    assertThat(a.holder()).contains("ines");
    assertThat(a.place()).isEqualTo(place("VM-HAR", "mill"));
    assertThat(a.tags()).containsExactly("gallery", "quay");
    assertThat(a.identifiers().asset()).contains("VM-7");
    assertThat(a.identifiers().serial()).contains("AR10-0001");
  }

  @Test
  void whoeverJoinsItHoldsItWhereTheRosterNamesNobody() {
    Admission a =
        of(
            profile("{serial}", CAFE),
            Optional.empty(),
            Optional.of(expected("", null, Place.NOWHERE)),
            "ines",
            Optional.empty());
    assertThat(a.holder()).contains("ines");
    assertThat(a.place()).isEqualTo(place("VM-HAR", "quay"));
  }

  private static final OnFile BEFORE =
      new OnFile(
          new Identifiers(Optional.of("AR10-0001"), Optional.empty(), Optional.of("VM-1")),
          Optional.of("bo"),
          CAFE,
          "Kiosk 003");

  @Test
  void aDeviceThatWasHereKeepsItsNamePlaceHolderAndNumbers() {
    for (String holder : new String[] {null, "bo"}) {
      Admission a =
          of(
              profile("Kiosk {seq:3}", HARBOUR),
              Optional.of(BEFORE),
              Optional.of(expected("Other", "ines", HARBOUR)),
              holder,
              Optional.empty());
      assertThat(a.naming()).isEqualTo(new Admission.Fixed("Kiosk 003"));
      assertThat(a.holder()).contains("bo");
      assertThat(a.place()).isEqualTo(CAFE);
      assertThat(a.identifiers().asset()).contains("VM-1");
    }
  }

  @Test
  void whoSignsInOnADeviceThatComesBackHoldsItAndItGoesWhereTheyBelong() {
    Admission a =
        of(
            profile("Kiosk {seq:3}", CAFE),
            Optional.of(BEFORE),
            Optional.empty(),
            "ines",
            Optional.empty());
    assertThat(a.holder()).contains("ines");
    assertThat(a.place()).isEqualTo(place("VM-HAR", "quay"));
  }

  @Test
  void theNameOfTheRosterIsItsNameUnlessThePatternSaysWhereItStands() {
    Optional<Expected> named = Optional.of(expected("Door", null, Place.NOWHERE));
    assertThat(
            of(profile("{serial}", CAFE), Optional.empty(), named, null, Optional.empty()).naming())
        .isEqualTo(new Admission.Fixed("Door"));
    assertThat(
            of(profile("VM {sheet}", CAFE), Optional.empty(), named, null, Optional.empty())
                .naming())
        .isEqualTo(new Admission.ByPattern(new NamePattern("VM {sheet}"), 1));
  }

  @Test
  void theBenchGoesBeforeTheProfile() {
    Admission.Bench bench =
        new Admission.Bench(new NamePattern("Till {seq}"), 40, Optional.of("G2"), HARBOUR, "VM-");
    Admission a =
        of(profile("{serial}", CAFE), Optional.empty(), Optional.empty(), null, Optional.of(bench));
    assertThat(a.naming()).isEqualTo(new Admission.ByPattern(new NamePattern("Till {seq}"), 40));
    assertThat(a.groups()).containsExactly("G1", "G2");
    assertThat(a.place()).isEqualTo(place("VM-HAR", "quay"));
    assertThat(bench.asset(NONE, 41)).contains("VM-0041");
    assertThat(bench.asset(NONE.or(expected("", null, CAFE).identifiers()), 41)).isEmpty();
  }
}
