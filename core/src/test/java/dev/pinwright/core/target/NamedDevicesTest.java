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

  @Test
  void areReadFromListsAndFromSheets() {
    assertThat(NamedDevices.read(List.of(" AR10-1 AR10-2", "\"AR10-3\";AR10-4,\tAR10-5 ", "", " ")))
        .containsExactly("AR10-1", "AR10-2", "AR10-3", "AR10-4", "AR10-5");
    assertThat(NamedDevices.read(List.of("\uFEFFSerial number", "AR10-1", "AR10-2")))
        .containsExactly("AR10-1", "AR10-2");
    assertThat(
            NamedDevices.read(
                List.of(
                    "\uFEFFName;Serial;IMEI",
                    "Kiosk 1;AR10-1;",
                    "Kiosk 2;\"AR10-2\";356938035643809",
                    "Phone 3;;490154203237518",
                    "nothing")))
        .as("one for each row, by what stands first under a heading")
        .containsExactly("AR10-1", "AR10-2", "490154203237518");
    assertThat(NamedDevices.read(List.of("AR10-1", "serial"))).containsExactly("AR10-1", "serial");
    assertThat(NamedDevices.read(List.of("", ";;"))).isEmpty();
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
