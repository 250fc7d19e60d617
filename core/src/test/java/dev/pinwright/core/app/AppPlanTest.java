package dev.pinwright.core.app;

import static org.assertj.core.api.Assertions.assertThat;

import dev.pinwright.core.Sha256;
import dev.pinwright.core.app.AppPlan.Install;
import dev.pinwright.core.app.AppPlan.Remove;
import dev.pinwright.core.device.OsVersion;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.junit.jupiter.api.Test;

class AppPlanTest {
  private static final Instant NOW = Instant.parse("2026-11-29T09:00:00Z");
  private static final String ID = "vellmar.rota";
  private static final Release FOUR =
      new Release(
          4, "4.0", Map.of("tarn", OsVersion.parse("7.0")), 20, "a".repeat(64), Optional.empty());

  private static AppGoal goal(Presence presence, InstallOptions options, String configuration) {
    WantedApp wanted =
        new WantedApp("rota", presence, Optional.of(4L), "4.0", false, options, "", "");
    return new AppGoal(
        ID,
        "Rota",
        Map.of(),
        wanted,
        presence == Presence.FORBIDDEN ? Optional.empty() : Optional.of(FOUR),
        configuration,
        Optional.empty(),
        Optional.empty());
  }

  private static AppGoal required() {
    return goal(Presence.REQUIRED, InstallOptions.PLAIN, "");
  }

  private static AppGoal unlicensed(Presence presence, boolean coming) {
    AppGoal g = goal(presence, InstallOptions.PLAIN, "");
    return new AppGoal(
        g.id(),
        g.name(),
        g.about(),
        g.wanted(),
        g.release(),
        g.configuration(),
        Optional.empty(),
        Optional.of(new AppGoal.Unlicensed("no license is free", coming)));
  }

  private static Installed rota(String version, boolean managed) {
    return new Installed(ID, "Rota", version, true, managed, 20, "pinwright", "", "x");
  }

  private static Attempt attempt(Attempt.State state, int tries, Duration ago, int code) {
    return new Attempt(
        "01J",
        ID,
        Attempt.Action.INSTALL,
        4,
        "",
        state,
        tries,
        NOW.minus(ago),
        code,
        Outcome.of(code == 0 ? Outcome.DONE : code).reason());
  }

  private static AppPlan plan(AppGoal goal, List<Installed> there, Attempt... before) {
    return AppPlan.of(
        List.of(goal),
        Inventory.of(there),
        before.length == 0 ? Map.of() : Map.of(ID, before[0]),
        Set.of(),
        NOW);
  }

  @Test
  void whatIsRequiredAndMissingIsInstalledAndWhatIsThereIsLeftAlone() {
    AppPlan missing = plan(required(), List.of());
    assertThat(missing.steps()).containsExactly(new Install(required(), 0));
    assertThat(missing.underWay()).containsExactly("Rota");
    assertThat(plan(required(), List.of(rota("4.0", true))).settled()).isTrue();
  }

  @Test
  void anotherVersionIsUpdatedAndAHoldersCopyOnlyTakenOverWhereThatIsWanted() {
    assertThat(plan(required(), List.of(rota("3.9", true))).steps())
        .containsExactly(new Install(required(), 0));
    AppPlan theirs = plan(required(), List.of(rota("4.0", false)));
    assertThat(theirs.steps()).isEmpty();
    assertThat(theirs.failing())
        .containsExactly("Rota was installed by the holder, and is not taken over");
    InstallOptions takeOver = new InstallOptions(true, false, false, Optional.empty(), false);
    assertThat(plan(goal(Presence.REQUIRED, takeOver, ""), List.of(rota("4.0", false))).steps())
        .hasSize(1);
  }

  @Test
  void anotherConfigurationIsBroughtAndADeviceThatReckonsItsDigestOtherwiseIsBelieved() {
    AppGoal configured = goal(Presence.REQUIRED, InstallOptions.PLAIN, "c0ffee");
    assertThat(plan(configured, List.of(rota("4.0", true))).steps()).hasSize(1);
    Attempt done =
        new Attempt(
            "01J",
            ID,
            Attempt.Action.INSTALL,
            4,
            "c0ffee",
            Attempt.State.DONE,
            1,
            NOW,
            Outcome.DONE,
            "");
    assertThat(plan(configured, List.of(rota("4.0", true)), done).settled()).isTrue();
  }

  @Test
  void whatIsOfferedWaitsForTheHolderAndIsKeptUpToDateOnceItIsThere() {
    AppGoal offered = goal(Presence.OFFERED, InstallOptions.PLAIN, "");
    assertThat(plan(offered, List.of()).settled()).isTrue();
    assertThat(plan(offered, List.of(rota("3.0", false))).settled()).isTrue();
    assertThat(plan(offered, List.of(rota("3.0", true))).steps()).hasSize(1);
    assertThat(AppPlan.of(List.of(offered), Inventory.EMPTY, Map.of(), Set.of(ID), NOW).steps())
        .containsExactly(new Install(offered, 0));
    AppPlan picked =
        plan(offered, List.of(), attempt(Attempt.State.UNDER_WAY, 1, Duration.ofHours(1), 0));
    assertThat(picked.underWay()).containsExactly("Rota");
  }

