package dev.pinwright.core.sheet;

import static org.assertj.core.api.Assertions.assertThat;

import dev.pinwright.core.organisation.Attribute;
import dev.pinwright.core.organisation.AttributeType;
import dev.pinwright.core.sheet.DeviceSheet.Own;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import java.util.stream.Stream;
import net.jqwik.api.Arbitraries;
import net.jqwik.api.Arbitrary;
import net.jqwik.api.Combinators;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import net.jqwik.api.Provide;
import org.junit.jupiter.api.Test;

class DeviceSheetTest {
  private static final Attribute ROOM =
      new Attribute("a1", "Room", Attribute.Kind.DEVICE, AttributeType.TEXT, List.of(), 0, 0);
  private static final Attribute WEIGHT =
      new Attribute("a2", "Weight", Attribute.Kind.DEVICE, AttributeType.NUMBER, List.of(), 0, 0);
  private static final List<Attribute> ATTRIBUTES = List.of(ROOM, WEIGHT);
  private static final Own KIOSK =
      new Own("AR10-0001", "d1", "Kiosk 1", List.of("quay"), List.of("a1"), List.of("Tower"));

  private static DeviceSheet read(Row... rows) {
    return DeviceSheet.of(List.of(rows), Map.of("AR10-0001", KIOSK), ATTRIBUTES);
  }

  private static Row row(int line, String... cells) {
    return new Row(
        line,
        IntStream.range(0, cells.length / 2)
            .boxed()
            .collect(Collectors.toMap(i -> cells[2 * i], i -> cells[2 * i + 1])));
  }

  @Test
  void aColumnThatIsLeftOutLeavesThingsAndAnEmptyCellTakesThemAway() {
    assertThat(read(row(2, "identifier", "ar10-0001")).changed()).isZero();
    DeviceSheet emptied = read(row(2, "identifier", "AR10-0001", "tags", "", "room", ""));
    assertThat(emptied.tags()).isEqualTo(Map.of("d1", Set.of()));
    assertThat(emptied.values()).isEqualTo(Map.of("d1", Map.of(ROOM, "")));
    assertThat(emptied.changed()).isEqualTo(1);
  }

  @Test
  void onlyWhatIsOtherThanBeforeIsAChange() {
    DeviceSheet sheet =
        read(
            row(2, "Identifier", " AR10-0001 ", "Tags", "quay", "Room", "Tower", "Weight", "1.50"));
    assertThat(sheet.tags()).isEmpty();
    assertThat(sheet.values()).isEqualTo(Map.of("d1", Map.of(WEIGHT, "1.5")));
  }

  @Test
  void aRowThatCannotBeTakenIsNamedWithItsLine() {
    DeviceSheet sheet =
        read(
            row(2, "identifier", "AR10-0001"),
            row(3, "identifier", "AR10-0001"),
            row(4, "identifier", ""),
            row(5, "identifier", "AR10-0009"),
            row(6, "identifier", "AR10-0001", "name", "Kiosk 2"),
            row(7, "identifier", "AR10-0001", "tags", "a/b"));
    assertThat(sheet.faults())
        .extracting(f -> f.line() + " " + f.fault())
        .containsExactly(
            "3 the same device is on line 2",
            "4 a serial number, IMEI or asset number is needed",
            "5 no managed device has 'AR10-0009'",
            "6 AR10-0001 is Kiosk 1; a sheet gives devices no other names",
            "7 the same device is on line 2");
  }

  @Test
  void whatASpreadsheetWouldCalculateIsKeptText() {
    assertThat(Row.inert("=1+1")).isEqualTo("'=1+1");
    assertThat(row(2, "name", "'=1+1").cell("name")).isEqualTo("=1+1");
    assertThat(row(2, "name", "'quoted'").cell("name")).isEqualTo("'quoted'");
    assertThat(Row.written(WEIGHT, "-4")).isEqualTo("-4");
  }

  @Property
  void whatIsWrittenOutChangesNothingWhenItIsTakenInAgain(@ForAll("owned") Own own) {
    List<String> heading =
        Stream.concat(DeviceSheet.COLUMNS.stream(), ATTRIBUTES.stream().map(Attribute::name))
            .toList();
    List<String> cells = own.cells(ATTRIBUTES);
    Row row =
        new Row(
            2,
            IntStream.range(0, heading.size())
                .boxed()
                .collect(Collectors.toMap(heading::get, cells::get)));
    DeviceSheet again =
        DeviceSheet.of(List.of(row), Map.of(DeviceSheet.plain(own.identifier()), own), ATTRIBUTES);
    assertThat(again.faults()).isEmpty();
    assertThat(again.changed()).isZero();
  }

  @Provide
  Arbitrary<Own> owned() {
    Arbitrary<String> text =
        Arbitraries.strings()
            .withChars("=+-@'aZ 9")
            .ofMinLength(1)
            .ofMaxLength(8)
            .map(String::strip)
            .filter(s -> !s.isEmpty() && !s.startsWith("'"));
    Arbitrary<List<String>> tags =
        Arbitraries.strings()
            .alpha()
            .ofMinLength(1)
            .ofMaxLength(5)
            .list()
            .uniqueElements()
            .ofMaxSize(3);
    return Combinators.combine(text, text, tags, text)
        .as(
            (identifier, name, own, room) ->
                new Own(identifier, "d1", name, own, List.of("a1", "a2"), List.of(room, "-1.5")));
  }
}
