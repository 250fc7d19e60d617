package dev.pinwright.core.organisation;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatIllegalArgumentException;

import dev.pinwright.core.organisation.AttributeCondition.Relation;
import java.util.List;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import net.jqwik.api.constraints.AlphaChars;
import net.jqwik.api.constraints.NotBlank;
import net.jqwik.api.constraints.StringLength;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

class AttributeConditionTest {

  @ParameterizedTest
  @CsvSource({
    "Room=Tower, Room, IS, Tower",
    "' Lease ends < 2027-01-01 ', Lease ends, BELOW, 2027-01-01",
    "Weight>1.5, Weight, ABOVE, 1.5",
    "Room=, Room, IS, ''",
    "Note=a=b<c, Note, IS, a=b<c",
  })
  void aConditionIsANameASignAndAValue(String text, String name, Relation relation, String value) {
    assertThat(AttributeCondition.parse(text))
        .isEqualTo(new AttributeCondition(name, relation, value));
  }

  @ParameterizedTest
  @ValueSource(strings = {"", "Room", "=Tower", " <3", "Room Tower"})
  void whatIsNoConditionIsToldWhatOneLooksLike(String text) {
    assertThatIllegalArgumentException()
        .isThrownBy(() -> AttributeCondition.parse(text))
        .withMessageContaining("such as Room=Tower");
  }

  @Property
  void whatIsWrittenIsReadBack(
      @ForAll @NotBlank @AlphaChars String name,
      @ForAll Relation relation,
      @ForAll @AlphaChars @StringLength(max = 20) String value) {
    assertThat(AttributeCondition.parse(name + relation.sign() + value))
        .isEqualTo(new AttributeCondition(name, relation, value));
  }

  @Test
  void valuesTakeTheFormTheyAreKeptIn() {
    assertThat(AttributeCondition.parse("Weight>1.50").on(AttributeType.NUMBER, List.of()).value())
        .isEqualTo("1.5");
    assertThat(
            AttributeCondition.parse("Room=tower")
                .on(AttributeType.CHOICE, List.of("Tower", "Hall"))
                .value())
        .isEqualTo("Tower");
  }

  @ParameterizedTest
  @CsvSource({
    "Room<Tower, TEXT, no number and no day; ask for it with",
    "Weight<heavy, NUMBER, is not a number such as 12.5",
    "Lease ends<soon, DATE, is not a day such as 2026-05-01",
    "Weight<, NUMBER, needs a value",
    "Room=Cellar, CHOICE, is not one of Tower",
  })
  void aValueTheAttributeCannotHaveIsRefused(String text, AttributeType type, String complaint) {
    assertThatIllegalArgumentException()
        .isThrownBy(() -> AttributeCondition.parse(text).on(type, List.of("Tower")))
        .withMessageContaining(complaint);
  }
}
