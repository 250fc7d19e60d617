package dev.pinwright.core.device;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatIllegalArgumentException;

import dev.pinwright.core.device.Identifier.Kind;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import net.jqwik.api.constraints.IntRange;
import org.junit.jupiter.api.Test;

class IdentifierTest {
  @Test
  void spacesAndCaseOfASerialAreRepaired() {
    assertThat(Identifier.of(Kind.SERIAL, " ar10-0042 \u00a07731").value())
        .isEqualTo("AR10-00427731");
  }

  @Test
  void aSerialWithStrangeCharactersIsRefusedWithWhatWouldBeRight() {
    assertThatIllegalArgumentException()
        .isThrownBy(() -> Identifier.of(Kind.SERIAL, "AR10;drop"))
        .withMessageContaining("3 to 40 letters, digits");
  }

  @Test
  void aWrongCheckDigitIsNamedWithTheRightOne() {
    assertThat(Identifier.of(Kind.IMEI, "00-440123-000001-6").value()).isEqualTo("004401230000016");
    assertThatIllegalArgumentException()
        .isThrownBy(() -> Identifier.of(Kind.IMEI, "004401230000017"))
        .withMessage("IMEI 004401230000017 has a wrong check digit: it would have to end in 6");
    assertThatIllegalArgumentException()
        .isThrownBy(() -> Identifier.of(Kind.IMEI, "12345"))
        .withMessageContaining("15 digits");
  }

  @Property
  void changingAnyOneDigitOfAnImeiIsNoticed(
      @ForAll @IntRange(max = 999_999) int number,
      @ForAll @IntRange(max = 14) int at,
      @ForAll @IntRange(min = 1, max = 9) int by) {
    String first = "00440123" + String.format("%06d", number);
    StringBuilder imei = new StringBuilder(first + Identifier.checkDigit(first));
    int digit = imei.charAt(at) - '0';
    imei.setCharAt(at, (char) ('0' + (digit + by) % 10));
    assertThatIllegalArgumentException()
        .isThrownBy(() -> Identifier.of(Kind.IMEI, imei.toString()));
  }
}
