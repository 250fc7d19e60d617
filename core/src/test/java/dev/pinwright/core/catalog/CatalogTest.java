package dev.pinwright.core.catalog;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatIllegalArgumentException;

import dev.pinwright.core.Words;
import dev.pinwright.core.catalog.SettingValue.Flag;
import dev.pinwright.core.catalog.SettingValue.Items;
import dev.pinwright.core.catalog.SettingValue.Text;
import dev.pinwright.core.catalog.SettingValue.Whole;
import dev.pinwright.core.device.DeviceKind;
import dev.pinwright.core.device.DeviceTraits;
import dev.pinwright.core.device.Mode;
import dev.pinwright.core.device.OsVersion;
import dev.pinwright.core.device.Ownership;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import org.junit.jupiter.api.Test;

class CatalogTest {
  private static final Platform TARN =
      new Platform(
          "tarn",
          "Tarn",
          Set.of(DeviceKind.TABLET),
          Set.of(Mode.SUPERVISED, Mode.WORK_PROFILE),
          List.of(OsVersion.parse("7.0")),
          Set.of("ring"));
  private static final CommandSpec RING =
      new CommandSpec(
          "ring",
          "Ring",
          "",
          CommandSpec.Delivery.EXEC,
          "./Vendor/Pinwright/Operations/Ring",
          List.of(),
          false,
          Set.of(Mode.SUPERVISED),
          Set.of(Ownership.CORPORATE));

  private static Setting setting(
      String key, ValueType type, SettingValue fallback, MergeRule merge) {
    return new Setting(
        key,
        "s",
        "Title",
        "",
        List.of(),
        type,
        fallback,
        List.of(new Setting.Support("tarn", Set.of(Mode.SUPERVISED), OsVersion.parse("7.1"))),
        merge,
        Catalog.POLICY_ROOT + "/s/x",
        false,
        Optional.empty());
  }

  private static Catalog catalog(Setting... settings) {
    return new Catalog(
        List.of(TARN),
        List.of(new Section("s", "S", "")),
        List.of(settings),
        List.of(),
        List.of(RING));
  }

  @Test
  void everyFaultIsListedAtOnce() {
    assertThatIllegalArgumentException()
        .isThrownBy(
            () ->
                catalog(
                    setting("s.a", new ValueType.WholeType(1, 5, ""), new Whole(9), MergeRule.ANY),
                    setting("s.a", new ValueType.FlagType(), new Flag(true), MergeRule.ANY),
                    setting("other.b", new ValueType.FlagType(), new Flag(true), MergeRule.LEAST)))
        .withMessageContaining("setting s.a is there twice")
        .withMessageContaining("its default has to be a whole number from 1 to 5")
        .withMessageContaining("its merge rule does not fit its type")
        .withMessageContaining("has to start with an existing section");
  }

  @Test
  void levelsStepWhereASettingBeginsToWork() {
    Catalog c = catalog(setting("s.a", new ValueType.FlagType(), new Flag(true), MergeRule.ANY));
    assertThat(c.osLevel("tarn", OsVersion.parse("7.0.9"))).hasToString("0.0");
    assertThat(c.osLevel("tarn", OsVersion.parse("7.1"))).hasToString("7.1");
    assertThat(c.osLevel("tarn", OsVersion.parse("99"))).hasToString("7.1");
    assertThat(c.osLevel("nowhere", OsVersion.parse("1"))).hasToString("0.0");
  }

  @Test
  void aCommandSaysWhyADeviceCannotHaveIt() {
    Catalog c = catalog();
    OsVersion os = OsVersion.parse("7.0");
    assertThat(
            c.objection(RING, new DeviceTraits("tarn", Mode.SUPERVISED, os), Ownership.CORPORATE))
        .isEmpty();
    assertThat(
            c.objection(RING, new DeviceTraits("tarn", Mode.WORK_PROFILE, os), Ownership.CORPORATE))
        .contains("not possible on a work-profile device");
    assertThat(c.objection(RING, new DeviceTraits("tarn", Mode.SUPERVISED, os), Ownership.PERSONAL))
        .contains("not allowed on a personal device");
    assertThat(
            c.objection(RING, new DeviceTraits("moor", Mode.SUPERVISED, os), Ownership.CORPORATE))
        .contains("moor cannot ring");
  }

  @Test
  void valuesOutsideTheirBoundsAreNamedWithThem() {
    assertThat(new ValueType.TextType(1, 3, false).objection(new Text("a\nb")))
        .contains("has to be one line");
    assertThat(new ValueType.TextType(1, 3, true).objection(new Text("a\nb"))).isEmpty();
    assertThat(new ValueType.TextType(1, 3, true).objection(new Text("abcd")))
        .contains("has to be text of 1 to 3 characters");
    assertThat(new ValueType.ItemsType(2, 5).objection(new Items(List.of("a", "a")))).isPresent();
    assertThat(new ValueType.ItemsType(2, 5).objection(new Items(List.of("a", "b")))).isEmpty();
    assertThat(
            new ValueType.ChoiceType(List.of(new ValueType.Choice("on", "On")))
                .objection(new Text("off")))
        .contains("has to be one of on");
    assertThat(new ValueType.FlagType().objection(new Whole(1)))
        .contains("has to be true or false");
  }

  @Test
  void aListTravelsAsAJsonArray() {
    assertThat(new Items(List.of("a", "b \"c\"\\")).text())
        .isEqualTo("[\"a\",\"b \\\"c\\\"\\\\\"]");
  }

  @Test
  void wordsAreReadBothWays() {
    assertThat(Words.of(Mode.WORK_PROFILE)).isEqualTo("work-profile");
    assertThat(Words.parse(Mode.class, "work-profile")).isEqualTo(Mode.WORK_PROFILE);
    assertThatIllegalArgumentException()
        .isThrownBy(() -> Words.parse(Mode.class, "loose"))
        .withMessage("'loose' is not one of supervised, standard, work-profile");
  }
}
