package dev.pinwright.core.lost;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.Test;

/** When a lost device is asked, when hearing it is news, and what is put back once it is found. */
class LostCaseTest {
  private static final Instant AT = Instant.parse("2026-03-02T09:00:00Z");

  private static LostCase lost(
      boolean personal, CaseState state, Integer every, Instant looked, Instant heard) {
    return lost(personal, state, every, null, null, looked, heard);
  }

  private static LostCase ringing(boolean personal, CaseState state, Instant rung) {
    return lost(personal, state, 5, "pier", rung, null, null);
  }

  private static LostCase lost(
      boolean personal,
      CaseState state,
      Integer every,
      String ringSite,
      Instant rung,
      Instant looked,
      Instant heard) {
    return new LostCase(
        "c",
        0,
        "d",
        "Lighthouse phone",
        personal,
        Optional.empty(),
        state,
        "left on the ferry",
        "",
        "",
        Optional.ofNullable(every),
        Optional.empty(),
        Optional.ofNullable(ringSite),
        Optional.ofNullable(ringSite),
        Optional.ofNullable(rung),
        Optional.ofNullable(looked),
        Optional.ofNullable(heard),
        AT,
        "tova",
        Optional.empty(),
        Optional.empty(),
        "");
  }

  @Test
  void itRingsWhereItShouldEachTimeItSaysSoButNotWithoutEnd() {
    Optional<String> pier = Optional.of("pier");
    LostCase open = ringing(false, CaseState.OPEN, null);
    assertThat(open.ringsNow(after(5), pier, after(4))).isTrue();
    assertThat(open.ringsNow(after(5), pier, AT.minusSeconds(1)))
        .as("where it was before it was lost")
        .isFalse();
    assertThat(open.ringsNow(after(5), Optional.of("mill"), after(4))).isFalse();
    assertThat(open.ringsNow(after(5), Optional.empty(), after(4))).isFalse();
    LostCase rung = ringing(false, CaseState.OPEN, after(5));
    assertThat(rung.ringsNow(after(19), pier, after(18))).as("it rang a moment ago").isFalse();
    assertThat(rung.ringsNow(after(20), pier, after(19))).isTrue();
    assertThat(rung.ringsNow(after(40), pier, after(4))).as("not heard since").isFalse();
    assertThat(ringing(true, CaseState.OPEN, null).ringsNow(after(5), pier, after(4))).isFalse();
    assertThat(ringing(false, CaseState.FOUND, null).ringsNow(after(5), pier, after(4))).isFalse();
    assertThat(lost(false, CaseState.OPEN, 5, null, null).ringsNow(after(5), pier, after(4)))
        .as("nobody said where")
        .isFalse();
  }

  @Test
  void itWentMissingWithinTheLastYear() {
    assertThat(LostCase.objection(AT.minus(Duration.ofDays(365)), AT)).isEmpty();
    assertThat(LostCase.objection(AT, AT)).isEmpty();
    assertThat(LostCase.objection(AT.plusSeconds(1), AT)).isPresent();
    assertThat(LostCase.objection(AT.minus(Duration.ofDays(367)), AT)).isPresent();
  }

  private static Instant after(int minutes) {
    return AT.plus(Duration.ofMinutes(minutes));
  }

  @Test
  void itIsAskedAtOnceAndThenAsOftenAsWasSaid() {
    LostCase fresh = lost(false, CaseState.OPEN, 10, null, null);
    assertThat(fresh.asksNow(AT, false)).isTrue();
    LostCase asked = lost(false, CaseState.OPEN, 10, AT, null);
    assertThat(asked.asksNow(after(9), false)).isFalse();
    assertThat(asked.asksNow(after(10), false)).isTrue();
    assertThat(asked.asksNow(after(10), true)).as("it has not had the last yet").isFalse();
  }

  @Test
  void oneThatIsItsHoldersOwnOrFoundOrNotToBeAskedIsNot() {
    assertThat(lost(true, CaseState.OPEN, 10, null, null).asksNow(AT, false)).isFalse();
    assertThat(lost(false, CaseState.FOUND, 10, null, null).asksNow(AT, false)).isFalse();
    assertThat(lost(false, CaseState.OPEN, null, null, null).asksNow(AT, false)).isFalse();
  }

  @Test
  void theFirstSignOfLifeIsNewsAndThatAfterAWhileOfQuietAgain() {
    assertThat(lost(false, CaseState.OPEN, 10, null, null).isNews(after(1))).isTrue();
    assertThat(lost(false, CaseState.OPEN, 10, null, null).isNews(AT)).as("before it").isFalse();
    LostCase heard = lost(false, CaseState.OPEN, 10, null, after(1));
    assertThat(heard.isNews(after(11))).as("it is still there").isFalse();
    assertThat(heard.isNews(after(45))).isTrue();
  }

  @Test
  void aWeekIsLong() {
    LostCase open = lost(false, CaseState.OPEN, 10, null, null);
    assertThat(open.overdue(AT.plus(Duration.ofDays(6)))).isFalse();
    assertThat(open.overdue(AT.plus(Duration.ofDays(7)))).isTrue();
    assertThat(lost(false, CaseState.FOUND, 10, null, null).overdue(AT.plus(Duration.ofDays(9))))
        .isFalse();
  }

  @Test
  void whatWasDoneIsUndoneUnlessSomebodyDidSoAlready() {
    assertThat(PutBack.of(List.of("lock", "locate", "ring"))).containsExactly("unlock");
    assertThat(PutBack.of(List.of("lock", "unlock", "locate"))).isEmpty();
    assertThat(PutBack.of(List.of("lock", "unlock", "lock", "lock-sim")))
        .containsExactly("unlock", "unlock-sim");
    assertThat(PutBack.of(List.of("unlock"))).isEmpty();
    assertThat(PutBack.of(List.of())).isEmpty();
  }
}
