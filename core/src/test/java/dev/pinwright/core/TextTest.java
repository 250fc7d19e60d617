package dev.pinwright.core;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatIllegalArgumentException;

import java.nio.charset.StandardCharsets;
import java.text.Normalizer;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import net.jqwik.api.constraints.StringLength;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

class TextTest {
  @Test
  void whatNobodyCanBeAskedToTypeAgainIsKeptAsFarAsItCanBe() {
    assertThat(Text.cleaned(" a\u0000b\r\nc\ud800 \uffff", 20)).isEqualTo("ab  c");
    assertThat(Text.cleaned("e\u0301", 20)).isEqualTo("\u00e9");
    assertThat(Text.cleaned("x".repeat(500), 20)).hasSize(20);
  }

  @ParameterizedTest
  @ValueSource(
      strings = {"", "Harbour kiosk 3", "Åse Ångström", "Жанна", "金曜日", "👩🏽‍🔧", "a\u00a0b"})
  void namesInEveryScriptPass(String name) {
    assertThat(Text.line(name)).isEqualTo(name);
  }

  @ParameterizedTest
  @ValueSource(
      strings = {"a\0b", "\u001b[31m", "a\u007fb", "\u0085", "\ud800", "x\udc00y", "\uffff"})
  void whatIsNoTextIsRefusedWithItsPlace(String odd) {
    assertThatIllegalArgumentException()
        .isThrownBy(() -> Text.line(odd))
        .withMessageContaining("U+");
    assertThatIllegalArgumentException()
        .isThrownBy(() -> Text.lines(odd))
        .withMessageContaining("place");
  }

  @Test
  void oneLineIsOneLineAndManyEndAlike() {
    assertThatIllegalArgumentException()
        .isThrownBy(() -> Text.line("Bo\r\nBcc: all"))
        .withMessage("this has to be one line");
    assertThat(Text.lines("a\r\nb\rc\n\td")).isEqualTo("a\nb\nc\n\td");
  }

  @Test
  void aLineHasAnEnd() {
    assertThatIllegalArgumentException()
        .isThrownBy(() -> Text.line("x".repeat(Text.MAX_LINE + 1)))
        .withMessageContaining("at most 4000 characters");
  }

  @Test
  void theSameLettersAreTheSameText() {
    assertThat(Text.line("A\u030angstro\u0308m")).isEqualTo("Ångström");
  }

  @Property
  void whatPassesIsEncodableNormalAndPassesAgain(@ForAll @StringLength(max = 60) String any) {
    try {
      String text = Text.lines(any);
      assertThat(new String(text.getBytes(StandardCharsets.UTF_8), StandardCharsets.UTF_8))
          .isEqualTo(text)
          .doesNotContain("\0", "\r");
      assertThat(Normalizer.isNormalized(text, Normalizer.Form.NFC)).isTrue();
      assertThat(Text.lines(text)).isEqualTo(text);
    } catch (IllegalArgumentException e) {
      assertThat(e).hasMessageMatching(".*(cannot be kept|no character)");
    }
  }
}
