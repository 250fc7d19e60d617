package dev.pinwright.core.intake;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatIllegalArgumentException;

import dev.pinwright.core.intake.Identifier.Kind;
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

  @Test
  void aCodeIsReadHoweverItIsTyped() {
    InvitationCode code = InvitationCode.parse("4t7k 91qm-xz3a");
    assertThat(code.display()).isEqualTo("4T7K-91QM-XZ3A");
    assertThat(InvitationCode.parse("oilO-0000-0000").value()).isEqualTo("011000000000");
    assertThatIllegalArgumentException().isThrownBy(() -> InvitationCode.parse("4T7K-91QM-XZ3U"));
    assertThatIllegalArgumentException().isThrownBy(() -> InvitationCode.parse("4T7K"));
  }

  @Property
  void everyGeneratedCodeReadsBackAsItself(@ForAll int seed) {
    InvitationCode code = InvitationCode.generate(new java.util.Random(seed)::nextInt);
    assertThat(InvitationCode.parse(code.display().toLowerCase(java.util.Locale.ROOT)))
        .isEqualTo(code);
  }
}
