package dev.pinwright.core.policy;

import dev.pinwright.core.catalog.Catalog;
import dev.pinwright.core.catalog.MergeRule;
import dev.pinwright.core.catalog.Platform;
import dev.pinwright.core.catalog.Section;
import dev.pinwright.core.catalog.Setting;
import dev.pinwright.core.catalog.SettingValue;
import dev.pinwright.core.catalog.SettingValue.Flag;
import dev.pinwright.core.catalog.SettingValue.Items;
import dev.pinwright.core.catalog.SettingValue.Text;
import dev.pinwright.core.catalog.SettingValue.Whole;
import dev.pinwright.core.catalog.ValueType;
import dev.pinwright.core.catalog.ValueType.Choice;
import dev.pinwright.core.device.DeviceKind;
import dev.pinwright.core.device.DeviceTraits;
import dev.pinwright.core.device.Mode;
import dev.pinwright.core.device.OsVersion;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/** A small catalogue with one setting for each merge rule. */
public final class Samples {
  public static final DeviceTraits TABLET =
      new DeviceTraits("tarn", Mode.SUPERVISED, OsVersion.parse("7.2"));

  public static final Catalog CATALOG =
      new Catalog(
          List.of(
              new Platform(
                  "tarn",
                  "Tarn",
                  Set.of(DeviceKind.TABLET),
                  Set.of(Mode.SUPERVISED, Mode.STANDARD),
                  List.of(OsVersion.parse("6.0"), OsVersion.parse("7.2")),
                  Set.of(),
                  List.of())),
          List.of(
              new Section("s", "Sample", "", false, Optional.empty()),
              new Section(
                  "n",
                  "Networks",
                  "",
                  false,
                  Optional.of(new Section.Entries("network", 2, Optional.empty()))),
              new Section(
                  "apps",
                  "Apps",
                  "",
                  true,
                  Optional.of(new Section.Entries("app", 1, Optional.of("presence"))))),
          List.of(
              setting(
                  "lock-after",
                  new ValueType.WholeType(1, 60, "minutes"),
                  new Whole(5),
                  MergeRule.LEAST),
              setting(
                  "length", new ValueType.WholeType(4, 16, ""), new Whole(6), MergeRule.GREATEST),
              setting(
                  "kind",
                  new ValueType.ChoiceType(
                      List.of(new Choice("digits", "Digits"), new Choice("letters", "Letters"))),
                  new Text("digits"),
                  MergeRule.GREATEST),
              setting("camera-off", new ValueType.FlagType(), new Flag(true), MergeRule.ANY),
              setting("roaming", new ValueType.FlagType(), new Flag(true), MergeRule.ALL),
              setting(
                  "blocked",
                  new ValueType.ItemsType(9, new ValueType.TextType(1, 20, false)),
                  new Items(List.of()),
                  MergeRule.UNION),
              setting(
                  "allowed",
                  new ValueType.ItemsType(9, new ValueType.TextType(1, 20, false)),
                  new Items(List.of()),
                  MergeRule.INTERSECTION),
              setting("text", new ValueType.TextType(0, 40, true), new Text(""), MergeRule.NEAREST),
              ofEntry("name", new ValueType.TextType(1, 32, false), new Text("Staff"), true, "6.0"),
              ofEntry(
                  "secret", new ValueType.SecretType(8, 63), new Text("a secret"), false, "6.0"),
              ofEntry("fast", new ValueType.FlagType(), new Flag(true), false, "8.0"),
              ofApp(
                  "presence",
                  new ValueType.ChoiceType(
                      List.of(
                          new Choice("forbidden", "Forbidden"),
                          new Choice("required", "Required"),
                          new Choice("offered", "Offered"))),
                  new Text("required")),
              ofApp("wifi-only", new ValueType.FlagType(), new Flag(true)),
              ofApp("version", new ValueType.TextType(1, 60, false), new Text("1.0"))),
          List.of(),
          List.of());

  private Samples() {}

  private static Setting setting(
      String name, ValueType type, SettingValue fallback, MergeRule merge) {
    return new Setting(
        "s." + name,
        "s",
        name,
        "",
        List.of(),
        type,
        fallback,
        List.of(new Setting.Support("tarn", Set.of(Mode.SUPERVISED), OsVersion.parse("6.0"))),
        merge,
        Catalog.POLICY_ROOT + "/s/" + name,
        false,
        Optional.empty(),
        Optional.empty());
  }

  private static Setting ofApp(String name, ValueType type, SettingValue fallback) {
    return new Setting(
        "apps." + name,
        "apps",
        name,
        "",
        List.of(),
        type,
        fallback,
        List.of(new Setting.Support("tarn", Set.of(Mode.SUPERVISED), OsVersion.parse("6.0"))),
        MergeRule.NEAREST,
        Catalog.POLICY_ROOT + "/apps/" + name,
        name.equals("presence"),
        Optional.empty(),
        Optional.empty());
  }

  private static Setting ofEntry(
      String name, ValueType type, SettingValue fallback, boolean required, String since) {
    return new Setting(
        "n." + name,
        "n",
        name,
        "",
        List.of(),
        type,
        fallback,
        List.of(new Setting.Support("tarn", Set.of(Mode.SUPERVISED), OsVersion.parse(since))),
        MergeRule.NEAREST,
        Catalog.POLICY_ROOT + "/n/" + name,
        required,
        Optional.empty(),
        Optional.empty());
  }
}
