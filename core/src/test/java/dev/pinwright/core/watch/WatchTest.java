package dev.pinwright.core.watch;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;

/** Which changes of facts are told. */
class WatchTest {
  private static List<String> told(Map<String, String> before, Map<String, String> after) {
    return Watch.between(before, after).map(Watch.Change::words).toList();
  }

  private static List<String> changed(String key, String before, String after) {
    return told(Map.of("x", "y", key, before), Map.of("x", "y", key, after));
  }

  @Test
  void anotherSimIsToldAndTheFirstOneIsNot() {
    assertThat(changed("network/sim", "89999001", "89999002"))
        .containsExactly("Its SIM 89999001 became 89999002");
    assertThat(told(Map.of("network/sim", "89999001"), Map.of("x", "y")))
        .containsExactly("Its SIM 89999001 was taken out");
    assertThat(told(Map.of("x", "y"), Map.of("network/sim", "89999001"))).isEmpty();
    assertThat(changed("network/sim", "89999001", "89999001")).isEmpty();
  }

  @Test
  void whatGetsWorseIsToldOnceAndWhatGetsBetterIsNot() {
    assertThat(changed("security/tampered", "false", "true"))
        .containsExactly("Its system was tampered with");
    assertThat(changed("security/tampered", "true", "true")).isEmpty();
    assertThat(changed("security/tampered", "true", "false")).isEmpty();
    assertThat(changed("system/os-version", "7.2.1", "7.1"))
        .containsExactly("Its OS went back from 7.2.1 to 7.1");
    assertThat(changed("system/os-version", "7.1", "7.2.1")).isEmpty();
    assertThat(changed("system/os-version", "7.1", "seven")).as("no version").isEmpty();
    assertThat(changed("battery/health", "84", "79"))
        .containsExactly("Its battery holds 79 % of what it held new");
    assertThat(changed("battery/health", "79", "78")).as("told already").isEmpty();
  }

  @Test
  void storageIsToldByItsShare() {
    Map<String, String> room = Map.of("storage/capacity", "1000", "storage/free", "60");
    Map<String, String> little = Map.of("storage/capacity", "1000", "storage/free", "40");
    assertThat(told(room, little)).containsExactly("Its storage is nearly full");
    assertThat(told(little, little)).isEmpty();
    assertThat(told(little, room)).isEmpty();
    assertThat(told(room, Map.of("storage/free", "40"))).as("of how much?").isEmpty();
  }

  @Test
  void ofADeviceReadForTheFirstTimeNothingIsNews() {
    assertThat(told(Map.of(), Map.of("security/tampered", "true", "battery/health", "10")))
        .isEmpty();
  }
}
