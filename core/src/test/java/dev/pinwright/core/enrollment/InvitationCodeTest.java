package dev.pinwright.core.enrollment;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatIllegalArgumentException;

import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import org.junit.jupiter.api.Test;

class InvitationCodeTest {
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
