package dev.pinwright.core.target;

import static org.assertj.core.api.Assertions.assertThat;

import dev.pinwright.core.target.NamedDevices.Found;
import java.util.List;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import org.junit.jupiter.api.Test;

class NamedDevicesTest {
  private static final Found KIOSK = new Found("d1", "Kiosk 1", "AR10-0001");
  private static final List<Found> THERE =
      List.of(
          KIOSK,
          new Found("d1", "Kiosk 1", "VM-00125"),
          new Found("d2", "Kiosk 2", "AR10-0002"),
          new Found("d2", "Kiosk 2", "7"),
          new Found("d3", "Kiosk 3", "7"));

  @Test
  void eachIsFoundOnceAndTheRestIsSaid() {
    NamedDevices named =
        NamedDevices.of(
            List.of(" ar10-0001 ", "AR10-0009", "", "AR10-0001", "vm-00125", "7", "AR10-0002"),
            THERE);
    assertThat(named.found()).extracting(Found::id).containsExactly("d1", "d2");
    assertThat(named.unknown()).containsExactly("AR10-0009");
    assertThat(named.doubled())
        .as("named twice, and by another of its identifiers")
        .containsExactly("AR10-0001", "VM-00125");
    assertThat(named.several()).containsExactly("7");
  }

  @Property
  void nothingThatWasTypedIsLost(@ForAll List<String> typed) {
    NamedDevices named = NamedDevices.of(typed, THERE);
    for (String plain : NamedDevices.plain(typed)) {
      assertThat(
              named.unknown().contains(plain)
                  || named.doubled().contains(plain)
                  || named.several().contains(plain)
                  || named.found().stream().anyMatch(f -> f.identifier().equals(plain)))
          .as(plain)
          .isTrue();
    }
  }
}
