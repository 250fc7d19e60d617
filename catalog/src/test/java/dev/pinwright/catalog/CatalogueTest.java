package dev.pinwright.catalog;

import static org.assertj.core.api.Assertions.assertThat;

import dev.pinwright.core.catalog.Catalog;
import dev.pinwright.core.catalog.CommandSpec;
import dev.pinwright.core.catalog.MergeRule;
import dev.pinwright.core.catalog.Setting;
import dev.pinwright.core.device.DeviceTraits;
import dev.pinwright.core.device.Mode;
import dev.pinwright.core.device.OsVersion;
import dev.pinwright.core.device.Ownership;
import java.io.IOException;
import java.nio.file.Path;
import java.time.Duration;
import java.util.Arrays;
import java.util.List;
import org.junit.jupiter.api.Test;

class CatalogueTest {
  private final Catalogue catalogue = Catalogue.load();
  private final Catalog catalog = catalogue.catalog();

  @Test
  void theShippedCatalogueIsSound() {
    assertThat(catalog.platforms()).extracting("key").containsExactly("tarn", "fjell", "moor");
    assertThat(catalog.settings()).hasSizeGreaterThanOrEqualTo(150);
    assertThat(catalog.sections()).hasSize(29);
  }

  @Test
  void everyMergeRuleIsUsedBySomeSetting() {
    assertThat(catalog.settings())
        .extracting(Setting::merge)
        .contains(Arrays.stream(MergeRule.values()).toArray(MergeRule[]::new));
  }

  @Test
  void settingsAreFoundByOtherWordsPeopleUse() {
    assertThat(catalog.search("photo"))
        .extracting(Setting::key)
        .contains("restrictions.camera-off");
    assertThat(catalog.search("screenshot").get(0).key())
        .isEqualTo("restrictions.screen-capture-off");
    assertThat(catalog.search("least length").get(0).key()).isEqualTo("passcode.min-length");
    assertThat(catalog.search("no such thing")).isEmpty();
    for (String slip : List.of("camrea", "camera", "caméra".replace("é", "e"), "cammera")) {
      assertThat(catalog.search(slip)).extracting(Setting::key).contains("restrictions.camera-off");
    }
    assertThat(catalog.search("passphrse")).extracting(Setting::key).contains("wifi.passphrase");
    assertThat(catalog.search("xyz")).as("too short to be a slip").isEmpty();
  }

  @Test
  void thePageOfEverySettingIsThatOfTheCatalogue() throws IOException {
    assertThat(Path.of("../docs/settings.md"))
        .as("write it anew: see docs/development.md")
        .hasContent(Reference.page(catalogue));
    assertThat(Path.of("../docs/profile.schema.json"))
        .hasContent(ProfileSchema.published(catalogue));
    assertThat(Path.of("../docs/configuration.schema.json"))
        .hasContent(ConfigurationSchema.published(catalogue));
  }

  @Test
  void everySettingIsFoundByItsTitleAndSaysWhatItDoes() {
    assertThat(catalog.settings())
        .allSatisfy(
            s -> {
              assertThat(catalog.search(s.title())).contains(s);
              assertThat(s.help()).endsWith(".");
              assertThat(s.searchWords()).isNotEmpty();
            });
  }

  @Test
  void aSettingSaysWhyADeviceCannotTakeIt() {
    Setting usb = catalog.setting("restrictions.usb-off").orElseThrow();
    assertThat(usb.objection(new DeviceTraits("tarn", Mode.STANDARD, OsVersion.parse("7.2"))))
        .contains("works on tarn only when supervised");
    assertThat(usb.objection(new DeviceTraits("tarn", Mode.SUPERVISED, OsVersion.parse("6.3"))))
        .contains("needs tarn 7.0 or later");
    assertThat(usb.objection(new DeviceTraits("tarn", Mode.SUPERVISED, OsVersion.parse("7.0"))))
        .isEmpty();
  }

  @Test
  void versionsThatTakeTheSameSettingsShareALevel() {
    assertThat(catalog.osLevel("tarn", OsVersion.parse("7.2.1")))
        .isEqualTo(catalog.osLevel("tarn", OsVersion.parse("7.0")));
    assertThat(catalog.osLevel("tarn", OsVersion.parse("6.3")))
        .isNotEqualTo(catalog.osLevel("tarn", OsVersion.parse("7.0")));
  }

  @Test
  void holdersOfPersonalDevicesAreToldTheirNumberAndNetworkStayPrivate() {
    assertThat(catalogue.visible(Ownership.PERSONAL))
        .contains("Model")
        .doesNotContain("Phone number", "Network");
    assertThat(catalogue.neverSeen(Ownership.PERSONAL)).contains("calls", "location");
    assertThat(catalogue.visible(Ownership.PERSONAL)).noneMatch(v -> v.startsWith("Where it was"));
    assertThat(catalogue.visible(Ownership.CORPORATE)).anyMatch(v -> v.startsWith("Where it was"));
  }

  @Test
  void aCommandThatCostsSomethingSaysWhatAndWaitsNoLongerThanItIsOfUse() {
    CommandSpec clear = catalog.command("clear-passcode").orElseThrow();
    assertThat(clear.danger()).isEqualTo(CommandSpec.Danger.LOSES);
    assertThat(clear.cost()).contains("passcode is gone");
    assertThat(clear.reasonRequired()).isTrue();
    assertThat(catalog.command("ring").orElseThrow().waits()).isEqualTo(Duration.ofHours(1));
  }

  @Test
  void whatShowsOnADeviceIsFoundByWhereItShows() {
    assertThat(catalog.noticed("camera-gone"))
        .map(Setting::key)
        .contains("restrictions.camera-off");
    assertThat(catalog.noticed("a third hand")).isEmpty();
  }
}
