package dev.pinwright.core.naming;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatIllegalArgumentException;

import dev.pinwright.core.device.Identifier;
import java.util.HashSet;
import java.util.List;
import java.util.OptionalLong;
import java.util.Set;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import net.jqwik.api.constraints.IntRange;
import net.jqwik.api.constraints.Size;
import org.junit.jupiter.api.Test;

class NamePatternTest {
  private static final NamePattern.Facts TABLET =
      new NamePattern.Facts(
          List.of(
              new Identifier(Identifier.Kind.SERIAL, "AR10-0042-7731"),
              new Identifier(Identifier.Kind.IMEI, "004401230000016"),
              new Identifier(Identifier.Kind.ASSET, "VM-00071")),
          "T10",
          "tarn",
          "Ines Orrin",
          "VM-HAR",
          "Norhaven quay",
          "Quay door");
  private static final NamePattern.Facts BARE =
      new NamePattern.Facts(List.of(), "T10", "tarn", "", "", "", "");

  private static String name(String pattern, NamePattern.Facts facts) {
    return new NamePattern(pattern).name(facts, OptionalLong.empty());
  }

  @Test
  void everyPlaceIsFilledFromWhatIsKnown() {
    assertThat(name("{serial}", TABLET)).isEqualTo("AR10-0042-7731");
    assertThat(name("{imei}", TABLET)).isEqualTo("004401230000016");
    assertThat(name("P5 {imei:last4}", TABLET)).isEqualTo("P5 0016");
    assertThat(name("{asset}", TABLET)).isEqualTo("VM-00071");
    assertThat(name("{person}'s {model}", TABLET)).isEqualTo("Ines Orrin's T10");
    assertThat(name("{unit} {site}", TABLET)).isEqualTo("VM-HAR Norhaven quay");
    assertThat(name("{platform}: {sheet}", TABLET)).isEqualTo("tarn: Quay door");
  }

  @Test
  void whatIsNotKnownLeavesNoHole() {
    assertThat(name("{unit} {person} {model}", BARE)).isEqualTo("T10");
    assertThat(name("{person}", BARE)).as("never empty").isEqualTo("T10");
    assertThat(
            name(
                "{serial}",
                new NamePattern.Facts(
                    List.of(new Identifier(Identifier.Kind.IMEI, "004401230000016")),
                    "P5",
                    "fjell",
                    "",
                    "",
                    "",
                    "")))
        .as("a device without a serial number has its IMEI")
        .isEqualTo("004401230000016");
  }

  @Test
  void aRunningNumberHasAtLeastTheDigitsAskedFor() {
    NamePattern pattern = new NamePattern("{unit} kiosk {seq:3}");
    assertThat(pattern.counts()).isTrue();
    assertThat(pattern.sequence(TABLET)).isEqualTo("VM-HAR kiosk #");
    assertThat(pattern.name(TABLET, OptionalLong.of(7))).isEqualTo("VM-HAR kiosk 007");
    assertThat(pattern.name(TABLET, OptionalLong.of(1234))).isEqualTo("VM-HAR kiosk 1234");
    assertThat(new NamePattern("G{seq}").name(TABLET, OptionalLong.of(7))).isEqualTo("G7");
    assertThat(new NamePattern("{serial}").counts()).isFalse();
  }

  @Test
  void whatCannotBeFilledIsRefusedWithWhatCan() {
    assertThatIllegalArgumentException()
        .isThrownBy(() -> new NamePattern("{colour}"))
        .withMessageContaining("not {colour}")
        .withMessageContaining("{imei:last4}");
    assertThatIllegalArgumentException()
        .isThrownBy(() -> new NamePattern("{seq} of {seq:3}"))
        .withMessageContaining("counts once");
    assertThatIllegalArgumentException().isThrownBy(() -> new NamePattern("{seq:0}"));
    assertThatIllegalArgumentException().isThrownBy(() -> new NamePattern(" "));
  }

  @Test
  void aNameThatIsTakenGetsTheLowestFreeNumberInBrackets() {
    Set<String> taken = Set.of("Ines Tablet", "Ines Tablet (2)");
    assertThat(NamePattern.free("Ines Tablet", taken::contains)).isEqualTo("Ines Tablet (3)");
    assertThat(NamePattern.free("Bo Tablet", taken::contains)).isEqualTo("Bo Tablet");
    String longest = "x".repeat(NamePattern.MAX_NAME);
    assertThat(NamePattern.free(longest, Set.of(longest)::contains))
        .hasSize(NamePattern.MAX_NAME)
        .endsWith(" (2)");
  }

  @Property
  void namesOfOneSequenceDifferWhateverTheNumber(
      @ForAll @IntRange(min = 1, max = 99_999) int one,
      @ForAll @IntRange(min = 1, max = 99_999) int two) {
    NamePattern pattern = new NamePattern("{unit}-{seq:3} {model}");
    String a = pattern.name(TABLET, OptionalLong.of(one));
    String b = pattern.name(TABLET, OptionalLong.of(two));
    assertThat(a.equals(b)).isEqualTo(one == two);
  }

  @Property
  void whatIsMissingAndWhatIsThereTogetherAreEveryNumberOnce(
      @ForAll @Size(max = 30) Set<@IntRange(min = 1, max = 40) Integer> inUse) {
    long highest = 40;
    Numbers found = Numbers.of(inUse.stream().map(Integer::longValue).toList(), 1, highest);
    Set<Long> all = new HashSet<>();
    inUse.forEach(n -> all.add(n.longValue()));
    for (Numbers.Range r : found.missing()) {
      for (long n = r.first(); n <= r.last(); n++) {
        assertThat(all.add(n)).as("missing and in use: " + n).isTrue();
      }
    }
    assertThat(all).hasSize(40);
    assertThat(found.doubled()).isEmpty();
  }

  @Test
  void missingNumbersAreNamedAsRangesAndDoubledOnesOnce() {
    Numbers found = Numbers.of(List.of(1L, 2L, 2L, 4L, 8L, 2L), 1, 10);
    assertThat(found.missing()).hasToString("[3, 5 to 7, 9 to 10]");
    assertThat(found.doubled()).containsExactly(2L);
    assertThat(Numbers.of(List.of(), 1, 0).missing()).isEmpty();
  }
}
