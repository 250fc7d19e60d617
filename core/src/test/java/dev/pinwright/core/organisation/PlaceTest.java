package dev.pinwright.core.organisation;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatIllegalArgumentException;

import java.util.Optional;
import org.junit.jupiter.api.Test;

class PlaceTest {
  private static Place at(String unit, String site) {
    return new Place(Optional.ofNullable(unit), Optional.ofNullable(site));
  }

  @Test
  void theRosterIsNearestThenThePersonThenTheProfile() {
    assertThat(Place.of(at("HAR", "quay"), at("GLA", "ulby"), at("VM", "office")))
        .isEqualTo(at("HAR", "quay"));
    assertThat(Place.of(Place.NOWHERE, at("GLA", "ulby"), at("VM", "office")))
        .isEqualTo(at("GLA", "ulby"));
    assertThat(Place.of(Place.NOWHERE, Place.NOWHERE, at("VM", "office")))
        .isEqualTo(at("VM", "office"));
  }

  @Test
  void unitAndSiteAreDecidedEachByItself() {
    assertThat(Place.of(at("HAR", null), at(null, "ulby"), at("VM", "office")))
        .isEqualTo(at("HAR", "ulby"));
  }

  @Test
  void aCodeIsPutRightWhereItCanBe() {
    assertThat(UnitCode.parse(" vm-har ")).hasToString("VM-HAR");
    for (String wrong : new String[] {"", "-VM", "VM HAR", "VM/HAR", "X".repeat(21)}) {
      assertThatIllegalArgumentException()
          .isThrownBy(() -> UnitCode.parse(wrong))
          .withMessageContaining("such as VM-HAR");
    }
  }
}
