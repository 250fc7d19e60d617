package dev.pinwright.core.organisation;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatIllegalArgumentException;

import java.util.Collections;
import java.util.List;
import java.util.stream.IntStream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

class TagListTest {

  @Test
  void tagsAreKeptOnceWithoutBlanksInTheOrderGiven() {
    assertThat(TagList.sound(List.of(" quay", "gallery", "quay ")))
        .containsExactly("quay", "gallery");
    assertThat(TagList.ofCell(" quay; gallery,on show|Østre\npier,, "))
        .containsExactly("quay", "gallery", "on show", "Østre", "pier");
    assertThat(TagList.ofCell(" ")).isEmpty();
  }

  @ParameterizedTest
  @ValueSource(strings = {"", " ", "<b>", "a\"b", "01234567890123456789012345678901234567890"})
  void whatCannotBeATagIsRefused(String text) {
    assertThat(TagList.isTag(text)).isFalse();
    assertThatIllegalArgumentException()
        .isThrownBy(() -> TagList.sound(List.of("quay", text)))
        .withMessageContaining("each of 1 to 40 letters");
  }

  @Test
  void thirtyTagsAreEnough() {
    List<String> thirty = IntStream.range(0, 30).mapToObj(i -> "t" + i).toList();
    assertThat(TagList.sound(thirty)).hasSize(30);
    assertThat(TagList.sound(Collections.nCopies(40, "quay"))).hasSize(1);
    assertThatIllegalArgumentException()
        .isThrownBy(() -> TagList.ofCell(String.join(",", thirty) + ",one more"))
        .withMessageContaining("at most 30");
  }
}
