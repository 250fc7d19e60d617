package dev.pinwright.sandbox.device;

import static org.assertj.core.api.Assertions.assertThat;

import dev.pinwright.catalog.Catalogue;
import dev.pinwright.core.device.OsVersion;
import java.time.LocalDateTime;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** A simulated device is updated when its settings have it, and not before. */
class UpdatesTest {
  /** 7.2.1 came out on 12 October; this is a Monday. */
  private static final LocalDateTime NOON = LocalDateTime.parse("2026-11-30T12:00");

  private static final LocalDateTime NIGHT = LocalDateTime.parse("2026-11-30T03:00");
  private final State state = new State();
  private final Updates updates =
      new Updates(
          Catalogue.load().catalog().platform("tarn").orElseThrow(), state, new Obedience(state));

  @BeforeEach
  void managed() {
    state.stage = State.Stage.JOINED;
    state.osVersion = "7.1";
  }

  private void set(String name, String value) {
    state.policy.put("./Vendor/Pinwright/Policy/updates/" + name, new String[] {"chr", value});
  }

  @Test
  void whereNothingIsSaidNothingComesByItself() {
    assertThat(updates.offered(NOON.toLocalDate())).isEmpty();
    set("when", "holder");
    assertThat(updates.offered(NOON.toLocalDate())).contains(OsVersion.parse("7.2.1"));
    assertThat(updates.due(NOON)).isEmpty();
    assertThat(updates.due(NIGHT)).isEmpty();
  }

  @Test
  void itComesInItsWindowOrAtOnce() {
    set("when", "window");
    set("window", "Mon-Fri 02:00-05:00");
    assertThat(updates.due(NOON)).isEmpty();
    assertThat(updates.due(NIGHT)).contains(OsVersion.parse("7.2.1"));
    assertThat(updates.words(OsVersion.parse("7.2.1")))
        .isEqualTo("It is installed Mon-Fri 02:00-05:00.");
    set("when", "at-once");
    assertThat(updates.due(NOON)).contains(OsVersion.parse("7.2.1"));
    state.osVersion = "7.2.1";
    assertThat(updates.due(NOON)).as("it has the newest").isEmpty();
  }

  @Test
  void itIsNotOfferedBeforeItWaitedAndComesAtTheLatestWhenTheTimeIsUp() {
    set("when", "holder");
    set("deferral", "60");
    assertThat(updates.offered(NOON.toLocalDate()))
        .as("7.2.1 is not yet out for sixty days, 7.2 is")
        .contains(OsVersion.parse("7.2"));
    set("deferral", "1");
    set("deadline", "30");
    assertThat(updates.due(LocalDateTime.parse("2026-11-11T12:00"))).isEmpty();
    assertThat(updates.due(LocalDateTime.parse("2026-11-12T12:00")))
        .contains(OsVersion.parse("7.2.1"));
    assertThat(updates.words(OsVersion.parse("7.2.1")))
        .isEqualTo("It is installed on 2026-11-12 at the latest.");
  }

  @Test
  void itWaitsForPowerAndWiFiWhereItShould() {
    set("when", "at-once");
    set("charging-only", "true");
    set("wifi-only", "true");
    assertThat(updates.due(NOON)).isEmpty();
    state.charging = true;
    assertThat(updates.due(NOON)).isPresent();
    state.faults.add("cellular");
    assertThat(updates.due(NOON)).isEmpty();
  }
}
