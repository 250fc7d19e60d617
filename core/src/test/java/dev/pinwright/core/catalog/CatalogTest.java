package dev.pinwright.core.catalog;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatIllegalArgumentException;

import dev.pinwright.core.Fault;
import dev.pinwright.core.Words;
import dev.pinwright.core.access.Role;
import dev.pinwright.core.catalog.SettingValue.Flag;
import dev.pinwright.core.catalog.SettingValue.Items;
import dev.pinwright.core.catalog.SettingValue.Text;
import dev.pinwright.core.catalog.SettingValue.Whole;
import dev.pinwright.core.device.DeviceKind;
import dev.pinwright.core.device.DeviceTraits;
import dev.pinwright.core.device.Mode;
import dev.pinwright.core.device.OsVersion;
import dev.pinwright.core.device.Ownership;
import dev.pinwright.core.file.FileKind;
import dev.pinwright.core.policy.Samples;
import java.time.DayOfWeek;
import java.time.Duration;
import java.time.LocalTime;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class CatalogTest {
  @Test
  void aFactThatCannotBeIsDropped() {
    FactField level = new FactField("b", "Battery", "percent", FactField.Kind.PERCENT, Set.of());
    assertThat(level.read("87")).contains("87");
    assertThat(List.of("101", "-1", "full", "", "8\n7")).allMatch(v -> level.read(v).isEmpty());
    FactField flag = new FactField("c", "Charging", "", FactField.Kind.FLAG, Set.of());
    assertThat(flag.read("true")).contains("true");
    assertThat(flag.read("yes")).isEmpty();
    FactField name = new FactField("n", "Network", "", FactField.Kind.TEXT, Set.of());
    assertThat(name.read(" Quay\u0000 5 ")).contains("Quay 5");
  }

  private static final Platform TARN =
      new Platform(
          "tarn",
          "Tarn",
          Set.of(DeviceKind.TABLET),
          Set.of(Mode.SUPERVISED, Mode.WORK_PROFILE),
          List.of(OsVersion.parse("7.0")),
          Set.of("ring"),
          List.of());
  private static final CommandSpec RING =
      new CommandSpec(
          "ring",
          "Ring",
          "",
          CommandSpec.Delivery.EXEC,
          "./Vendor/Pinwright/Operations/Ring",
          List.of(),
          false,
          CommandSpec.Danger.NONE,
          "",
          "",
          Duration.ofHours(1),
          Role.HELPDESK,
          Set.of(Mode.SUPERVISED),
          Set.of(Ownership.CORPORATE),
          Optional.empty());

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
        Optional.empty(),
        Optional.empty());
  }

  private static Catalog catalog(Setting... settings) {
    return new Catalog(
        List.of(TARN),
        List.of(new Section("s", "S", "", false, Optional.empty())),
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
        .contains("never done on a personal device");
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
    assertThat(
            new ValueType.ItemsType(2, new ValueType.TextType(1, 5, false))
                .objection(new Items(List.of("a", "a"))))
        .isPresent();
    assertThat(
            new ValueType.ItemsType(2, new ValueType.TextType(1, 5, false))
                .objection(new Items(List.of("a", "b"))))
        .isEmpty();
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

  @Test
  void aSettingOfACollectionIsFoundByItsEntry() {
    Setting secret = Samples.CATALOG.setting("n[staff].secret").orElseThrow();
    assertThat(secret.path()).isEqualTo("./Vendor/Pinwright/Policy/n/staff/secret");
    assertThat(secret.sensitive()).isTrue();
    assertThat(secret.shown(new Text("a secret"))).isEqualTo(Setting.MASK);
    assertThat(Samples.CATALOG.settingAt(secret.path())).contains(secret);
    assertThat(Samples.CATALOG.setting("n.secret")).isEmpty();
    assertThat(Samples.CATALOG.settingAt("./Vendor/Pinwright/Policy/n/secret")).isEmpty();
    assertThat(Samples.CATALOG.setting("s[a].text")).isEmpty();
  }

  @Test
  void aKeyThatIsNoneSaysWhatWouldBeOne() {
    assertThat(Samples.CATALOG.unknown("n.secret"))
        .isEqualTo("secret belongs to a network: name it, such as n[staff].secret.");
    assertThat(Samples.CATALOG.unknown("s[a].text"))
        .isEqualTo("text is one for the whole device: write s.text.");
    assertThat(Samples.CATALOG.unknown("s.nothing")).isEqualTo("There is no setting s.nothing.");
    assertThat(Samples.CATALOG.unknown("n[Not a key].secret"))
        .isEqualTo("There is no setting n[Not a key].secret.");
  }

  @Test
  void entriesNeedWhatIsRequiredAndAreNotTooMany() {
    assertThat(Samples.CATALOG.entryFaults(List.of("n[a].name", "n[b].name", "s.text"))).isEmpty();
    assertThat(Samples.CATALOG.entryFaults(List.of("n[a].secret")))
        .extracting(Fault::getMessage)
        .containsExactly("name is needed for n[a].");
    assertThat(Samples.CATALOG.entryFaults(List.of("n[a].name", "n[b].name", "n[c].name")))
        .extracting(Fault::getMessage)
        .containsExactly("A profile has at most 2 of Networks; this has 3.");
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      textBlock =
          """
          host    | proxy.vellmar.example:3128          | -proxy.example
          host    | 10.1.2.3                            | proxy vellmar
          url     | https://vellmar.example/hours?day=1 | vellmar.example
          url     | http://kiosk                        | https://vellmar.example/a b
          network | 10.20.0.0/16                        | 10.20.0.0/33
          network | 0.0.0.0/0                           | 256.0.0.0/8
          hours   | Mon-Fri 08:00-17:30; Sat 10:00-14:00 | Mon-Fri 08:00
          hours   | Fri-Mon 22:00-06:00                 | Mon 08:00-24:30
          app     | example.vellmar.guide               | Guide
          cell    | 0.2 system.web                      | 7.1 system.web
          place   | 47.2335,-20.357,150                 | 97.2,20,150
          place   | 0,0,1                               | 47.2,20.1
          file    | sha256:0000000000000000000000000000000000000000000000000000000000000000 | sha256:00
          secret  | lantern over the quay               | lantern
          """)
  void valuesWithAFormOfTheirOwnAreHeldToIt(String kind, String fits, String not) {
    ValueType type =
        switch (kind) {
          case "host" -> new ValueType.AddressType(ValueType.AddressType.Of.HOST);
          case "url" -> new ValueType.AddressType(ValueType.AddressType.Of.URL);
          case "network" -> new ValueType.AddressType(ValueType.AddressType.Of.NETWORK);
          case "hours" -> new ValueType.HoursType();
          case "app" -> new ValueType.AppType();
          case "cell" -> new ValueType.CellType();
          case "place" -> new ValueType.PlaceType();
          case "file" -> new ValueType.FileType(FileKind.PICTURE);
          default -> new ValueType.SecretType(8, 63);
        };
    assertThat(type.objection(new Text(fits))).isEmpty();
    assertThat(type.objection(new Text(not))).get().asString().startsWith("has to be");
    assertThat(type.objection(new Whole(1))).isPresent();
  }

  @Test
  void aListTakesWhatItsTypeTakes() {
    ValueType hosts =
        new ValueType.ItemsType(3, new ValueType.AddressType(ValueType.AddressType.Of.HOST));
    assertThat(hosts.objection(new Items(List.of("a.example", "b.example")))).isEmpty();
    assertThat(hosts.objection(new Items(List.of("a.example", "b c"))))
        .contains("'b c' has to be the name of a host, such as proxy.vellmar.example:3128");
  }

  @Test
  void hoursKnowTheirDaysAndRunOverMidnight() {
    Hours day = Hours.read("Mon-Fri 08:00-17:30; Sat,Sun 10:00-14:00").orElseThrow();
    assertThat(day.hold(DayOfWeek.MONDAY, LocalTime.of(8, 0))).isTrue();
    assertThat(day.hold(DayOfWeek.MONDAY, LocalTime.of(17, 30))).isFalse();
    assertThat(day.hold(DayOfWeek.SUNDAY, LocalTime.of(9, 0))).isFalse();
    Hours night = Hours.read("Fri-Mon 22:00-06:00").orElseThrow();
    assertThat(night.hold(DayOfWeek.SUNDAY, LocalTime.of(23, 0))).isTrue();
    assertThat(night.hold(DayOfWeek.TUESDAY, LocalTime.of(5, 59))).isTrue();
    assertThat(night.hold(DayOfWeek.FRIDAY, LocalTime.of(5, 0))).isFalse();
  }
}
