package dev.pinwright.core.roster;

import static org.assertj.core.api.Assertions.assertThat;

import dev.pinwright.core.device.Identifier;
import java.util.List;
import java.util.Map;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import org.junit.jupiter.api.Test;

class RosterLineTest {
  private static RosterLine read(String serial, String imei) {
    return RosterLine.read(Map.of(Column.SERIAL, serial, Column.IMEI, imei));
  }

  @Test
  void spacesAndLetterCaseArePutRightAndSaid() {
    RosterLine line = read(" ar10-0042-7731 ", "00 440123 000001 6");
    assertThat(line.identifier(Identifier.Kind.SERIAL)).hasValue("AR10-0042-7731");
    assertThat(line.identifier(Identifier.Kind.IMEI)).hasValue("004401230000016");
    assertThat(line.notes())
        .containsExactly(
            "' ar10-0042-7731 ' was read as AR10-0042-7731",
            "'00 440123 000001 6' was read as 004401230000016");
    assertThat(line.faults()).isEmpty();
  }

  @Test
  void aWrongCheckDigitIsAFaultThatNamesTheRightOne() {
    assertThat(read("", "004401230000017").faults())
        .containsExactly("IMEI 004401230000017 has a wrong check digit: it would have to end in 6");
    assertThat(read("AR10-1", "00440123").faults())
        .singleElement()
        .asString()
        .contains("15 digits");
  }

  @Test
  void aLineHasToNameADevice() {
    assertThat(read(" ", "").faults())
        .containsExactly("it has no serial number, IMEI or asset number");
    assertThat(RosterLine.read(Map.of(Column.ASSET, "vm 00071")).identifier(Identifier.Kind.ASSET))
        .hasValue("VM00071");
  }

  @Test
  void tagsAreSplitAndTextsTrimmed() {
    RosterLine line =
        RosterLine.read(
            Map.of(
                Column.SERIAL, "AR10-1",
                Column.TAGS, "gallery; kiosk , gallery|",
                Column.UNIT, " VM-HAR\u00a0",
                Column.NAME, ""));
    assertThat(line.tags()).containsExactly("gallery", "kiosk");
    assertThat(line.text(Column.UNIT)).isEqualTo("VM-HAR");
    assertThat(line.texts()).doesNotContainKey(Column.NAME);
    assertThat(RosterLine.read(Map.of(Column.SERIAL, "AR10-1", Column.TAGS, "<b>")).faults())
        .hasSize(1);
    assertThat(
            RosterLine.read(Map.of(Column.SERIAL, "AR10-1", Column.NAME, "x".repeat(81))).faults())
        .containsExactly("name has more than 80 characters");
  }

  @Test
  void headingsAreMatchedByWhatTheyAreCalledAndByWhatWasChosenBefore() {
    assertThat(
            Column.match(
                List.of("Serial No", "IMEI_1", "Raum", "Holder", "Serial"), Map.of("Raum", "site")))
        .containsExactlyInAnyOrderEntriesOf(
            Map.of(
                "Serial No", Column.SERIAL,
                "IMEI_1", Column.IMEI,
                "Raum", Column.SITE,
                "Holder", Column.PERSON));
    assertThat(Column.called("Wheels")).isEmpty();
  }

  @Property
  void whateverACellHoldsALineIsReadOrHasAFault(@ForAll String serial, @ForAll String imei) {
    RosterLine line = read(serial, imei);
    assertThat(line.identifiers().isEmpty() && line.faults().isEmpty()).isFalse();
  }
}
