package dev.pinwright.core.kiosk;

import static org.assertj.core.api.Assertions.assertThat;

import dev.pinwright.core.catalog.HomeCell;
import dev.pinwright.core.tree.Leaf;
import dev.pinwright.core.tree.Tree;
import java.time.Duration;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.junit.jupiter.api.Test;

class KioskTest {
  private static final String APPS = "[\"system.web\",\"system.photos\",\"system.notes\"]";

  @Test
  void whereEverythingIsShownThereIsNone() {
    assertThat(Kiosk.read(Map.of())).isEmpty();
    assertThat(Kiosk.read(Map.of("mode", "free", "apps", APPS))).isEmpty();
  }

  @Test
  void itIsReadFromTheTextsOfItsSettings() {
    Kiosk kiosk =
        Kiosk.read(
                Map.of(
                    "mode", "one",
                    "apps", APPS,
                    "fallback", "system.video",
                    "touch-off", "true",
                    "status-bar-off", "false",
                    "exit-minutes", "5"))
            .orElseThrow();
    assertThat(kiosk.one()).isTrue();
    assertThat(kiosk.off()).containsExactly("touch");
    assertThat(kiosk.exitCode()).isTrue();
    assertThat(kiosk.exitFor()).isEqualTo(Duration.ofMinutes(5));
  }

  @Test
  void theOneAppIsShownOrWhatStandsInForItAndWhatIsMissingIsSaid() {
    Kiosk kiosk =
        Kiosk.read(Map.of("mode", "one", "apps", APPS, "fallback", "system.video")).orElseThrow();
    assertThat(kiosk.shown(Set.of("system.web")))
        .isEqualTo(new Kiosk.Shown(Optional.of("system.web"), List.of()));
    assertThat(kiosk.shown(Set.of("system.video", "system.notes")))
        .isEqualTo(new Kiosk.Shown(Optional.of("system.video"), List.of("system.web")));
    assertThat(kiosk.shown(Set.of("system.notes")))
        .isEqualTo(new Kiosk.Shown(Optional.empty(), List.of("system.web")));
  }

  @Test
  void aHomeScreenShowsNothingByItself() {
    Kiosk kiosk = Kiosk.read(Map.of("mode", "home", "apps", APPS)).orElseThrow();
    assertThat(kiosk.shown(Set.of("system.web", "system.notes")))
        .isEqualTo(new Kiosk.Shown(Optional.empty(), List.of("system.photos")));
  }

  @Test
  void appsLieWhereTheyWerePutAndTheOthersFollowInWhatIsFree() {
    HomeScreen home =
        HomeScreen.of(
            2,
            List.of("a.web", "a.notes", "a.photos", "a.mail", "a.clock"),
            List.of(
                cell("1.2 a.web"),
                cell("0.1 a.mail"),
                cell("1.2 a.photos"), // taken
                cell("2.5 a.clock"), // beyond the edge
                cell("3.1 a.stranger")));
    assertThat(home.dock()).containsExactly("a.mail");
    assertThat(home.rows())
        .containsExactly(
            List.of(Optional.of("a.notes"), Optional.of("a.web")),
            List.of(Optional.of("a.photos"), Optional.of("a.clock")));
  }

  @Test
  void anEmptyCellStaysEmpty() {
    HomeScreen home = HomeScreen.of(3, List.of("a.web"), List.of(cell("2.3 a.web")));
    assertThat(home.rows().get(0)).containsOnly(Optional.empty());
    assertThat(home.rows().get(1))
        .containsExactly(Optional.empty(), Optional.empty(), Optional.of("a.web"));
  }

  private static HomeCell cell(String written) {
    return HomeCell.read(written).orElseThrow();
  }

  private static Tree policy(Map<String, String> kiosk) {
    Map<String, Leaf> leaves = new HashMap<>();
    kiosk.forEach((k, v) -> leaves.put("./Vendor/Pinwright/Policy/kiosk/" + k, new Leaf("chr", v)));
    leaves.put("./Vendor/Pinwright/Policy/passcode/required", new Leaf("bool", "true"));
    return new Tree(leaves);
  }

  @Test
  void itClosesWhenItsAppsAreThereAndDoesNotOpenAgainForAnother() {
    Tree wanted = policy(Map.of("mode", "one", "apps", "[\"museum.guide\"]"));
    Tree open = policy(Map.of());
    assertThat(Kiosk.closingLast(wanted, open, () -> "museum.guide"::equals))
        .isEqualTo(policy(Map.of("apps", "[\"museum.guide\"]")));
    assertThat(Kiosk.closingLast(wanted, open, () -> "museum.rota"::equals)).isEqualTo(wanted);
    Tree home = policy(Map.of("mode", "home", "apps", "[\"museum.guide\",\"system.web\"]"));
    assertThat(Kiosk.closingLast(home, open, () -> "museum.guide"::equals))
        .as("it has another to show")
        .isEqualTo(home);
    Tree another = policy(Map.of("mode", "one", "apps", "[\"system.web\"]"));
    assertThat(Kiosk.closingLast(wanted, another, () -> app -> true)).isEqualTo(wanted);
    assertThat(
            Kiosk.closingLast(
                open,
                open,
                () -> {
                  throw new AssertionError("nobody asks for apps where there is no kiosk");
                }))
        .isEqualTo(open);
  }
}
