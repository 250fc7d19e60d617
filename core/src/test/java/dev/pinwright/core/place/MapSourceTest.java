package dev.pinwright.core.place;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.pinwright.core.place.MapSource.Kind;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class MapSourceTest {
  private static final String TILES = "https://tiles.vellmar.example:8443/{z}/{x}/{y}.png";

  private static MapSource source(Kind kind, String address, String layers, String whose) {
    return new MapSource(kind, address, layers, whose, Optional.empty());
  }

  @Test
  void whereItsPicturesComeFromIsAllThatABrowserHasToKnow() {
    assertThat(source(Kind.XYZ, TILES, "", "").origin())
        .hasValue("https://tiles.vellmar.example:8443");
    assertThat(source(Kind.WMS, "http://10.0.0.7?map=quay", "quay", "").origin())
        .hasValue("http://10.0.0.7");
    assertThat(MapSource.NONE.origin()).isEmpty();
  }

  @ParameterizedTest
  @CsvSource({
    "XYZ, https://tiles.vellmar.example/{z}/{x}.png, '', has {x}",
    "XYZ, 'https://a.example; script-src *//{z}/{x}/{y}', '', begins with https://",
    "XYZ, 'javascript:{z}{x}{y}', '', begins with https://",
    "WMS, https://maps.vellmar.example, ' ', which layers",
    "WMS, '', quay, begins with https://",
    "DRAWING, '', '', a drawing is GeoJSON"
  })
  void anythingElseIsRefusedInWords(Kind kind, String address, String layers, String why) {
    assertThatThrownBy(() -> source(kind, address, layers, ""))
        .isInstanceOf(IllegalArgumentException.class)
        .hasMessageContaining(why);
  }

  @Test
  void whatIsTooLongIsNamed() {
    String far = TILES + "?" + "x".repeat(500);
    assertThatThrownBy(() -> source(Kind.XYZ, far, "", "")).hasMessageContaining("500 characters");
    assertThatThrownBy(() -> source(Kind.XYZ, TILES, "", "x".repeat(201)))
        .hasMessageContaining("whose map it is")
        .hasMessageContaining("200 characters");
  }
}