  @Test
  void whatIsForbiddenOrNoLongerAssignedIsRemovedButNothingOfTheHoldersBesides() {
    AppGoal forbidden = goal(Presence.FORBIDDEN, InstallOptions.PLAIN, "");
    assertThat(plan(forbidden, List.of(rota("1.0", false))).steps())
        .containsExactly(new Remove(rota("1.0", false), 0));
    assertThat(plan(forbidden, List.of()).settled()).isTrue();
    Inventory there =
        Inventory.of(
            List.of(
                rota("4.0", true),
                new Installed("holder.game", "A game", "1", true, false, 0, "store", "", "y")));
    assertThat(AppPlan.of(List.of(), there, Map.of(), Set.of(), NOW).steps())
        .containsExactly(new Remove(rota("4.0", true), 0));
  }

  @Test
  void whatIsUnderWayIsWaitedForAndAskedAgainWhenItTakesTooLong() {
    AppPlan under =
        plan(required(), List.of(), attempt(Attempt.State.UNDER_WAY, 1, Duration.ofHours(1), 0));
    assertThat(under.steps()).isEmpty();
    assertThat(under.underWay()).containsExactly("Rota");
    assertThat(under.due()).contains(NOW.plus(Duration.ofHours(11)));
    assertThat(
            plan(required(), List.of(), attempt(Attempt.State.UNDER_WAY, 1, Attempt.PATIENCE, 0))
                .steps())
        .containsExactly(new Install(required(), 1));
  }

  @Test
  void whatTheDeviceMayNotHaveHeardOfIsSaidAgainAsTheSameAttempt() {
    AppPlan plan =
        plan(required(), List.of(), attempt(Attempt.State.SENT, 1, Duration.ofSeconds(1), 0));
    assertThat(plan.steps()).containsExactly(new Install(required(), 0, Optional.of("01J")));
    assertThat(plan.underWay()).containsExactly("Rota");
  }

  @Test
  void whatFailedIsTriedLaterAndLaterAndNotForEver() {
    AppPlan first =
        plan(
            required(),
            List.of(),
            attempt(Attempt.State.FAILED, 1, Duration.ofMinutes(9), Outcome.NO_ROOM_TO_INSTALL));
    assertThat(first.failing())
        .containsExactly("Rota could not be installed: there is no room to install it");
    assertThat(first.due()).contains(NOW.plus(Duration.ofMinutes(1)));
    assertThat(
            plan(
                    required(),
                    List.of(),
                    attempt(Attempt.State.FAILED, 3, Duration.ofMinutes(160), 1402))
                .steps())
        .containsExactly(new Install(required(), 3));
    AppPlan last =
        plan(
            required(),
            List.of(),
            attempt(Attempt.State.FAILED, Attempt.MOST, Duration.ofDays(30), 1402));
    assertThat(last.steps()).isEmpty();
    assertThat(last.due()).isEmpty();
    assertThat(last.failing())
        .containsExactly(
            "Rota could not be installed: the package could not be fetched; tried 5 times");
  }

  @Test
  void whatWouldEndTheSameWayIsNotTriedAgainUntilSomethingElseIsWanted() {
    Attempt refused = attempt(Attempt.State.FAILED, 1, Duration.ofDays(9), Outcome.CANCELLED);
    assertThat(plan(required(), List.of(), refused).steps()).isEmpty();
    AppGoal other = goal(Presence.REQUIRED, InstallOptions.PLAIN, "c0ffee");
    assertThat(plan(other, List.of(), refused).steps()).hasSize(1);
  }

  @Test
  void whatIsUndoneAgainAndAgainIsDamped() {
    assertThat(
            plan(required(), List.of(), attempt(Attempt.State.DONE, 1, Duration.ofSeconds(1), 1200))
                .steps())
        .containsExactly(new Install(required(), 1));
    AppPlan again =
        plan(required(), List.of(), attempt(Attempt.State.DONE, 2, Duration.ofSeconds(1), 1200));
    assertThat(again.steps()).isEmpty();
    assertThat(again.failing())
        .containsExactly("Rota could not be installed: the device says it did, and it is not so");
    assertThat(
            plan(required(), List.of(), attempt(Attempt.State.DONE, 5, Duration.ofDays(1), 1200))
                .steps())
        .containsExactly(new Install(required(), 0));
  }

