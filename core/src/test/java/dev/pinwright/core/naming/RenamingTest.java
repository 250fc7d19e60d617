package dev.pinwright.core.naming;

import static org.assertj.core.api.Assertions.assertThat;

import dev.pinwright.core.device.Identifier;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.OptionalLong;
import java.util.Random;
import java.util.Set;
import java.util.stream.Collectors;
import org.junit.jupiter.api.Test;

/** Many devices named anew by one pattern. */
class RenamingTest {
  private static Renaming.Device device(String id, String unit, Map<String, Long> numbers) {
    return new Renaming.Device(
        id,
        "old " + id,
        new NamePattern.Facts(
            List.of(new Identifier(Identifier.Kind.SERIAL, id)),
            "Arbor 10",
            "tarn",
            "Ines Orrin",
            unit,
            "Norhaven quay",
            ""),
        numbers);
  }

  private static List<Renaming.Renamed> renamed(
      String pattern, Set<String> taken, Renaming.Device... devices) {
    Map<String, Long> last = new HashMap<>();
    return Renaming.of(
        new NamePattern(pattern), List.of(devices), key -> last.merge(key, 1L, Long::sum), taken);
  }

  @Test
  void numbersGoInTheOrderGivenAndEachUnitCountsByItself() {
    assertThat(
            renamed(
                "{unit}-{seq:3}",
                Set.of(),
                device("A", "VM-HAR", Map.of()),
                device("B", "VM-CAFE", Map.of()),
                device("C", "VM-HAR", Map.of())))
        .extracting(Renaming.Renamed::after)
        .containsExactly("VM-HAR-001", "VM-CAFE-001", "VM-HAR-002");
  }

  @Test
  void whoHasANumberOfTheSequenceKeepsIt() {
    List<Renaming.Renamed> r =
        renamed(
            "Kiosk {seq:3}",
            Set.of(),
            device("A", "", Map.of("Kiosk #", 7L, "Till #", 3L)),
            device("B", "", Map.of("Till #", 4L)));
    assertThat(r).extracting(Renaming.Renamed::after).containsExactly("Kiosk 007", "Kiosk 001");
    assertThat(r)
        .extracting(Renaming.Renamed::given)
        .containsExactly(OptionalLong.empty(), OptionalLong.of(1));
  }

  @Test
  void nobodyIsCalledLikeAnother() {
    assertThat(
            renamed(
                "{model}",
                Set.of("arbor 10"),
                device("A", "", Map.of()),
                device("B", "", Map.of())))
        .extracting(Renaming.Renamed::after)
        .containsExactly("Arbor 10 (2)", "Arbor 10 (3)");
  }

  @Test
  void whateverThePatternNamesDifferFromEachOtherAndFromTheRest() {
    long seed = System.nanoTime();
    Random random = new Random(seed);
    List<String> patterns =
        List.of("{serial}", "{model}", "{unit} {seq}", "K{seq:2}", "{person}", "{site} {imei}");
    for (int run = 0; run < 300; run++) {
      List<Renaming.Device> devices = new ArrayList<>();
      for (int i = 0; i < random.nextInt(40); i++) {
        devices.add(device("D" + i, "U" + random.nextInt(3), Map.of()));
      }
      Set<String> taken =
          random
              .ints(random.nextInt(10), 0, 10)
              .mapToObj(i -> "k0" + i)
              .collect(Collectors.toSet());
      String pattern = patterns.get(random.nextInt(patterns.size()));
      List<String> names =
          renamed(pattern, taken, devices.toArray(Renaming.Device[]::new)).stream()
              .map(r -> r.after().toLowerCase(Locale.ROOT))
              .toList();
      assertThat(names).as("seed %d, %s", seed, pattern).doesNotHaveDuplicates();
      assertThat(names.stream().filter(taken::contains)).as("seed %d, %s", seed, pattern).isEmpty();
    }
  }
}
