package dev.pinwright.core.organisation;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.pinwright.core.app.InstallOptions;
import java.util.Optional;
import org.junit.jupiter.api.Test;

class LargePackagesTest {
  private static final LargePackages NIGHTS = new LargePackages(50, "Mon-Sun 22:00-06:00");

  @Test
  void whatIsLargerComesInAtItsTimes() {
    assertThat(NIGHTS.hours(50_000_000)).isEmpty();
    assertThat(NIGHTS.hours(50_000_001)).contains("Mon-Sun 22:00-06:00");
    assertThat(new LargePackages(0, "Sat,Sun 08:00-10:00").hours(1)).isPresent();
  }

  @Test
  void timesOfAnAssignmentGoBeforeThoseOfASite() {
    InstallOptions own =
        new InstallOptions(false, true, true, Optional.of("Mon 01:00-02:00"), false);
    assertThat(own.at(NIGHTS.hours(60_000_000)).hours()).contains("Mon 01:00-02:00");
    assertThat(InstallOptions.PLAIN.at(NIGHTS.hours(60_000_000)).hours())
        .contains("Mon-Sun 22:00-06:00");
    assertThat(InstallOptions.PLAIN.at(NIGHTS.hours(1))).isEqualTo(InstallOptions.PLAIN);
    assertThat(own.waits()).contains("on Wi-Fi, while charging, Mon 01:00-02:00");
    assertThat(InstallOptions.PLAIN.waits()).isEmpty();
  }

  @Test
  void whatIsNoSizeOrNoTimeIsSaid() {
    assertThatThrownBy(() -> new LargePackages(-1, "Mon 01:00-02:00"))
        .hasMessageContaining("0 to 100000 MB");
    assertThatThrownBy(() -> new LargePackages(100_001, "Mon 01:00-02:00"))
        .hasMessageContaining("not 100001");
    assertThatThrownBy(() -> new LargePackages(5, "at night"))
        .hasMessageContaining("Mon-Fri 20:00-06:00");
  }
}
