package dev.pinwright.core.catalog;

import static org.assertj.core.api.Assertions.assertThat;

import dev.pinwright.core.catalog.SettingValue.Flag;
import dev.pinwright.core.catalog.SettingValue.Items;
import dev.pinwright.core.catalog.SettingValue.Text;
import dev.pinwright.core.catalog.SettingValue.Whole;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class QuantityTest {
  @ParameterizedTest
  @CsvSource({
    "10, minutes, 10 minutes",
    "1, minutes, 1 minute",
    "1, tries, 1 try",
    "0, letters, 0 letters",
    "68, percent, 68 %",
    "128000000000, bytes, 128 GB",
    "38400000000, bytes, 38.4 GB",
    "5200000, bytes, 5 MB",
    "12, bytes, 12 bytes",
    "true, '', yes",
    "false, '', no",
    "13.1, '', 13.1",
    "often, minutes, often",
  })
  void amountsAreSaidWithTheirUnit(String amount, String unit, String words) {
    assertThat(Quantity.words(amount, unit)).isEqualTo(words);
  }

  @Test
  void valuesAreSaidAsTheirTypeHasThem() {
    assertThat(new ValueType.FlagType().words(new Flag(true))).isEqualTo("on");
    assertThat(new ValueType.WholeType(1, 60, "minutes").words(new Whole(2)))
        .isEqualTo("2 minutes");
    ValueType kinds =
        new ValueType.ChoiceType(List.of(new ValueType.Choice("numeric", "Digits only")));
    assertThat(kinds.words(new Text("numeric"))).isEqualTo("Digits only");
    assertThat(kinds.words(new Text("gone"))).isEqualTo("gone");
    ValueType list = new ValueType.ItemsType(3, kinds);
    assertThat(list.words(new Items(List.of("numeric", "x")))).isEqualTo("Digits only, x");
    assertThat(list.words(new Items(List.of()))).isEqualTo("none");
  }
}
