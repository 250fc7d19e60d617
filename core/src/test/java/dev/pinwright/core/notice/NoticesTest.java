package dev.pinwright.core.notice;

import static org.assertj.core.api.Assertions.assertThat;

import dev.pinwright.core.Lapse;
import dev.pinwright.core.gateway.PushCredential;
import dev.pinwright.core.license.Forecast.RunsOut;
import dev.pinwright.core.license.Licensing;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.Test;

/** What is said, when, and in what words. */
class NoticesTest {
  private static final Instant NOW = Instant.parse("2026-11-30T09:15:00Z");

  @Test
  void whatIsSaidDailyIsNewsOnceADay() {
    Notice one = Daily.roster(1).orElseThrow().daily(NOW);
    assertThat(one.key()).isEqualTo("roster 2026-11-30");
    assertThat(one.title()).isEqualTo("A device on the roster has not come in 30 days");
    assertThat(one.daily(NOW.plus(Duration.ofHours(15))).key()).isEqualTo("roster 2026-12-01");
    assertThat(Daily.roster(0)).isEmpty();
  }

  @Test
  void whoeverWaitsIsCountedAndTheFirstIsNamed() {
    assertThat(Daily.arrivals(0, Optional.empty())).isEmpty();
    assertThat(Daily.arrivals(1, Optional.of(NOW)).orElseThrow())
        .extracting(Notice::title, Notice::detail)
        .containsExactly(
            "A device waits for somebody to let it in",
            "The first asked on 30 November, 09:15 UTC. Approve or refuse them in Intake,"
                + " Arrivals.");
    assertThat(Daily.arrivals(3, Optional.of(NOW)).orElseThrow().title())
        .isEqualTo("3 devices wait for somebody to let them in");
  }

  @Test
  void oneThingIsNamedAndLeadsToItsPageManyAreCountedAndLeadToTheList() {
    Daily.Told staff = new Daily.Told("01A", "Staff", "3 of 5 turned it down");
    Notice one = Daily.waves(List.of(staff)).orElseThrow();
    assertThat(one.title()).isEqualTo("The waves of Staff stopped");
    assertThat(one.link()).isEqualTo("/rules/profiles/01A");
    Notice two = Daily.waves(List.of(staff, staff)).orElseThrow();
    assertThat(two.title()).isEqualTo("The waves of 2 profiles stopped");
    assertThat(two.link()).isEqualTo("/rules/profiles");
    assertThat(Daily.waves(List.of())).isEmpty();
    assertThat(Daily.versions(List.of(new Daily.Told("01B", "Rota", "4.2"))).orElseThrow())
        .extracting(Notice::title, Notice::link)
        .containsExactly("Rota 4.2 appeared", "/apps/catalogue?card=01B");
    assertThat(Daily.codes(List.of(new Daily.Told("01C", "Foyer", "2026-12-04"))).orElseThrow())
        .extracting(Notice::detail)
        .isEqualTo("Print new ones and hang them up: Foyer until 2026-12-04.");
    assertThat(Daily.cases(1, Optional.of(new Daily.Told("01D", "GLA-PH-014", ""))).orElseThrow())
        .extracting(Notice::title, Notice::link)
        .containsExactly("GLA-PH-014 has been lost for a week", "/devices/lost/01D");
    assertThat(Daily.cases(2, Optional.empty()).orElseThrow().link())
        .isEqualTo("/devices/lost?state=open");
  }

  @Test
  void licensesAreSaidToBeShortAtOnceAndSoonWhenTheyAreSoon() {
    Daily.Told rota = new Daily.Told("01B", "Rota", "");
    assertThat(licenses(rota, 0, Optional.empty())).isEmpty();
    assertThat(licenses(rota, 0, Optional.of(new RunsOut(Optional.empty(), 1, 2))).orElseThrow())
        .extracting(Notice::title, Notice::detail, Notice::urgent)
        .containsExactly(
            "Rota: at this rate none is left in 1 day",
            "Buy more in the vendor's portal before they run out; 2 are free.",
            false);
    assertThat(
            licenses(rota, 0, Optional.of(new RunsOut(Optional.of("Tollen"), 9, 1))).orElseThrow())
        .extracting(Notice::title, Notice::detail)
        .containsExactly(
            "Rota at Tollen: at this rate none is left in 9 days",
            "Buy more in the vendor's portal, or move some from another place, before they run"
                + " out; 1 is free.");
    assertThat(licenses(rota, 4, Optional.empty()).orElseThrow())
        .extracting(Notice::title, Notice::detail, Notice::urgent)
        .containsExactly(
            "Rota is 4 licenses short",
            "4 devices go without. Buy more in the vendor's portal, or move some from another"
                + " place.",
            true);
    assertThat(
            Daily.licenses(rota, Licensing.BY_HOLDER, 1, Optional.empty(), "/l")
                .orElseThrow()
                .detail())
        .startsWith("A holder goes without.");
  }

  private static Optional<Notice> licenses(Daily.Told app, long lacking, Optional<RunsOut> soon) {
    return Daily.licenses(app, Licensing.BY_DEVICE, lacking, soon, "/l");
  }

  @Test
  void whatFailsIsGivenTimeToWorkAgain() {
    Daily.Told dig = new Daily.Told("01E", "Dig", "no answer");
    Instant long_ = NOW.minus(Daily.FAILING_LONG).minusSeconds(1);
    Instant just = NOW.minus(Daily.FAILING_LONG).plusSeconds(1);
    assertThat(Daily.cache(dig, Optional.of(just), NOW)).isEmpty();
    assertThat(Daily.cache(dig, Optional.empty(), NOW)).isEmpty();
    assertThat(Daily.cache(dig, Optional.of(long_), NOW)).isPresent();
    assertThat(Daily.connection("mail", "no answer", Optional.of(just), NOW)).isEmpty();
    assertThat(Daily.connection("mail", "no answer", Optional.empty(), NOW)).isEmpty();
    assertThat(Daily.connection("mail", "It does not answer..", Optional.of(long_), NOW))
        .map(Notice::detail)
        .contains("It does not answer. Invitations and notices wait until it can.");
  }

  @Test
  void whatHappensTakesThePlaceOfWhatWasSaidOfTheSameThing() {
    Lapse lapse = new Lapse(NOW.plus(Duration.ofDays(14)));
    Notice fortnight = News.certificateLapses("01F", "Wi-Fi", lapse, 14, List.of("Staff"), NOW);
    Notice week = News.certificateLapses("01F", "Wi-Fi", lapse, 7, List.of("Staff"), NOW);
    assertThat(fortnight.about()).isEqualTo(week.about());
    assertThat(fortnight.key()).isNotEqualTo(week.key());
    assertThat(fortnight.urgent()).isFalse();
    assertThat(week.urgent()).isTrue();
    assertThat(fortnight.title()).isEqualTo("The certificate Wi-Fi lapses in 14 days");
    PushCredential held = new PushCredential("it@vellmar.example", "topic", lapse.at());
    assertThat(News.pushLapses("tarn", held, 14, NOW).about()).isEqualTo(News.push("tarn"));
    assertThat(News.lost("01D", "GLA-PH-014", "mira", "left on a train").key())
        .as("said once, and put away by what it is of")
        .isEqualTo(News.lost("01D"));
  }
}
