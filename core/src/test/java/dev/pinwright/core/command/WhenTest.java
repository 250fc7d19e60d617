package dev.pinwright.core.command;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.pinwright.core.Fault;
import dev.pinwright.core.command.When.Slot;
import dev.pinwright.core.command.When.Window;
import java.time.Instant;
import java.time.LocalDateTime;
import java.time.LocalTime;
import java.time.ZoneId;
import java.util.Optional;
import org.junit.jupiter.api.Test;

/** When the commands of an order are sent, here and elsewhere. */
class WhenTest {
  private static final ZoneId ISLAND = ZoneId.of("Etc/GMT+1");
  private static final ZoneId EAST = ZoneId.of("CET");
  private static final Instant NOON = Instant.parse("2026-11-30T12:00:00Z");

  private static When local(String time) {
    return new When(
        Optional.empty(), Optional.of(LocalDateTime.parse(time)), Optional.empty(), ISLAND, false);
  }

  private static When nightly(String from, String to) {
    return new When(
        Optional.empty(),
        Optional.empty(),
        Optional.of(new Window(LocalTime.parse(from), LocalTime.parse(to))),
        ISLAND,
        false);
  }

  private static Slot slot(String from, String until) {
    return new Slot(Instant.parse(from), Optional.of(Instant.parse(until)));
  }

  @Test
  void atOnceIsNowEverywhereAndATimeThereIsAnotherMomentElsewhere() {
    assertThat(When.now(ISLAND).first(EAST, NOON)).isEqualTo(new Slot(NOON, Optional.empty()));
    When half = local("2026-12-01T02:30");
    assertThat(half.first(EAST, NOON).from()).isEqualTo("2026-12-01T01:30:00Z");
    assertThat(half.first(ISLAND, NOON).from()).isEqualTo("2026-12-01T03:30:00Z");
    assertThat(local("2026-11-30T11:30").first(EAST, NOON).from())
        .as("it is past that time there")
        .isEqualTo(NOON);
  }

  @Test
  void anHourThatIsOverOrFarAheadIsNotOrdered() {
    assertThatThrownBy(() -> local("2026-11-30T10:59").first(ISLAND, NOON))
        .isInstanceOf(Fault.class);
    assertThatThrownBy(() -> local("2028-01-01T00:00").first(ISLAND, NOON))
        .hasMessageContaining("within a year");
    When both =
        new When(
            Optional.of(NOON.plusSeconds(60)),
            Optional.of(LocalDateTime.parse("2026-12-01T02:30")),
            Optional.empty(),
            ISLAND,
            false);
    assertThatThrownBy(() -> both.first(ISLAND, NOON)).hasMessageContaining("one time");
    assertThatThrownBy(() -> nightly("22:00", "22:00")).isInstanceOf(Fault.class);
  }

  @Test
  void aNightBeginsInTheEveningAndTheNextOneFollows() {
    When night = nightly("22:00", "05:00");
    Slot first = night.first(EAST, NOON);
    assertThat(first).isEqualTo(slot("2026-11-30T21:00:00Z", "2026-12-01T04:00:00Z"));
    assertThat(night.slot(EAST, first.until().orElseThrow()))
        .isEqualTo(slot("2026-12-01T21:00:00Z", "2026-12-02T04:00:00Z"));
    Instant late = Instant.parse("2026-12-01T02:00:00Z");
    assertThat(night.first(EAST, late))
        .as("in the middle of one")
        .isEqualTo(new Slot(late, Optional.of(Instant.parse("2026-12-01T04:00:00Z"))));
    assertThat(nightly("09:00", "17:00").first(ISLAND, NOON).from()).isEqualTo(NOON);
  }

  @Test
  void clocksThatArePutForwardAndBackLoseNoNight() {
    When night = nightly("02:15", "02:45");
    Slot skipped = night.slot(EAST, Instant.parse("2026-03-28T12:00:00Z"));
    assertThat(skipped.from()).as("there is no such hour").isEqualTo("2026-03-29T01:15:00Z");
    Instant at = Instant.parse("2026-10-20T00:00:00Z");
    for (int i = 0; i < 14; i++) {
      Slot next = night.slot(EAST, at);
      assertThat(next.from()).isAfterOrEqualTo(at);
      assertThat(next.until().orElseThrow()).isAfter(next.from());
      at = next.until().orElseThrow();
    }
    assertThat(at).isEqualTo("2026-11-02T01:45:00Z");
  }

  @Test
  void aDeviceThatTellsNoZoneIsWhereTheOrderIs() {
    assertThat(When.now(ISLAND).there("")).isEqualTo(ISLAND);
    assertThat(When.now(ISLAND).there("Nowhere/Else")).isEqualTo(ISLAND);
    assertThat(When.now(ISLAND).there("CET")).isEqualTo(EAST);
  }
}
