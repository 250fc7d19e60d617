package dev.pinwright.core.enrollment;

import static org.assertj.core.api.Assertions.assertThat;

import dev.pinwright.core.catalog.FirstRunScreen;
import dev.pinwright.core.device.DeviceKind;
import dev.pinwright.core.device.Mode;
import dev.pinwright.core.device.OsVersion;
import dev.pinwright.core.device.Ownership;
import dev.pinwright.core.enrollment.EnrollmentProfile.SignIn;
import dev.pinwright.core.naming.NamePattern;
import dev.pinwright.core.organisation.Place;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.junit.jupiter.api.Test;

class HolderPathTest {
  private static final List<FirstRunScreen> SCREENS =
      List.of(
          new FirstRunScreen("language", "Language", "Choose.", Set.of("tarn", "fjell"), false),
          new FirstRunScreen("network", "Wi-Fi", "Connect.", Set.of("tarn", "fjell"), true),
          new FirstRunScreen("fingerprint", "Fingerprint", "Touch.", Set.of("fjell"), false),
          new FirstRunScreen("tour", "Tour", "Look.", Set.of("tarn", "fjell"), false));

  private static EnrollmentProfile profile(
      Ownership ownership, SignIn signIn, FirstRun firstRun, ReadyGate gate, boolean removable) {
    return new EnrollmentProfile(
        ownership,
        Mode.STANDARD,
        Set.of("tarn", "fjell"),
        Set.of(DeviceKind.TABLET),
        signIn,
        Optional.of(1),
        Map.of(),
        true,
        false,
        new NamePattern("{serial}"),
        Place.NOWHERE,
        List.of(),
        List.of(),
        firstRun,
        gate,
        removable,
        true);
  }

  private static List<HolderPath.Screen> path(EnrollmentProfile p, String platform) {
    return HolderPath.of(
        p,
        "Vellmar Museums",
        platform,
        p.termsVersion().map(v -> new HolderPath.Terms(v, "Using it", "Bring it back.")),
        List.of("model"),
        List.of("calls"),
        SCREENS);
  }

  @Test
  void everyStepStandsInTheOrderTheHolderMeetsIt() {
    EnrollmentProfile p =
        profile(
            Ownership.PERSONAL,
            SignIn.DIRECTORY,
            new FirstRun(Set.of("tour"), "", "", ""),
            new ReadyGate(true, Map.of("tarn", OsVersion.parse("7.2"))),
            true);
    List<HolderPath.Screen> screens = path(p, "tarn");
    assertThat(screens)
        .extracting(HolderPath.Screen::kind)
        .containsExactly(
            "code",
            "offer",
            "sign-in",
            "terms",
            "approval",
            "first-run",
            "first-run",
            "gate",
            "home");
    assertThat(screens.get(1).text()).contains("work side");
    assertThat(screens.get(1).lines()).containsExactly("sees: model", "never sees: calls");
    assertThat(screens.get(7).lines())
        .containsExactly("Settings of your organisation", "System update to 7.2");
    assertThat(screens.get(8).text()).contains("may end management");
  }

  @Test
  void whatIsChosenBeforehandIsNotAskedAndWhatIsNeededIsNeverSkipped() {
    FirstRun chosen = new FirstRun(Set.of("network", "tour"), "nb", "QV", "quay");
    assertThat(chosen.shown(SCREENS, "tarn"))
        .extracting(FirstRunScreen::key)
        .containsExactly("network");
    assertThat(chosen.shown(SCREENS, "fjell"))
        .extracting(FirstRunScreen::key)
        .containsExactly("network", "fingerprint");
    assertThat(FirstRun.PLAIN.shown(SCREENS, "tarn")).hasSize(3);
  }

  @Test
  void aGateHoldsOnlyWhatItAsksOfThePlatform() {
    ReadyGate os = new ReadyGate(false, Map.of("tarn", OsVersion.parse("7.2")));
    assertThat(os.holds("tarn")).isTrue();
    assertThat(os.holds("fjell")).isFalse();
    assertThat(ReadyGate.OPEN.holds("tarn")).isFalse();
    assertThat(os.steps("tarn", OsVersion.parse("7.1"), THERE))
        .singleElement()
        .satisfies(
            s -> {
              assertThat(s.done()).isFalse();
              assertThat(s.wanted()).contains("7.2");
            });
    assertThat(os.steps("tarn", OsVersion.parse("7.2.1"), THERE)).allMatch(ReadyGate.Step::done);
    assertThat(
            new ReadyGate(true, Map.of())
                .steps("tarn", OsVersion.parse("7.0"), ReadyGate.Settings.NONE))
        .noneMatch(ReadyGate.Step::done);
  }

  private static final ReadyGate.Settings THERE = new ReadyGate.Settings(true, List.of());

  @Test
  void theGateStaysShutForADeviceThatRefusedASettingAndSaysWhich() {
    ReadyGate.Step step =
        new ReadyGate(true, Map.of())
            .steps(
                "tarn",
                OsVersion.parse("7.2"),
                new ReadyGate.Settings(true, List.of("Screen brightness")))
            .get(0);
    assertThat(step.done()).isFalse();
    assertThat(step.why())
        .hasValueSatisfying(
            w -> assertThat(w).contains("refused Screen brightness", "take it away"));
  }
}