  @Test
  void aDeviceThatCannotHaveItIsToldNothing() {
    AppGoal cannot =
        new AppGoal(
            ID,
            "Rota",
            Map.of(),
            required().wanted(),
            Optional.of(FOUR),
            "",
            FOUR.objection("tarn", OsVersion.parse("6.3")),
            Optional.empty());
    AppPlan plan = plan(cannot, List.of());
    assertThat(plan.steps()).isEmpty();
    assertThat(plan.failing())
        .containsExactly(
            "Rota cannot be installed: version 4.0 needs tarn 7.0 or later, and this is 6.3");
    assertThat(FOUR.objection("moor")).contains("version 4.0 is not for moor");
  }

  @Test
  void whatHasNoLicenseComesWhenOneIsOnItsWayAndFailsWhenNoneIs() {
    AppPlan comes = plan(unlicensed(Presence.REQUIRED, true), List.of());
    assertThat(comes.steps()).isEmpty();
    assertThat(comes.underWay()).containsExactly("Rota");
    AppPlan fails = plan(unlicensed(Presence.REQUIRED, false), List.of());
    assertThat(fails.steps()).isEmpty();
    assertThat(fails.failing()).containsExactly("Rota cannot be installed: no license is free");
    assertThat(plan(unlicensed(Presence.REQUIRED, false), List.of(rota("3.9", true))).failing())
        .containsExactly("Rota cannot be updated: no license is free");
    assertThat(plan(unlicensed(Presence.REQUIRED, false), List.of(rota("4.0", true))).settled())
        .as("what is there is not failing")
        .isTrue();
  }

  @Test
  void whatIsPickedWithoutALicenseKeepsNoDeviceFromBeingSettled() {
    AppGoal none = unlicensed(Presence.OFFERED, false);
    AppPlan plan = AppPlan.of(List.of(none), Inventory.of(List.of()), Map.of(), Set.of(ID), NOW);
    assertThat(plan.settled()).isTrue();
    AppGoal coming = unlicensed(Presence.OFFERED, true);
    assertThat(
            AppPlan.of(List.of(coming), Inventory.of(List.of()), Map.of(), Set.of(ID), NOW)
                .underWay())
        .containsExactly("Rota");
  }

  @Test
  void theDigestIsOverTheAppsInOrderOfTheirIds() {
    Inventory there =
        Inventory.of(
            List.of(
                rota("4.0", true),
                new Installed("holder.game", "A game", "1", false, false, 9, "store", "", "y")));
    assertThat(there.digest())
        .isEqualTo(Sha256.hex("holder.game=1:inactive:false:\nvellmar.rota=4.0:active:true:\n"));
  }

  @Test
  void resultCodesAreReadWithWhatTheDeviceSaid() {
    assertThat(Outcome.read("1200")).isEqualTo(new Outcome(1200, ""));
    assertThat(Outcome.read("1405 signature of 2019").reason())
        .isEqualTo("the device could not install it (signature of 2019)");
    assertThat(Outcome.read("it broke"))
        .isEqualTo(new Outcome(1400, "the device could not do it (it broke)"));
    assertThat(Outcome.of(1401).lasting()).isTrue();
    assertThat(Outcome.of(1402).lasting()).isFalse();
    assertThat(Outcome.ofStatus(420, "full").code()).isEqualTo(Outcome.NO_ROOM_TO_DOWNLOAD);
  }

  @Test
  void anIdIsWordsWithDotsBetween() {
    assertThat(AppId.key(AppId.read("vellmar.gallery-guide"))).isEqualTo("gallery-guide");
    for (String wrong :
        List.of("rota", "Vellmar.Rota", "vellmar..rota", ".rota", "a." + "b".repeat(99))) {
      org.assertj.core.api.Assertions.assertThatIllegalArgumentException()
          .isThrownBy(() -> AppId.read(wrong));
    }
  }

  @Test
  void whatComesWithTheOsIsBlockedWhileItIsForbiddenAndLetInAgain() {
    Installed camera = new Installed(ID, "Camera", "7.2", true, false, 0, "system", "", "x");
    Installed blocked = new Installed(ID, "Camera", "7.2", false, false, 0, "system", "", "x");
    AppGoal forbidden = goal(Presence.FORBIDDEN, InstallOptions.PLAIN, "");
    assertThat(plan(forbidden, List.of(camera)).steps())
        .containsExactly(new AppPlan.Remove(camera, 0, Optional.empty()));
    Attempt done =
        new Attempt("01J", ID, Attempt.Action.REMOVE, 0, "", Attempt.State.DONE, 1, NOW, 1200, "");
    assertThat(plan(forbidden, List.of(blocked), done).settled()).isTrue();
    AppPlan after =
        AppPlan.of(List.of(), Inventory.of(List.of(blocked)), Map.of(ID, done), Set.of(), NOW);
    assertThat(after.steps()).containsExactly(new AppPlan.Activate(blocked, 0, Optional.empty()));
    assertThat(
            AppPlan.of(List.of(), Inventory.of(List.of(blocked)), Map.of(), Set.of(), NOW)
                .settled())
        .isTrue();
  }
}
