package dev.pinwright.sandbox.device;

import static org.assertj.core.api.Assertions.assertThat;

import dev.pinwright.catalog.Catalogue;
import dev.pinwright.core.catalog.Catalog;
import dev.pinwright.core.kiosk.ExitCode;
import dev.pinwright.core.own.OwnDetails;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** A simulated kiosk is kept and left as a real one would be. */
class KioskBoxTest {
  private static final String SECRET = "GEZDGNBVGY3TQOJQGEZDGNBVGY3TQOJQ";
  private static final Catalog CATALOG = Catalogue.load().catalog();
  private final State state = new State();
  private final KioskBox kiosk =
      new KioskBox(
          new AppBox(CATALOG.platform("tarn").orElseThrow(), Model.named("T10"), state),
          state,
          new Obedience(state));
  private Instant now = Instant.parse("2026-11-29T10:00:00Z");

  @BeforeEach
  void told() {
    set("mode", "home");
    set("apps", "[\"system.web\",\"system.photos\"]");
    set("title", "Welcome to {self:Unit}");
    set("exit-minutes", "5");
    state.own.put(OwnDetails.path("ExitSecret"), new String[] {"chr", SECRET});
  }

  private void set(String name, String value) {
    state.policy.put("./Vendor/Pinwright/Policy/kiosk/" + name, new String[] {"chr", value});
  }

  private Optional<String> types(String code) {
    return kiosk.typed(code, now);
  }

  private String code() {
    return ExitCode.at(SECRET, now);
  }

  private String wrong() {
    return code().startsWith("0") ? "999999" : "000000";
  }

  @Test
  void theCodeLeavesItForATimeAndIsToBeReported() {
    assertThat(types(code())).isEmpty();
    assertThat(kiosk.inside(now)).isEmpty();
    assertThat(kiosk.backAt(now)).contains(now.plus(Duration.ofMinutes(5)));
    assertThat(state.kioskLefts).containsExactly(now.toString());
    kiosk.enter();
    assertThat(types(code())).as("a code opens once").contains("That is not the code.");
    kiosk.leave(Optional.of(Duration.ofMinutes(5)), now);
    now = now.plus(Duration.ofMinutes(5));
    assertThat(kiosk.inside(now)).isPresent();
  }

  @Test
  void guessingIsSlowedDownEvenForTheRightCode() {
    for (int i = 0; i < 3; i++) {
      assertThat(types(wrong())).contains("That is not the code.");
    }
    assertThat(types(code())).contains("Too many wrong codes. Try again in 31 seconds.");
    now = now.plusSeconds(30);
    assertThat(types(wrong())).contains("That is not the code.");
    assertThat(types(code())).contains("Too many wrong codes. Try again in 61 seconds.");
    now = now.plusSeconds(60);
    assertThat(types(code())).isEmpty();
    assertThat(state.exitTries).isZero();
  }

  @Test
  void aKioskToldToTakeNoCodesTakesNone() {
    set("exit-code", "false");
    assertThat(types(code())).contains("This kiosk takes no codes.");
  }

  @Test
  void leftByCommandItStaysOpenUntilItIsToldToGoBack() {
    kiosk.leave(Optional.empty(), now);
    assertThat(kiosk.inside(now.plus(Duration.ofDays(400)))).isEmpty();
    assertThat(kiosk.backAt(now)).isEmpty();
    kiosk.enter();
    assertThat(kiosk.inside(now)).isPresent();
  }

  @Test
  void onlyItsAppsCanBeOpenedAndHomeIsOnlyWhereThereIsAButton() {
    assertThat(kiosk.open("system.camera", now)).contains("This app is not part of the kiosk.");
    assertThat(kiosk.open("system.web", now)).isEmpty();
    set("home-button-off", "true");
    kiosk.home(now);
    assertThat(state.opened).isEqualTo("system.web");
    set("home-button-off", "false");
    kiosk.home(now);
    assertThat(state.opened).isEmpty();
  }

  @Test
  void whereTheOneAppIsGoneAnotherStandsInAndItIsSaid() {
    set("mode", "one");
    set("fallback", "system.photos");
    state.goneApps.add("system.web");
    assertThat(kiosk.missing()).containsExactly("system.web");
    Screen.KioskView view = kiosk.view(t -> t, now).orElseThrow();
    assertThat(view.open()).contains(new Screen.App("system.photos", "Photos", true, ""));
    assertThat(view.missing()).containsExactly(new Screen.App("system.web", "Web", false, ""));
    state.goneApps.addAll(List.of("system.photos"));
    assertThat(kiosk.view(t -> t, now).orElseThrow().open()).isEmpty();
  }
}
